"""Water and feeds in the garden's document."""

from aestiva.care import models as m
from aestiva.gardens.portable import Part

ADDED = {"over": (12, None)}
PARTS = (
    Part(
        "feeds",
        m.Feed,
        "garden",
        ("name", "n", "p", "k", "oxides", "liquid", "g_per_ml", "urea", "analysis", "not_with", "revision"),
    ),
    Part(
        "water_of_trays",
        m.TrayLook,
        "tray__garden",
        ("day", "hour", "found", "watered", "given_ml", "left", "over"),
        {"tray": "trays"},
        added=ADDED,
    ),
    Part("weights", m.TrayWeight, "tray__garden", ("drained_g", "dry_g", "revision"), {"tray": "trays"}),
    Part("sprayer", m.Sprayer, "garden", ("ml", "seconds", "revision")),
    Part("air", m.AirLook, "spot__garden", ("day", "hour", "what", "number"), {"spot": "spots"}),
    Part(
        "ailments",
        m.Ailment,
        "batch__planting__season__garden",
        ("day", "signs", "answers", "cause", "act", "product", "outcome", "ended", "lost", "revision"),
        {"batch": "batches"},
    ),
    Part(
        "water_of_pots",
        m.PotLook,
        "batch__planting__season__garden",
        ("day", "hour", "found", "watered", "given_ml", "left", "over"),
        {"batch": "batches"},
        added=ADDED,
    ),
)
