"""How long does the lamp burn, from when to when, and what does that cost?  One timer for all that stands under it."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from growing.crops import Crop
from growing.shelves.company import hours_wanted
from growing.working import Value, Working

DAY_H = 24.0
DARK_H = 6.0  # at least, of every day
STEADY_H = 16.0
TAPER = ((14, 16.0), (28, 14.0), (None, 12.0))  # until so many days after emergence, hours
LONG = ((14, 18.0), (None, 14.0))
ROUND_DAYS = 3  # round the clock for so long after the first is up, and no longer
NOT_ROUND, WARNED_ROUND = ("eggplant",), ("tomato",)
GRID_H = 0.5  # of timers
BULBLET_WEEKS = 16  # some want an onion bulblet by then, and long days make it


class Wants(NamedTuple):
    """Hours that one batch bears and wants: at least (short-day flowers), at most, as its school has it.  round_until: the day to which
    its lamp may burn round the clock; None: not."""

    name: str
    least: float
    most: float
    wish: float
    round_until: date | None = None
    plants: int = 1
    key: str = ""


def wanted(crop: Crop, days_up: int) -> float:
    """Hours of lamp by the crop's way, so many days after it came up [h]; inside what the crop bears."""
    way = crop.word("hours_way")
    least, most = hours_wanted(crop)
    if way == "crop":
        hours = crop.number("hours")
    elif way == "steady":
        hours = STEADY_H if most >= STEADY_H else crop.number("hours")
    else:
        steps = TAPER if way == "taper" else LONG
        hours = next(h for until, h in steps if until is None or days_up < until)
    return min(max(hours, least), most, DAY_H - DARK_H)


def may_round(crop: Crop) -> bool:
    """May it have light round the clock in its first days?"""
    return crop.key not in NOT_ROUND and crop.number("most_light_h") >= STEADY_H


class HoursClash(NamedTuple):
    """Hours that do not suit somebody under the timer: too long for it, or too short."""

    kind: str
    name: str
    limit: float
    working: Working


class SharedTimer(NamedTuple):
    """The hours for all under one lamp, whom they do not suit, and why."""

    hours: float
    clashes: tuple[HoursClash, ...]
    working: Working


def shared_hours(all_of_them: Sequence[Wants], today: date) -> SharedTimer:
    """One timer for all: what most plants wish, no longer than the briefest bears; whom that leaves short is said."""
    if not all_of_them:
        return SharedTimer(0.0, (), Working("light.hours_nobody", (), (), Value("hours", 0.0, "h")))
    if all(w.round_until is not None and today <= w.round_until for w in all_of_them):
        last = min(w.round_until for w in all_of_them if w.round_until is not None)
        until = (Value("until", last), Value("name", all_of_them[0].name))
        warned = any(w.key in WARNED_ROUND for w in all_of_them)
        rule = "light.hours_round_tomato" if warned else "light.hours_round"
        return SharedTimer(DAY_H, (), Working(rule, until, (), Value("hours", DAY_H, "h")))
    briefest = min(all_of_them, key=lambda w: w.most)
    longest = max(all_of_them, key=lambda w: w.least)
    plants = sum(w.plants for w in all_of_them)
    middle = sorted(all_of_them, key=lambda w: w.wish)
    seen, wish = 0, middle[-1].wish
    for w in middle:
        seen += w.plants
        if 2 * seen >= plants:
            wish = w.wish
            break
    hours = min(max(wish, longest.least), briefest.most, DAY_H - DARK_H)
    inputs = (
        Value("wished", wish, "h", "school"),
        Value("briefest", briefest.name),
        Value("most", briefest.most, "h", "crop"),
        Value("dark", DARK_H, "h"),
    )
    return SharedTimer(
        hours, tuple(clashes(all_of_them, hours)), Working("light.hours", inputs, (), Value("hours", hours, "h"))
    )


def clashes(all_of_them: Sequence[Wants], hours: float) -> list[HoursClash]:
    """Whom so many hours do not suit, each named once."""
    found: dict[tuple[str, str], HoursClash] = {}
    for w in all_of_them:
        for kind, limit, wrong in (("long", w.most, hours > w.most), ("short", w.least, hours < w.least)):
            if wrong:
                inputs = (Value("name", w.name), Value("hours", hours, "h"), Value("limit", limit, "h", "crop"))
                rule = (
                    f"light.too_{kind}"
                    if kind == "short" or w.most > STEADY_H or not _bulbs(w)
                    else "light.too_long_bulb"
                )
                found.setdefault(
                    (kind, w.name),
                    HoursClash(kind, w.name, limit, Working(rule, inputs, (), Value("hours", limit, "h"))),
                )
    return list(found.values())


def _bulbs(w: Wants) -> bool:
    return w.key in ("onion", "shallot", "onion_sets")


class CurrentPrice(NamedTuple):
    """What a kilowatt hour costs, and in which hours it costs less: (from, to) each, to before from is across midnight."""

    price: float | None = None
    cheap_price: float | None = None
    spans: tuple[tuple[float, float], ...] = ()

    def cheap(self, hour: float) -> bool:
        """Is it cheap at that hour of the day?"""
        return any(inside(hour, span) for span in self.spans)

    def price_at(self, hour: float) -> float:
        """Price of a kilowatt hour then; 0 where nobody said."""
        if self.cheap_price is not None and self.cheap(hour):
            return self.cheap_price
        return self.price or 0.0


def inside(hour: float, span: tuple[float, float]) -> bool:
    """Does an hour of the day fall into a span, which may run across midnight?"""
    begin, end = span
    return begin <= hour < end if begin < end else hour >= begin or hour < end


def wrong_spans(spans: Sequence[tuple[float, float]]) -> str:
    """What is wrong with cheap hours; empty where nothing is."""
    pieces: list[tuple[float, float]] = []
    for begin, end in spans:
        if not (0 <= begin <= DAY_H and 0 <= end <= DAY_H):
            return f"{begin:g} to {end:g} is not within a day: give hours from 0 to 24"
        if begin % DAY_H == end % DAY_H:
            return f"{begin:g} to {end:g} is no time at all, or all day: leave it out"
        mine = [(begin, end)] if begin < end else [(begin, DAY_H), (0.0, end)]
        for a, b in mine:
            if any(a < d and c < b for c, d in pieces):
                return f"{begin:g} to {end:g} overlaps other cheap hours: give each hour once"
        pieces += mine
    return ""


class LampTimer(NamedTuple):
    """When the lamp goes on and off [h of the day]; on = off is never or, with 24 hours, always."""

    on_h: float
    hours: float

    @property
    def off_h(self) -> float:
        return (self.on_h + self.hours) % DAY_H

    @property
    def over_midnight(self) -> bool:
        return self.on_h + self.hours > DAY_H

    @property
    def dark(self) -> float:
        return DAY_H - self.hours


class WeekCost(NamedTuple):
    """Of a week: kilowatt hours, money (None: nobody said the price), and of the daily hours those that are cheap."""

    kwh: float
    money: float | None
    cheap_h: float


TENTHS = np.arange(240) / 10  # of an hour, over a day


def cost(timer: LampTimer, watts: float, tariff: CurrentPrice) -> WeekCost:
    """What a lamp of so many watts costs in a week, by parts of an hour as fine as six minutes."""
    lit = (TENTHS + 0.05 - timer.on_h) % DAY_H < timer.hours
    cheap, price = (float(part[lit].sum()) / 10 for part in _by_tenths(tariff))
    kwh = watts / 1000 * timer.hours * 7
    return WeekCost(kwh, None if tariff.price is None else price * watts / 1000 * 7, cheap)


@lru_cache(maxsize=64)
def _by_tenths(tariff: CurrentPrice) -> tuple[NDArray[np.bool_], NDArray[np.float64]]:
    """Whether each tenth of an hour is cheap, and the price of a kilowatt hour in it."""
    hours = TENTHS.tolist()
    return np.array([tariff.cheap(h) for h in hours]), np.array([tariff.price_at(h) for h in hours])


def cheapest(hours: float, watts: float, tariff: CurrentPrice, now: LampTimer | None = None) -> LampTimer:
    """The timer of so many hours that costs least, on the half hour; of alike ones that nearest to how it is set, or to midday."""
    if hours >= DAY_H or hours <= 0:
        return LampTimer(0.0, max(0.0, min(DAY_H, hours)))
    wanted_on = (now.on_h if now is not None else 12.0 - hours / 2) % DAY_H

    def worth(on: float) -> tuple[float, float]:
        paid = cost(LampTimer(on, hours), watts, tariff).money or 0.0
        return round(paid, 6), min((on - wanted_on) % DAY_H, (wanted_on - on) % DAY_H)

    starts = [k * GRID_H for k in range(int(DAY_H / GRID_H))]
    return LampTimer(min([*starts, *([wanted_on] if now is not None else [])], key=worth), hours)


def wrong_hours(hours: float) -> str:
    """Why a lamp cannot burn so long; empty where it can.  Less than six hours of dark is for the first days alone."""
    if not 0 <= hours <= DAY_H:
        return f"{hours:g} hours are not of one day: give 0 to 24"
    return ""


RULES = {
    "light.hours": ("wished", "briefest", "most", "dark"),
    "light.hours_nobody": (),
    "light.hours_round": ("until", "name"),
    "light.hours_round_tomato": ("until", "name"),
    **dict.fromkeys(("light.too_long", "light.too_short", "light.too_long_bulb"), ("name", "hours", "limit")),
}
