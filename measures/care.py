"""Measures of care: looks, doses, feeds and stages of four hundred batches, and the round of a hundred trays."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from measures.timing import compare, page_of_many, report


def care_400() -> bool:
    """Next look, dose, next feed and potting verdict of 400 batches with their workings, against rebuilding those results field by field."""
    from datetime import date

    from growing.care.feeding import next_feed
    from growing.care.moving import Signs, potting
    from growing.care.water import TrayWater, WateringLook, next_look
    from growing.chain.leaves import LeafStage, LeavesSeen, behind
    from growing.crops import library
    from measures.floors import rebuilt

    today, crops = date(2026, 4, 12), [library()[k] for k in ("tomato", "onion", "lettuce", "pepper", "cosmos")]
    batches = []
    for n in range(400):
        crop, up = crops[n % 5], today - timedelta(days=10 + n % 30)
        tray = TrayWater(
            20.0 + n % 80, 15.0, 12 + n % 60, 1.0 + n % 5, 6.0, crop.word("moisture"), 18.0 + n % 4, 8.0 + n % 7
        )
        looks = tuple(WateringLook(float(d), "pale" if d % 3 == 0 else "fair", d % 3 == 0) for d in range(n % 12 + 1))
        batches.append((crop, up, tray, looks, 1.0 + n % 5))

    def ours() -> list[Any]:
        found: list[Any] = []
        for crop, up, tray, looks, leaves in batches:
            stage = LeafStage(
                LeavesSeen(int(leaves), None, today),
                today,
                leaves,
                0.14,
                6.0,
                0.4,
                behind(crop, up, today, leaves, 19.0),
            )
            found.append(
                (
                    next_look(crop.name, tray, looks, 12.5, today),
                    tray.dose_ml("pale"),
                    next_feed(crop, leaves, today, None, None, None),
                    potting(
                        crop,
                        today,
                        up,
                        None,
                        today + timedelta(days=40),
                        today + timedelta(days=30),
                        Signs("none", today),
                    ),
                    stage.on(6.0),
                )
            )
        return found

    results = ours()
    ms, least = compare(ours, lambda: rebuilt(results))
    return report("care_400", ms / least, 2, f"{ms:.1f} ms, rebuilt {least:.1f} ms", ms)


def _trays(count: int) -> Any:
    """A garden with so many trays, ten on a shelf, a batch that is up in each, looked at for a week; its client and the round's address."""
    from django.test import Client

    from aestiva.care.models import TrayLook
    from aestiva.season.models import Batch, BatchEvent, CellRun, Planting, Spot, Tray, TrayStand
    from demo.kanuka import build

    garden = build(12)
    today = garden.simulated_on
    assert today is not None
    sown, plantings = (
        today - timedelta(days=30),
        list(Planting.objects.filter(season__garden=garden).order_by("pk")[:12]),
    )
    for n in range(count):
        if n % 10 == 0:
            shelf = Spot.objects.create(
                garden=garden, kind="shelf", code=f"W{n // 10}", length_cm=300, width_cm=60, clear_cm=50
            )
        batch = Batch.objects.create(
            planting=plantings[n % 12], lot=plantings[n % 12].lot, sown_on=sown, cells=40, per_cell=1
        )
        BatchEvent.objects.create(batch=batch, kind="sown", on=sown, count=40)
        BatchEvent.objects.create(batch=batch, kind="up", on=sown + timedelta(days=9), count=36)
        tray = Tray.objects.create(garden=garden, code=f"F{n}", cells=40)
        TrayStand.objects.create(tray=tray, spot=shelf, since=sown)
        CellRun.objects.create(tray=tray, batch=batch, first=1, count=40, since=sown)
        for k in range(1, 8):
            TrayLook.objects.create(
                tray=tray, day=today - timedelta(days=k), hour=8, found="fair" if k % 3 else "pale", watered=k % 3 == 0
            )
    client = Client()
    client.force_login(garden.members.get().user, backend="django.contrib.auth.backends.ModelBackend")
    return client, f"/g/{garden.pk}/care/"


def round_page() -> bool:
    """The round with a hundred trays against the same page with one."""
    return page_of_many("round_page", "tray", _trays(100), _trays(1))
