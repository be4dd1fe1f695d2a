"""Bench: sowing, and where batches stand."""

from django.apps import AppConfig


class BenchConfig(AppConfig):
    name = "aestiva.bench"
    label = "bench"

    def ready(self) -> None:
        from django.urls import reverse

        from aestiva.bench.actions import COMPLETE
        from aestiva.gardens.providers import Stage, offer_link, register
        from growing.bench import steps

        register(Stage("bench", steps.tasks, COMPLETE))
        offer_link("batch", lambda garden_id, pk: reverse("batch", args=[garden_id, pk]))
