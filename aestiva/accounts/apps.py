from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "aestiva.accounts"
    label = "accounts"

    def ready(self) -> None:
        from django.contrib.auth.signals import user_logged_in

        from aestiva.accounts.axes import note_log_in

        user_logged_in.disconnect(dispatch_uid="update_last_login")
        user_logged_in.connect(note_log_in, dispatch_uid="note_log_in")
