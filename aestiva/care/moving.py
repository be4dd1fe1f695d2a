"""Who moves on, and when: leaves seen and to come, roots, thirst, what is over, what is drawn, for everyone that is up and not out."""

from __future__ import annotations

from collections import defaultdict
from datetime import date
from typing import NamedTuple

from aestiva.bench.things import Thing, load_bench
from aestiva.care.round import Round, the_round
from aestiva.care.stages import Ask, asks
from aestiva.course.light import lights
from aestiva.course.state import Item, SeasonState, Todo
from aestiva.frame.wording import COURSE
from aestiva.light.had_views import judged
from growing.care.heat import COOL
from growing.care.moving import Potting, Rescue, Signs, Surplus, rescue, surplus
from growing.care.steps import STEPS, carries_until, potting_of, root_signs
from growing.care.water import LOOK_AT
from growing.chain.kinds import AFTER_SOWING

KINDS = tuple(spec.kind for spec in STEPS if spec is not COOL)
AFTER_CROWD = ("pricked", "thinned", "potted")  # from which the number kept is no accident of sowing


class MoveComing(NamedTuple):
    """A step to come of one batch: its word and day."""

    kind: str
    word: str
    on: date


class MoveRow(NamedTuple):
    """One batch: its stage, the work that is due on it, or the next, whether it wants a bigger pot, what is over, what to do where it is drawn."""

    ask: Ask
    coming: tuple[MoveComing, ...]
    todos: tuple[Todo, ...]
    potting: Potting | None
    carries: date | None
    over: Surplus | None
    drawn: Rescue | None

    @property
    def item(self) -> Item:
        return self.ask.item

    @property
    def batch(self) -> int:
        return self.ask.batch

    def due(self, today: date) -> bool:
        return any(todo.due <= today for todo in self.todos)

    def pressing(self, today: date) -> tuple[bool, bool, bool, date]:
        due = self.due(today)
        first = self.coming[0].on if self.coming else date.max
        return not due, not (self.potting is not None and self.potting.kind == "move"), not self.ask.due, first


def rows(now: SeasonState) -> list[MoveRow]:
    """Everyone that is up and not out, the pressing ones first."""
    bench = load_bench(now)
    things: dict[int, Thing] = {}
    for one in bench.places.values():
        for thing in one.things:
            for part in thing.parts:
                things.setdefault(part.batch, thing)
    daily = thirsty_daily(the_round(now, bench))
    todos: dict[int, list[Todo]] = defaultdict(list)
    for todo in now.todos(now.horizon, KINDS):
        if todo.batch is not None:
            todos[todo.batch.pk].append(todo)
    lit = lights(now)
    found = []
    for ask in asks(now):
        item, batch = ask.item, ask.batch
        stands, light = things.get(batch), lit.get(batch)
        spoilt = light is not None and light.known and judged(item, light).verdict.kind == "leggy"
        drawn = spoilt or ask.one.growing.drawn
        found.append(
            MoveRow(
                ask, _coming(item), _next(todos[batch], now.today), _potting(item, now.today, ask, stands, batch in daily),
                carries_until(item.raised), _over(item, now.today, stands), _rescue(item, now.today) if drawn else None,
            )
        )  # fmt: skip
    return sorted(found, key=lambda r: r.pressing(now.today))


def _next(todos: list[Todo], today: date) -> tuple[Todo, ...]:
    """All that are due, or else the one that comes next."""
    ordered = sorted(todos, key=lambda todo: todo.due)
    return tuple(todo for todo in ordered if todo.due <= today) or tuple(ordered[:1])


def thirsty_daily(found: Round) -> set[int]:
    """Batches in trays that want water every day, as far as they are known."""
    return {
        batch
        for stop in found.stops
        if len(stop.looks) > 1 and stop.tray.falls * stop.next.thirst >= 1 - LOOK_AT[stop.tray.moisture]
        for batch in stop.batches
    }


def _coming(item: Item) -> tuple[MoveComing, ...]:
    steps = item.raised.course.steps
    open_ = [steps[k] for k in AFTER_SOWING if k in steps and steps[k].happened is None]
    return tuple(MoveComing(s.kind, COURSE[s.kind], s.due) for s in sorted(open_, key=lambda s: s.due))


def _potting(item: Item, today: date, ask: Ask, thing: Thing | None, daily: bool) -> Potting | None:
    """Only where a pot is to come at all."""
    if item.raised.course.open_pot is None:
        return None
    signs: Signs = root_signs(item.raised)._replace(daily=daily)
    if thing is not None:
        signs = signs._replace(times_cell=ask.growth.height_cm / max(1.0, thing.depth_cm))
        if thing.headroom is not None and thing.headroom.under == "lamp":
            signs = signs._replace(lamp_cm=thing.headroom.gap_cm)
    return potting_of(item.raised, today, signs)


def _over(item: Item, today: date, thing: Thing | None) -> Surplus | None:
    """Once the number is what was kept, and not what came up."""
    one = item.raised
    there = None if one.accounts is None else one.accounts.indoors
    if there is None or one.how.clump > 1 or not any(one.facts.first(kind) for kind in AFTER_CROWD):
        return None
    planted = one.accounts.planted if one.accounts is not None else 0
    to_pot = one.course.open_pot is not None
    ground = 25.0 if thing is None else thing.length_cm * thing.width_cm / max(1, len(thing.parts[0].cells) or there)
    found = surplus(one.crop, there, max(0, one.wanted - planted), 0, (one.dates.out_on - today).days, to_pot, ground)
    return found if found.over else None


def _rescue(item: Item, today: date) -> Rescue:
    one = item.raised
    shortest = one.crop.maybe("raise_min")
    again = None if shortest is None else date.fromordinal(today.toordinal() + int(shortest * 7))
    return rescue(one.crop, item.full_name, today, one.dates.sow_closes, again, one.dates.out_on)
