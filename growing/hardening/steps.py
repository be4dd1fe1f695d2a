"""At the door: what goes out today, for how long, when it comes in, or why it stays in."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta
from typing import NamedTuple

from growing.care.stress import kept_apart
from growing.hardening.harm import TENDER, harm, share_lost
from growing.hardening.ladder import DAY_HOURS, NIGHT_HOURS, Rung
from growing.place.nights import Night, at_plant, chance_below
from growing.steps import Raised, StepSpec, Task, with_another
from growing.waiting import cost, harvest_day, lost, of_age
from growing.working import Value, Working

MOST_WIND_KMH = 20.0  # behind the shelter it has
SHELTERED, SHELTERED_RUNGS = (
    0.4,
    2 / 3,
)  # of the wind is left in a sheltered corner, where the first rungs stand: estimates
COLDER_A_NIGHT_C = 2.0  # a hardy plant bears so much more each night it has been out
LEAST_ABOVE_DAMAGE_C = 2.0


MOST_GUST_KMH = 40.0
NO_SUN_OVER_C, NO_SUN_RUNGS = 25.0, 2  # no full sun on the first two days that are so warm
SHADE_OVER_C = 30.0  # shade and water at noon, whatever the rung
MILD_HOUR, SHORT_HOURS = 10, 4  # a short outing begins when the morning has warmed up
DARK_HOUR, FIRST_HOUR = 18, 8  # a longer one ends at dusk; nothing goes out earlier


class Outdoors(NamedTuple):
    """What finishing an outing must know: hours it is out, those its rung asks for, and whether it stays out for the night."""

    hours: float
    wanted: float
    night: bool


def clock_times(hours: float, night: bool = False) -> tuple[str, str]:
    """From when to when an outing of so many hours is planned, “10:00”; a night ends the next morning.

    The mild part of the day for short ones, before dusk for long ones: estimates, until people say when they are at home.
    """
    begins = MILD_HOUR if hours <= SHORT_HOURS else max(FIRST_HOUR, int(DARK_HOUR - hours))
    ends = FIRST_HOUR if night else min(24, begins + hours)
    return f"{begins}:00", f"{int(ends)}:{round(ends % 1 * 60):02d}"


class Limit(NamedTuple):
    """What a day's weather makes of an outing: the rule that says so, and the limit that it is over, if any."""

    rule: str
    over: Value | None = None


def _harden(one: Raised, today: date, until: date) -> Iterator[Task]:
    """The rung for today while the ladder runs, unless the weather is too harsh for it; later rungs on the days after."""
    facts, step, place = one.facts, one.course.steps.get("harden"), one.hardened
    if not one.growing or step is None or place is None or place.rung is None:
        return
    begins = max(step.due, today) if facts.outings or step.due < today else step.due
    up = one.course.steps.get("up")
    if up is not None and not facts.outings and facts.first_up is None:
        begins = max(begins, up.day)  # what is still under the mix goes nowhere
    if not facts.outings:
        begins, _ = kept_apart(one, "harden", begins, today, step.working)
    last = max([o.day for o in facts.outings[-1:]] + ([facts.out.day] if facts.out is not None else []), default=None)
    if last == today:
        begins = today + timedelta(days=1)
    for ahead, number in enumerate(range(place.climbed, len(one.ladder.rungs))):
        day = begins + timedelta(days=ahead)
        if day > until:
            return
        yield _outing(one, number, day, today, ahead)


def _outing(one: Raised, number: int, day: date, today: date, ahead: int) -> Task:
    """One rung on one day."""
    assert one.hardened is not None
    rung, night = one.ladder.rungs[number], next((n for n in one.nights if n.day == day), None)
    shelter = _shade(rung, number, night)
    inputs = [
        Value("rung", number + 1),
        Value("rungs", len(one.ladder.rungs)),
        Value("hours", rung.hours, "h"),
        Value("shelter", shelter or rung.shelter),
        Value("ladder", one.ladder.name),
        Value("plant out", one.dates.out_on),
        Value("missed", one.hardened.missed if ahead == 0 else 0, "days"),
    ]
    plain = "hot" if shelter and not rung.night else "outing"
    found, weather, steps = Limit("night_out" if rung.night else plain), [], [one.hardened.working]
    if night is not None:
        wind = _wind(night, number, len(one.ladder.rungs))
        weather = [
            Value("warmest", night.tmax_c, "°C", "forecast"),
            Value("wind", wind, "km/h", "forecast"),
            Value("gusts", night.gust_kmh, "km/h", "forecast"),
        ]
        found = _by_day(one, night, wind) or found
        if rung.night and found.over is None:
            plant = at_plant(night, today, one.shift_c, one.stands)
            limit = night_limit_c(one)
            weather += [Value("at the plant", plant.celsius, "°C"), Value("limit", limit, "°C", "working")]
            steps.append(plant.working)
            if chance_below(plant, limit) > one.accepted_risk:
                found = Limit("day_only")
    stays = found.over is not None
    out = Outdoors(DAY_HOURS if found.rule == "day_only" else rung.hours, rung.hours, found.rule == "night_out")
    over = [] if found.over is None else [found.over]
    begins, ends = clock_times(out.hours, out.night)
    inputs += [Value("out at", begins), Value("in by", ends)]
    why = Working(f"hardening.{found.rule}", (*inputs, *weather, *over), tuple(steps), Value("hours", out.hours, "h"))
    key = f"{one.ref}.harden.{len(one.facts.outings) + ahead + 1}"
    errand = (day, found.rule, number if not stays else over[0].number, shelter)
    spec, urgent = STAY_IN if stays else HARDEN, int(day <= today)
    return Task(key, spec, day, one.plants, "plants", why, urgent, errand=errand, detail=out)


def _shade(rung: Rung, number: int, night: Night | None) -> str:
    """The shelter that heat asks for instead of the rung's own; empty where it stays."""
    if night is None or night.tmax_c is None or not rung.sun:
        return ""
    hot = night.tmax_c > SHADE_OVER_C or (night.tmax_c > NO_SUN_OVER_C and number < NO_SUN_RUNGS)
    return "shade" if hot else ""


def _wind(night: Night, number: int, rungs: int) -> float | None:
    """The wind where they stand [km/h]: behind shelter on the first rungs, the site's own on the last third."""
    if night.wind_kmh is None:
        return None
    return night.wind_kmh * (SHELTERED if number + 1 <= SHELTERED_RUNGS * rungs else 1.0)


def _by_day(one: Raised, night: Night, wind: float | None) -> Limit | None:
    """The limit that forbids an outing by day, if any: too cold, or too windy behind its shelter."""
    coldest = one.crop.number("day_out_c")
    if night.tmax_c is not None and night.tmax_c < coldest:
        return Limit("too_cold", Value("limit", coldest, "°C", one.crop.values["day_out_c"].source))
    if wind is not None and wind > MOST_WIND_KMH:
        return Limit("too_windy", Value("limit", MOST_WIND_KMH, "km/h", "estimate"))
    if night.gust_kmh is not None and night.gust_kmh > MOST_GUST_KMH:
        return Limit("too_gusty", Value("limit", MOST_GUST_KMH, "km/h", "working"))
    return None


def night_limit_c(one: Raised) -> float:
    """The coldest night at the plant that it may stay out [°C].

    Hardy crops: two degrees less each night it has been out, and never nearer than two to what damages it.  Tender ones, where
    the nights of the warmest month are colder than its limit on the mean: that mean less one, and never under what chills
    it and one.
    """
    limit, crop = one.crop.number("night_out_c"), one.crop
    if crop.hardiness == "hardy":
        nights = sum(o.hours >= NIGHT_HOURS for o in one.facts.outings)
        limit -= COLDER_A_NIGHT_C * nights
    elif crop.hardiness in TENDER and one.summer_night_c is not None and one.summer_night_c < limit:
        limit = min(limit, max(one.summer_night_c - 1, (crop.maybe("chill_c") or 0.0) + 1))
    return max(limit, crop.number("damage_c") + LEAST_ABOVE_DAMAGE_C)


def _bring_in(one: Raised, today: date, until: date) -> Iterator[Task]:
    """What went out comes in the same day; asked until somebody says how long it was out."""
    out = one.facts.out
    if not one.growing or out is None or out.day > until:
        return
    night, told = next((n for n in one.nights if n.day == today), None), harm(one).told_c
    cold = night is not None and at_plant(night, today, one.shift_c).celsius <= told
    in_by = clock_times(out.hours)[1]
    inputs = (
        Value("out", out.day),
        Value("hours", out.hours, "h"),
        Value("ladder", one.ladder.name),
        Value("in by", in_by),
    )
    rule = "hardening.in_cold" if cold else "hardening.in"
    why = Working(rule, inputs, (), Value("in", out.day))
    key, hours = f"{one.ref}.in.{out.day.isoformat()}", round(out.hours)
    errand = (out.day, hours, cold)
    yield Task(key, BRING_IN, out.day, one.plants, "plants", why, 2 if cold else 1, errand=errand, detail=out)


def _outing_waits(one: Raised, task: Task, today: date) -> Working:
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


def _in_waits(one: Raised, task: Task, today: date) -> Working:
    """Left out for the night, without shelter."""
    night, limit, count = next((n for n in one.nights if n.day == today), None), harm(one), one.plants or 0
    if night is None:
        return cost("hardening.waits_in", (Value("plants", count, "plants"),), 0.0)
    plant = at_plant(night, today, one.shift_c)
    share = share_lost(limit.harm_c, plant, one.crop.hardiness)
    inputs = (
        Value("plants", count, "plants"),
        Value("at the plant", plant.celsius, "°C"),
        Value("harm", limit.harm_c, "°C", "working"),
        Value("share lost", share, "share", "estimate"),
    )
    return cost("hardening.waits_in", inputs, count * share)


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
STEPS = (BRING_IN, HARDEN, STAY_IN)
