"""Hardening: the ladder of outings."""

from django.apps import AppConfig


class HardeningConfig(AppConfig):
    name = "aestiva.hardening"
    label = "hardening"

    def ready(self) -> None:
        from aestiva.gardens.providers import Stage, register
        from aestiva.hardening.actions import COMPLETE
        from growing.hardening import steps

        register(Stage("hardening", steps.tasks, COMPLETE))
