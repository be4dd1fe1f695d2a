"""What pages gather from the stages of the work: each stage registers here when it is ready.

Today, the batch page, the calendar and the simulation ask this registry and know no stage by name.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Any, NamedTuple

from django.core.exceptions import ImproperlyConfigured

from aestiva.frame import wording
from aestiva.frame.wording import StageWords
from aestiva.gardens.models import Garden
from growing.batch.kinds import EventKind
from growing.chain.choice import Held
from growing.place.year import PlaceYear
from growing.steps import StepSpec

Complete = Callable[[Any], None]


class Record(NamedTuple):
    """Something a grower can write down on a batch's page: its kind of event, the word for it, the mark drawn beside the
    word (an SVG path in a square of 24), and whether it is a count or only words."""

    kind: str
    word: str
    mark: str
    counts: bool = True


@dataclass(frozen=True)
class Stage:
    """One stage of the work: what it knows, does and says.

    rules: the inputs of each rule of its core.  steps: its kinds of work.  events: what happens to batches in it.
    complete: kind of work -> function of a `Finished` (season.actions) that writes what finishing it means; kinds without
    one are only ticked off.  records: what the batch page offers to write down.  places: season -> work of its places, each a
    `PlaceWork` (course.placework), for what is done to a shelf and not to a batch.  upkeep: season, day -> minutes of what is done
    every day beside tasks.  holds: season, some of its items -> what holds
    each back from planting out today, by batch.
    """

    name: str
    words: StageWords
    rules: Mapping[str, Iterable[str]] = field(default_factory=dict)
    steps: tuple[StepSpec, ...] = ()
    events: tuple[EventKind, ...] = ()
    complete: Mapping[str, Complete] = field(default_factory=dict)
    records: tuple[Record, ...] = ()
    places: Callable[[Any], Sequence[Any]] | None = None
    upkeep: Callable[[Any, date], int] | None = None
    holds: Callable[[Any, list[Any]], Mapping[int, Held]] | None = None


_stages: dict[str, Stage] = {}
_steps: list[StepSpec] = []
_by_key: dict[str, list[StepSpec]] = {}
_events: dict[str, EventKind] = {}
_complete: dict[str, Complete] = {}


def register(stage: Stage) -> None:
    """Take a stage in.  Raises ImproperlyConfigured where its words do not fit, or a kind is taken already."""
    wording.register(stage.name, stage.words, stage.rules, [s.kind for s in stage.steps])
    kinds = [e.kind for e in stage.events]
    if twice := _events.keys() & kinds:
        raise ImproperlyConfigured(f"{stage.name}: events of {sorted(twice)} belong to another stage")
    if set(kinds) != set(stage.words.events):
        raise ImproperlyConfigured(
            f"{stage.name}: {sorted(set(kinds) ^ set(stage.words.events))} without words or kind"
        )
    _stages[stage.name] = stage
    _steps.extend(stage.steps)
    for spec in stage.steps:
        _by_key.setdefault(spec.word, []).append(spec)
    _events.update({e.kind: e for e in stage.events})
    _complete.update(stage.complete)


def stages() -> tuple[Stage, ...]:
    """The registered stages in the order of work (the order of INSTALLED_APPS)."""
    return tuple(_stages.values())


def steps() -> Sequence[StepSpec]:
    """Every kind of work, in the order of work."""
    return _steps


def steps_of_key(word: str) -> Sequence[StepSpec]:
    """The kinds of work whose tasks carry that word in their keys."""
    return _by_key.get(word, ())


def event_kinds() -> Mapping[str, EventKind]:
    """Everything that can happen to a batch."""
    return _events


def records() -> list[Record]:
    """What can be written down of a batch, in the order of work."""
    return [record for stage in _stages.values() for record in stage.records]


def completion(kind: str) -> Complete | None:
    """What finishing that kind of work writes; None: it is only ticked off."""
    return _complete.get(kind)


class Effect(NamedTuple):
    """One date that a change of the place would move: of what, which step, as it is and as it would be."""

    name: str
    step: str
    before: date
    after: date

    @property
    def days(self) -> int:
        return (self.after - self.before).days


Effects = Callable[[Garden, date, PlaceYear, PlaceYear], list[Effect]]
_effects: list[Effects] = []


def offer_effects(effects: Effects) -> None:
    """A later stage says what would move there if the place, as it is, were another."""
    _effects.append(effects)


def effects(garden: Garden, today: date, here: PlaceYear, ahead: PlaceYear) -> list[Effect]:
    """Every date that would move if the place were `ahead` instead of `here`; writes nothing."""
    return [one for ask in _effects for one in ask(garden, today, here, ahead)]


class Simulation(NamedTuple):
    """What lets a simulated garden live.

    simulate(garden, day): what reaches it by itself up to that day; the grower's work stays undone.  Raises Refused past its
    end.  work(garden, user, key): today's tasks done for the grower; how many.
    """

    simulate: Callable[[Garden, date], None]
    work: Callable[[Garden, Any, str], int]


_simulation: list[Simulation] = []


def offer_simulation(simulation: Simulation) -> None:
    """The one provider of simulated days."""
    _simulation[:] = [simulation]


def simulation() -> Simulation | None:
    """What lets simulated gardens live; None where nothing offers it."""
    return _simulation[0] if _simulation else None


Taker = Callable[[Any, Any], int]
_takers: dict[str, Taker] = {}


def offer_taker(kind: str, taker: Taker) -> None:
    """A later stage takes what devices post of a kind: taker(feed, post) -> rows taken, inside the garden's transaction."""
    _takers[kind] = taker


def takers() -> Mapping[str, Taker]:
    """Who takes posts of which kind."""
    return _takers


_links: dict[str, Callable[..., str]] = {}


def offer_link(name: str, address: Callable[..., str]) -> None:
    """A later stage offers an address that earlier pages may show."""
    _links[name] = address


def link(name: str, *args: Any) -> str:
    """The address offered under that name; empty where no stage offers it."""
    return _links[name](*args) if name in _links else ""
