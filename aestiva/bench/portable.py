"""The bench in the garden's document: mixes, stores, days at the bench, timers."""

from aestiva.bench import models as m
from aestiva.gardens.portable import Part

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
        ("what", "started", "due", "done_at", "revision"),
        {"planting": "plantings"},
    ),
)
