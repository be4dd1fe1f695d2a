"""Who minds heat after it is up, and is it too hot for it now?  What is not seen for weeks: rosettes, stalks instead of hearts.

Lisianthus and the like rosette by heat from the first true leaf to the fourth pair: several days over 25 °C, or nights over 18.  Celery and lettuce
bolt or turn bitter by it; their limits are estimates.
"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import NamedTuple

from growing.assumptions import real
from growing.crops import Crop
from growing.steps import StepSpec, with_another
from growing.working import Value, Working

LATELY_DAYS, SEVERAL = 5, 3  # days that are looked at, and how many of them are several
DAY_C, NIGHT_C = 25.0, 18.0
PAIRS_LEAVES = 8.0  # the fourth pair
LATE_LETTUCE_LEAVES = real("care.heat.LATE_LETTUCE_LEAVES")
LATE_CELERY_LEAVES = real("care.heat.LATE_CELERY_LEAVES")


class Minds(NamedTuple):
    """From how many true leaves until how many it minds; day and night limits [°C]."""

    since: float
    until: float
    day_c: float
    night_c: float


def minds(crop: Crop) -> Minds | None:
    """Does it mind heat once up?"""
    if crop.word("late") == "rosettes in heat":
        return Minds(1.0, PAIRS_LEAVES, DAY_C, NIGHT_C)
    if crop.key in ("celery", "celeriac"):
        return Minds(0.0, LATE_CELERY_LEAVES, DAY_C + 2, 24.0)
    if crop.key in ("lettuce", "spinach", "endive"):
        return Minds(0.0, LATE_LETTUCE_LEAVES, DAY_C + 1, 22.0)
    return None


def too_hot(crop: Crop, name: str, leaves: float, days: Mapping[date, tuple[float, float]]) -> Working | None:
    """The alarm, with its arithmetic; None where it does not mind, or it was not so hot, or nobody read.

    days: least and most of each of the last LATELY_DAYS [°C], of those that were read.
    """
    limit = minds(crop)
    if limit is None or not limit.since <= leaves < limit.until:
        return None
    hot = sum(most > limit.day_c for _, most in days.values())
    warm = sum(least > limit.night_c for least, _ in days.values())
    if max(hot, warm) < SEVERAL:
        return None
    inputs = (
        Value("name", name),
        Value("leaves", round(leaves, 1), "leaves", "estimate"),
        Value("hot days", hot, "days", "readings"),
        Value("limit", limit.day_c, "°C", "working"),
        Value("warm nights", warm, "days", "readings"),
        Value("night limit", limit.night_c, "°C", "working"),
        Value("days", LATELY_DAYS, "days"),
    )
    return Working("care.heat", inputs, (), Value("cool", name))


COOL = StepSpec("cool", "bench", with_another, minutes=3, alarm=True)
RULES = {"care.heat": ("name", "leaves", "hot days", "limit", "warm nights", "night limit", "days")}
