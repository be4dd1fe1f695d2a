"""Care: thinning and potting up."""

from django.apps import AppConfig


class CareConfig(AppConfig):
    name = "aestiva.care"
    label = "care"

    def ready(self) -> None:
        from aestiva.care.stage import STAGE
        from aestiva.gardens.providers import register

        register(STAGE)
