"""Care: thinning and potting up."""

from django.apps import AppConfig


class CareConfig(AppConfig):
    name = "aestiva.care"
    label = "care"

    def ready(self) -> None:
        from aestiva.care.actions import COMPLETE
        from aestiva.gardens.providers import Stage, register
        from growing.care import steps

        register(Stage("care", steps.tasks, COMPLETE))
