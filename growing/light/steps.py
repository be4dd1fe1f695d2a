"""At the lamps: hang higher or lower, set the timer, turn the trays, wipe, change tubes.  Work of a place, not of a batch."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta

from growing.assumptions import real, shown
from growing.light.advice import TURN_DAYS, Advice, LampChange, gains_by_turning
from growing.light.had import SPOILT_DAYS
from growing.light.hours import DAY_H
from growing.light.lamps import DULL_DAYS, DescribedLamp
from growing.light.shelf import Got
from growing.steps import PlaceFacts, StepSpec, Task, with_another
from growing.waiting import cost
from growing.working import Value, Working

BURNT = real("light.steps.BURNT")


def _waits(one: PlaceFacts, task: Task, today: date) -> Working:
    """Plants that another day like this spoils, less those that it would spoil after the change: want of light, and burnt tips."""
    option = task.detail
    if not isinstance(option, LampChange):
        return cost("light.waits", (Value("lacking", 0.0, "plants"), Value("burnt", 0.0, "plants")), 0.0)
    lacking, burnt = 0.0, 0.0
    for before, after in zip(option.before, option.got, strict=True):
        plants = before.stand.plants
        lacking += plants * (_lack(before) - _lack(after)) / SPOILT_DAYS
        burnt += plants * BURNT * (before.gap_cm < option.warm_cm)
    inputs = (
        Value("lacking", round(lacking, 2), "plants", "working"),
        Value("burnt", round(burnt, 2), "plants", "estimate"),
    )
    return cost("light.waits", inputs, max(0.0, lacking) + burnt)


def _lack(got: Got) -> float:
    """The share of a day’s least light that it does without."""
    return max(0.0, 1 - got.dli / got.stand.band.low)


HANG = StepSpec("hang", "bench", with_another, minutes=2, waits=_waits)
DIM = StepSpec("dim", "bench", with_another, minutes=1, waits=_waits)
TIMER = StepSpec("timer", "bench", with_another, minutes=2, waits=_waits)
BOXES = StepSpec("boxes", "bench", with_another, minutes=5, waits=_waits)
HEADROOM = StepSpec("headroom", "bench", with_another, minutes=5, waits=_waits)
TURN = StepSpec("turn", "bench", with_another, minutes=2, each=1)
CLEAN = StepSpec("clean", "bench", with_another, minutes=3)
TUBES = StepSpec("tubes", "bench", with_another, minutes=10)
STEPS = (HANG, DIM, TIMER, BOXES, HEADROOM, TURN, CLEAN, TUBES)
OF_CHANGE = {
    **dict.fromkeys(("raise", "lower", "aslant"), HANG),
    "out_of_room": HEADROOM,
    **dict.fromkeys(("dim", "brighten"), DIM),
    **dict.fromkeys(("longer", "shorter"), TIMER),
    "boxes": BOXES,
}


def of_shelf(ref: str, advice: Advice, burns: float, last_set: str, today: date) -> Iterator[Task]:
    """What the light asks for today: the first change, and hours that suit where those that it burns do not.

    burns: hours that it burns.  last_set: what names its last setting: a task is the same until the lamp is set anew.
    """
    first = advice.first
    spec = OF_CHANGE.get(first.kind)
    if spec is not None:
        ordinal = today.isoformat() if spec is HEADROOM else last_set  # the one again every day, as long as it is so
        yield Task(spec.key_of(ref, ordinal), spec, today, None, "", first.working, _urgent(first), detail=first)
    if spec is TIMER:
        return
    wrong = [c for c in advice.hours.clashes if c.kind == "long"] or list(advice.hours.clashes)
    hours = advice.hours.hours
    why = None
    if wrong and hours != burns:
        why = wrong[0].working._replace(steps=(advice.hours.working,))
    elif hours == DAY_H != burns or advice.may_shorten:
        why = advice.hours.working  # the way of working: round the clock at first, shorter as they grow
    if why is not None:
        yield Task(TIMER.key_of(ref, last_set), TIMER, today, None, "", why, detail=hours)


def turning(ref: str, advice: Advice, turned_on: date | None, since: date, today: date, until: date) -> Iterator[Task]:
    """Trays end for end, a week after the last time, of which one end is much darker.  since: from when they all stand there."""
    gains = [g for g in advice.got if g.stand.tray is not None and gains_by_turning(g)]
    if not gains:
        return
    last = max(since, turned_on or since)
    due = last + timedelta(days=TURN_DAYS)
    if due <= until:
        worst = min(gains, key=lambda g: g.least / max(g.dli, 1e-6))
        inputs = (
            Value("name", worst.stand.name),
            Value("even", round(worst.least / max(worst.dli, 1e-6), 2), "share", "working"),
            Value("turned", round(worst.turned / max(worst.dli, 1e-6), 2), "share", "working"),
            Value("since", last),
            Value("every", TURN_DAYS, "days"),
        )
        why = Working("light.turn", inputs, (), Value("turn", due))
        trays = len({g.stand.tray for g in gains})
        yield Task(TURN.key_of(ref, due.isoformat()), TURN, due, trays, "trays", why, int(due < today))


def upkeep(
    ref: str, lamp: DescribedLamp, wiped_on: date | None, hours: float, today: date, until: date, number: int
) -> Iterator[Task]:
    """Wiping a dusty lamp, and new tubes at the end of their life.  number: the lamp’s own."""
    if wiped_on is not None:
        due = wiped_on + timedelta(days=DULL_DAYS)
        if due <= until:
            why = Working(
                "light.clean",
                (Value("since", wiped_on), shown("every", "light.lamps.DULL_DAYS")),
                (),
                Value("clean", due),
            )
            yield Task(CLEAN.key_of(ref, f"{wiped_on:%Y%m%d}-{number}"), CLEAN, due, None, "", why)
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
                TUBES.key_of(ref, f"{round(of.life_h)}-{number}"),
                TUBES,
                due,
                lamp.number,
                "tubes",
                Working("light.tubes", inputs, (), Value("change", due)),
            )


def _urgent(first: LampChange) -> int:
    return (
        1
        if first.working.rule.endswith("_near") or "_near_" in first.working.rule or first.kind == "out_of_room"
        else 0
    )


RULES = {
    "light.waits": ("lacking", "burnt"),
    "light.turn": ("name", "even", "turned", "since", "every"),
    "light.clean": ("since", "every"),
    "light.tubes": ("burnt", "lasts", "lost"),
}
