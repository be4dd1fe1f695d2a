"""Never two stresses together: whoever was pricked out, potted, pinched or cut back has two days before the next, or the first sun."""

from __future__ import annotations

from datetime import date, timedelta
from typing import NamedTuple

from growing.batch.facts import BatchFacts
from growing.chain.kinds import KINDS, STRAINS
from growing.working import Value, Working

APART_DAYS = 3  # from one to the next: two days between
OVERDUE_DAYS = 7  # for which one that is overdue holds the next back
DONE = {one.event: one.done for one in KINDS if one.strains and one.event} | {"trimmed": "cut back"}
NAMES = {one.kind: one.strains for one in KINDS if one.strains}


class OpenStep(NamedTuple):
    """A stress that is still to come, and its day."""

    kind: str
    due: date


def last_stress(one: BatchFacts) -> tuple[str, date] | None:
    """What they were last put through, and when; the first hours outdoors count, those after them do not."""
    facts = one.facts
    had = [(day, word) for kind, word in DONE.items() for day in facts.days.get(kind, ())]
    if facts.outings:
        had.append((facts.outings[0].day, "out for the first time"))
    if not had:
        return None
    day, word = max(had)
    return word, day


def kept_apart(one: BatchFacts, kind: str, due: date, today: date, working: Working) -> tuple[date, Working]:
    """The day on which a stress that is due may be laid on them, with its working: as it was, or with what it waits for."""
    day, after = apart_from_others(one, kind, due, today)
    if day == due:
        return due, working
    inputs = (Value("was due", due), Value("after", after), Value("apart", APART_DAYS, "days", "estimate"))
    return day, Working("care.apart", inputs, (working,), Value("day", day))


def apart_from_others(one: BatchFacts, kind: str, due: date, today: date) -> tuple[date, str]:
    """The day on which a stress that is due may be laid on them, and the other that it waits for; "" where it waits for none."""
    day, after = due, ""
    last = last_stress(one)
    if last is not None and last[1] + timedelta(days=APART_DAYS) > day:
        day, after = last[1] + timedelta(days=APART_DAYS), last[0]
    for other in _before(one, kind, due):
        begins = max(other.due, today) if (today - other.due).days <= OVERDUE_DAYS else other.due
        if abs((day - begins).days) < APART_DAYS:
            day, after = begins + timedelta(days=APART_DAYS), NAMES[other.kind]
    for other in _not_held(one, kind, due, today):
        begins = max(other.due, today)
        if abs((max(day, today) - begins).days) < APART_DAYS:
            day, after = begins + timedelta(days=APART_DAYS), NAMES[other.kind]
    return day, after


def _open(one: BatchFacts, kind: str) -> list[OpenStep]:
    """What else is still to come, in its order."""
    found = [
        OpenStep(other, step.due)
        for other in STRAINS
        if other != kind and (step := one.course.steps.get(other)) is not None and step.happened is None
    ]
    return sorted(found, key=lambda o: o.due)


def _before(one: BatchFacts, kind: str, due: date) -> list[OpenStep]:
    """What else is open and goes before it."""
    mine = (due, STRAINS.index(kind) if kind in STRAINS else len(STRAINS))
    return [other for other in _open(one, kind) if (other.due, STRAINS.index(other.kind)) < mine]


def _not_held(one: BatchFacts, kind: str, due: date, today: date) -> list[OpenStep]:
    """What it holds back no longer, being overdue for so long: that goes first while its own day is not as long past."""
    if (today - due).days <= OVERDUE_DAYS:
        return []
    return [o for o in _open(one, kind) if o.due > due and (today - o.due).days <= OVERDUE_DAYS]


RULES = {"care.apart": ("was due", "after", "apart")}
