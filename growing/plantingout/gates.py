"""May it go?  One test each for hardening, stage, soil, nights, frost, the day and the bed: value, limit, and when it will likely open."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date, timedelta
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from growing.assumptions import real, shown, whole
from growing.chain.choice import Held
from growing.crops import Crop
from growing.place.covers import COVERS
from growing.place.nightgate import CHILL_CHANCE
from growing.place.nights import Night
from growing.plantingout.springs import HORIZON_DAYS, SpringsAhead
from growing.working import Value, Working

OPEN, CLOSED, COVERED, EVENING, UNKNOWN, FREE = "open", "closed", "covered", "evening", "unknown", "free"
LIKELY = 0.7  # of springs in which a gate is open by the day that is said
MORNINGS = 3  # that the soil is read over
WINDY_KMH = real("plantingout.gates.WINDY_KMH")
HOT_C, HOT_COOL_C = 28.0, 24.0  # over which they go out in the evening, cool crops earlier
COVER_CROPS_C = 10.0  # a mean of nights that will do under cover
Floats = NDArray[np.float64]


class GateTest(NamedTuple):
    """A test: its name; open, closed, covered (a cover opens it), evening, unknown, or free (the crop has no such limit); the value
    and the limit; the day by which it is likely open, in which share of springs; the arithmetic."""

    name: str
    state: str
    value: Value
    limit: Value
    opens: date | None
    share: float | None
    inputs: tuple[Value, ...]

    @property
    def working(self) -> Working:
        """Its arithmetic; put together only when somebody asks."""
        more = (*self.inputs, Value("likely open", self.opens), Value("springs open", self.share, "share"))
        return Working(f"plantingout.gate_{self.name}", more, (), Value(self.state, self.opens))

    @property
    def holds(self) -> bool:
        """Does it hold planting back today?"""
        return self.state == CLOSED

    @property
    def passes(self) -> bool:
        return self.state in (OPEN, FREE)


class Bed(NamedTuple):
    """The bed it goes to: its code, until when something stands in it, and what somebody saw of it ("ready", "wet", "busy", "")."""

    code: str
    busy_until: date | None = None
    by: str = ""
    state: str = ""


class Asked(NamedTuple):
    """One batch at the gates.  leaves: true leaves, None where nobody looked; seen: did somebody.  mornings: the last three mornings'
    soil from a probe [°C].  ready: when the ladder is climbed.  covers: kinds at hand."""

    crop: Crop
    today: date
    climbed: int
    rungs: int
    ready: date | None
    leaves: float | None
    seen: bool
    mornings: tuple[float, ...]
    night: Night | None
    bed: Bed
    risk: float
    frost_opens: date | None  # by the place's frost dates, where there are no years day by day
    soil_opens: date | None
    nights_opens: date | None
    leaf_days: float = 5.0
    covers: tuple[str, ...] = tuple(COVERS)
    sheltered: bool = False  # a tunnel or frame: its wind is behind glass
    by_cover: bool = False  # the grower plants at last frost with cover at hand


HOLDS = {  # what a closed gate is called where it holds plants back; the ladder speaks for itself
    "stage": "too few leaves", "soil": "cold soil", "nights": "cold nights", "frost": "frost to come",
    "day": "wind", "bed": "its bed",
}  # fmt: skip


def held(gates: Sequence[GateTest], ready: date | None) -> Held:
    """What holds a batch back today beside its ladder, and until when."""
    closed = [g for g in gates if g.holds and g.name in HOLDS]
    days = [g.opens for g in closed if g.opens is not None]
    until = max(days) if closed and len(days) == len(closed) else None
    return Held(tuple(HOLDS[g.name] for g in closed), until, ready)


Kept = dict[tuple[object, ...], GateTest]  # answers that batches share, of one place and day


def gates(one: Asked, springs: SpringsAhead | None, kept: Kept | None = None) -> tuple[GateTest, ...]:
    """Every test of one batch.  kept: what was found for others at the same place on the same day."""
    kept = {} if kept is None else kept
    return (
        hardened(one),
        stage(one),
        _kept(kept, ("soil", one.crop.number("soil_c"), one.mornings, one.soil_opens), lambda: soil(one, springs)),
        _kept(kept, ("nights", *_nights_of(one)), lambda: nights(one, springs)),
        _kept(kept, ("frost", *_frost_of(one)), lambda: frost(one, springs)),
        the_day(one),
        the_bed(one),
    )


def _kept(kept: Kept, key: tuple[object, ...], work_out: Callable[[], GateTest]) -> GateTest:
    if key not in kept:
        kept[key] = work_out()
    return kept[key]


def _nights_of(one: Asked) -> tuple[object, ...]:
    return one.crop.maybe("mean_night_c"), one.crop.maybe("chill_c"), one.covers, one.by_cover, one.nights_opens


def _frost_of(one: Asked) -> tuple[object, ...]:
    return one.crop.number("damage_c"), one.crop.word("frost_gate"), one.risk, one.covers, one.frost_opens


def hardened(one: Asked) -> GateTest:
    """Are all rungs climbed?"""
    value, limit = Value("rungs climbed", one.climbed, ""), Value("rungs", one.rungs, "")
    done = one.climbed >= one.rungs
    opens = None if done else one.ready
    return GateTest("hardened", OPEN if done else CLOSED, value, limit, opens, None, (value, limit))


def stage(one: Asked) -> GateTest:
    """Has it the true leaves of a plant that is ready?"""
    least = int(one.crop.number("ready_leaves_min"))
    limit = Value("leaves wanted", least, "", one.crop.values["ready_leaves_min"].source)
    if one.leaves is None or not least:
        value = Value("leaves", None)
        return GateTest("stage", UNKNOWN if least else FREE, value, limit, None, None, (value, limit))
    value = Value("leaves", int(one.leaves), "", "count" if one.seen else "estimate")
    short = least - one.leaves
    opens = None if short <= 0 else one.today + timedelta(days=max(1, round(short * one.leaf_days)))
    state = (
        OPEN if short < 1e-9 else CLOSED if one.seen else UNKNOWN
    )  # what nobody saw holds nothing back: it asks for a look
    return GateTest("stage", state, value, limit, opens, None, (value, limit))


def soil(one: Asked, springs: SpringsAhead | None) -> GateTest:
    """Morning soil: the mean of the last three read, or what the years reckon for this day."""
    needs = one.crop.number("soil_c")
    limit = Value("soil_c", needs, "°C", one.crop.values["soil_c"].source)
    if one.mornings:
        value = Value("soil", float(np.mean(one.mornings)), "°C", "probe")
    elif springs is not None:
        value = Value("soil", float(np.median(springs.soil_c[:, 0])), "°C", "station")
    else:
        value = Value("soil", None, "°C")
        return _by_date("soil", one, one.soil_opens, value, limit)
    number = value.number
    assert isinstance(number, float)
    if number >= needs - 1e-9:
        return GateTest("soil", OPEN, value, limit, None, None, (value, limit))
    opens, share = None, None
    if springs is not None:
        opens, share = likely(_run(springs.soil_c[:, :HORIZON_DAYS] + _bias(one, springs, number), needs), springs)
    return GateTest("soil", CLOSED, value, limit, opens or one.soil_opens, share, (value, limit))


def _bias(one: Asked, springs: SpringsAhead, number: float) -> float:
    """How much warmer the probe found it than the years reckon, believed by half for the days to come."""
    return (number - float(np.median(springs.soil_c[:, 0]))) / 2 if one.mornings else 0.0


def _run(values: Floats, needs: float) -> NDArray[np.int64]:
    """Per year the first day whose mean with the two after it is warm enough; the horizon where there is none."""
    mean = (values[:, :-2] + values[:, 1:-1] + values[:, 2:]) / 3
    warm = mean >= needs
    return np.where(warm.any(axis=1), warm.argmax(axis=1), HORIZON_DAYS)


def nights(one: Asked, springs: SpringsAhead | None) -> GateTest:
    """Mean of the fortnight's nights, with the credit of warm days; and how seldom a single one chills."""
    mean_c, chill_c = one.crop.maybe("mean_night_c"), one.crop.maybe("chill_c")
    if mean_c is None and chill_c is None:
        none = Value("nights", None if springs is None else float(np.mean(springs.nights_c[:, 0])), "°C", "station")
        return GateTest("nights", FREE, none, Value("no limit", None), None, None, (none,))
    wants = mean_c if mean_c is not None else chill_c
    if one.by_cover and mean_c is not None:
        wants = min(mean_c, COVER_CROPS_C)
    assert wants is not None
    source = one.crop.values["mean_night_c" if mean_c is not None else "chill_c"].source
    limit = Value("mean_night_c", wants, "°C", source)
    if springs is None:
        return _by_date("nights", one, one.nights_opens, Value("nights", None, "°C"), limit)
    mean = springs.nights_c[:, : HORIZON_DAYS - 7]
    value = Value("nights", float(np.mean(mean[:, 0])), "°C", "station")
    chilled = np.zeros(mean.shape, bool) if chill_c is None else springs.coldest_c[:, : mean.shape[1]] < chill_c
    chance = Value("chance of chill", float(chilled[:, 0].mean()), "share", "working")
    warm = mean >= wants if mean_c is not None else np.ones(mean.shape, bool)
    seldom = chilled.mean(axis=0) < CHILL_CHANCE
    inputs = (value, limit, chance, Value("at most", CHILL_CHANCE, "share", "working"))
    if float(value.number or 0.0) >= wants and seldom[0]:  # type: ignore[arg-type]
        return GateTest("nights", OPEN, value, limit, None, None, inputs)
    usual = np.where(warm.any(axis=1), warm.argmax(axis=1), HORIZON_DAYS)
    first = int(np.argmax(seldom)) if seldom.any() else HORIZON_DAYS
    opens, share = likely(np.maximum(usual, first), springs)
    state = COVERED if _covers(one, lambda c: _night_open(springs, wants, chill_c, c)) else CLOSED
    return GateTest("nights", state, value, limit, opens, share, inputs)


def _night_open(springs: SpringsAhead, wants: float | None, chill_c: float | None, adds_c: float) -> bool:
    warm = wants is None or float(np.mean(springs.nights_c[:, 0])) + adds_c >= wants
    return warm and (chill_c is None or bool((springs.coldest_c[:, 0] + adds_c < chill_c).mean() < CHILL_CHANCE))


def frost(one: Asked, springs: SpringsAhead | None) -> GateTest:
    """The chance that what damages it comes once more before midsummer."""
    damage = one.crop.number("damage_c")
    limit = Value("accepted risk", one.risk, "share", "setting")
    if one.crop.word("frost_gate") == "from its shoots":
        none = Value("frost to come", None, "share")
        return GateTest("frost", FREE, none, limit, None, None, (none, limit))
    if springs is None:
        return _by_date("frost", one, one.frost_opens, Value("frost to come", None, "share"), limit)
    last = _last(springs.plant_c, damage, springs.solstice)
    value = Value("frost to come", float((last >= 0).mean()), "share", "station")
    inputs = (
        value,
        limit,
        one.crop.values["damage_c"],
        Value("years", springs.years, ""),
        Value("forecast", springs.forecast, "nights"),
    )
    if float(value.number or 0.0) <= one.risk:  # type: ignore[arg-type]
        return GateTest("frost", OPEN, value, limit, None, None, inputs)
    ordered = np.sort(last + 1)
    day = int(ordered[min(len(ordered) - 1, int(np.ceil((1 - one.risk) * len(ordered))) - 1)])
    opens = springs.today + timedelta(days=day)
    state = (
        COVERED
        if _covers(one, lambda c: (_last(springs.plant_c + c, damage, springs.solstice) >= 0).mean() <= one.risk)
        else CLOSED
    )
    return GateTest("frost", state, value, limit, opens, 1 - one.risk, inputs)


def _last(plant_c: Floats, limit_c: float, until: int) -> NDArray[np.int64]:
    """Per year the last night up to midsummer at or under the limit, in days from today; −1 where there is none."""
    cold = plant_c[:, : max(until, 1)] <= limit_c
    return np.where(cold.any(axis=1), cold.shape[1] - 1 - cold[:, ::-1].argmax(axis=1), -1)


def _covers(one: Asked, enough: Callable[[float], bool]) -> bool:
    """Is one of the covers at hand enough?"""
    return any(enough(COVERS[kind].adds_c) for kind in one.covers)


def the_day(one: Asked) -> GateTest:
    """Wind and heat of this day."""
    night = one.night
    hot = HOT_COOL_C if one.crop.hardiness == "hardy" else HOT_C
    limit = shown("wind at most", "plantingout.gates.WINDY_KMH")
    if one.sheltered:
        none = Value("in shelter", None)
        return GateTest("day", FREE, none, limit, None, None, (none, limit))
    if night is None or (night.wind_kmh is None and night.tmax_c is None):
        none = Value("wind", None, "km/h")
        return GateTest("day", UNKNOWN, none, limit, None, None, (none, limit))
    wind, warm = Value("wind", night.wind_kmh, "km/h", "forecast"), Value("warmest", night.tmax_c, "°C", "forecast")
    inputs = (wind, limit, warm, Value("hot from", hot, "°C", "estimate"))
    tomorrow = one.today + timedelta(days=1)
    if night.wind_kmh is not None and night.wind_kmh > WINDY_KMH:
        return GateTest("day", CLOSED, wind, limit, tomorrow, None, inputs)
    if night.tmax_c is not None and night.tmax_c > hot:
        return GateTest("day", EVENING, warm, Value("hot from", hot, "°C", "estimate"), one.today, None, inputs)
    return GateTest("day", OPEN, wind if night.wind_kmh is not None else warm, limit, None, None, inputs)


def the_bed(one: Asked) -> GateTest:
    """Is its ground free and ready?"""
    bed = one.bed
    busy = bed.busy_until is not None and bed.busy_until > one.today
    limit = Value("bed", bed.code)
    said = "busy" if busy else bed.state or "free"
    value = Value("ground", said)
    inputs = (value, limit, Value("until", bed.busy_until), Value("stands there", bed.by))
    state = CLOSED if busy or bed.state in ("wet", "busy") else OPEN
    opens = None
    if state == CLOSED:
        opens = bed.busy_until if busy else one.today + timedelta(days=WET_DAYS if bed.state == "wet" else 1)
    return GateTest("bed", state, value, limit, opens, None, inputs)


WET_DAYS = whole("plantingout.gates.WET_DAYS")


def likely(first: NDArray[np.int64], springs: SpringsAhead) -> tuple[date | None, float | None]:
    """The day by which it is open in seven of ten springs; None where that lies past the horizon."""
    ordered = np.sort(first)
    day = int(ordered[int(np.ceil(LIKELY * len(ordered))) - 1])
    if day >= HORIZON_DAYS - 7:
        return None, None
    return springs.today + timedelta(days=max(day, 1)), float((first <= day).mean())


def _by_date(name: str, one: Asked, opens: date | None, value: Value, limit: Value) -> GateTest:
    """Where no years day by day are known the place's own date decides; where there is none either, nobody knows."""
    if opens is None:
        return GateTest(name, UNKNOWN, value, limit, None, None, (value, limit))
    is_open = opens <= one.today
    return GateTest(name, OPEN if is_open else CLOSED, value, limit, None if is_open else opens, None, (value, limit))
