"""At the door: what goes out today, for how long, when it comes in, or why it stays in."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from typing import NamedTuple

from growing.assumptions import shown
from growing.batch.climb import case_of, night_limit_c, stressed
from growing.batch.facts import BatchFacts
from growing.batch.harm import struck
from growing.hardening.frames import SHUT, VENT
from growing.ladders.ahead import DayAhead, LadderCase, ahead
from growing.ladders.climbing import (
    COLD,
    DAY_ONLY,
    GUSTY,
    HAIL,
    MOST_GUST_KMH,
    MOST_WIND_KMH,
    NIGHT,
    OUT,
    OVERCAST,
    RAINY,
    SHELTERED,
    WINDY,
    WORDS,
    shelter,
)
from growing.ladders.hours import said, times
from growing.ladders.ladder import DAY_HOURS, Outing
from growing.place.nights import Night, at_plant
from growing.steps import StepSpec, Task, with_another
from growing.waiting import cost, harvest_day, lost, of_age
from growing.working import Value, Working

NO_SUN_OVER_C, NO_SUN_RUNGS = 25.0, 2  # no full sun on the first two days that are so warm
SHADE_OVER_C = 30.0  # shade and water at noon, whatever the rung


class OutingDetail(NamedTuple):
    """What finishing an outing must know: hours it is out, those its rung asks for, whether it stays out for the night, and whether
    it is one that counts half, behind the shelter."""

    hours: float
    wanted: float
    night: bool
    half: bool = False
    begins: str = ""
    ends: str = ""


class Out(NamedTuple):
    """What bringing in must know: the outing that it ends, and by when it should."""

    outing: Outing
    by: str

    @property
    def hours(self) -> float:
        """The hours out that were planned [h]."""
        return self.outing.hours


def _harden(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """The rung for today while the ladder runs, unless the weather is too harsh for it; later rungs on the days after."""
    case = case_of(one, today)
    if case is None or case.since > until:
        return
    assert one.hardened is not None
    stands = one.hardened.working
    for number, day in enumerate(ahead(case).days):
        if day.day > until:
            return
        yield _outing(one, case, day, number, stands, today)


def _outing(one: BatchFacts, case: LadderCase, day: DayAhead, number: int, stands: Working, today: date) -> Task:
    """One rung on one day; stands: how it came to stand on the ladder."""
    assert one.hardened is not None
    rung, night = one.ladder.rungs[day.rung], one.night(day.day)
    place = _shade(one, day, night) or rung.shelter
    begins, ends = ("", "") if day.times is None else (said(day.times.begins), said(day.times.ends))
    inputs = [
        Value("rung", day.rung + 1),
        Value("rungs", len(one.ladder.rungs)),
        Value("hours", rung.hours, "h"),
        Value("shelter", place),
        Value("ladder", one.ladder.name),
        Value("plant out", one.dates.out_on),
        Value("missed", one.hardened.missed if number == 0 else 0, "days"),
        Value("out at", begins),
        Value("in by", ends),
    ]
    rule, steps = WORDS[day.code], [stands]
    if day.code == OUT and place != rung.shelter and place == "shade":
        rule = "hot"
    elif day.code == OUT and _is_grey_start(one, case, day, night):
        rule = "grey"
    inputs += _weather(one, case, day, night)
    if night is not None and (day.code in (NIGHT, DAY_ONLY)):
        plant = at_plant(night, today, one.shift_c, one.stands)
        inputs += [Value("at the plant", plant.celsius, "°C"), Value("limit", night_limit_c(one), "°C", "working")]
        steps.append(plant.working)
    over = _over(case, day.code)
    out = OutingDetail(day.hours, rung.hours, day.night, day.code == SHELTERED, begins, ends)
    why = Working(f"hardening.{rule}", (*inputs, *over), tuple(steps), Value("hours", day.hours, "h"))
    key = HARDEN.key_of(one.ref, len(one.facts.outings) + number + 1)
    errand = (day.day, rule, over[0].number if over else day.rung, place)
    spec = HARDEN if day.out else STAY_IN
    return Task(key, spec, day.day, one.plants, "plants", why, int(day.day <= today), errand=errand, detail=out)


def _is_grey_start(one: BatchFacts, case: LadderCase, day: DayAhead, night: Night | None) -> bool:
    """Is it the first outing, moved to a grey day near its plan?"""
    grey = night is not None and night.cloud is not None and night.cloud >= OVERCAST
    return not one.facts.outings and day.rung == 0 and case.begins is not None and grey and day.day != case.begins


def _weather(one: BatchFacts, case: LadderCase, day: DayAhead, night: Night | None) -> list[Value]:
    if night is None:
        return []
    wind = night.wind_kmh
    if wind is not None:  # of what is kept in for it, the wind behind the shelter: that alone would let it out
        left = case.door.ground.wind_left
        wind *= float(shelter(day.rung, len(one.ladder.rungs), left)) if day.code not in (WINDY, SHELTERED) else left
    return [
        Value("warmest", night.tmax_c, "°C", "forecast"),
        Value("wind", wind, "km/h", "forecast"),
        Value("gusts", night.gust_kmh, "km/h", "forecast"),
        Value("rain", night.rain_mm, "mm", "forecast"),
    ]


def _over(case: LadderCase, code: int) -> list[Value]:
    """The limit that a day is over, if any."""
    if code == COLD:
        return [Value("limit", case.limits.day_c, "°C", "working")]
    limit = {
        WINDY: Value("limit", MOST_WIND_KMH, "km/h", "estimate"),
        GUSTY: Value("limit", MOST_GUST_KMH, "km/h", "working"),
        RAINY: shown("limit", "ladders.climbing.MOST_RAIN_MM"),
        HAIL: shown("limit", "ladders.climbing.MOST_HAIL"),
    }.get(code)
    return [] if limit is None else [limit]


def _shade(one: BatchFacts, day: DayAhead, night: Night | None) -> str:
    """The shelter that heat, harm seen at the last outing, or nobody being there asks for instead of the rung's own; "" where it stays."""
    rung = one.ladder.rungs[day.rung]
    if not rung.sun:
        return ""
    if night is not None and night.tmax_c is not None:
        if night.tmax_c > SHADE_OVER_C or (night.tmax_c > NO_SUN_OVER_C and day.rung < NO_SUN_RUNGS):
            return "shade"
    if one.facts.outings and one.facts.outings[-1].day in stressed(one.facts.days):
        return "shade"
    if day.times is not None and not day.times.attended and rung.sun < 1:
        return "morning sun, then shade"
    return ""


def _bring_in(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """What went out comes in the same day; asked until somebody says how long it was out."""
    out = one.facts.out
    if not one.growing or out is None or out.day > until:
        return
    night = one.night(today)
    cold = night is not None and struck(one, night, today).cold
    by = in_by(one, out)
    inputs = (
        Value("out", out.day),
        Value("hours", out.hours, "h"),
        Value("ladder", one.ladder.name),
        Value("in by", by),
    )
    rule = "hardening.in_cold" if cold else "hardening.in"
    why = Working(rule, inputs, (), Value("in", out.day))
    key, hours = BRING_IN.key_of(one.ref, out.day.isoformat()), round(out.hours)
    errand = (out.day, hours, cold)
    yield Task(key, BRING_IN, out.day, one.plants, "plants", why, 2 if cold else 1, errand=errand, detail=Out(out, by))


def in_by(one: BatchFacts, out: Outing) -> str:
    """The clock time at which it is to come in."""
    when = times(min(out.hours, DAY_HOURS), False, one.door.at_home(out.day)) or times(out.hours, False, None)
    return "" if when is None else said(when.ends)


def _outing_waits(one: BatchFacts, task: Task, today: date) -> Working:
    """Nothing while spare days last; then a harvest day, and the share of plants that age takes."""
    left = 0 if one.hardened is None else one.hardened.rungs - one.hardened.climbed
    spare = (one.dates.out_on - today).days - left
    later, values = harvest_day(one)
    aged = of_age("hardening.waits_age", one, one.dates.hold_until, today)
    inputs = (
        *values,
        Value("rungs left", left),
        Value("plant out", one.dates.out_on),
        Value("spare", max(0, spare), "days"),
    )
    return cost("hardening.waits_outing", inputs, (later + lost(aged)) if spare <= 0 else 0.0, (aged,))


def _in_waits(one: BatchFacts, task: Task, today: date) -> Working:
    """Left out for the night, without shelter."""
    night, count = one.night(today), one.plants or 0
    if night is None:
        return cost("hardening.waits_in", (Value("plants", count, "plants"),), 0.0)
    found = struck(one, night, today)
    inputs = (Value("plants", count, "plants"), *found.inputs, Value("share lost", found.share, "share", "estimate"))
    return cost("hardening.waits_in", inputs, count * found.share)


HARDEN = StepSpec("harden", "door", _harden, minutes=3, each=0.03, errand=True, daily=True, waits=_outing_waits)
STAY_IN = StepSpec("stay_in", "door", with_another, errand=True, daily=True, put_off=True, key="harden")
BRING_IN = StepSpec(
    "bring_in",
    "door",
    _bring_in,
    minutes=3,
    each=0.03,
    errand=True,
    daily=True,
    corrects="hours",
    alarm=True,
    key="in",
    waits=_in_waits,
)
STEPS = (BRING_IN, HARDEN, STAY_IN, VENT, SHUT)
