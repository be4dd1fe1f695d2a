"""Measures of the bench: a shelf of full trays, and the front view of a large garden."""

from __future__ import annotations

import gzip
from datetime import date
from typing import Any

from measures.timing import compare, report, without_instrumentation


def _garden(count: int) -> Any:
    """A garden with a shelf on which so many flats of 128 cells stand, each sown with several crops, and its client."""
    from django.test import Client

    from aestiva.season.models import Batch, BatchEvent, CellRun, Container, Planting, Spot, Tray, TrayStand
    from demo.kanuka import build

    garden = build(12)
    today = garden.simulated_on or date(2026, 10, 12)
    shelf = Spot.objects.create(
        garden=garden, kind="shelf", code="Full", length_cm=400, width_cm=120, clear_cm=60, lit="lamp", lamp_cm=45
    )
    flat = Container.objects.create(
        garden=garden, name="Flat of 128", kind="flat_128", cells=128, length_cm=54, width_cm=28, depth_cm=5, cell_ml=18
    )
    plantings = list(Planting.objects.filter(season__garden=garden).order_by("pk")[:12])
    for n in range(count):
        tray = Tray.objects.create(garden=garden, code=f"F{n}", container=flat, cells=128)
        TrayStand.objects.create(tray=tray, spot=shelf, since=today)
        parts = 4 if count > 1 else 1
        for k in range(parts):
            planting = plantings[(n * parts + k) % len(plantings)]
            batch = Batch.objects.create(
                planting=planting, lot=planting.lot, sown_on=today, cells=128 // parts, per_cell=1
            )
            BatchEvent.objects.create(batch=batch, kind="sown", on=today, count=128 // parts)
            marks = "".join(".uswx"[(c + n) % 5] for c in range(128 // parts))
            CellRun.objects.create(
                tray=tray, batch=batch, first=1 + k * (128 // parts), count=128 // parts, since=today, marks=marks
            )
    client = Client()
    client.force_login(garden.members.get().user, backend="django.contrib.auth.backends.ModelBackend")
    return client, f"/g/{garden.pk}/bench/at/{shelf.pk}/"


def tray_page() -> bool:
    """A shelf of twelve flats of 128 cells, every cell named, against the same page with one batch in one flat."""
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    client, full = _garden(12)
    other, one = _garden(1)
    queries, pages = [], []
    for who, address in ((client, full), (other, one)):
        with CaptureQueriesContext(connection) as seen:
            pages.append(who.get(address).content)
        queries.append(len(seen))
    named = pages[0].count(b"<title>") - 1
    with without_instrumentation():
        ms, least = compare(lambda: client.get(full), lambda: other.get(one))
    note = (
        f"{ms:.0f} ms, one batch {least:.0f} ms, {named} cells named, {len(pages[0]) / 1000:.0f} kB,"
        f" {len(gzip.compress(pages[0])) / 1000:.0f} kB compressed, queries {queries[0]} and {queries[1]}"
    )
    return report("tray_page", ms / least if named == 12 * 128 and queries[0] == queries[1] else 99, 2, note, ms)


def bench_400() -> bool:
    """The front view with 400 plantings, against the same page of a near-empty garden and the season it is about."""
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    from aestiva.course.state import load
    from demo.kanuka import build

    large, small = build(400), build(1)
    client = Client()
    client.force_login(large.members.get().user, backend="django.contrib.auth.backends.ModelBackend")
    other = Client()
    other.force_login(small.members.get().user, backend="django.contrib.auth.backends.ModelBackend")
    address, bare = f"/g/{large.pk}/bench/", f"/g/{small.pk}/bench/"
    queries = []
    for who, where in ((client, address), (other, bare)):
        who.get(where)
        with CaptureQueriesContext(connection) as seen:
            who.get(where)
        queries.append(len(seen))
    page = client.get(address).content
    assert large.simulated_on is not None
    today = large.simulated_on
    batches = sum(i.batch is not None for i in load(large, today).items)

    def floor() -> None:
        load(large, today)
        other.get(bare)

    with without_instrumentation():
        ms, least = compare(lambda: client.get(address), floor)
        empty = compare(lambda: client.get(address), lambda: other.get(bare))
    note = (
        f"{ms:.0f} ms, floor {least:.0f} ms, near-empty page alone {empty[1]:.0f} ms, {batches} batches, {len(page) / 1000:.0f} kB,"
        f" {len(gzip.compress(page)) / 1000:.0f} kB compressed, queries {queries[0]} and {queries[1]}"
    )
    return report("bench_400", ms / least, 3, note, ms)
