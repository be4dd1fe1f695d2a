"""When are its windows open here?  Sowing and planting out in spring, for autumn, and for living through winter."""

from __future__ import annotations

from datetime import date, timedelta
from typing import NamedTuple

from growing.assumptions import whole
from growing.calendar import Window, weeks
from growing.chain import days as chain
from growing.chain.choice import Choice, Problem
from growing.chain.raising import Raising, raising_of
from growing.chain.ripening import Ripening, ends_at_c, ripening, stands_winter
from growing.chain.roomwarmth import in_room
from growing.chain.winterbox import box_window
from growing.crops import Crop
from growing.place.frost import EventDates
from growing.place.growth import NEVER, SPAN_DAYS
from growing.place.nights import BETWEEN_C
from growing.place.soil import MORNING_C
from growing.place.year import Gate, Needs, PlaceYear
from growing.seeds.thermal_time import emergence_days
from growing.working import Value, Working

LONGEST_UNDER_DAYS = 21  # in the ground before it shows
TENDER = ("tender", "very tender")
COVERED_NIGHT_C = 10.0  # mean of nights that will do under cover, as its growers say
SLOW_TO_WARM = ("pepper", "hot_pepper")  # a week more, by the rule of fixed weeks
EARLIEST_DAYS = -60  # from last frost: by soil alone the soil says when
AFTER_FROST_DAYS = 10  # a seven-day ladder with its spare days, begun at last frost
HELD_IN_BOX_DAYS = whole("chain.windows.HELD_IN_BOX_DAYS")
COLD_SOIL_C = 8.0  # what is to live through winter is planted four to six weeks before soil stays under it


class Windows(NamedTuple):
    """What a crop's windows are at a place, whatever day is chosen in them; holds the crop it speaks of."""

    crop: Crop
    raising: Raising
    ripening: Ripening
    out: Window
    ends: tuple[Working, Working]
    sow: Window
    sow_ends: tuple[Working, Working]
    end: date | None  # of the year for it, at the accepted risk; None: unknown, or nothing ends it
    end_known: bool
    end_working: Working | None
    useful: int | None  # the last planting out that gives enough (ordinal); None: unknown
    useful_working: Working | None
    problems: tuple[Problem, ...]
    end_c: float  # at the plant, what ends it

    @property
    def never_warm(self) -> bool:
        """Is it never warm enough here for planting it out?"""
        return any(p.code.startswith("never_") for p in self.problems)

    def autumn(self, place: PlaceYear) -> EventDates | None:
        """The first night of that cold, at the screen; None: unknown, or which of its winters harms it is another question."""
        return None if self.ripening.lives_on else place.autumn_at(place.at_screen(self.end_c))

    def in_time(self, place: PlaceYear, first: date) -> float | None:
        """Share of years in which a harvest from `first` on gives enough before that night; None: unknown."""
        autumn = self.autumn(place)
        return None if autumn is None else 1 - autumn.risk(first + timedelta(days=self.ripening.stay))


def needs_of(crop: Crop, method: str = "raised") -> Needs:
    """What planting out waits for.  What lies in the ground is gated by soil alone; the air counts once it shows."""
    spared = 0
    if method == "direct":
        found, _ = emergence_days(crop, crop.number("soil_c") - MORNING_C)
        spared = int(min(found, LONGEST_UNDER_DAYS))
    shoots = crop.word("frost_gate") == "from its shoots"
    return Needs(
        crop.hardiness,
        None if shoots else crop.number("damage_c"),
        max(crop.number("soil_c"), crop.number("min_c")) if method == "direct" else crop.number("soil_c"),
        None if shoots else crop.maybe("mean_night_c"),
        None if shoots else crop.maybe("chill_c"),
        spared,
    )


def windows(crop: Crop, place: PlaceYear, choice: Choice = Choice()) -> Windows:
    """A crop's windows at a place, worked out once for each method, term and packet."""
    key = (crop, choice.method, choice.term, choice.packet, choice.bed_free, choice.room, choice.carries_days)
    return place.memo(key, lambda: _windows(crop, place, choice))


def _windows(crop: Crop, place: PlaceYear, choice: Choice) -> Windows:
    raising = raising_of(crop, choice.method, choice.packet)
    ripens = ripening(crop, place, choice.method, raising_of(crop, "raised", choice.packet).middle)
    end_c = ends_at_c(crop)
    found = place.end_for(end_c)
    end, why_end = (None, None) if found is None else (found.day, found.working)
    limit = None if found is None else chain.ordinal(end, NEVER)
    problems: list[Problem] = []
    if choice.term == "autumn":
        out, ends = _autumn_window(crop, place, ripens, choice, end, why_end, problems)
    elif choice.term == "overwinter":
        out, ends = _overwinter_window(crop, place, problems)
    else:
        out, ends = _spring_window(crop, place, ripens, choice, problems)
    useful, why = None, None
    if choice.term == "spring":
        useful, why = _latest_useful(crop, place, ripens, limit, out)
    if choice.bed_free is not None and choice.bed_free > out.start:
        out, ends = _when_free(out, ends, choice.bed_free, problems)
    if choice.room is not None and raising.longest:
        raising = in_room(crop, raising, choice.room, out.middle)
    if choice.carries_days is not None and raising.longest:
        raising = carried(raising, choice.carries_days)
    if choice.method == "winter":
        raising, sow = _in_a_box(crop, place, out, problems)
        sow_ends = (_box_end("from", raising, sow.start), _box_end("to", raising, sow.end))
    else:
        sow, sow_ends = _sow_window(crop, out, ends, raising)
    return Windows(
        crop,
        raising,
        ripens,
        out,
        ends,
        sow,
        sow_ends,
        end,
        found is not None,
        why_end,
        useful,
        why,
        tuple(problems),
        end_c,
    )


def spring_out(crop: Crop, place: PlaceYear, method: str) -> tuple[chain.OutWindow, tuple[Gate, ...]]:
    """The window of planting out in spring (ordinals), and the gates that move it."""
    way = crop.word("out_way") if crop.hardiness in TENDER else "gates"
    needs = needs_of(crop, method)
    if way == "cover":
        needs = needs._replace(damage_c=None, chill_c=None, mean_night_c=_lower(needs.mean_night_c, COVERED_NIGHT_C))
    elif way == "weeks":
        needs = needs._replace(soil_c=0.0, mean_night_c=None, chill_c=None)
    elif way == "soil":
        needs = needs._replace(damage_c=None, mean_night_c=None, chill_c=None)
    gates = place.memo(("gates", needs), lambda: place.gates(needs))
    if way == "weeks":
        gates = tuple(g for g in gates if g.kind == "frost")
    gate = max((chain.ordinal(g.day) for g in gates), default=chain.NO_DAY)
    low, high = _offsets(crop, way, any(g.kind == "soil" and g.day is not None for g in gates))
    if crop.word("ladder_way") == "afterfrost" and method != "direct":
        low, high = max(low, AFTER_FROST_DAYS), max(high, AFTER_FROST_DAYS + high - low)
    found = chain.out_window(place.last_frost[0].toordinal(), low, high, gate)
    return found, gates


def _lower(value: float | None, limit: float) -> float | None:
    return None if value is None else min(value, limit)


def _offsets(crop: Crop, way: str, soil_known: bool) -> tuple[int, int]:
    """Days from last frost between which it goes out, as that way has it; the window keeps the crop's own length."""
    low, high = (weeks(crop.number(f)).days for f in ("out_min", "out_max"))
    if way == "cover":
        return min(low, 0), min(low, 0) + high - low
    if way == "weeks":
        more = 7 if crop.key.startswith(SLOW_TO_WARM) else 0
        return 14 + more, max(21 + more, 14 + more + high - low)
    if way == "soil" and soil_known:
        return EARLIEST_DAYS, EARLIEST_DAYS + high - low
    return low, high


def _spring_window(
    crop: Crop, place: PlaceYear, ripens: Ripening, choice: Choice, problems: list[Problem]
) -> tuple[Window, tuple[Working, Working]]:
    """Last frost + offset, moved by the latest gate; it closes where the harvest would fall into heat."""
    base, why_base = place.last_frost
    found, gates = spring_out(crop, place, choice.method)
    start, end = found.start, found.end
    steps = (why_base, *(g.working for g in gates))
    setter = _setter(found.by_offset, gates)
    to_setter = "offset" if end == found.by_offset_to else "length"
    heat = None if ripens.heat is None else ripens.out_by(ripens.heat.hot_from - 1)
    if heat is not None and start <= heat < end:
        end, to_setter = heat, "heat"
    problems += [Problem(f"never_{g.kind}", 0, None) for g in gates if g.never]
    by = (date.fromordinal(found.by_offset), date.fromordinal(found.by_offset_to))
    inputs = (Value("last frost", base), crop.values["out_min"], Value("by offset", by[0]), Value("set by", setter))
    length = Value("length", found.by_offset_to - found.by_offset, "days")
    inputs_to = (
        Value("last frost", base),
        crop.values["out_max"],
        Value("by offset", by[1]),
        Value("opens", date.fromordinal(start)),
        length,
        Value("set by", to_setter),
    )
    out = Window(date.fromordinal(start), date.fromordinal(end))
    return out, (
        Working("plan.out_from", inputs, steps, Value("plant out", out.start)),
        Working("plan.out_to", inputs_to, steps, Value("plant out", out.end)),
    )


def _setter(by_offset: int, gates: tuple[Gate, ...]) -> str:
    """What set the day: the latest gate that is later than the offset."""
    day, setter = by_offset, "offset"
    for gate in gates:
        if chain.ordinal(gate.day) > day:
            day, setter = chain.ordinal(gate.day), gate.kind
    return setter


def _autumn_window(
    crop: Crop,
    place: PlaceYear,
    ripens: Ripening,
    choice: Choice,
    end: date | None,
    why_end: Working | None,
    problems: list[Problem],
) -> tuple[Window, tuple[Working, Working]]:
    """Counted back from the end of harvest: its length, growing, shortening light; never before its spring gates."""
    stands = stands_winter(crop)  # full-grown before the short days, it stands in the garden to be picked
    harvest = 0 if stands else int(crop.number("yield_days"))
    limits = {"killing frost": end, "ten hours": place.ten_hour_day if stands or end is None else None}
    known = {name: day for name, day in limits.items() if day is not None}
    if why_end is None and not (stands and "ten hours" in known):
        problems.append(Problem("autumn_unknown", 0, None))
    if not known:  # neither an autumn frost nor short days are known: half a year after last frost
        known = {"half a year": place.last_frost[0] + timedelta(days=182)}
    finish_is = min(known, key=lambda name: known[name])
    finish = known[finish_is]
    bound = crop.word("spring_bound") == "yes"
    spring = spring_out(crop, place, choice.method)[0].start if bound else chain.NO_DAY
    found = chain.autumn_window(finish.toordinal(), harvest, ripens.slow, ripens.fast, spring)
    free = chain.autumn_window(finish.toordinal(), harvest, ripens.slow, ripens.fast, chain.NO_DAY)
    if free.end < spring:
        problems.append(Problem("no_autumn", spring - free.end, date.fromordinal(spring)))
    result = []
    for rule, grown, day, by in (
        ("plan.autumn_from", ripens.slow, found.start, free.start),
        ("plan.autumn_to", ripens.fast, found.end, free.end),
    ):
        inputs = (
            Value("finish", finish),
            Value("finish is", finish_is),
            Value("harvest", harvest, "days", crop.values["yield_days"].source),
            Value("growing", grown, "days", crop.values["mature_max"].source),
            Value("shortening light", chain.SHORT_LIGHT_DAYS, "days", "working"),
            Value("counted back", date.fromordinal(by)),
            Value("spring gates", date.fromordinal(spring) if bound else None),
        )
        kind = "_spring" if day > by else ""
        steps = () if why_end is None else (why_end,)
        result.append(Working(rule + kind, inputs, steps, Value("plant out", date.fromordinal(day))))
    return Window(date.fromordinal(found.start), date.fromordinal(found.end)), (result[0], result[1])


def _overwinter_window(crop: Crop, place: PlaceYear, problems: list[Problem]) -> tuple[Window, tuple[Working, Working]]:
    """Four to six weeks before soil stays cold, for the next year; judged by the winters on record."""
    cold = place.warmth.soil_cold_from(place.year, COLD_SOIL_C)
    lows, kill = place.warmth.winter_lows(), crop.number("kill_c")
    killed = None if not len(lows) else float((lows - BETWEEN_C < kill).mean())
    if cold is None or killed is None:
        problems.append(Problem("winter_unknown", 0, None))
        cold = cold or place.equinox + timedelta(days=45)
    elif killed > place.risk_for(crop.hardiness):
        problems.append(Problem("winter_kills", 0, None, killed))
    out = Window(cold - timedelta(days=chain.SIX_WEEKS), cold - timedelta(days=chain.FOUR_WEEKS))
    inputs = (
        Value("soil cold from", cold, "", "station" if len(lows) else "assumed"),
        Value("needs", COLD_SOIL_C, "°C", "working"),
        Value("kill_c", kill, "°C", crop.values["kill_c"].source),
        Value("winters", len(lows), "", "station"),
        Value("killed in", killed, "share", "station"),
    )
    ends = tuple(
        Working(f"plan.overwinter_{name}", inputs, (), Value("plant out", day))
        for name, day in (("from", out.start), ("to", out.end))
    )
    return out, (ends[0], ends[1])


def _when_free(
    out: Window, ends: tuple[Working, Working], free: date, problems: list[Problem]
) -> tuple[Window, tuple[Working, Working]]:
    """The part of the window in which its ground is free; the window as it is, and a problem, where that is after it."""
    late = (free - out.end).days
    if late > 0:
        problems.append(Problem("bed_late", late, free))
        return out, ends
    inputs = (Value("bed free", free), Value("opens", out.start), Value("closes", out.end))
    why = Working("plan.out_bed", inputs, (ends[0],), Value("plant out", free))
    return Window(free, out.end), (why, ends[1])


def _latest_useful(
    crop: Crop, place: PlaceYear, ripens: Ripening, end: int | None, out: Window
) -> tuple[int | None, Working | None]:
    """The last planting out from which it still gives enough before the year's end, at the accepted risk."""
    if crop.word("photoperiod") == "long days bulb it" or ripens.lives_on:
        return out.end.toordinal(), None  # bulbs when the day is long, or gives another year: whatever autumn says
    useful = ripens.latest(end, place.accepted_risk)
    if useful is None:
        return None, None
    useful = max(1, min(useful, ripens.start + SPAN_DAYS))
    inputs = (
        Value("ends", None if end is None or end >= NEVER else date.fromordinal(end)),
        Value("picked", ripens.stay, "days", "working"),
        Value("growing", ripens.fast, "days", crop.values["mature_min"].source),
        Value("years", 0 if ripens.growth is None else len(ripens.growth.units), "", "station"),
        Value("risk", place.accepted_risk, "share", "setting"),
        Value("shortening light", _light_days(useful, end, ripens), "days", "working"),
    )
    rule = "plan.useful_warmth" if ripens.growth is not None else "plan.useful"
    return useful, Working(rule, inputs, (), Value("plant out", date.fromordinal(useful)))


def _light_days(useful: int, end: int | None, ripens: Ripening) -> int:
    """Days that short light takes from the end, where that is one day for all years."""
    counted = ripens.growth is None and end is not None and end < NEVER
    return end - ripens.stay - ripens.fast - useful if counted and end is not None else 0


def carried(raising: Raising, days: int) -> Raising:
    """The raising time in a chosen path of containers: it cannot be held for longer than the last of them carries it."""
    if days >= raising.hold:
        return raising
    inputs = (Value("carries", days, "days", "estimate"), Value("hold", raising.hold, "days"))
    steps = () if raising.working is None else (raising.working,)
    why = Working("plan.path_carries", inputs, steps, Value("hold", days, "days"))
    longest = min(raising.longest, days)
    return Raising(min(raising.shortest, longest), longest, days, why)


def _in_a_box(crop: Crop, place: PlaceYear, out: Window, problems: list[Problem]) -> tuple[Raising, Window]:
    """A box sown in winter: what lies between its days and planting out, and those days."""
    sow = box_window(crop, place, problems)
    shortest, longest = max(1, (out.start - sow.end).days), max(1, (out.end - sow.start).days)
    inputs = (Value("last frost", place.last_frost[0]), Value("opens", sow.start), Value("closes", sow.end))
    why = Working("plan.winter_box", inputs, (), Value("raising", longest, "days"))
    return Raising(min(shortest, longest), max(shortest, longest), longest + HELD_IN_BOX_DAYS, why), sow


def _box_end(end: str, raising: Raising, day: date) -> Working:
    assert raising.working is not None
    return Working(f"plan.winter_{end}", raising.working.inputs, (), Value("sow", day))


def _sow_window(
    crop: Crop, out: Window, ends: tuple[Working, Working], raising: Raising
) -> tuple[Window, tuple[Working, Working]]:
    span = chain.sow_window(chain.Span(out.start.toordinal(), out.end.toordinal()), raising.longest, raising.shortest)
    start, end = date.fromordinal(span.start), date.fromordinal(span.end)
    steps = () if raising.working is None else (raising.working,)
    said = raising.working
    source = (
        crop.value("raise_max").source
        if said is None
        else "packet"
        if said.rule == "plan.packet_raising"
        else "working"
    )
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
