"""Cells, trays and places of batches that hold no plant any more end on the day on which the last one left."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

from django.db import migrations

from growing.batch.history import COUNTED
from growing.batch.ledger import Entry, balance
from growing.batch.links import Link, inward, outward, with_links


def _entries(events: Any, links: Any) -> dict[int, tuple[list[Entry], Any]]:
    """What the ledgers of each batch read, and the day of the last of it."""
    told: dict[int, list[tuple[Any, Entry]]] = defaultdict(list)
    days: dict[int, list[Any]] = defaultdict(list)
    rows = events.objects.filter(kind__in=COUNTED, count__isnull=False).order_by("on", "pk")
    for batch, on, kind, count, guess in rows.values_list("batch_id", "on", "kind", "count", "estimated"):
        told[batch].append((on, Entry(kind, count, guess)))
        days[batch].append(on)
    moved = [Link(*row) for row in links.objects.values_list("parent_id", "child_id", "on", "count")]
    given, taken = inward(moved), outward(moved)
    for link in moved:
        days[link.parent].append(link.on)
        days[link.child].append(link.on)
    return {
        batch: (with_links(told.get(batch, ()), given.get(batch, ()), taken.get(batch, ())), max(days[batch]))
        for batch in days
    }


def end(apps: Any, schema_editor: Any) -> None:
    get = lambda name: apps.get_model("season", name)  # noqa: E731
    run_model, tray_stand, batch_stand = get("CellRun"), get("TrayStand"), get("BatchStand")
    failed = dict(get("Batch").objects.exclude(failed_on=None).values_list("pk", "failed_on"))
    over: dict[int, tuple[Any, int]] = {pk: (on, 0) for pk, on in failed.items()}
    for batch, (entries, on) in _entries(get("BatchEvent"), get("BatchLink")).items():
        found = balance(entries)[0]
        if found.spent:
            over.setdefault(batch, (on, found.outdoors))
    trays = set()
    for run in run_model.objects.filter(until=None, batch_id__in=list(over)):
        run.until = max(run.since, over[run.batch_id][0])
        run.save(update_fields=["until"])
        trays.add(run.tray_id)
    held = set(run_model.objects.filter(tray_id__in=trays, until=None).values_list("tray_id", flat=True))
    for stand in tray_stand.objects.filter(until=None, tray_id__in=trays - held):
        ended = run_model.objects.filter(tray_id=stand.tray_id).order_by("-until").values_list("until", flat=True)
        stand.until = max(stand.since, ended.first())
        stand.save(update_fields=["until"])
    for stand in batch_stand.objects.filter(until=None, batch_id__in=list(over)).select_related("spot"):
        on, outdoors = over[stand.batch_id]
        if not (outdoors and stand.spot.kind in ("bed", "tunnel", "planter")):
            stand.until = max(stand.since, on)
            stand.save(update_fields=["until"])


class Migration(migrations.Migration):
    dependencies = [("season", "0023_ladders")]
    operations = [migrations.RunPython(end, migrations.RunPython.noop)]
