"""A lamp as somebody tries it: what the leaves would get, reckoned from what is kept of the shelf; nothing is written."""

from __future__ import annotations

from typing import Any, NamedTuple

from django.core.cache import cache

from aestiva.frame import say
from aestiva.frame.fields import Amount, Duration, Hour, Length
from aestiva.frame.say import Reader
from aestiva.gardens import clock
from aestiva.gardens.cache_keys import kept_key
from aestiva.gardens.commands import Command
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.light import draw, draw_day, words
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


class TryForm(Command):
    """A lamp as somebody asks for it; what is left empty stays as it is."""

    left = Length(low=-1e6, high=1e6, required=False)
    right = Length(low=-1e6, high=1e6, required=False)
    per_cent = Amount(low=-1e6, high=1e6, required=False)
    hours = Duration(low=-1e6, high=1e6, unit="h", required=False)
    on = Hour(required=False)

    def setting(self, now: LampAsSet, limits: LampReach) -> LampAsSet:
        """The lamp as it would hang and burn.  Raises Refused where it cannot."""
        typed = {name: value for name, value in self.cleaned_data.items() if value is not None}
        left = typed.get("left", now.left_cm)
        right = typed.get("right", left if now.level or "left" in typed else now.right_cm)
        per_cent, hours = typed.get("per_cent", now.per_cent), typed.get("hours", now.timer.hours)
        if wrong := wrong_setting(left, right, per_cent, hours, limits, self.reader):
            raise Refused("left", wrong)
        return LampAsSet(left, right, per_cent, LampTimer(typed.get("on", now.timer.on_h) % 24, hours))


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
