"""When do I sow, and when may it go out?  Counting back from last frost and forward to the first harvest.

The arithmetic is that of `growing.chain.days`, run on one planting; this module asks the place for its days, settles what
the grower chose, says what cannot be, and builds the working from the intermediates.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import NamedTuple

from growing.calendar import Window
from growing.chain import days as chain
from growing.chain.choice import Choice, Problem
from growing.chain.ripening import stands_winter
from growing.chain.windows import Windows, windows
from growing.crops import Crop
from growing.crops.schema import CHECK_DAYS
from growing.place.growth import NEVER
from growing.place.year import PlaceYear
from growing.working import Value, Working

HALF_OF_YEARS = 0.5


@dataclass(slots=True)  # not frozen: hundreds a page
class PlantingDates:
    """The dated chain of one planting.

    sow and out are windows; sow_on and out_on the days chosen in them; first is the range of the first harvest or
    bloom, last its end, as far as `last_known` says; hold_until the day the sowing age limit is reached.  useful_out: the last
    planting out that still gives enough, None where nobody knows or nothing ends it.  chance: share of years in which it
    gives enough.  workings: arithmetic by step name.  out_because: why out_on stands where the rules did not choose it.
    held_by: by what, in words, where gates hold it.
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
    sow_because: str = "proposed"  # or as the choice has it
    last_known: bool = True
    useful_out: date | None = None
    chance: float | None = None
    held_by: tuple[str, ...] = ()

    @property
    def sow_closes(self) -> date:
        """The last day on which this sowing is worth while: its window's, or once that is past the last useful one."""
        if self.useful_out is None or self.sow_on <= self.sow.end:
            return self.sow.end
        return max(self.sow.end, self.useful_out - (self.out.end - self.sow.end))


def date_planting(crop: Crop, place: PlaceYear, choice: Choice = Choice()) -> PlantingDates:
    """The whole chain for one planting, of any term, with problems said and every line of arithmetic."""
    at = windows(crop, place, choice)
    problems = list(at.problems)
    sow_on, because, why_sow = _sowing_day(at, place, choice, problems)
    out_on, why_out, older = _planting_day(at, place, sow_on, choice, problems)
    given = _yield(at, place, out_on, older, choice, problems)
    return PlantingDates(
        choice.term,
        choice.method,
        at.sow,
        at.out,
        sow_on,
        out_on,
        sow_on + timedelta(days=at.raising.hold),
        given.first,
        given.last,
        given.frost,
        tuple(problems),
        {
            "out_from": at.ends[0],
            "out_to": at.ends[1],
            "sow_from": at.sow_ends[0],
            "sow_to": at.sow_ends[1],
            "sow_on": why_sow,
            "out_on": why_out,
            "first": given.why_first,
            "last": given.why_last,
            **({} if at.useful_working is None else {"useful": at.useful_working}),
        },
        choice.out_because if choice.out_on is not None else "",
        because,
        given.last_known,
        None if at.useful is None or at.useful < at.out.start.toordinal() else date.fromordinal(at.useful),
        given.chance,
        choice.held_by,
    )


def _sowing_day(at: Windows, place: PlaceYear, choice: Choice, problems: list[Problem]) -> tuple[date, str, Working]:
    """The day in the sowing window and whose it is: pinned, else the free day nearest to the ideal, not before `not_before`."""
    out = chain.Span(at.out.start.toordinal(), at.out.end.toordinal())
    ideal = chain.ideal_sow(out, at.raising.middle)
    useful = None if at.useful is None else at.useful - at.raising.shortest
    window = chain.Span(at.sow.start.toordinal(), at.sow.end.toordinal())
    first = chain.ordinal(choice.not_before)
    wish, because = ideal.sow, choice.sow_because if choice.sow_on is not None else "proposed"
    if first > window.start:
        late = first > window.end and useful is not None and useful >= first
        window, wish = chain.Span(first, useful if late and useful is not None else window.end), max(wish, first)
    day, rule = chain.ordinal(choice.sow_on), "plan.sow_pinned"
    if choice.sow_on is None:
        if window.end < window.start:
            day, rule = first if choice.not_before is not None else window.end, "plan.sow_too_late"
        else:
            day, free = chain.on_sowing_day(wish, window, *place.sowing_tables)
            rule = "plan.sowing_day" if free else "plan.no_sowing_day"
            if not free:
                problems.append(_no_day(place, window, day))
    sow_on = date.fromordinal(day)
    if sow_on > at.sow.end:
        problems.append(_late(at, sow_on, useful, choice.term))
    elif sow_on < at.sow.start:
        problems.append(Problem("too_early", (at.sow.start - sow_on).days, at.sow.start))
    if choice.sow_on is not None and not choice.sown and any(sow_on in gone for gone in place.away):
        problems.append(Problem("away_sow", 0, sow_on))
    inputs = (
        Value("ideal", date.fromordinal(ideal.sow)),
        Value("middle of planting out", date.fromordinal(ideal.middle_out)),
        Value("middle raising", at.raising.middle, "days"),
        Value("window start", at.sow.start),
        Value("window end", at.sow.end),
        Value("sowing days", ",".join(map(str, sorted(place.sowing_days)))),
        Value("not before", choice.not_before),
    )
    return sow_on, because, Working(rule, inputs, at.sow_ends, Value("sow", sow_on))


def _no_day(place: PlaceYear, window: chain.Span, day: int) -> Problem:
    """None of the sowing days lies in the window; or nobody is there for all of it."""
    for left, last in place.away_days:
        if left <= window.start and window.end <= last:
            return Problem("away", last + 1 - window.end, date.fromordinal(last + 1))
    return Problem("no_sowing_day", 0, date.fromordinal(day))


LATE = {
    "catches up": "later_fast",
    "stays small": "later_slow",
    "rosettes in heat": "later_rosettes",
}


def _late(at: Windows, sow_on: date, useful: int | None, term: str) -> Problem:
    """After its window: later, while it still ripens; too late after that; each worded by its speed.

    An autumn crop's window is counted back from its end: after it, it is too late.
    """
    days = (sow_on - at.sow.end).days
    if term == "autumn":
        return Problem("too_late", days, at.sow.end)
    if at.crop.word("late") == "bulbs small":
        return Problem("later_bulbs", days, at.sow.end)
    if at.ripening.lives_on:
        return Problem("later_years", days, at.sow.end)
    if useful is None:
        return Problem("late_unknown", days, at.sow.end)
    if useful >= sow_on.toordinal():
        return Problem(LATE[at.crop.word("late")], days, date.fromordinal(useful))
    last = max(at.sow.end, date.fromordinal(max(1, useful)))
    return Problem("too_late", (sow_on - last).days, last)


def _planting_day(
    at: Windows, place: PlaceYear, sow_on: date, choice: Choice, problems: list[Problem]
) -> tuple[date, Working, int]:
    """The day to plant out what is sown on `sow_on`, by how much it falls short, and how far ahead it is in the pot."""
    raising, out = at.raising, at.out
    end = out.end.toordinal()
    if sow_on > at.sow.end and at.useful is not None and at.crop.maybe("every_days") is not None:
        end = max(end, at.useful)
    window = chain.Span(out.start.toordinal(), end)
    found = chain.planting_day(sow_on.toordinal(), window, raising.shortest, raising.middle, raising.hold)
    if choice.out_on is not None:
        day, rule = choice.out_on, f"plan.out_{choice.out_because}"
    else:
        moves = choice.method != "direct"  # what is sown in place is there on the day it is sown
        there = chain.at_home(found.day, window, found.able, place.away_days) if moves else found.day
        day, rule = date.fromordinal(there), "plan.out_on" if there == found.day else "plan.out_home"
    number = day.toordinal()
    if (
        choice.out_because != "happened"
        and choice.method != "direct"
        and any(left <= number <= last for left, last in place.away_days)
    ):
        problems.append(Problem("away_out", 0, day))
    if choice.method != "bought":
        if number < found.able:
            problems.append(Problem("short", found.able - number, day))
        elif number > found.limit:
            problems.append(Problem("over_hold", number - found.limit, date.fromordinal(found.limit)))
    if day > out.end:
        if sow_on <= at.sow.end:  # otherwise it was said of the sowing
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
        *((Value("held by", ", ".join(choice.held_by)),) if choice.held_by else ()),
    )
    aged = min(number, found.limit) - found.wanted if choice.method == "raised" else 0
    return day, Working(rule, inputs, (), Value("plant out", day)), aged


class Yield(NamedTuple):
    """First harvest or bloom as a range, its end, the chance of frost before it and of enough of it, with the arithmetic."""

    first: Window
    last: date
    last_known: bool
    frost: float | None
    chance: float | None
    why_first: Working
    why_last: Working


def _yield(at: Windows, place: PlaceYear, out_on: date, aged: int, choice: Choice, problems: list[Problem]) -> Yield:
    """What it gives: by the warmth of the years where they are known, otherwise by the calendar."""
    if choice.term == "overwinter":
        return _overwintered(at, place, choice)
    crop, ripens, out = at.crop, at.ripening, out_on.toordinal()
    older = aged * chain.POT_TENTHS
    autumn_term = choice.term == "autumn"
    light = chain.NO_DAY if autumn_term else ripens.equinox  # an autumn crop always takes a fortnight longer
    calendar = [int(chain.first_by_calendar(out, m, older, light)) for m in (ripens.fast, ripens.slow)]
    by_warmth = ripens.growth is not None and not autumn_term
    harvest = ripens.harvest(out, older) if by_warmth else None
    found = calendar if harvest is None else [harvest.fast, harvest.slow]
    never = found[0] >= NEVER
    days = [c if f >= NEVER else f for f, c in zip(found, calendar, strict=True)]
    first = Window(date.fromordinal(days[0]), date.fromordinal(max(days)))
    autumn = at.autumn(place)
    frost = autumn.risk(first.start) if autumn is not None else None  # no autumn known: nobody can say
    chance = at.in_time(place, first.start) if harvest is None or harvest.share is None else harvest.share
    goes_on = ripens.lives_on or (autumn_term and stands_winter(crop))
    length, middle = int(crop.number("yield_days")), first.middle.toordinal()
    end = NEVER if goes_on else chain.ordinal(at.end, NEVER)
    last = date.fromordinal(chain.last_yield(middle, length, end, first.start.toordinal()))
    setter = "frost" if end < middle + length else "length" if at.end_known else "length alone"
    _judge(at, first, chance, never, choice, problems)
    inputs = (
        Value("plant out", out_on),
        Value("days from", ripens.fast, "days", crop.values["mature_min"].source),
        Value("days to", ripens.slow, "days", crop.values["mature_max"].source),
        Value("sown in place", CHECK_DAYS if choice.method == "direct" else 0, "days", "working"),
        Value("age", -(older // 10), "Δdays", "estimate"),
        Value("warmth", days[0] - calendar[0], "Δdays", "station"),
        Value("shortening light", _light_in(days[0], light), "days", "working"),
        Value("frost before", frost, "share"),
        Value("useful in", chance, "share"),
    )
    kind = crop.word("yields")
    rule = f"plan.first_{kind}" + ("_direct" if choice.method == "direct" else "")
    rule += "_never" if never else "_warmth" if by_warmth else ""
    rule += "_years" if ripens.lives_on else "_unknown" if frost is None else ""
    why_first = Working(rule, inputs, (), Value("first", first.start))
    steps = () if at.end_working is None else (at.end_working,)
    return Yield(
        first, last, at.end_known or goes_on, frost, chance, why_first, _why_last(crop, first, last, setter, steps)
    )


def _why_last(crop: Crop, first: Window, last: date, setter: str, steps: tuple[Working, ...] = ()) -> Working:
    inputs = (Value("middle of first", first.middle), crop.values["yield_days"], Value("set by", setter))
    return Working(f"plan.last_{crop.word('yields')}", inputs, steps, Value("last", last))


def _light_in(first: int, equinox: int) -> int:
    """Days that short light adds before that first day."""
    return chain.SHORT_LIGHT_DAYS if first - chain.SHORT_LIGHT_DAYS > equinox else 0


def _judge(
    at: Windows, first: Window, chance: float | None, never: bool, choice: Choice, problems: list[Problem]
) -> None:
    """What is said of a harvest: hopeless here, in the heat, or after the frost one reckons with."""
    heat, start = at.ripening.heat, at.ripening.start
    late = any(p.code == "too_late" for p in problems)
    if chance is not None and chance < HALF_OF_YEARS and choice.term == "spring" and not late:
        problems.insert(0, Problem("never_ripe" if never else "hopeless", 0, first.start, chance))
    elif at.end is not None and at.end < first.start and not (stands_winter(at.crop) or at.ripening.lives_on):
        problems.append(Problem("frost_first", (first.start - at.end).days, at.end))
    if heat is not None and not never and heat.hot_from <= first.start.toordinal() - start < heat.cool_from:
        code = "hot_nights" if heat.nights else "heat"
        problems.append(Problem(code, 0, date.fromordinal(start + heat.cool_from)))


def _overwintered(at: Windows, place: PlaceYear, choice: Choice) -> Yield:
    """Four to six weeks before what is sown in the spring after it."""
    crop = at.crop
    spring = date_planting(crop, place.next_year, Choice("raised", packet=choice.packet))
    first = Window(
        spring.first.start - timedelta(days=chain.SIX_WEEKS), spring.first.end - timedelta(days=chain.FOUR_WEEKS)
    )
    last = first.middle + timedelta(days=int(crop.number("yield_days")))
    why = Working(
        f"plan.overwintered_{crop.word('yields')}",
        (Value("spring's", spring.first.start), Value("sooner", chain.SIX_WEEKS, "days", "working")),
        (),
        Value("first", first.start),
    )
    return Yield(first, last, True, None, None, why, _why_last(crop, first, last, "length"))
