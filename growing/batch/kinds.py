"""What can happen to a batch?  Kinds of event, each owned by the stage it belongs to, and the facts some of them carry."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple


class Fact(NamedTuple):
    """A number that an event of some kind may carry: what it is for people, its unit, and its range."""

    name: str
    unit: str
    least: float
    most: float


class EventKind(NamedTuple):
    """A kind of event, and its facts by their keys in the event's data."""

    kind: str
    facts: Mapping[str, Fact] = {}

    def wrong(self, data: object) -> str:
        """What is wrong with an event's data, naming the fact; empty where it fits."""
        if not isinstance(data, Mapping):
            return f"facts of {self.kind} are a mapping"
        for key, number in data.items():
            fact = self.facts.get(key)
            if fact is None:
                return f"{self.kind} has no fact “{str(key)[:30]}”"
            if isinstance(number, bool) or not isinstance(number, int | float):
                return f"{fact.name}: give a number"
            if not fact.least <= number <= fact.most:
                shown = f"{number:g}" if abs(number) < 1e15 else "so much"  # of a whole number no float can hold
                return f"{fact.name}: {shown} {fact.unit} is not between {fact.least:g} and {fact.most:g}"
        return ""


def plain(*kinds: str) -> tuple[EventKind, ...]:
    """Kinds without facts."""
    return tuple(EventKind(kind) for kind in kinds)
