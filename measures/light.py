"""Measures of light: a map of a shelf, what four thousand batches had, and one move of the lamp answered."""

from __future__ import annotations

from typing import Any

import numpy as np

from measures.timing import compare, report, without_instrumentation

TUBES, HIGH_CM, LONG_CM = 8, 15.0, 115.0


def light_map() -> bool:
    """A shelf of 120 × 45 cm at 1 cm, eight tubes of 115 cm at 15 cm, two mirror sides, against one pass of the bare formula."""
    from growing.light.plane import Hung, Sides, cells, ppfd
    from measures.floors import light_of_points

    xs, ys = cells(120, 1), cells(45, 1)
    hung = [Hung(30.0, LONG_CM, 2.0, 60.0, (k + 0.5) / TUBES * 45, HIGH_CM, HIGH_CM) for k in range(TUBES)]
    pieces = -(-LONG_CM // (HIGH_CM / 3))
    ours = lambda: ppfd(hung, xs, ys, 0.0, 120.0, 45.0, Sides(left=0.8, right=0.8))  # noqa: E731
    px = np.concatenate([(np.arange(pieces) + 0.5) / pieces * LONG_CM + 2.5] * TUBES)
    py = np.repeat([h.y_cm for h in hung], int(pieces))
    px, py = np.concatenate([px, -px, 240 - px]), np.tile(py, 3)
    each = np.repeat([1.0, 0.8, 0.8], len(px) // 3) * 30.0 / pieces
    floor = lambda: light_of_points(px, py, each, xs, ys, HIGH_CM)  # noqa: E731
    far = float(np.abs(ours() / floor() - 1).max())
    ms, least = compare(ours, floor)
    return report(
        "light_map", ms / least if far < 0.01 else 99, 2.5, f"{ms:.1f} ms, floor {least:.1f} ms, furthest {far:.4f}", ms
    )


def light_season() -> bool:
    """Light had, leaves and height of 4,000 batches day by day over 200 days, against one accumulation of what their places give."""
    from growing.crops import library
    from growing.light.had import Places, Stays, live, ways
    from measures.floors import gather_and_accumulate

    random, batches, days, places = np.random.default_rng(19), 4000, 200, 12
    crops = [library()[k] for k in ("tomato", "onion", "lettuce", "pepper", "cosmos")]
    k = ways([crops[n % 5] for n in range(batches)])
    grid = lambda low, high: random.uniform(low, high, (places, days)).astype(np.float32)  # noqa: E731
    table = np.sort(random.uniform(20, 500, (places, 241)).astype(np.float32))[:, ::-1].copy()
    given = Places(table, grid(25, 50), grid(12, 16), grid(0.6, 1.0), grid(0, 2))
    column = lambda low, high: random.uniform(low, high, (batches, 1)).astype(np.float32)  # noqa: E731
    place = random.integers(0, places, (batches, days)).astype(np.int16)
    stays = Stays(
        place, random.integers(0, 120, batches), np.full(batches, 6, np.float32), column(0.7, 1.5), column(-3, 4)
    )
    daily = grid(4, 15)
    ms, least = compare(lambda: live(k, given, stays), lambda: gather_and_accumulate(daily, place))
    return report("light_season", ms / least, 8, f"{ms:.0f} ms, floor {least:.1f} ms", ms)


def lamp_drag() -> bool:
    """One move of the lamp over a full shelf answered, on a grid of 4 cm or finer, against a logged-in view that does nothing."""
    from datetime import date, timedelta

    from django.test import Client, override_settings

    from aestiva.season.models import Batch, BatchEvent, CellRun, Lamp, Planting, Spot, Tray, TrayStand
    from demo.kanuka import build

    garden = build(6)
    today = garden.simulated_on or date(2026, 10, 12)
    shelf = Spot.objects.create(
        garden=garden, kind="shelf", code="Lit", length_cm=122, width_cm=56, clear_cm=60, lit="lamp", lamp_cm=30
    )
    Lamp.objects.create(spot=shelf, kind="tube", number=3, watts=40)
    plantings = list(Planting.objects.filter(season__garden=garden).order_by("pk")[:4])
    for n in range(4):
        sown = today - timedelta(days=30)
        batch = Batch.objects.create(planting=plantings[n % len(plantings)], sown_on=sown, cells=24, per_cell=1)
        BatchEvent.objects.create(batch=batch, kind="sown", on=sown, count=24)
        BatchEvent.objects.create(batch=batch, kind="up", on=sown + timedelta(days=8 + n), count=24)
        tray = Tray.objects.create(garden=garden, code=f"L{n}", cells=24)
        TrayStand.objects.create(tray=tray, spot=shelf, since=sown)
        CellRun.objects.create(tray=tray, batch=batch, first=1, count=24, since=sown)
    client = Client()
    client.force_login(garden.members.get().user, backend="django.contrib.auth.backends.ModelBackend")
    at, heights = f"/g/{garden.pk}/light/{shelf.pk}/try/", iter(range(10**6))
    client.get(f"/g/{garden.pk}/light/?shelf={shelf.pk}")

    def move() -> Any:
        answer = client.get(at, {"left": 26 + next(heights) % 20}, headers={"hx-request": "true"})
        assert answer.status_code == 200, answer.status_code
        return answer

    with without_instrumentation(), override_settings(ROOT_URLCONF="measures.urls"):
        size = len(move().content) / 1000
        ms, least = compare(move, lambda: client.get(f"/g/{garden.pk}/nothing/"))
    return report("lamp_drag", ms / least, 3, f"{ms:.1f} ms, nothing {least:.1f} ms, {size:.0f} kB", ms)
