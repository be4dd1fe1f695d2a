"""Bench: sowing, and where batches stand."""

from django.apps import AppConfig


class BenchConfig(AppConfig):
    name = "aestiva.bench"
    label = "bench"

    def ready(self) -> None:
        from django.urls import reverse

        from aestiva.bench.actions import COMPLETE
        from aestiva.gardens.providers import Stage, offer_link, register
        from growing.tasks import bench

        register(Stage("bench", bench.tasks, COMPLETE))
        offer_link("batch", lambda garden_id, pk: reverse("batch", args=[garden_id, pk]))
