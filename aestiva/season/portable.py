"""The shared rows in the garden's document, each part after those it refers to."""

from __future__ import annotations

from typing import Any

from aestiva.gardens.portable import Part
from aestiva.season import models as m

_GROUND = ("x_cm", "y_cm", "length_cm", "width_cm", "sun", "note")
_PACKET: dict[str, Any] = {  # what came with version 3, and what older documents have for it
    "facts": {}, "packet": None, "seeds": None, "grams": None, "seeds_per_g": None, "storage": "", "storage_c": None,
    "storage_rh": None, "treated": False, "pelleted": False, "primed": False, "saved": False, "used_up": False,
    "origin": "", "price": None, "packet_seeds": None, "revision": 1,
}  # fmt: skip
PARTS = (
    Part(
        "spots",
        m.Spot,
        "garden",
        ("kind", "code", "name", "order", *_GROUND),
        {"parent": "self"},
        added={name: (3, "" if name in ("sun", "note") else None) for name in _GROUND},
    ),
    Part("crops", m.GardenCrop, "garden", ("key", "name", "relative", "hardiness", "speed")),
    Part("crop_values", m.CropValue, "garden", ("crop_key", "field", "value", "reason")),
    Part("seasons", m.Season, "garden", ("year",)),
    Part(
        "lots",
        m.Lot,
        "garden",
        ("crop_key", "variety", "packed_year", "note", *_PACKET),
        added={name: (3, value) for name, value in _PACKET.items()},
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
            "chosen_sow",
            "chosen_out",
            "cancelled_on",
            "note",
            "as_fits",
            "revision",
        ),
        {"season": "seasons", "lot": "lots", "spot": "spots"},
        added={"as_fits": (3, False), "sown_in": (3, "cells")},
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
        ("sown_on", "sown_in", "cells", "per_cell", "temperature_c", "failed_on", "revision"),
        {"planting": "plantings", "parent": "self", "lot": "lots"},
        added={"sown_in": (3, "cells")},
    ),
    Part(
        "events",
        m.BatchEvent,
        "batch__planting__season__garden",
        ("kind", "on", "count", "estimated", "hours", "wanted_hours", "note"),
        {"batch": "batches"},
    ),
    Part(
        "stands",
        m.BatchStand,
        "batch__planting__season__garden",
        ("since", "until"),
        {"batch": "batches", "spot": "spots"},
    ),
    Part("marks", m.TaskMark, "garden", ("key", "done_on", "skipped_on", "moved_to", "count_done"), key="key"),
)
