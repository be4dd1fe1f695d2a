from django.apps import AppConfig


class FrameConfig(AppConfig):
    name = "aestiva.frame"
    label = "frame"

    def ready(self) -> None:
        from django.forms import FloatField, IntegerField

        from aestiva.frame.forms import NOT_A_NUMBER, NOT_WHOLE

        IntegerField.default_error_messages = {**IntegerField.default_error_messages, "invalid": NOT_WHOLE}
        FloatField.default_error_messages = {**FloatField.default_error_messages, "invalid": NOT_A_NUMBER}
