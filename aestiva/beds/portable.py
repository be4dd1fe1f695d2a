"""The plan of the ground and what is used, in the garden's document."""

from __future__ import annotations

from typing import Any

from aestiva.beds import models as m
from aestiva.gardens.portable import Part

_WANTED: dict[str, Any] = {
    "unit": "", "for_whom": "", "since": None, "until": None, "keeps_days": None, "cut_stage": "",
}  # fmt: skip
PARTS = (
    Part("plot", m.Plot, "garden", ("width_cm", "height_cm", "grid_cm", "north_deg", "seen_from", "revision")),
    Part(
        "uses",
        m.Use,
        "garden",
        ("crop_key", "per_week", "per_plant", *_WANTED),
        added={name: (8, value) for name, value in _WANTED.items()},
    ),
)
