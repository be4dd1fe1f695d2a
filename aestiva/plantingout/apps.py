"""Planting out, and the frost watch over what stands outdoors."""

from django.apps import AppConfig


class PlantingOutConfig(AppConfig):
    name = "aestiva.plantingout"
    label = "plantingout"

    def ready(self) -> None:
        from aestiva.gardens.providers import Stage, register
        from aestiva.plantingout.actions import COMPLETE
        from growing.plantingout import steps

        register(Stage("plantingout", steps.tasks, COMPLETE))
