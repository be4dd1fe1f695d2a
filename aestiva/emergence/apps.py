"""Emergence: looks, counts, lamp, mat and lid."""

from django.apps import AppConfig


class EmergenceConfig(AppConfig):
    name = "aestiva.emergence"
    label = "emergence"

    def ready(self) -> None:
        from aestiva.emergence import commands  # noqa: F401  (they register)
        from aestiva.emergence.stage import STAGE
        from aestiva.gardens.providers import register
        from aestiva.gardens.reading import register_reading

        register(STAGE)
        register_reading("mix", "growing.place.soilsheet:soil_apart", "emergence", "log_read")
