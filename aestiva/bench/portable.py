"""The bench in the garden's document: mixes, stores, days at the bench, timers."""

from typing import Any

from aestiva.bench import models as m
from aestiva.gardens.portable import Part

BEGAN = {m.BRING_IN: "carry in what is out", m.SOAK: "soak", m.POUR: "pour off"}


def rings_for(document: dict[str, Any]) -> None:
    """Bring a document of before version 14 up: what a timer rings for stood at the beginning of its words."""
    for timer in document.get("timers", ()):
        if isinstance(timer, dict):
            what = str(timer.get("what", "")).lower()
            timer["kind"] = next((kind for kind, began in BEGAN.items() if what.startswith(began)), "")


PARTS = (
    Part("stores", m.Store, "garden", ("thing", "owned", "to_wash", "revision")),
    Part(
        "recipes",
        m.Recipe,
        "garden",
        (
            *("name", "use", "feeder", "parts", "grams", "millilitres", "water_ml", "living", "fed", "note"),
            "revision",
        ),
    ),
    Part(
        "fillings",
        m.Filled,
        "recipe__garden",
        ("on",),
        {"batch": "batches", "recipe": "recipes"},
    ),
    Part("bench_days", m.BenchDay, "garden", ("kind", "on", "minutes", "revision"), {"recipe": "recipes"}),
    Part(
        "bench_lines",
        m.DayLine,
        "day__garden",
        ("order", "task", "first", "places", "per_cell", "revision"),
        {"day": "bench_days", "planting": "plantings", "batch": "batches", "tray": "trays"},
        key="task",
    ),
    Part(
        "bench_stages",
        m.StageDone,
        "day__garden",
        ("stage", "at", "skipped"),
        {"day": "bench_days", "line": "bench_lines"},
    ),
    Part(
        "timers",
        m.Timer,
        "garden",
        ("kind", "what", "started", "due", "done_at", "revision"),
        {"planting": "plantings"},
        added={"kind": (14, "")},
    ),
)
