"""Planting out, and the frost watch over what stands outdoors."""

from django.apps import AppConfig
from django.urls import reverse


class PlantingOutConfig(AppConfig):
    name = "aestiva.plantingout"
    label = "plantingout"

    def ready(self) -> None:
        from aestiva.gardens.portable import register_part
        from aestiva.gardens.providers import offer_link, register
        from aestiva.plantingout import commands  # noqa: F401  (they register)
        from aestiva.plantingout.portable import PARTS
        from aestiva.plantingout.stage import STAGE

        register(STAGE)
        offer_link("beds_tonight", lambda garden: reverse("beds_tonight", args=[garden]))
        offer_link("gate_of", lambda garden, batch: reverse("gate", args=[garden, batch]))
        for part in PARTS:
            register_part(part)
