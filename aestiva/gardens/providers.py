"""What pages gather from the stages of the work: each stage registers here when it is ready.

Today, the batch page, the calendar and the simulation ask this registry and know no stage by name.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Any, NamedTuple

from aestiva.gardens.models import Garden
from growing.place.year import PlaceYear
from growing.steps import Raised, Task

Derive = Callable[[Raised, date, date], Iterator[Task]]
Complete = Callable[[Any], None]


@dataclass(frozen=True)
class Stage:
    """One stage: the tasks it derives, and what finishing each kind of them writes.

    complete: kind -> function of a `Finished` (season.actions); kinds without one are only ticked off.
    """

    name: str
    tasks: Derive
    complete: Mapping[str, Complete] = field(default_factory=dict)


_stages: dict[str, Stage] = {}


def register(stage: Stage) -> None:
    _stages[stage.name] = stage


def stages() -> tuple[Stage, ...]:
    """The registered stages in the order of work (the order of INSTALLED_APPS)."""
    return tuple(_stages.values())


class Effect(NamedTuple):
    """One date that a change of the place would move: of what, which step, as it is and as it would be."""

    name: str
    step: str
    before: date
    after: date

    @property
    def days(self) -> int:
        return (self.after - self.before).days


_effects: list[Callable[[Garden, date, PlaceYear], list[Effect]]] = []


def offer_effects(effects: Callable[[Garden, date, PlaceYear], list[Effect]]) -> None:
    """A later stage says what would move there if the place were another."""
    _effects.append(effects)


def effects(garden: Garden, today: date, place: PlaceYear) -> list[Effect]:
    """Every date that would move if the place were `place`; writes nothing."""
    return [one for ask in _effects for one in ask(garden, today, place)]


_links: dict[str, Callable[..., str]] = {}


def offer_link(name: str, address: Callable[..., str]) -> None:
    """A later stage offers an address that earlier pages may show."""
    _links[name] = address


def link(name: str, *args: Any) -> str:
    """The address offered under that name; empty where no stage offers it."""
    return _links[name](*args) if name in _links else ""


def completion(kind: str) -> Complete | None:
    for stage in _stages.values():
        if kind in stage.complete:
            return stage.complete[kind]
    return None
