"""Hardening: the ladder of outings."""

from django.apps import AppConfig
from django.urls import reverse


class HardeningConfig(AppConfig):
    name = "aestiva.hardening"
    label = "hardening"

    def ready(self) -> None:
        from aestiva.gardens.providers import offer_link, register
        from aestiva.hardening import commands  # noqa: F401  (they register)
        from aestiva.hardening.stage import STAGE

        register(STAGE)
        offer_link("door", lambda garden: reverse("door", args=[garden]))
