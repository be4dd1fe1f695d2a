"""Emergence: looks, counts, lamp, mat and lid."""

from django.apps import AppConfig


class EmergenceConfig(AppConfig):
    name = "aestiva.emergence"
    label = "emergence"

    def ready(self) -> None:
        from aestiva.emergence.actions import COMPLETE
        from aestiva.gardens.providers import Stage, register
        from growing.emergence import steps

        register(Stage("emergence", steps.tasks, COMPLETE))
