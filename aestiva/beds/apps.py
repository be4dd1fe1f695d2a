"""Beds: where will it all go?"""

from django.apps import AppConfig


class BedsConfig(AppConfig):
    name = "aestiva.beds"
    label = "beds"

    def ready(self) -> None:
        from aestiva.beds.portable import PARTS
        from aestiva.beds.stage import STAGE
        from aestiva.gardens.portable import register_part
        from aestiva.gardens.providers import register

        register(STAGE)
        for part in PARTS:
            register_part(part)
