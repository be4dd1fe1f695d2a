"""Is it coming?  The verdict on every batch under the mix, all at once, by its counts and those of its neighbours."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from typing import TYPE_CHECKING, NamedTuple

from aestiva.course.warmth import Had
from aestiva.season.models import BatchEvent
from growing.emergence.outlook import Seen, beside, case_of, under_the_mix
from growing.emergence.posterior import Lifted
from growing.emergence.verdict import Case, Verdict, verdicts

if TYPE_CHECKING:
    from aestiva.course.state import Item, SeasonState


class Outlook(NamedTuple):
    """One batch: the warmth it had, what is known and said of it, and the counts, rising."""

    item: Item
    had: Had
    case: Case
    verdict: Verdict
    counts: tuple[tuple[date, int], ...]


def look_over(now: SeasonState) -> dict[int, Outlook]:
    """All of them by batch, found once; each item is told its verdict."""
    if now.outlooks is not None:
        return now.outlooks
    items = [i for i in now.items if i.batch is not None and i.batch.pk in now.warm and under_the_mix(i.raised)]
    lifts = _lifted(now, (i.batch.pk for i in items if i.batch is not None))
    seen = [_seen(now, item, lifts) for item in items]
    cases = [case_of(item.raised, now.today, one) for item, one in zip(items, seen, strict=True)]
    cases = beside(cases, [item.crop.key for item in items])
    now.outlooks = {}
    for item, one, case, verdict in zip(items, seen, cases, verdicts(cases), strict=True):
        assert item.batch is not None
        item.raised.verdict = verdict
        now.outlooks[item.batch.pk] = Outlook(item, now.warm[item.batch.pk], case, verdict, one.counts)
    return now.outlooks


def _seen(now: SeasonState, item: Item, lifts: dict[int, tuple[date, Lifted]]) -> Seen:
    """What was counted, each day's last, never falling; what was found on lifting; how old its packet is."""
    assert item.batch is not None
    counts: dict[date, int] = {}
    for kind, on, count, *_ in now.rows.events.get(item.batch.pk, ()):
        if kind == "up" and count is not None:
            counts[on] = count
    most, rising = 0, []
    for day, count in sorted(counts.items()):
        most = max(most, count)
        rising.append((day, most))
    lot = None if item.batch.lot_id is None else now.lots.get(item.batch.lot_id)
    years = None if lot is None or lot.packed_year is None else max(0, now.garden.year - lot.packed_year)
    looked = lifts.get(item.batch.pk)
    return Seen(tuple(rising), Lifted() if looked is None else looked[1], None if looked is None else looked[0], years)


def _lifted(now: SeasonState, batches: Iterable[int]) -> dict[int, tuple[date, Lifted]]:
    """What was found on lifting some, all together, and the last day of it."""
    looked = [pk for pk in batches if any(event[0] == "lifted" for event in now.rows.events.get(pk, ()))]
    found: dict[int, tuple[date, Lifted]] = {}
    if not looked:
        return found
    rows = BatchEvent.objects.filter(batch__in=looked, kind="lifted").order_by("on", "pk")
    for pk, on, data in rows.values_list("batch_id", "on", "data"):
        before = found.get(pk, (on, Lifted()))[1]
        found[pk] = on, Lifted(*(b + int((data or {}).get(k, 0)) for k, b in zip(Lifted._fields, before, strict=True)))
    return found
