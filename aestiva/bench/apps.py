"""Bench: sowing, and where batches stand."""

from django.apps import AppConfig


class BenchConfig(AppConfig):
    name = "aestiva.bench"
    label = "bench"

    def ready(self) -> None:
        from django.urls import reverse

        from aestiva.bench.portable import PARTS
        from aestiva.bench.stage import STAGE
        from aestiva.gardens.portable import register_part
        from aestiva.gardens.providers import offer_link, register

        register(STAGE)
        for part in PARTS:
            register_part(part)
        offer_link("batch", lambda garden_id, pk: reverse("batch", args=[garden_id, pk]))
