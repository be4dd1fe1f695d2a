"""Planting out, and the frost watch over what stands outdoors."""

from django.apps import AppConfig


class PlantingOutConfig(AppConfig):
    name = "aestiva.plantingout"
    label = "plantingout"

    def ready(self) -> None:
        from aestiva.gardens.providers import register
        from aestiva.plantingout.stage import STAGE

        register(STAGE)
