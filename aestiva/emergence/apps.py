"""Emergence: looks, counts, lamp, mat and lid."""

from django.apps import AppConfig


class EmergenceConfig(AppConfig):
    name = "aestiva.emergence"
    label = "emergence"

    def ready(self) -> None:
        from aestiva.emergence.stage import STAGE
        from aestiva.gardens.providers import register

        register(STAGE)
