"""The sowings still to come as something to be decided at once: their days, the room each then takes, minutes, who is there."""

from __future__ import annotations

import json
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np

from aestiva.accounts.models import User
from aestiva.bench.ahead import BenchAhead, look_ahead
from aestiva.bench.stays import ref_of, stays_of
from aestiva.bench.things import load_bench
from aestiva.course.state import Item, load, moved
from aestiva.gardens import clock
from aestiva.gardens.jobs import JobFailed, JobTold, payload_of
from aestiva.gardens.models import Garden, Job, Member
from aestiva.gardens.outcomes import NoFrostDate
from aestiva.plan.align_views import AHEAD_DAYS, apart, sowing_days, to_sow, wish_of
from growing.batch.planned import sowing_of
from growing.bench import bestdays
from growing.bench.ahead import Stay, room_over
from growing.bench.bestdays import DayChoice, MovableSowing, Plan, RoomUse, SowingProblem
from growing.bench.hands import minutes_there_are
from growing.plan.align import Wish, fewest_days
from growing.seeds.sowing import CELL_MINUTES, SEED_MINUTES, NoCount

FARTHEST_DAYS = 21  # from its best that one may be moved
MOST_CHOICES = 24
AT_ONCE = 60  # sowings that are worked out while one waits
SECONDS = 30.0
TELL_S = 0.4


@dataclass
class DayQuestion:
    """What is to be decided, with the rows that it is about."""

    ahead: BenchAhead
    items: dict[int, Item]
    wishes: list[Wish]
    free: list[int]
    task: SowingProblem
    now_days: dict[int, int]
    closed: list[Item]

    @property
    def start(self) -> int:
        """The ordinal that the task's days count from."""
        return self.ahead.now.today.toordinal()

    def dates(self, days: Mapping[int, int]) -> dict[int, date]:
        return {pk: date.fromordinal(self.start + d) for pk, d in days.items()}

    @property
    def fewest(self) -> int:
        """The fewest sowing days that serve all of them, whatever else: a bound."""
        return len(fewest_days(self.wishes, self.free).distinct)

    def weigh(self, days: Mapping[int, int]) -> bestdays.PlanWorth | None:
        """What a plan is worth; None where one of its days cannot be."""
        can = {s.key: {c.day for c in s.choices} for s in self.task.sowings}
        return bestdays.weigh(self.task, days) if all(days[k] in can[k] for k in can) else None


def minutes_a_day(garden: Garden) -> dict[int, float] | None:
    """Minutes there are at the bench by day of the week, of all who said so; None where nobody did."""
    return minutes_there_are(Member.objects.filter(garden=garden).values_list("minutes", flat=True))


def minutes_of(item: Item) -> float:
    """Minutes that sowing it takes."""
    try:
        count = sowing_of(item.raised)
    except NoCount:
        return item.raised.wanted * CELL_MINUTES
    return count.places * (CELL_MINUTES if count.unit != "seeds" else SEED_MINUTES)


def question(ahead: BenchAhead, tell: Callable[[float], None] | None = None) -> DayQuestion:
    """Every sowing with the days it may have; one that somebody pinned keeps its own."""
    now = ahead.now
    today, dating = now.today, now.shared.dating if now.shared else None
    assert dating is not None
    items = {
        i.planting.pk: i
        for i in to_sow(now)
        if i.raised.dates.method in ("raised", "winter", "direct") and not i.raised.secured
    }
    free = sowing_days(now.place, today, AHEAD_DAYS)
    wishes = apart([wish_of(i, dating.place_of(i.planting), today, FARTHEST_DAYS) for i in items.values()], items)
    pinned = {
        pk: i.planting.chosen_sow
        for pk, i in items.items()
        if i.planting.chosen_sow is not None and i.planting.chosen_sow >= today
    }
    able = [w for w in wishes if w.key in pinned or any(w.window.start <= d <= w.window.end for d in free)]
    closed = [items[w.key] for w in wishes if w not in able]
    days = {w.key: _days_of(w, free, pinned.get(w.key)) for w in able}
    base = _base(ahead, {w.key for w in able})
    start = today.toordinal()
    choices = _choices(ahead, items, {w.key: w.ideal for w in able}, days, tell)
    sowings = tuple(MovableSowing(pk, tuple(own)) for pk, own in choices.items() if own)
    limits = minutes_a_day(now.garden)
    limit = {} if limits is None else {d - start: limits[date.fromordinal(d).weekday()] for d in free}
    holds = np.array([np.inf if z.holds is None else z.holds for z in ahead.zones])
    kept = {pk: items[pk].raised.dates.sow_on.toordinal() - start for pk in choices}
    loose = [w for w in able if w.key not in pinned]
    return DayQuestion(ahead, items, loose, free, SowingProblem(sowings, base, holds, limit), kept, closed)


def _days_of(wish: Wish, free: list[int], pinned: date | None) -> list[int]:
    """Ordinals it may have; of many those nearest to its best day."""
    if pinned is not None:
        return [pinned.toordinal()]
    own = [d for d in free if wish.window.start <= d <= wish.window.end]
    return sorted(sorted(own, key=lambda d: (abs(d - wish.ideal), d))[:MOST_CHOICES])


def _base(ahead: BenchAhead, movable: set[int]) -> Any:
    """Room taken by all that is not decided here."""
    rest = [s for s in ahead.stays if -s.batch not in movable]
    return room_over(ahead.zones, rest, ahead.now.today, ahead.days + 60).used


def _choices(
    ahead: BenchAhead,
    items: Mapping[int, Item],
    ideal: Mapping[int, int],
    days: Mapping[int, list[int]],
    tell: Callable[[float], None] | None,
) -> dict[int, list[DayChoice]]:
    """What each sowing is on each of its days."""
    now, start = ahead.now, ahead.now.today.toordinal()
    found: dict[int, list[DayChoice]] = {pk: [] for pk in days}
    most = max((len(own) for own in days.values()), default=0)
    minutes = {pk: minutes_of(items[pk]) for pk in days}
    for k in range(most):
        if tell is not None:
            tell(k / most)
        wanted = {pk: date.fromordinal(own[k]) for pk, own in days.items() if k < len(own)}
        for one in moved(now, dict(wanted)):
            pk = one.before.planting.pk
            if pk not in wanted or ref_of(one.after) != -pk:
                continue
            stays = stays_of(now, one.after, ahead.ground) if one.after.raised.dates.method == "raised" else []
            off = float(abs(wanted[pk].toordinal() - ideal[pk]))
            uses = tuple(u for s in stays for u in _uses(ahead, s, start))
            found[pk].append(DayChoice(wanted[pk].toordinal() - start, off, minutes[pk], uses))
    return found


def _uses(ahead: BenchAhead, stay: Stay, start: int) -> list[RoomUse]:
    """A stay as the room it takes, also of what carries its place."""
    keys = [z.key for z in ahead.zones]
    if stay.zone not in keys:
        return []
    zones = [stay.zone, *([w] if (w := ahead.within.get(stay.zone)) else [])]
    last = ahead.days + 60
    return [
        RoomUse(keys.index(z), max(0, stay.since - start), min(last, stay.until - start), stay.flats) for z in zones
    ]


def look_for_best(job: Job, tell: JobTold) -> dict[str, Any]:
    """The job: the best days that thirty seconds find, with the bound; a proposal, nothing is written."""
    asked = json.loads(payload_of(job))
    garden = Garden.objects.filter(pk=asked["garden"]).first()
    user: User | None = job.user
    if garden is None or user is None or not Member.objects.filter(garden=garden, user=user).exists():
        raise JobFailed(["This garden is not there any more, or no longer open to you."])
    try:
        now = load(garden, clock.today(garden))
    except NoFrostDate as error:
        raise JobFailed(["There is no frost date yet, and so no window to choose a day in."]) from error
    tell(0.02, "laying out the season")
    found = question(
        look_ahead(now, load_bench(now)), lambda share: tell(0.02 + 0.28 * share, "every day of every sowing")
    )
    if not found.task.sowings:
        raise JobFailed(
            ["Nothing that is still to be sown has a day to choose: all is sown, pinned, or past its window."]
        )
    last = [0.0]

    def told(share: float, value: float | None, bound: float | None) -> None:
        if time.monotonic() - last[0] < TELL_S:
            return
        last[0] = time.monotonic()
        said = (
            "weighing plans"
            if value is None
            else f"best so far {value:.0f}" + (f", no plan below {bound:.0f}" if bound else "")
        )
        tell(0.3 + 0.7 * share, said)

    plan = bestdays.solve(found.task, float(asked.get("seconds", SECONDS)), told)
    return result_of(found, plan, garden.revision)


def result_of(found: DayQuestion, plan: Plan, revision: int) -> dict[str, Any]:
    """A plan as plain JSON."""
    quick = bestdays.greedy(found.task)
    return {
        "days": {str(pk): day.isoformat() for pk, day in found.dates(plan.days).items()},
        "worth": list(plan.worth),
        "value": plan.worth.value,
        "bound": plan.bound,
        "proven": plan.proven,
        "gap": plan.gap,
        "fewest": found.fewest,
        "greedy": list(quick.worth),
        "revision": revision,
    }
