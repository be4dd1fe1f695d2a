"""A lamp as somebody tries it: what the leaves would get, reckoned from what is kept of the shelf; nothing is written."""

from __future__ import annotations

from typing import Any, NamedTuple

from django.core.cache import cache
from django.core.exceptions import ValidationError

from aestiva.frame import say
from aestiva.frame.forms import decimal
from aestiva.frame.say import Reader, stored
from aestiva.gardens import clock
from aestiva.gardens.cache_keys import kept_key
from aestiva.gardens.models import Garden
from aestiva.light import draw, draw_day, words
from aestiva.light.forms import typed_time
from aestiva.light.shelves import Shelf
from growing.light.advice import LampChange
from growing.light.hours import CurrentPrice, LampTimer, wrong_hours
from growing.light.shelf import Board, Got, LampAsSet, LampReach, light_map
from growing.light.targets import against

KEPT_S = 3600
LEAST_CM, MOST_CM = 2.0, 500.0  # above the place, of a lamp


class TryRow(NamedTuple):
    """One batch under the lamp: its day's light, as it would be, in words, its bar, its working."""

    got: Any
    after: Any
    verdict: str
    bar: str
    href: str
    working: Any


def measured(board: Board, setting: LampAsSet, under_mix: str, first: LampChange | None = None) -> dict[str, Any]:
    """What hangs on how the lamp is set: the map, the bars, how even it is.  first: the change that is proposed, drawn beside it."""
    got = board.got(setting)
    after: list[Got | None] = [None] * len(got)
    if first is not None and first.kind in words.BUTTONS:
        after = list(first.got)
    most = draw_day.most_of(got)
    rows = [
        TryRow(
            g, a, words.got_words(g.dli, g.verdict), draw_day.bar_svg(g, a, most), g.stand.ref,
            against(g.stand.name, g.dli, g.least, g.stand.band),
        )
        for g, a in zip(got, after, strict=True)
    ]  # fmt: skip
    rows.sort(key=lambda r: -r.got.missed * r.got.stand.plants)
    found = light_map(board, setting, draw.CELL_CM, fine=draw.FINE)
    return {
        "map": draw.map_svg(board, found),
        "found": found,
        "table": [[round(float(v)) for v in row] for row in found.dli[::-1]],
        "bars": rows,
        "mean": float(found.dli.mean()),
        "even": say.percent(float(found.uniformity)),
        "under_mix": under_mix,
    }


class TryKept(NamedTuple):
    """Of a shelf what a try at its lamp needs, kept for the revision of its garden: it may be dropped at any time."""

    board: Board
    setting: LampAsSet
    tariff: CurrentPrice
    under_mix: str


def keep(garden: Garden, one: Shelf) -> TryKept:
    """Keep it for the tries that follow."""
    kept = TryKept(one.board, one.setting, one.tariff, say.listed(one.under_mix, 3))
    cache.set(_key_of(garden, one.spot.pk), kept, KEPT_S)
    return kept


def _key_of(garden: Garden, spot: int) -> str:
    return kept_key("shelf", garden, clock.today(garden), spot)


def kept_of(garden: Garden, spot: int) -> TryKept | None:
    """What is kept of a shelf for the garden as it is; None where nothing is."""
    found: TryKept | None = cache.get(_key_of(garden, spot))
    return found


def asked_setting(typed: Any, now: LampAsSet, limits: LampReach, units: Reader) -> tuple[LampAsSet, str]:
    """The lamp as somebody asks for it, in his units; what cannot be stays as it is, and is said."""
    problem = ""
    values: dict[str, float] = {}
    for name in ("left", "right", "per_cent", "hours"):
        try:
            if (number := decimal(typed.get(name, ""))) is not None:
                values[name] = number
        except ValueError as error:
            problem = str(error)
    left = stored(values["left"], "cm", units) if "left" in values else now.left_cm
    right = left if now.level or "left" in values else now.right_cm
    right = stored(values["right"], "cm", units) if "right" in values else right
    per_cent, hours, on = values.get("per_cent", now.per_cent), values.get("hours", now.timer.hours), now.timer.on_h
    if typed.get("on", "").strip():
        try:
            on = typed_time(typed["on"])
        except ValidationError as error:
            problem = "; ".join(error.messages).rstrip(".")
    problem = problem or wrong_setting(left, right, per_cent, hours, limits, units)
    if problem:
        return now, problem
    return LampAsSet(left, right, per_cent, LampTimer(on % 24, hours)), ""


def wrong_setting(left: float, right: float, per_cent: float, hours: float, limits: LampReach, units: Reader) -> str:
    """Why a lamp cannot be set so; empty where it can."""
    for cm in (left, right):
        if not LEAST_CM <= cm <= MOST_CM:
            return f"{say.amount(cm, 'cm', units)} cannot be: give {say.amount(LEAST_CM, 'cm', units)} or more"
        if cm > limits.top_cm + 0.05:
            return f"{say.amount(cm, 'cm', units)} is higher than it can hang there: {say.amount(limits.top_cm, 'cm', units)} at most"
    if not 1 <= per_cent <= 100:
        return f"{say.number(per_cent)} % cannot be: give 1 to 100"
    if wrong := wrong_hours(hours):
        return wrong
    return ""
