"""Bench: sowing, and where batches stand."""

from django.apps import AppConfig


class BenchConfig(AppConfig):
    name = "aestiva.bench"
    label = "bench"

    def ready(self) -> None:
        from aestiva.bench.actions import COMPLETE
        from aestiva.gardens.providers import Stage, register
        from growing.tasks import bench

        register(Stage("bench", bench.tasks, COMPLETE))
