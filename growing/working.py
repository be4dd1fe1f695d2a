"""How did you get that?  Every result carries its arithmetic as data.

A `Working` names the rule, the values that went in (with unit and source), the steps before it and the
result.  It holds no prose and rounds nothing: wording per rule and the reader's units belong to the pages.
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from typing import NamedTuple

Amount = float | int | str | date | None


class Value(NamedTuple):
    """One number, date or word that a rule used or found.

    name: what it is, as the rule names it.  unit: "" for dates, words and shares; otherwise one of
    `growing.units`.  source: where it came from ("class:tender", "working", "estimate", "garden: reason" …).
    """

    name: str
    number: Amount
    unit: str = ""
    source: str = ""


class Working(NamedTuple):
    """The arithmetic of one result: rule, inputs, earlier steps, result."""

    rule: str
    inputs: tuple[Value, ...]
    steps: tuple[Working, ...]
    result: Value

    def walk(self) -> Iterator[Working]:
        """This working and every step under it, deepest last."""
        yield self
        for step in self.steps:
            yield from step.walk()
