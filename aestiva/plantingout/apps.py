"""Planting out, and the frost watch over what stands outdoors."""

from django.apps import AppConfig


class PlantingOutConfig(AppConfig):
    name = "aestiva.plantingout"
    label = "plantingout"

    def ready(self) -> None:
        from aestiva.gardens.portable import register_part
        from aestiva.gardens.providers import register
        from aestiva.plantingout.portable import PARTS
        from aestiva.plantingout.stage import STAGE

        register(STAGE)
        for part in PARTS:
            register_part(part)
