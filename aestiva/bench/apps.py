"""Bench: sowing, and where batches stand."""

from django.apps import AppConfig
from django.urls import reverse


class BenchConfig(AppConfig):
    name = "aestiva.bench"
    label = "bench"

    def ready(self) -> None:
        from aestiva.bench import bestdays_views, commands  # noqa: F401  (they register)
        from aestiva.bench.portable import PARTS, rings_for
        from aestiva.bench.stage import STAGE
        from aestiva.gardens.portable import register_part, register_upgrade
        from aestiva.gardens.providers import offer_link, register

        register(STAGE)
        register_upgrade(14, rings_for)
        bestdays_views.register()
        offer_link("paths", lambda garden_id, pk: reverse("paths", args=[garden_id, pk]))
        offer_link("germinate", lambda garden_id, pk: reverse("germinate", args=[garden_id, pk]))
        offer_link("best_days", lambda garden_id: reverse("best_days", args=[garden_id]))
        offer_link("hands", lambda garden_id: reverse("hands", args=[garden_id]))
        offer_link("away_sheet", lambda garden_id, pk: reverse("away_sheet", args=[garden_id, pk]))
        offer_link("room_strip", lambda garden_id: reverse("room_strip", args=[garden_id]))
        offer_link("room", lambda garden_id: reverse("room", args=[garden_id]))
        for part in PARTS:
            register_part(part)
        offer_link("batch", lambda garden_id, pk: reverse("batch", args=[garden_id, pk]))
