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
    """The front view of a garden of 400 plantings with all its batches, against the same page with one batch; beside it, the page of a
    garden with one planting."""
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    from aestiva.season.models import Batch, BatchEvent, BatchLink, BatchStand, CellRun, TrayStand
    from demo.kanuka import build

    gardens, pages = (build(400), build(400), build(1)), []
    mine = Batch.objects.filter(planting__season__garden=gardens[1]).order_by("pk")
    others = mine.exclude(pk__in=mine.values("pk")[:1])
    TrayStand.objects.filter(tray__runs__batch__in=others).delete()
    for model, name in (
        (CellRun, "batch"),
        (BatchEvent, "batch"),
        (BatchStand, "batch"),
        (BatchLink, "child"),
        (BatchLink, "parent"),
    ):
        model._base_manager.filter(**{f"{name}__in": others}).delete()
    others.delete()
    for garden in gardens:
        client = Client()
        client.force_login(garden.members.get().user, backend="django.contrib.auth.backends.ModelBackend")
        pages.append((client, f"/g/{garden.pk}/bench/"))
    queries, sizes = [], []
    for client, address in pages:
        client.get(address)
        with CaptureQueriesContext(connection) as seen:
            sizes.append(client.get(address).content)
        queries.append(len(seen))
    many, one, empty = pages
    batches = Batch.objects.filter(planting__season__garden=gardens[0], failed_on=None).count()
    with without_instrumentation():
        ms, least = compare(lambda: many[0].get(many[1]), lambda: one[0].get(one[1]))
        _, bare = compare(lambda: None, lambda: empty[0].get(empty[1]))
    note = (
        f"{ms:.0f} ms, one batch {least:.0f} ms, one planting {bare:.0f} ms, {batches} batches, {len(sizes[0]) / 1000:.0f} kB,"
        f" {len(gzip.compress(sizes[0])) / 1000:.0f} kB compressed, queries {', '.join(map(str, queries))}"
    )
    return report("bench_400", ms / least, 3, note, ms)
