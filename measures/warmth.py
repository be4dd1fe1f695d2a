"""Measures of the germination clock, of verdicts, of probes that post, and of the page that shows it."""

from __future__ import annotations

import gzip
import json
import time
from datetime import UTC, date, datetime, timedelta
from typing import Any

from measures.timing import compare, report, without_instrumentation


def clocks_400() -> bool:
    """Clocks of 400 batches over 4,800 hours each, against one cumulative sum of that array."""
    import numpy as np

    from growing.crops import library
    from growing.seeds.clock import clocks, curve

    random = np.random.default_rng(18)
    curves = [
        curve(library()[k]) for k in ("tomato", "pepper", "lettuce", "cabbage", "onion", "basil", "zinnia", "cosmos")
    ]
    kinds, warmth = random.integers(0, len(curves), 400), random.uniform(8, 30, (400, 4800))
    ms, floor = compare(lambda: clocks(curves, kinds, warmth), lambda: np.cumsum(warmth, axis=1))
    return report("clocks_400", ms / floor, 5, f"{ms:.0f} ms, floor {floor:.1f} ms", ms)


def posterior_400() -> bool:
    """Verdicts of 400 batches on a grid of 41 × 21 with seven horizons, against the bare quadrature; within 0.01 of 201 × 81."""
    import numpy as np

    from growing.batch.posterior import CountLook, SowingSoFar, ahead, posterior, priors
    from measures.floors import quadrature

    random = np.random.default_rng(400)
    batches = []
    for _ in range(400):
        a, b = priors(float(random.uniform(0.5, 0.95)), 12)
        seeds = int(random.integers(12, 90))
        xs = np.sort(random.uniform(0.7, 1.6, 4))
        counted = np.sort(random.integers(0, seeds, 4))
        looks = tuple(CountLook(float(x), int(u)) for x, u in zip(xs, counted, strict=True))
        batches.append(SowingSoFar(seeds, 0.25, a, b, looks))
    need = np.array([float(one.seeds * 6 // 10) for one in batches])
    horizons = np.tile([0.9, 1.0, 1.2, 1.5, 2.0, 3.0, np.inf], (400, 1))

    def ours() -> Any:
        return ahead(posterior(batches), need, horizons)

    fine = ahead(posterior(batches[:60], (), 201, 81), need[:60], horizons[:60]).enough
    far = float(np.abs(ours().enough[:60] - fine).mean())
    sown, up = (np.array([f(one) for one in batches], float) for f in (lambda o: o.seeds, lambda o: o.looks[-1].up))
    ms, floor = compare(ours, lambda: quadrature(sown, up, need, 41, 21, 7, 4))
    note = f"{ms:.0f} ms, floor {floor:.0f} ms, mean distance from the fine grid {far:.4f}"
    return report("posterior_400", ms / floor if far < 0.01 else 99, 6, note, ms)


def probe_posts() -> bool:
    """100,000 readings in posts of 100 through the endpoint's code, against bare bulk inserts of as many rows."""
    from aestiva.place import actions
    from aestiva.place.commands import make_key
    from aestiva.place.models import Feed
    from aestiva.season.models import Spot, WarmReading
    from demo.kanuka import build
    from growing.place.feed import read_post

    garden = build(1)
    owner = garden.members.get(role="owner").user
    make_key(garden, owner, "probe")
    feed = Feed.objects.select_related("garden").get(garden=garden, revoked=False)
    spots = [Spot.objects.create(garden=garden, kind="shelf", code=f"P{n}") for n in range(10)]
    today, first = date(2026, 10, 12), datetime(2025, 1, 1, tzinfo=UTC)
    posts = []
    for spot in spots:
        for k in range(100):
            at = [
                (first + timedelta(hours=k * 100 + h)).replace(tzinfo=None).isoformat(timespec="minutes")
                for h in range(100)
            ]
            posts.append((spot.code, [{"at": one, "celsius": 20.0} for one in at]))
    bodies = [json.dumps({"kind": "mix", "place": code, "readings": rows}).encode() for code, rows in posts]
    with without_instrumentation():
        began = time.perf_counter()
        taken = sum(actions.receive(feed, read_post(body, today), body) for body in bodies)
        ours = 1000 * (time.perf_counter() - began)
        WarmReading.objects.all().delete()
        parsed = [
            (spots[int(code[1:])], read_post(body, today).readings)
            for (code, _), body in zip(posts, bodies, strict=True)
        ]
        began = time.perf_counter()
        for spot, readings in parsed:
            WarmReading.objects.bulk_create(
                [WarmReading(garden=garden, spot=spot, day=r.day, hour=r.hour, celsius=r.celsius) for r in readings]
            )
        floor = 1000 * (time.perf_counter() - began)
    note = f"{taken} readings, {ours / 1000:.1f} s, floor {floor / 1000:.1f} s, once each"
    return report("probe_posts", ours / floor if taken == 100_000 else 99, 4, note, ours)


def _sown(count: int) -> Any:
    """A garden with so many batches under the mix, and its client."""
    from django.test import Client

    from aestiva.season.models import Batch, BatchEvent, CellRun, Planting, Spot, Tray, TrayStand
    from demo.kanuka import build

    garden = build(1)
    today = garden.simulated_on or date(2026, 10, 12)
    shelf = Spot.objects.create(
        garden=garden, kind="shelf", code="Full", length_cm=400, width_cm=120, heated="room", lit="lamp"
    )
    planting = Planting.objects.filter(season__garden=garden)[0]
    Batch.objects.filter(planting__season__garden=garden).update(failed_on=today)
    for n in range(count):
        sown, cells = today - timedelta(days=3 + n % 5), 24 - n % 12
        batch = Batch.objects.create(planting=planting, lot=planting.lot, sown_on=sown, cells=cells, per_cell=1)
        BatchEvent.objects.create(batch=batch, kind="sown", on=sown, count=cells)
        tray = Tray.objects.create(garden=garden, code=f"U{n}", cells=24)
        TrayStand.objects.create(tray=tray, spot=shelf, since=sown)
        CellRun.objects.create(tray=tray, batch=batch, first=1, count=cells, since=sown)
    client = Client()
    client.force_login(garden.members.get().user, backend="django.contrib.auth.backends.ModelBackend")
    return client, f"/g/{garden.pk}/emergence/"


def emergence_page() -> bool:
    """The page with 100 batches under the mix, against the same page with one."""
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    (client, full), (other, one) = _sown(100), _sown(1)
    queries, pages = [], []
    for who, address in ((client, full), (other, one)):
        with CaptureQueriesContext(connection) as seen:
            pages.append(who.get(address).content)
        queries.append(len(seen))
    with without_instrumentation():
        ms, least = compare(lambda: client.get(full), lambda: other.get(one))
    note = (
        f"{ms:.0f} ms, one batch {least:.0f} ms, {len(pages[0]) / 1000:.0f} kB, {len(gzip.compress(pages[0])) / 1000:.0f} kB compressed,"
        f" queries {queries[0]} and {queries[1]}"
    )
    return report("emergence_page", ms / least, 2, note, ms)
