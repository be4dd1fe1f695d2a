"""Bench: sowing, and where batches stand."""

from django.apps import AppConfig


class BenchConfig(AppConfig):
    name = "aestiva.bench"
    label = "bench"

    def ready(self) -> None:
        from django.urls import reverse

        from aestiva.bench.stage import STAGE
        from aestiva.gardens.providers import offer_link, register

        register(STAGE)
        offer_link("batch", lambda garden_id, pk: reverse("batch", args=[garden_id, pk]))
