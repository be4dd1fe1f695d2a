"""The shared rows in the garden's document, each part after those it refers to."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from aestiva.gardens.portable import Part
from aestiva.gardens.providers import event_kinds
from aestiva.season import models as m
from aestiva.season.upgrade import OldBatch, OldEvent, in_trays, splits
from growing.crops.schema import present_name

_GROUND = ("x_cm", "y_cm", "length_cm", "width_cm", "sun", "note")
_BENCH = ("set_c", "clear_cm", "lit", "lamp_cm", "sun_h", "months_c", "months_said")
_LIGHT = ("facing", "card", "hangs_by", "step_cm", "white")
_PACKET: dict[str, Any] = {  # what came with version 3, and what older documents have for it
    "facts": {}, "packet": None, "seeds": None, "grams": None, "seeds_per_g": None, "storage": "", "storage_c": None,
    "storage_rh": None, "treated": False, "pelleted": False, "primed": False, "saved": False, "used_up": False,
    "origin": "", "price": None, "packet_seeds": None, "revision": 1,
}  # fmt: skip


def facts_fit(row: Mapping[str, Any]) -> str:
    """What is wrong with the facts of an event; the kind itself is looked at with the other values."""
    kind = event_kinds().get(row["kind"]) if isinstance(row["kind"], str) else None
    return "" if kind is None else kind.wrong(row["data"])


def into_trays(document: dict[str, Any]) -> None:
    """Bring a document of before version 4 up: splits become links, living batches indoors get trays.

    Nothing in it is checked yet: rows that are not as they should be are left for the checks to name.
    """
    spots, batches, events, stands = (_rows(document, part) for part in ("spots", "batches", "events", "stands"))
    for spot in spots:
        if spot.get("kind") == "container":
            spot["kind"] = "planter"
    for value in _rows(document, "crop_values"):
        value["field"] = present_name(value["field"])
    for part, column in (("lots", "facts"), ("plantings", "values")):
        for row in _rows(document, part):
            if isinstance(row.get(column), dict):
                row[column] = {present_name(field): value for field, value in row[column].items()}
    before = [
        OldBatch(n, _number(b.pop("parent", None)), b.get("failed_on") is None, _cells(b))
        for n, b in enumerate(batches, 1)
    ]
    told = sorted(
        (OldEvent(n, e["batch"], e["kind"], e["on"], e["count"]) for n, e in enumerate(events, 1)),
        key=lambda e: (str(e.on), e.key),
    )
    found = splits(before, told)
    document["links"] = [{"parent": s.parent, "child": s.child, "count": s.count, "on": s.on} for s in found]
    dropped = {pk for s in found for pk in (s.moved, s.received)}
    document["events"] = [e for n, e in enumerate(events, 1) if n not in dropped]
    kinds = {n: spot.get("kind", "") for n, spot in enumerate(spots, 1)}
    ordered = sorted(enumerate(stands, 1), key=lambda one: (str(one[1]["since"]), one[0]))
    old = [(n, s["batch"], kinds.get(s["spot"], ""), s["until"] is None) for n, s in ordered]
    trays = in_trays(before, {e.batch for e in told if e.kind == "potted"}, old)
    document["trays"], document["tray_stands"], document["cell_runs"] = [], [], []
    for number, (batch, keys) in enumerate(sorted(trays.items()), 1):
        here, cells = [stands[key - 1] for key in keys], before[batch - 1].cells
        since = min(str(s["since"]) for s in here)
        document["trays"].append({"code": f"T{number}", "cells": cells, "revision": 1, "container": None})
        run = {"tray": number, "batch": batch, "first": 1, "count": cells, "since": since, "until": None, "marks": ""}
        document["cell_runs"].append(run)
        for s in here:
            at = {"x_cm": None, "y_cm": None, "since": s["since"], "until": s["until"]}
            document["tray_stands"].append({"tray": number, "spot": s["spot"], **at})
    gone = {key for keys in trays.values() for key in keys}
    document["stands"] = [s for n, s in enumerate(stands, 1) if n not in gone]


def _rows(document: Mapping[str, Any], part: str) -> list[dict[str, Any]]:
    rows = document.get(part, [])
    if not isinstance(rows, list) or not all(isinstance(row, dict) for row in rows):
        raise ValueError(f"{part} must be a list of rows")
    return rows


def _cells(row: Mapping[str, Any]) -> int | None:
    """Cells of a batch as it was; of a box one."""
    cells = row.get("cells")
    return 1 if row.get("sown_in") == "box" and cells is None else _number(cells)


def _number(value: Any) -> int | None:
    if value is None:
        return None
    if isinstance(value, bool) or not isinstance(value, int):
        raise ValueError(f"{str(value)[:40]} is not a whole number")
    return value


PARTS = (
    Part(
        "spots",
        m.Spot,
        "garden",
        ("kind", "code", "name", "order", *_GROUND, "heated", *_BENCH, "watts", *_LIGHT),
        {"parent": "self"},
        added={name: (3, "" if name in ("sun", "note") else None) for name in _GROUND}
        | {"heated": (4, "")}
        | {name: (9, "" if name in ("lit", "months_said") else None) for name in _BENCH}
        | {"watts": (10, None)}
        | {name: (11, False if name == "card" else None if name == "step_cm" else "") for name in _LIGHT},
    ),
    Part(
        "lamps",
        m.Lamp,
        "spot__garden",
        (
            *(
                "kind",
                "name",
                "number",
                "umol",
                "lumen",
                "kelvin",
                "watts",
                "length_cm",
                "width_cm",
                "reflector",
                "dims",
            ),
            *("x_cm", "y_cm", "new_on", "wiped_on", "until", "revision"),
        ),
        {"spot": "spots"},
    ),
    Part(
        "lamp_settings",
        m.LampSetting,
        "spot__garden",
        ("since", "left_cm", "right_cm", "per_cent", "on_h", "hours", "revision"),
        {"spot": "spots"},
    ),
    Part(
        "light_readings", m.LightReading, "spot__garden", ("day", "what", "number", "gap_cm", "x_cm"), {"spot": "spots"}
    ),
    Part("tariffs", m.Tariff, "garden", ("price", "cheap_price", "spans", "revision")),
    Part("crops", m.GardenCrop, "garden", ("key", "name", "relative", "hardiness", "speed")),
    Part("crop_values", m.CropValue, "garden", ("crop_key", "field", "value", "reason")),
    Part("absences", m.Absence, "garden", ("since", "until", "note", "revision")),
    Part("own_ladders", m.OwnLadder, "garden", ("number", "name", "spare_days", "rungs", "revision")),
    Part("seasons", m.Season, "garden", ("year",)),
    Part(
        "lots",
        m.Lot,
        "garden",
        ("crop_key", "variety", "packed_year", "note", *_PACKET, "printed", "colour"),
        added={name: (3, value) for name, value in _PACKET.items()} | {"printed": (6, None), "colour": (6, "")},
    ),
    Part(
        "plantings",
        m.Planting,
        "season__garden",
        (
            "crop_key",
            "variety",
            "wanted",
            "method",
            "term",
            "sown_in",
            "per_cell",
            "packet",
            "values",
            "made",
            "planned_on",
            "chosen_sow",
            "chosen_out",
            "cancelled_on",
            "stood",
            "note",
            "surplus",
            "wanted_unit",
            "as_fits",
            "not_again",
            "came",
            "price",
            "path",
            "revision",
        ),
        {"season": "seasons", "lot": "lots", "spot": "spots", "raised_at": "spots", "germinates_at": "spots"},
        added={
            "as_fits": (3, False),
            "sown_in": (3, "cells"),
            "stood": (5, ""),
            "planned_on": (7, None),
            "not_again": (8, ""),
            "came": (9, ""),
            "price": (9, None),
            "path": (9, []),
            "raised_at": (8, None),
            "germinates_at": (10, None),
            "surplus": (6, ""),
            "wanted_unit": (6, "plants"),
        },
    ),
    Part(
        "areas",
        m.BedArea,
        "planting__season__garden",
        ("x_cm", "y_cm", "length_cm", "width_cm", "pattern", "spacing_cm", "edge", "revision"),
        {"planting": "plantings", "spot": "spots"},
    ),
    Part(
        "batches",
        m.Batch,
        "planting__season__garden",
        ("sown_on", "sown_in", "surplus", "cells", "per_cell", "temperature_c", "ladder", "failed_on", "revision"),
        {"planting": "plantings", "lot": "lots"},
        added={"sown_in": (3, "cells"), "surplus": (6, ""), "ladder": (13, "")},
    ),
    Part(
        "links",
        m.BatchLink,
        "child__planting__season__garden",
        ("count", "on"),
        {"parent": "batches", "child": "batches"},
    ),
    Part(
        "events",
        m.BatchEvent,
        "batch__planting__season__garden",
        ("kind", "on", "count", "estimated", "hours", "wanted_hours", "data", "note"),
        {"batch": "batches"},
        added={"data": (4, {})},
        check=facts_fit,
    ),
    Part(
        "stands",
        m.BatchStand,
        "batch__planting__season__garden",
        ("since", "until"),
        {"batch": "batches", "spot": "spots"},
    ),
    Part(
        "containers",
        m.Container,
        "garden",
        (
            *("kind", "name", "cells", "length_cm", "width_cm", "depth_cm", "cell_ml"),
            *("drains", "air_pruning", "planted", "owned", "to_wash", "revision"),
        ),
        added={"owned": (9, None), "to_wash": (9, 0)},
    ),
    Part(
        "trays",
        m.Tray,
        "garden",
        ("code", "cells", "turns", "turned_on", "lid", "revision"),
        {"container": "containers"},
        added={"turns": (9, 0), "turned_on": (9, None), "lid": (9, "")},
    ),
    Part(
        "tray_stands",
        m.TrayStand,
        "tray__garden",
        ("x_cm", "y_cm", "since", "until", "box_cm"),
        {"tray": "trays", "spot": "spots"},
        added={"box_cm": (11, None)},
    ),
    Part(
        "cell_runs",
        m.CellRun,
        "tray__garden",
        ("first", "count", "since", "until", "marks"),
        {"tray": "trays", "batch": "batches"},
    ),
    Part("warm_readings", m.WarmReading, "garden", ("day", "hour", "celsius", "most_c", "source"), {"spot": "spots"}),
    Part(
        "goes",
        m.Goes,
        "planting__season__garden",
        ("since", "revision"),
        {"planting": "plantings", "spot": "spots"},
    ),
    Part("marks", m.TaskMark, "garden", ("key", "done_on", "skipped_on", "moved_to", "count_done"), key="key"),
    Part("task_notes", m.TaskNote, "garden", ("key", "day", "text"), key="key"),
)
