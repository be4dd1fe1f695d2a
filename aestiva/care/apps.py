"""Care: thinning and potting up."""

from django.apps import AppConfig


class CareConfig(AppConfig):
    name = "aestiva.care"
    label = "care"

    def ready(self) -> None:
        from aestiva.care.portable import PARTS
        from aestiva.care.stage import STAGE
        from aestiva.gardens.portable import register_part
        from aestiva.gardens.providers import register

        register(STAGE)
        for part in PARTS:
            register_part(part)
