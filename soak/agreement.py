"""One season, one answer, lived: does any page contradict another, is anything dead tended, is anything living lost from sight?"""

from __future__ import annotations

import time
from datetime import timedelta
from typing import Any

from soak.ground import report

GARDENS, GARDEN_DAYS, DAYS, FORTNIGHT, OPENED = 30, 3, 66, 14, 2
MISSED, HELPED, WRONG_COUNT, LOST = (
    9,
    4,
    12,
    25,
)  # every so manieth day nobody is there, somebody helps; days of a mistake and of a loss


def generated() -> bool:
    """Thirty gardens nobody planned, on three days each."""
    from aestiva.course.state import load
    from aestiva.frame.tests.garden import client_for
    from demo.agree import between, differences
    from demo.generated import garden_of

    began, found = time.monotonic(), []
    for seed in range(100, 100 + GARDENS):
        garden, before = garden_of(seed), None
        client = client_for(garden.members.get(role="owner").user)
        for _ in range(GARDEN_DAYS):
            assert garden.simulated_on is not None
            now = load(garden, garden.simulated_on)
            found += [f"garden {seed}: {one}" for one in differences(garden, now, client, OPENED)]
            found += [] if before is None else [f"garden {seed}: {one}" for one in between(before, now)]
            before = now
            garden.simulated_on += timedelta(days=1)
            garden.save()
    said = f"{GARDENS} gardens, {GARDEN_DAYS} days each, {len(found)} differences {found[:3]}, {time.monotonic() - began:.0f} s"
    return report("agreement of generated gardens", not found, said)


def lived() -> bool:
    """Quarry Lane for sixty-six days: days missed, a helper, a wrong count corrected, a batch lost."""
    from demo.scenario import build

    return _live("agreement of sixty-six days", build(), DAYS)


def southern() -> bool:
    """Kanuka Flat's four hundred plantings for a fortnight."""
    from demo import kanuka

    return _live("agreement of a southern fortnight", kanuka.build(), FORTNIGHT)


def _live(name: str, garden: Any, days: int) -> bool:
    from aestiva.course.state import load
    from aestiva.frame.tests.garden import client_for, user
    from aestiva.gardens.models import Garden, Member
    from aestiva.today.demo_views import step
    from demo.agree import between, differences
    from demo.hands import do_tasks

    began, found, moved = time.monotonic(), [], []
    owner = garden.members.get(role="owner").user
    helper = user(f"helper-of-{garden.pk}")
    Member.objects.create(garden=garden, user=helper, role="grower")
    client, evening, done = client_for(owner), None, 0
    for day in range(days):
        garden = Garden.objects.get(pk=garden.pk)
        now = load(garden, garden.simulated_on)
        if evening is not None:
            moved += [f"day {day}: {one}" for one in between(evening, now)]
        found += [f"day {day}, morning: {one}" for one in differences(garden, now, client, OPENED)]
        if (day + 1) % MISSED:
            done += do_tasks(garden, helper if day % HELPED == 0 else owner)
        if day == WRONG_COUNT:
            _count_wrongly(garden, client)
        if day == LOST:
            _lose(garden, client)
        garden = Garden.objects.get(pk=garden.pk)
        evening = load(garden, garden.simulated_on)
        found += [f"day {day}, evening: {one}" for one in differences(garden, evening, client, OPENED)]
        step(garden, 1)
    said = f"{days} days, {done} tasks done, {len(found)} differences {found[:3]}, {len(moved)} moves without a word {moved[:3]}, "
    return report(name, not (found or moved), said + f"{time.monotonic() - began:.0f} s")


def _count_wrongly(garden: Any, client: Any) -> None:
    """A count far too high, and the mistake taken back."""
    from aestiva.gardens.models import JournalEntry
    from aestiva.season.models import Batch

    batch = Batch.objects.filter(planting__season__garden=garden, failed_on=None).order_by("-pk").first()
    if batch is not None:
        client.post(f"/g/{garden.pk}/batch/{batch.pk}/record/", {"kind": "up", "count": str(batch.cells or 4)})
        entry = JournalEntry.objects.filter(garden=garden).latest("pk")
        client.post(f"/g/{garden.pk}/journal/{entry.pk}/undo/")


def _lose(garden: Any, client: Any) -> None:
    """All of a batch that grows indoors dies."""
    from aestiva.course.state import load

    for item in load(garden, garden.simulated_on).items:
        there = item.raised.accounts
        if item.batch is not None and there is not None and there.indoors and not there.waiting and not there.outdoors:
            client.post(f"/g/{garden.pk}/batch/{item.batch.pk}/record/", {"kind": "died", "count": str(there.indoors)})
            return


ATTACKS = {"agree-gardens": generated, "agree-days": lived, "agree-south": southern}
