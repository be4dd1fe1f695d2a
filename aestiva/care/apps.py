"""Care: thinning and potting up."""

from django.apps import AppConfig


class CareConfig(AppConfig):
    name = "aestiva.care"
    label = "care"

    def ready(self) -> None:
        from aestiva.care.actions import COMPLETE
        from aestiva.gardens.providers import Stage, register
        from growing.tasks import care

        register(Stage("care", care.tasks, COMPLETE))
