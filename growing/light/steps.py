"""At the lamps: hang higher or lower, set the timer, turn the trays, wipe, change tubes.  Work of a place, not of a batch."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta

from growing.light.advice import TURN_DAYS, UNEVEN, Advice, Option
from growing.light.lamps import DULL_DAYS, Lamp
from growing.steps import StepSpec, Task, with_another
from growing.working import Value, Working

HANG = StepSpec("hang", "bench", with_another, minutes=2)
DIM = StepSpec("dim", "bench", with_another, minutes=1)
TIMER = StepSpec("timer", "bench", with_another, minutes=2)
BOXES = StepSpec("boxes", "bench", with_another, minutes=5)
TURN = StepSpec("turn", "bench", with_another, minutes=2, each=1)
CLEAN = StepSpec("clean", "bench", with_another, minutes=3)
TUBES = StepSpec("tubes", "bench", with_another, minutes=10)
STEPS = (HANG, DIM, TIMER, BOXES, TURN, CLEAN, TUBES)
OF_CHANGE = {
    **dict.fromkeys(("raise", "lower", "aslant", "out_of_room"), HANG),
    **dict.fromkeys(("dim", "brighten"), DIM),
    **dict.fromkeys(("longer", "shorter"), TIMER),
    "boxes": BOXES,
}


def of_shelf(ref: str, advice: Advice, today: date) -> Iterator[Task]:
    """What the light asks for today: the first change, hours that do not suit, and turning where it is uneven (by its own week)."""
    first = advice.first
    spec = OF_CHANGE.get(first.kind)
    if spec is not None:
        yield Task(
            f"{ref}.{spec.kind}.{_ordinal(first)}", spec, today, None, "", first.working, _urgent(first), detail=first
        )
    long_ = [c for c in advice.hours.clashes if c.kind == "long"] or list(advice.hours.clashes)
    if long_ and spec is not TIMER:
        hours = advice.hours.hours
        why = long_[0].working._replace(steps=(advice.hours.working,))
        yield Task(f"{ref}.timer.{hours:g}", TIMER, today, None, "", why, detail=hours)


def turning(
    ref: str, even: float, trays: int, turned_on: date | None, since: date, today: date, until: date
) -> Iterator[Task]:
    """The trays end for end, a week after the last time, where the darkest cells have much less than the mean."""
    if even >= UNEVEN or not trays:
        return
    due = (turned_on or since) + timedelta(days=TURN_DAYS)
    if due <= until:
        inputs = (
            Value("even", round(even, 2), "share", "working"),
            Value("since", turned_on or since),
            Value("every", TURN_DAYS, "days"),
        )
        why = Working("light.turn", inputs, (), Value("turn", due))
        yield Task(f"{ref}.turn.{due.isoformat()}", TURN, due, trays, "trays", why, int(due < today))


def upkeep(ref: str, lamp: Lamp, wiped_on: date | None, hours: float, today: date, until: date) -> Iterator[Task]:
    """Wiping a dusty lamp, and new tubes at the end of their life."""
    if wiped_on is not None:
        due = wiped_on + timedelta(days=DULL_DAYS)
        if due <= until:
            why = Working(
                "light.clean",
                (Value("since", wiped_on), Value("every", DULL_DAYS, "days", "estimate")),
                (),
                Value("clean", due),
            )
            yield Task(f"{ref}.clean.{wiped_on.isoformat()}", CLEAN, due, None, "", why)
    of = lamp.of
    if (
        of.wears_out
        and lamp.hours_run is not None
        and lamp.hours_run + hours * max(0, (until - today).days) >= of.life_h
    ):
        left = max(0.0, of.life_h - lamp.hours_run)
        due = today + timedelta(days=round(left / hours) if hours else 0)
        if due <= until:
            inputs = (
                Value("burnt", round(lamp.hours_run), "h", "working"),
                Value("lasts", of.life_h, "h", "estimate"),
                Value("lost", of.ages, "share", "estimate"),
            )
            yield Task(
                f"{ref}.tubes.{round(of.life_h)}",
                TUBES,
                due,
                lamp.number,
                "tubes",
                Working("light.tubes", inputs, (), Value("change", due)),
            )


def _ordinal(first: Option) -> str:
    """What is asked, so that another height is another task."""
    to = first.setting
    if first.kind in ("dim", "brighten"):
        return f"{to.per_cent:g}"
    if first.kind in ("longer", "shorter"):
        return f"{to.timer.hours:g}"
    return f"{to.left_cm:.1f}-{to.right_cm:.1f}".replace(".", "_")


def _urgent(first: Option) -> int:
    return 1 if first.working.rule.endswith("_near") or first.kind == "out_of_room" else 0


RULES = {
    "light.turn": ("even", "since", "every"),
    "light.clean": ("since", "every"),
    "light.tubes": ("burnt", "lasts", "lost"),
}
