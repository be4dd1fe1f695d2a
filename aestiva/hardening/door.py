"""At the door today: what goes out and when, what is out and by when it comes in, what stays in and why, how heavy it is, who carries."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from datetime import date
from math import ceil
from typing import NamedTuple

from aestiva.course.state import Item, SeasonState, Todo, minutes_of
from aestiva.gardens.providers import steps
from aestiva.season.models import CellRun
from growing.batch.climb import ladder_ahead
from growing.chain.path import usual_vessels
from growing.hardening.frames import SHUT, VENT
from growing.hardening.steps import BRING_IN, HARDEN, STAY_IN, STEPS, Out, OutingDetail
from growing.ladders.ladder import Rung

WET_G_ML = 0.85  # of wet mix with what grows in it: estimate
TRAY_G = 300.0  # a tray or carrier itself: estimate
TWO_AT_ONCE_G = 6000.0  # lighter trays are carried two at a time: estimate
POTS_A_CARRIER = 18  # pots without a tray: estimate


class Load(NamedTuple):
    """What is carried of a batch: trays, grams of one, and ways for one person; 0 grams where nobody knows its pots."""

    trays: int
    grams: float
    ways: int

    @property
    def kilos(self) -> float:
        return self.trays * self.grams / 1000


class DoorLine(NamedTuple):
    """One batch at the door: its task, rung (None where it is none), when it goes and comes [h as said], and what is carried."""

    todo: Todo
    rung: Rung | None
    number: int
    begins: str
    ends: str
    night: bool
    half: bool
    load: Load

    @property
    def item(self) -> Item:
        return self.todo.item

    @property
    def key(self) -> str:
        return self.todo.task.key

    @property
    def plants(self) -> int:
        return self.todo.task.count or 0

    @property
    def rungs(self) -> int:
        return len(self.item.raised.ladder.rungs)

    @property
    def at(self) -> str:
        return self.item.spot_code


BETWEEN = ","  # keys that one button sends together


def joined(lines: Iterable[DoorLine]) -> str:
    """The keys of their tasks as one button sends them."""
    return BETWEEN.join(line.key for line in lines)


class CarriedTogether(NamedTuple):
    """What goes together: out and in at the same times."""

    begins: str
    ends: str
    night: bool
    lines: tuple[DoorLine, ...]

    @property
    def plants(self) -> int:
        return sum(one.plants for one in self.lines)

    @property
    def keys(self) -> str:
        """The keys of its tasks, joined."""
        return joined(self.lines)

    @property
    def trays(self) -> int:
        return sum(one.load.trays for one in self.lines)

    @property
    def kilos(self) -> float:
        return sum(one.load.kilos for one in self.lines)

    @property
    def minutes(self) -> int:
        return minutes_of(one.todo for one in self.lines)


class DoorToday(NamedTuple):
    """The door on one day: to carry out, out now, kept in, to carry in tonight, frames; and what has been in again and not looked at."""

    out: tuple[CarriedTogether, ...]
    out_now: tuple[CarriedTogether, ...]
    kept_in: tuple[DoorLine, ...]
    tonight: tuple[Todo, ...]
    frames: tuple[Todo, ...]
    looked: tuple[Item, ...]
    tomorrow: tuple[Item, ...]

    @property
    def plants_out(self) -> int:
        return sum(g.plants for g in self.out_now)

    @property
    def plants_to_go(self) -> int:
        return sum(g.plants for g in self.out)

    @property
    def keys_out(self) -> str:
        return joined(line for g in self.out_now for line in g.lines)

    @property
    def keys_to_go(self) -> str:
        return joined(line for g in self.out for line in g.lines)

    @property
    def keys_in(self) -> str:
        return joined(self.kept_in)

    @property
    def looked_keys(self) -> str:
        return BETWEEN.join(str(i.batch_pk) for i in self.looked)

    @property
    def lines(self) -> tuple[DoorLine, ...]:
        return tuple(line for g in (*self.out_now, *self.out) for line in g.lines)


def door(now: SeasonState) -> DoorToday:
    """Everything at the door today."""
    todos = now.todos(now.today, [spec.kind for spec in steps() if spec.where == "door"])
    batches = [t.batch.pk for t in todos if t.batch is not None]
    loads = _loads(now, batches)
    lines: dict[str, list[DoorLine]] = defaultdict(list)
    for todo in todos:
        if todo.batch is not None and todo.task.spec in (HARDEN, STAY_IN, BRING_IN):
            lines[todo.task.kind].append(_line(now, todo, loads[todo.batch.pk]))
    return DoorToday(
        _groups(lines[HARDEN.kind]),
        _groups(lines[BRING_IN.kind]),
        tuple(lines[STAY_IN.kind]),
        tuple(t for t in todos if t.task.spec not in STEPS and t.task.due == now.today),
        tuple(t for t in todos if t.task.spec in (VENT, SHUT)),
        tuple(i for i in now.items if _not_looked(i, now.today)),
        tuple(i for i in now.items if _first_tomorrow(i, now.today)),
    )


def _line(now: SeasonState, todo: Todo, load: Load) -> DoorLine:
    one, detail = todo.item.raised, todo.task.detail
    if isinstance(detail, Out):
        climbed = 0 if one.hardened is None else one.hardened.climbed
        rung = one.ladder.rungs[min(climbed, len(one.ladder.rungs) - 1)]
        return DoorLine(todo, rung, climbed + 1, "", detail.by, False, False, load)
    assert isinstance(detail, OutingDetail)
    number = next((int(v.number) for v in todo.task.why.inputs if v.name == "rung" and isinstance(v.number, int)), 1)
    rung = one.ladder.rungs[min(number, len(one.ladder.rungs)) - 1]
    return DoorLine(todo, rung, number, detail.begins, detail.ends, detail.night, detail.half, load)


def _groups(lines: Iterable[DoorLine]) -> tuple[CarriedTogether, ...]:
    """By the times at which they go and come, the first to come in first."""
    found: dict[tuple[str, str, bool], list[DoorLine]] = defaultdict(list)
    for line in lines:
        found[line.begins, line.ends, line.night].append(line)
    order = sorted(found, key=lambda k: (k[2], _minutes(k[1]), _minutes(k[0])))
    return tuple(
        CarriedTogether(*key, tuple(sorted(found[key], key=lambda one: (one.at, one.item.full_name)))) for key in order
    )


def _minutes(said: str) -> int:
    hour, _, minute = said.partition(":")
    return int(hour) * 60 + int(minute or 0) if hour else 0


def hour_of(said: str) -> float:
    """“13:30” as 13.5."""
    return _minutes(said) / 60


def _loads(now: SeasonState, batches: list[int]) -> dict[int, Load]:
    """What is carried of each batch, in two queries whatever their number."""
    trays: dict[int, set[int]] = defaultdict(set)
    for batch, tray in CellRun.objects.filter(batch__in=batches, until=None).values_list("batch_id", "tray_id"):
        trays[batch].add(tray)
    found = {}
    for item in now.items:
        if item.batch is None or item.batch.pk not in batches:
            continue
        found[item.batch.pk] = load_of(item, len(trays[item.batch.pk]), now.today)
    return found


def load_of(item: Item, trays: int, today: date) -> Load:
    one, stays = item.raised, item.raised.course.stays
    here = next((s for s in stays if s.since <= today <= s.until), stays[-1] if stays else None)
    kind = (here.vessel if here is not None else None) or usual_vessels(item.crop, one.how, False)[0]
    ml = here.ml if here is not None else kind.measures.cell_ml
    together = kind.together
    plants = max(one.clumps or one.plants or one.wanted, 1)  # those that stand in a clump share its mix
    carried = trays or (1 if together else max(1, ceil(plants / POTS_A_CARRIER)))
    grams = (ml if together else plants * ml / carried) * WET_G_ML + TRAY_G
    ways = ceil(carried / 2) if grams <= TWO_AT_ONCE_G else carried
    return Load(carried, grams, ways)


LOOKS = ("looked_fine", "looked_limp", "looked_bleached")


def _not_looked(item: Item, today: date) -> bool:
    """Has it been out today and in again, or since yesterday, and nobody said how it looked?"""
    one = item.raised
    if item.batch is None or not one.facts.outings or not one.growing:
        return False
    last = one.facts.outings[-1].day
    seen = [day for kind in LOOKS for day in one.facts.days.get(kind, ())]
    return (today - last).days <= 1 and (not seen or max(seen) < last)


def _first_tomorrow(item: Item, today: date) -> bool:
    """Does it go out for the first time tomorrow?"""
    if item.batch is None or item.raised.facts.outings:
        return False
    found = ladder_ahead(item.raised, today)
    first = None if found is None else next((d for d in found.days if d.out), None)
    return first is not None and (first.day - today).days == 1


def rung_said(line: DoorLine) -> str:
    """“3rd step: sun, then shade”."""
    if line.rung is None:
        return ""
    words = {"shade": "shade", "morning sun": "morning sun", "half sun": "half sun", "open": "open"}
    where = "behind the shelter" if line.half else words.get(line.rung.shelter, line.rung.shelter)
    night = ", and the night" if line.night else ""
    return f"{ordinal(line.number)} of {line.rungs}: {where}{night}"


def ordinal(n: int) -> str:
    """“3rd”."""
    ending = "th" if 10 <= n % 100 <= 20 else {1: "st", 2: "nd", 3: "rd"}.get(n % 10, "th")
    return f"{n}{ending}"
