"""Hardening: the ladder of outings."""

from django.apps import AppConfig


class HardeningConfig(AppConfig):
    name = "aestiva.hardening"
    label = "hardening"

    def ready(self) -> None:
        from aestiva.gardens.providers import register
        from aestiva.hardening.stage import STAGE

        register(STAGE)
