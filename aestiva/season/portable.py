"""The shared rows in the garden's document, each part after those it refers to."""

from __future__ import annotations

from aestiva.gardens.portable import Part
from aestiva.season import models as m

PARTS = (
    Part("spots", m.Spot, "garden", ("kind", "code", "name", "order"), {"parent": "self"}),
    Part("crops", m.GardenCrop, "garden", ("key", "name", "relative", "hardiness", "speed")),
    Part("crop_values", m.CropValue, "garden", ("crop_key", "field", "value", "reason")),
    Part("seasons", m.Season, "garden", ("year",)),
    Part("lots", m.Lot, "garden", ("crop_key", "variety", "packed_year", "note")),
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
            "per_cell",
            "packet",
            "values",
            "made",
            "chosen_sow",
            "chosen_out",
            "cancelled_on",
            "note",
            "revision",
        ),
        {"season": "seasons", "lot": "lots", "spot": "spots"},
    ),
    Part(
        "batches",
        m.Batch,
        "planting__season__garden",
        ("sown_on", "cells", "per_cell", "temperature_c", "failed_on", "revision"),
        {"planting": "plantings", "parent": "self", "lot": "lots"},
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
