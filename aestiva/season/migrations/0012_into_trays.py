from collections import defaultdict

from django.db import migrations

from aestiva.season.upgrade import OldBatch, OldEvent, in_trays, splits

GONE = 10**12  # the number of a link whose rows were taken back: nothing else will ever have it


def up(apps, schema_editor):
    """Splits become links, living batches indoors get a tray each, and the journal speaks of the rows that are there now."""
    m = {name: apps.get_model("season", name) for name in
         ("Batch", "BatchEvent", "BatchLink", "BatchStand", "Tray", "TrayStand", "CellRun", "Spot")}
    m["Spot"].objects.filter(kind="container").update(kind="planter")
    for garden in apps.get_model("gardens", "Garden").objects.all():
        _garden(apps, m, garden)


def _garden(apps, m, garden):
    rows = list(m["Batch"].objects.filter(planting__season__garden=garden).order_by("pk"))
    batches = [OldBatch(b.pk, b.parent_id, b.failed_on is None, 1 if b.sown_in == "box" and b.cells is None else b.cells)
               for b in rows]
    told = m["BatchEvent"].objects.filter(batch__in=rows).order_by("on", "pk")
    events = [OldEvent(*row) for row in told.values_list("pk", "batch_id", "kind", "on", "count")]
    links, dropped = {}, []
    for s in splits(batches, events):
        link = m["BatchLink"].objects.create(parent_id=s.parent, child_id=s.child, on=s.on, count=s.count)
        links[s.received] = link.pk
        dropped += [pk for pk in (s.moved, s.received) if pk is not None]
    m["BatchEvent"].objects.filter(pk__in=dropped).delete()
    potted = {e.batch for e in events if e.kind == "potted"}
    old = list(m["BatchStand"].objects.filter(batch__in=rows).select_related("spot").order_by("since", "pk"))
    trays = in_trays(batches, potted, [(s.pk, s.batch_id, s.spot.kind, s.until is None) for s in old])
    by_pk, made, moved = {s.pk: s for s in old}, {}, {}
    size = {b.key: b.cells for b in batches}
    for number, (batch, stands) in enumerate(sorted(trays.items()), 1):
        tray = m["Tray"].objects.create(garden=garden, code=f"T{number}", cells=size[batch])
        since = min(by_pk[pk].since for pk in stands)
        run = m["CellRun"].objects.create(tray=tray, batch_id=batch, first=1, count=size[batch], since=since)
        made[batch] = (tray, run)
        for pk in stands:
            one = by_pk[pk]
            new = m["TrayStand"].objects.create(tray=tray, spot_id=one.spot_id, since=one.since, until=one.until)
            moved[pk] = (new.pk, tray.pk)
    m["BatchStand"].objects.filter(pk__in=list(moved)).delete()
    _journal(apps, garden, links, made, moved)


def _journal(apps, garden, links, made, moved):
    """Entries that wrote rows which are others now are told anew, so that they can still be taken back."""
    entries = apps.get_model("gardens", "JournalEntry").objects.filter(garden=garden)
    touches = apps.get_model("gardens", "JournalTouch")
    touched = touches.objects.filter(entry__in=entries, model__in=["season.Batch", "season.BatchStand"])
    for entry in entries.filter(pk__in=touched.values("entry")).iterator(chunk_size=50):
        changes = _retold(entry.changes, links, made, moved)
        if changes != entry.changes:
            entry.changes = changes
            entry.save(update_fields=["changes"])
            touches.objects.filter(entry=entry).delete()
            rows = dict.fromkeys((one["model"], one["pk"]) for one in changes)
            touches.objects.bulk_create([touches(entry=entry, model=model, row=pk) for model, pk in rows])


def _retold(changes, links, made, moved):
    children = {}  # of this entry's splits: child -> parent
    for one in changes:
        if one["model"] == "season.Batch":
            row = one["after"] or one["before"] or {}
            if row.get("parent_id") is not None:
                children[one["pk"]] = row["parent_id"]
    found = []
    for one in changes:
        row = one["after"] or one["before"] or {}
        if one["model"] == "season.Batch":
            found.append({**one, **{k: one[k] and {n: v for n, v in one[k].items() if n != "parent_id"} for k in ("before", "after")}})
            if one["pk"] in made and (one["before"] is None or one["after"] is None):
                found += [_turned(one, "season.Tray", _tray(made[one["pk"]][0])), _turned(one, "season.CellRun", _run(made[one["pk"]][1]))]
        elif one["model"] == "season.BatchEvent" and row.get("kind") == "moved" and row.get("batch_id") in children.values():
            continue
        elif one["model"] == "season.BatchEvent" and row.get("kind") == "received" and row.get("batch_id") in children:
            link = {"id": links.get(one["pk"], GONE + one["pk"]), "parent_id": children[row["batch_id"]], "child_id": row["batch_id"],
                    "count": row["count"] or 0, "on": row["on"]}
            found.append(_turned(one, "season.BatchLink", link))
        elif one["model"] == "season.BatchStand" and one["pk"] in moved:
            new, tray = moved[one["pk"]]
            told = {k: one[k] and {"id": new, "tray_id": tray, "spot_id": one[k]["spot_id"], "x_cm": None, "y_cm": None,
                                   "since": one[k]["since"], "until": one[k]["until"]} for k in ("before", "after")}
            found.append({"model": "season.TrayStand", "pk": new, **told})
        else:
            found.append(one)
    return found


def _turned(one, model, row):
    """A row that comes or goes with another."""
    return {"model": model, "pk": row["id"], "before": None if one["before"] is None else row, "after": None if one["after"] is None else row}


def _tray(tray):
    return {"id": tray.pk, "garden_id": tray.garden_id, "code": tray.code, "container_id": None, "cells": tray.cells, "revision": 1}


def _run(run):
    return {"id": run.pk, "tray_id": run.tray_id, "batch_id": run.batch_id, "first": 1, "count": run.count,
            "since": run.since.isoformat(), "until": None, "marks": ""}


class Migration(migrations.Migration):

    dependencies = [("season", "0011_trays"), ("gardens", "0005_words")]

    operations = [migrations.RunPython(up, migrations.RunPython.noop)]
