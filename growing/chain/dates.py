"""When do I sow, and when may it go out?  Counting back from last frost and forward to the first harvest.

Out window = last frost (50 % date) + offset, each end delayed by the gates that have dates; sow = out − raising
time.  A day is feasible only if some day of the out window lies between the shortest raising time and the hold
limit after it.  Everything is whole days; half weeks round down.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import NamedTuple

from growing.calendar import Window, nearest_day, weeks
from growing.crops import Crop
from growing.place.year import Gate, PlaceYear
from growing.working import Value, Working

SHORTENING_LIGHT_DAYS = 14
TRANSPLANT_CHECK_DAYS = 8  # 7–10 days that a transplant loses against a plant sown in place
METHODS = ("raised", "direct", "bought")


class PacketTiming(NamedTuple):
    """What the packet says: weeks (min, max) before a base, and its own planting offset in weeks after last frost."""

    weeks_min: float
    weeks_max: float
    base: str  # "last_frost" or "transplanting"
    out_weeks: float | None = None


class Choice(NamedTuple):
    """What the grower has settled for a planting; None where the rules choose."""

    method: str = "raised"
    term: str = "spring"
    sow_on: date | None = None
    out_on: date | None = None
    packet: PacketTiming | None = None
    not_before: date | None = None
    out_because: str = "pinned"  # why out_on stands: "pinned" by the grower, "waits" for hardening, or "happened"


class Problem(NamedTuple):
    """Something the dates cannot have: a code, how many days it lacks, the day it is about."""

    code: str
    days: int
    day: date | None


@dataclass(slots=True)  # not frozen: hundreds a page
class PlantingDates:
    """The dated chain of one planting.

    sow and out are windows; sow_on and out_on the days chosen in them; first is the range of the first harvest or
    bloom, last its end; hold_until the day the sowing age limit is reached.  workings: arithmetic by step name.
    out_because: why out_on stands where the rules did not choose it: "pinned", "waits" or "happened".
    """

    term: str
    method: str
    sow: Window
    out: Window
    sow_on: date
    out_on: date
    hold_until: date
    first: Window
    last: date
    frost_before_first: float | None
    problems: tuple[Problem, ...]
    workings: Mapping[str, Working]
    out_because: str = ""


class Raising(NamedTuple):
    """Raising time and sowing age limit in days, with the arithmetic behind them."""

    shortest: int
    longest: int
    hold: int
    working: Working | None

    @property
    def middle(self) -> int:
        return (self.shortest + self.longest) // 2


class PacketWeeks(NamedTuple):
    """A packet's weeks as raising time, shortest and longest [weeks], and the same as weeks before last frost."""

    shortest: float
    longest: float
    before_last_frost: float
    working: Working


def packet_raising(packet: PacketTiming) -> PacketWeeks:
    """A packet's weeks as raising time: before last frost add the packet's own planting offset (unknown: 0)."""
    offset = packet.out_weeks or 0.0
    added = offset if packet.base == "last_frost" else 0.0
    shortest, longest = packet.weeks_min + added, packet.weeks_max + added
    working = Working(
        "plan.packet_raising",
        (
            Value("weeks min", packet.weeks_min, "weeks", "packet"),
            Value("weeks max", packet.weeks_max, "weeks", "packet"),
            Value("base", packet.base, "", "packet"),
            Value("planting offset", offset, "weeks", "assumed" if packet.out_weeks is None else "packet"),
            Value("raise min", shortest, "weeks", "packet"),
            Value("raise max", longest, "weeks", "packet"),
            Value("same before last frost", longest - offset, "weeks", "packet"),
        ),
        (),
        Value("raising time", longest, "weeks", "packet"),
    )
    return PacketWeeks(shortest, longest, longest - offset, working)


def raising_time(crop: Crop, choice: Choice) -> Raising:
    """How long this planting is raised indoors; nothing when it is sown in place or bought."""
    if choice.method != "raised":
        return Raising(0, 0, 0, None)
    hold = weeks(crop.number("hold")).days
    if choice.packet is None:
        return Raising(weeks(crop.number("raise_min")).days, weeks(crop.number("raise_max")).days, hold, None)
    said = packet_raising(choice.packet)
    low, high = weeks(said.shortest).days, weeks(said.longest).days
    return Raising(low, high, max(hold, high), said.working)


class Windows(NamedTuple):
    """What a crop's windows are at a place, whatever day is chosen in them; holds the crop it speaks of."""

    crop: Crop
    raising: Raising
    out: Window
    ends: tuple[Working, Working]
    sow: Window
    sow_ends: tuple[Working, Working]


def _windows(crop: Crop, place: PlaceYear, choice: Choice) -> Windows:
    raising = raising_time(crop, choice)
    if choice.term == "autumn":
        out, ends = _autumn_window(crop, place, raising, choice.method)
    else:
        out, ends = _spring_window(crop, place)
    return Windows(crop, raising, out, ends, *_sow_window(crop, out, ends, raising))


def date_planting(crop: Crop, place: PlaceYear, choice: Choice = Choice()) -> PlantingDates:
    """The whole chain for one planting, spring or autumn, with problems said and every line of arithmetic."""
    windows = place.memo((id(crop), choice.method, choice.term, choice.packet), lambda: _windows(crop, place, choice))
    raising, out, ends, sow, sow_ends = windows.raising, windows.out, windows.ends, windows.sow, windows.sow_ends
    problems: list[Problem] = []
    sow_on, why_sow = _sowing_day(sow, sow_ends, out, place, raising, choice, problems)
    out_on, why_out = _planting_day(sow_on, out, raising, choice, problems)
    first, last, why_first, why_last, frost = _yield(crop, place, out_on, choice, problems)
    return PlantingDates(
        choice.term,
        choice.method,
        sow,
        out,
        sow_on,
        out_on,
        sow_on + timedelta(days=raising.hold),
        first,
        last,
        frost,
        tuple(problems),
        {
            "out_from": ends[0],
            "out_to": ends[1],
            "sow_from": sow_ends[0],
            "sow_to": sow_ends[1],
            "sow_on": why_sow,
            "out_on": why_out,
            "first": why_first,
            "last": why_last,
        },
        choice.out_because if choice.out_on is not None else "",
    )


def _spring_window(crop: Crop, place: PlaceYear) -> tuple[Window, tuple[Working, Working]]:
    """Last frost + offset, each end no earlier than the latest gate that has a date."""
    base, why_base = place.last_frost
    gates = place.gates(crop.number("damage_c"), crop.number("soil_c"), crop.number("night_c"), crop.hardiness)
    ends = tuple(_offset(crop, f, base, why_base, gates) for f in ("out_min", "out_max"))
    return Window(ends[0][0], ends[1][0]), (ends[0][1], ends[1][1])


def _offset(crop: Crop, field: str, base: date, why_base: Working, gates: tuple[Gate, ...]) -> tuple[date, Working]:
    plain = base + weeks(crop.number(field))
    day, setter = plain, "offset"
    for gate in gates:
        if gate.day is not None and gate.day > day:
            day, setter = gate.day, gate.kind
    inputs = (Value("last frost", base), crop.values[field], Value("by offset", plain), Value("set by", setter))
    steps = (why_base, *(g.working for g in gates))
    return day, Working(
        "plan.out_from" if field == "out_min" else "plan.out_to", inputs, steps, Value("plant out", day)
    )


def _autumn_window(
    crop: Crop, place: PlaceYear, raising: Raising, method: str
) -> tuple[Window, tuple[Working, Working]]:
    """Counted back from the end of harvest: maturity, shortening light, and the length of the harvest."""
    end = place.killing_date(crop.number("damage_c"))
    killed = None if end is None else end.day
    ten = place.ten_hour_day
    stands = crop.hardiness == "hardy"  # full-grown before the short days, it stands in the garden to be picked
    check = TRANSPLANT_CHECK_DAYS if method == "direct" else 0
    harvest = 0 if stands else int(crop.number("yield_days"))
    limits = {"killing frost": killed, "ten hours": ten if stands or killed is None else None}
    known = {name: day for name, day in limits.items() if day is not None}
    if not known:  # neither an autumn frost nor short days are known: half a year after last frost
        known = {"half a year": place.last_frost[0] + timedelta(days=182)}
    finish_is = min(known, key=lambda name: known[name])
    finish = known[finish_is]
    result = []
    for rule, field in (("plan.autumn_from", "mature_max"), ("plan.autumn_to", "mature_min")):
        grown = int(crop.number(field)) - check
        day = finish - timedelta(days=harvest + grown + SHORTENING_LIGHT_DAYS)
        inputs = (
            Value("finish", finish),
            Value("finish is", finish_is),
            Value("harvest", harvest, "days", crop.values["yield_days"].source),
            crop.values[field],
            Value("sown in place", check, "days"),
            Value("shortening light", SHORTENING_LIGHT_DAYS, "days", "working"),
        )
        steps = (end.working,) if end is not None else ()
        result.append((day, Working(rule, inputs, steps, Value("plant out", day))))
    return Window(result[0][0], result[1][0]), (result[0][1], result[1][1])


def _sow_window(
    crop: Crop, out: Window, ends: tuple[Working, Working], raising: Raising
) -> tuple[Window, tuple[Working, Working]]:
    start, end = out.start - timedelta(days=raising.longest), out.end - timedelta(days=raising.shortest)
    steps = () if raising.working is None else (raising.working,)
    source = "packet" if raising.working else crop.values["raise_max"].source
    return Window(start, end), (
        Working(
            "plan.sow_from",
            (Value("plant out", out.start), Value("raising", raising.longest, "days", source)),
            (ends[0], *steps),
            Value("sow", start),
        ),
        Working(
            "plan.sow_to",
            (Value("plant out", out.end), Value("raising", raising.shortest, "days", source)),
            (ends[1], *steps),
            Value("sow", end),
        ),
    )


def _sowing_day(
    sow: Window,
    sow_ends: tuple[Working, Working],
    out: Window,
    place: PlaceYear,
    raising: Raising,
    choice: Choice,
    problems: list[Problem],
) -> tuple[date, Working]:
    """The day chosen in the sowing window: pinned, else the free day nearest to the ideal, not before `not_before`."""
    ideal = out.middle - timedelta(days=raising.middle)
    day, rule = choice.sow_on, "plan.sow_pinned"
    if day is None:
        open_window = sow
        if choice.not_before is not None and choice.not_before > sow.start:
            open_window = Window(choice.not_before, sow.end)
        day, rule = nearest_day(ideal, open_window, place.sowing_days), "plan.sowing_day"
        if day is None and not open_window.is_empty:
            day, rule = open_window.clamp(ideal), "plan.no_sowing_day"
            problems.append(Problem("no_sowing_day", 0, day))
        elif day is None:
            assert choice.not_before is not None or sow.is_empty
            day, rule = choice.not_before or sow.end, "plan.sow_too_late"
    if day > sow.end:
        problems.append(Problem("too_late", (day - sow.end).days, sow.end))
    elif day < sow.start:
        problems.append(Problem("too_early", (sow.start - day).days, sow.start))
    inputs = (
        Value("ideal", ideal),
        Value("middle of planting out", out.middle),
        Value("middle raising", raising.middle, "days"),
        Value("window start", sow.start),
        Value("window end", sow.end),
        Value("sowing days", ",".join(map(str, sorted(place.sowing_days)))),
        Value("not before", choice.not_before),
    )
    return day, Working(rule, inputs, sow_ends, Value("sow", day))


def _planting_day(
    sow_on: date, out: Window, raising: Raising, choice: Choice, problems: list[Problem]
) -> tuple[date, Working]:
    """The day to plant out what is sown on `sow_on`, and by how many days it falls short where it cannot be right."""
    wanted = sow_on + timedelta(days=raising.middle)
    able = Window(sow_on + timedelta(days=raising.shortest), sow_on + timedelta(days=raising.hold))
    if choice.out_on is not None:
        day, rule = choice.out_on, f"plan.out_{choice.out_because}"
    else:  # as near the middle raising time as the window allows, but never under the shortest
        day, rule = max(out.clamp(wanted), able.start), "plan.out_on"
    if choice.method != "bought":
        if day < able.start:
            problems.append(Problem("short", (able.start - day).days, day))
        elif day > able.end:
            problems.append(Problem("over_hold", (day - able.end).days, able.end))
    if day > out.end:
        problems.append(Problem("after_window", (day - out.end).days, out.end))
    elif day < out.start:
        problems.append(Problem("before_window", (out.start - day).days, out.start))
    inputs = (
        Value("sow", sow_on),
        Value("middle raising", raising.middle, "days"),
        Value("shortest raising", raising.shortest, "days"),
        Value("hold", raising.hold, "days"),
        Value("window start", out.start),
        Value("window end", out.end),
    )
    return day, Working(rule, inputs, (), Value("plant out", day))


def _yield(
    crop: Crop, place: PlaceYear, out_on: date, choice: Choice, problems: list[Problem]
) -> tuple[Window, date, Working, Working, float | None]:
    """First harvest or bloom as a range, its end, and the chance that a damaging frost comes before it."""
    check = TRANSPLANT_CHECK_DAYS if choice.method == "direct" else 0
    low, high = crop.values["mature_min"], crop.values["mature_max"]
    first = Window(
        out_on + timedelta(days=int(crop.number("mature_min")) - check),
        out_on + timedelta(days=int(crop.number("mature_max")) - check),
    )
    light = SHORTENING_LIGHT_DAYS if choice.term == "autumn" else 0
    first = Window(first.start + timedelta(days=light), first.end + timedelta(days=light))
    damage = crop.number("damage_c")
    autumn, killing = place.autumn_at(damage), place.killing_date(damage)
    frost = autumn.risk(first.start) if autumn is not None else None  # no autumn known: nobody can say
    wanted = first.middle + timedelta(days=int(crop.number("yield_days")))
    last, setter = wanted, "length" if autumn is not None else "length alone"
    if killing is not None and killing.day is not None and killing.verdict == "dated" and killing.day < wanted:
        last, setter = max(killing.day, first.start), "frost"
        if killing.day < first.start:
            problems.append(Problem("frost_first", (first.start - killing.day).days, killing.day))
    kind = crop.word("yields")
    why_first = Working(
        f"plan.first_{kind}"
        + ("_direct" if check else "")
        + ("_autumn" if light else "")
        + ("_unknown" if frost is None else ""),
        (
            Value("plant out", out_on),
            low,
            high,
            Value("sown in place", check, "days"),
            Value("shortening light", light, "days", "working" if light else ""),
            Value("frost before", frost, "share"),
        ),
        (),
        Value("first", first.start),
    )
    steps = (killing.working,) if killing is not None else ()
    why_last = Working(
        f"plan.last_{kind}",
        (Value("middle of first", first.middle), crop.values["yield_days"], Value("set by", setter)),
        steps,
        Value("last", last),
    )
    return first, last, why_first, why_last, frost
