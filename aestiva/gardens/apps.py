from django.apps import AppConfig


class GardensConfig(AppConfig):
    name = "aestiva.gardens"
    label = "gardens"

    def ready(self) -> None:
        from aestiva.gardens.jobs import register_work
        from aestiva.gardens.look_in import look_into

        register_work("import", look_into)
