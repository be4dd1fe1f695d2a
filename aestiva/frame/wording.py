"""How rules, steps and events are said.  Each stage brings its own words; this is where they are looked up.

{names} in a sentence are the rule's inputs, {result} its result.  What is missing is found when the stage registers:
a rule without words, words without a rule, a name that no input has, a name used twice.
"""

from __future__ import annotations

import string
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Any, NamedTuple, TypeVar

from django.core.exceptions import ImproperlyConfigured

from aestiva.frame import say, values
from aestiva.frame.say import Reader
from growing.crops import Crop
from growing.steps import Task
from growing.working import Value, Working


class Said(NamedTuple):
    """A rule in words: its headline, its arithmetic in one line, the reason as short as a line of Today wants it, and what
    is said instead of the arithmetic where the result is of that name (no date, beyond the record …)."""

    headline: str
    line: str
    short: str = ""
    verdicts: Mapping[str, str] = {}


class CountWord(NamedTuple):
    """What tasks of a kind count, where that differs from task to task: in general, and of a task and what its crop starts from."""

    plain: str
    of: Callable[[Task, str], str]


class StepWords(NamedTuple):
    """A kind of work in words: what its tasks count, the verb
    on its button, an instruction for a helper, the caution that is shown with it, and what is touched: "sow", "pot", "plant"
    (where a crop is to be handled with care, it is said then).  how: the work in one line for this task and crop, in the
    reader's units, where it differs from crop to crop; otherwise the instruction is the line.  act: the work as a
    verb before a crop’s name, “pot up”."""

    name: str | CountWord
    verb: str
    instruction: str
    caution: str = ""
    touches: str = ""
    how: Callable[[Task, Crop, Reader], str] | None = None
    act: str = ""

    def counted(self, task: Task, starts: str = "seed") -> str:
        return self.name if isinstance(self.name, str) else self.name.of(task, starts)

    @property
    def plain(self) -> str:
        """What it counts where no single task is meant."""
        return self.name if isinstance(self.name, str) else self.name.plain


@dataclass(frozen=True)
class StageWords:
    """All that one stage says: rules, steps, the steps of a batch's course, what happened, and problems."""

    rules: Mapping[str, Said]
    steps: Mapping[str, StepWords] = field(default_factory=dict)
    course: Mapping[str, str] = field(default_factory=dict)
    events: Mapping[str, str] = field(default_factory=dict)
    problems: Mapping[str, str] = field(default_factory=dict)


RULES: dict[str, Said] = {}
STEPS: dict[str, StepWords] = {}
COURSE: dict[str, str] = {}
EVENTS: dict[str, str] = {}
PROBLEMS: dict[str, str] = {}
_FIELDS = string.Formatter()
T = TypeVar("T")


def register(stage: str, words: StageWords, rules: Mapping[str, Iterable[str]], kinds: Iterable[str]) -> None:
    """Take the words of a stage in.

    rules: the inputs of each rule it declares.  kinds: of its steps.  Raises ImproperlyConfigured where a rule or a step has
    no words, words have no rule, a sentence names what is no input, or a name is taken already.
    """
    _same(stage, "rules", set(rules), set(words.rules))
    _same(stage, "steps", set(kinds), set(words.steps))
    for rule, said in words.rules.items():
        if not rule.startswith(f"{stage}."):
            raise ImproperlyConfigured(f"{rule}: a rule of {stage} begins with its name")
        known = {*rules[rule], "result"}
        for sentence in (said.headline, said.line, said.short, *said.verdicts.values()):
            if unknown := {n for _, n, _, _ in _FIELDS.parse(sentence) if n is not None} - known:
                raise ImproperlyConfigured(f"{rule} says {sorted(unknown)}, which is no input of it")
    _take(stage, RULES, words.rules)
    _take(stage, STEPS, words.steps)
    for table, own in (
        (COURSE, words.course),
        (EVENTS, words.events),
        (PROBLEMS, words.problems),
    ):
        _take(stage, table, own)


def _take(stage: str, table: dict[str, T], own: Mapping[str, T]) -> None:
    if twice := table.keys() & own.keys():
        raise ImproperlyConfigured(f"{stage} uses names that are taken: {sorted(twice)}")
    table.update(own)


def _same(stage: str, what: str, declared: set[str], said: set[str]) -> None:
    if declared != said:
        raise ImproperlyConfigured(f"{what} of {stage} without words, or words without them: {sorted(declared ^ said)}")


def words(working: Working, reader: Reader) -> dict[str, str]:
    """Every input and the result of a rule as text in the reader's units."""
    found = {v.name: values.said(v, reader) for v in working.inputs}
    found["result"] = values.said(working.result, reader)
    return found


def headline(working: Working, reader: Reader) -> str:
    return RULES[working.rule].headline.format_map(words(working, reader))


def line(working: Working, reader: Reader) -> str:
    """The arithmetic of one rule in one line; a date that cannot be given says why."""
    said = RULES[working.rule]
    return said.verdicts.get(working.result.name, said.line).format_map(words(working, reader))


def reason(working: Working, reader: Reader) -> str:
    """Why a task is there, short."""
    said = RULES[working.rule]
    return (said.short or said.line).format_map(words(working, reader))


def task_name(task: Task, starts: str = "seed") -> str:
    """What a task counts: “cells to sow”, “tubers to pot up into growth”."""
    return STEPS[task.kind].counted(task, starts)


def how(task: Task, crop: Crop | None, reader: Reader) -> str:
    """How it is done, in one line."""
    said = STEPS[task.kind]
    return said.instruction if said.how is None or crop is None else said.how(task, crop, reader)


def problem(code: str, days: int, day: date | None, share: float | None = None) -> str:
    said = "" if share is None else say.of_years(share)
    return PROBLEMS[code].format(days=say.plural(days, "day"), day=say.day(day), share=said)


def cautions(task: Task, crop: Crop | None) -> list[str]:
    """What is to be heeded at a task: its own caution, and what of its crop is poisonous where it is touched."""
    own = STEPS[task.kind].caution
    poison = [poisonous(crop)] if crop is not None and STEPS[task.kind].touches in crop.caution_at else []
    return [*([own] if own else []), *poison]


def poisonous(crop: Crop) -> str:
    """What of it may harm people, in a sentence."""
    return f"Poisonous or irritant: {crop.poison}. Keep children and animals from it, wash your hands."


def rows(working: Working, reader: Reader) -> list[dict[str, Any]]:
    """The inputs of a rule as rows of label, value and source, for the opened working."""
    return [
        {"label": values.label_of(v), "value": values.said(v, reader), "source": values.came_from(v, reader)}
        for v in working.inputs
        if v.number not in (None, "") and _tellable(v)
    ]


def _tellable(value: Value) -> bool:
    return value.name not in ("sowing days",)
