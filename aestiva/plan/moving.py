"""Other sowing days tried: what each would move, what it could not have, which tasks change; nothing is written."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import date
from typing import NamedTuple

from aestiva.course.state import Item, MovedPlanting, SeasonState, moved
from aestiva.frame.wording import COURSE
from aestiva.gardens.outcomes import Refused
from growing.chain.choice import Problem
from growing.chain.kinds import ORDER

MOST_MOVES = 500
FARTHEST_DAYS = 400
MAIN = ("sow", "out")  # whose days stand first


class MovedStep(NamedTuple):
    """One day that moves; of a step that is new or falls away one of them is None."""

    name: str
    before: date | None
    after: date | None

    @property
    def days(self) -> int | None:
        return None if self.before is None or self.after is None else (self.after - self.before).days


class Change(NamedTuple):
    """What a planting would be: its main days, its other tasks that move, what it could not have and what it no longer lacks.

    follows: it was not moved itself, but stands on the ground of one that was.
    """

    item: Item
    name: str
    main: tuple[MovedStep, ...]
    tasks: tuple[MovedStep, ...]
    problems: tuple[Problem, ...]
    mended: tuple[Problem, ...]
    follows: bool

    @property
    def seen(self) -> str:
        return f"{self.item.planting.pk}.{self.item.planting.revision}"


def read_moves(text: str) -> dict[int, date | None]:
    """“12.2026-04-18,15.” as days by planting; nothing after the point lets it follow again.  Raises Refused."""
    found: dict[int, date | None] = {}
    for part in filter(None, text.split(",")):
        pk, _, day = part.partition(".")
        try:
            found[int(pk)] = date.fromisoformat(day) if day else None
        except ValueError:
            raise Refused("moves", f"“{part[:40]}” is no planting and day") from None
    if len(found) > MOST_MOVES:
        raise Refused("moves", f"{len(found)} days at once: at most {MOST_MOVES}")
    return found


def changes(now: SeasonState, moves: Mapping[int, date | None]) -> list[Change]:
    """Every planting that would be otherwise; raises Refused for a day outside its season."""
    own = {item.planting.pk: item for item in now.items if item.batch is None}
    for pk, day in moves.items():
        if day is not None and pk in own and abs((day - own[pk].raised.dates.sow_on).days) > FARTHEST_DAYS:
            raise Refused("moves", f"{day:%-d %B %Y} is not in the season of {own[pk].name}")
    return [change(one, one.before.planting.pk in moves) for one in moved(now, moves)]


def change(one: MovedPlanting, asked: bool = True) -> Change:
    before, after = one.before.raised, one.after.raised
    main = [_step(before, after, kind) for kind in MAIN]
    main.append(MovedStep("First " + one.after.crop.word("yields"), before.dates.first.start, after.dates.first.start))
    if before.dates.last_known and after.dates.last_known:
        main.append(MovedStep("Its end", before.dates.last, after.dates.last))
    tasks = [_step(before, after, kind) for kind in ORDER if kind not in MAIN]
    old = {p.code for p in before.dates.problems}
    new = {p.code for p in after.dates.problems}
    name = one.after.full_name
    return Change(
        one.after,
        name,
        tuple(s for s in main if s.before != s.after),
        tuple(s for s in tasks if s.before != s.after),
        tuple(p for p in after.dates.problems if p.code not in old or p.days > _days(before.dates.problems, p.code)),
        tuple(p for p in before.dates.problems if p.code not in new),
        not asked,
    )


def _days(problems: Iterable[Problem], code: str) -> int:
    return max((p.days for p in problems if p.code == code), default=0)


def _step(before: object, after: object, kind: str) -> MovedStep:
    old, new = (one.course.day(kind) for one in (before, after))  # type: ignore[attr-defined]
    return MovedStep(COURSE[kind], old, new)
