"""Is it coming?  The verdict on every batch under the mix, all at once, by its counts and those of its neighbours."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from datetime import date
from typing import cast

from aestiva.course.facts import SeasonFacts
from aestiva.course.item import Item, Outlook
from aestiva.season.models import BatchEvent
from growing.batch.outlook import SowingSeen, beside, case_of, first_of, pace_of, under_the_mix
from growing.batch.posterior import Lifted
from growing.batch.verdict import EmergenceCase, EmergenceVerdict, verdicts


def look_over(now: SeasonFacts) -> dict[int, Outlook]:
    """All of them by batch, found once; each item is told its verdict."""
    if now.outlooks is not None:
        return now.outlooks
    items = [i for i in now.items if i.batch is not None and i.batch.pk in now.warm and under_the_mix(i.raised)]
    lifts = _lifted(now, (i.batch.pk for i in items if i.batch is not None))
    if now.paces is None:
        now.paces = _paces(now, {item.crop.key for item in items})
    again = _again(now)
    firsts = [item for item in items if item.batch is not None and item.batch.pk not in again]
    now.outlooks = {}
    _judge(now, firsts, [_seen(now, item, lifts) for item in firsts])
    others = [item for item in items if item.batch is not None and item.batch.pk in again]
    if others:
        _judge(now, others, [_over(now, item, again, _seen(now, item, lifts)) for item in others])
    return now.outlooks


def _judge(now: SeasonFacts, items: list[Item], seen: list[SowingSeen]) -> None:
    """The verdict on each, told to its item."""
    assert now.outlooks is not None
    cases = [case_of(item.raised, now.today, one) for item, one in zip(items, seen, strict=True)]
    cases = beside(cases, [item.crop.key for item in items])
    asked = [
        ("verdict", one, None if case.sister is None else (cases[case.sister].batch, case.sister_up))
        for one, case in zip(seen, cases, strict=True)
    ]
    new = [n for n, item in enumerate(items) if asked[n] not in item.raised.memo]
    for n, verdict in zip(new, verdicts(_among(cases, new)), strict=False):
        items[n].raised.memo[asked[n]] = verdict
    for item, one, case, key in zip(items, seen, cases, asked, strict=True):
        assert item.batch is not None
        verdict = cast(EmergenceVerdict, item.raised.memo[key])
        item.raised.verdict = verdict
        now.outlooks[item.batch.pk] = Outlook(item, now.warm[item.batch.pk], case, verdict, one.counts)


def _among(cases: Sequence[EmergenceCase], some: Sequence[int]) -> list[EmergenceCase]:
    """Some of them, and after them the neighbours whose counts speak of theirs."""
    beside = [cases[n].sister for n in some]
    there = list(dict.fromkeys((*some, *(n for n in beside if n is not None))))
    at: dict[int | None, int] = {n: k for k, n in enumerate(there)}
    return [cases[n]._replace(sister=at.get(cases[n].sister)) for n in there]


def _again(now: SeasonFacts) -> dict[int, tuple[int, date]]:
    """Batches sown in the empty cells of another: that one, and the day."""
    return {link.child: (link.parent, link.on) for link in now.rows.links if link.count == 0}


def _over(now: SeasonFacts, item: Item, again: dict[int, tuple[int, date]], seen: SowingSeen) -> SowingSeen:
    """What comes up in its cells may be the seed that was there before."""
    assert item.batch is not None and now.outlooks is not None
    parent, on = again[item.batch.pk]
    before = now.outlooks.get(parent)
    if before is None:
        return seen
    days = [day for day, _ in seen.counts]
    return seen._replace(first=first_of(before.case, before.verdict, before.had.of, before.had.start, on, days))


def _seen(now: SeasonFacts, item: Item, lifts: dict[int, tuple[date, Lifted]]) -> SowingSeen:
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
    pace = (now.paces or {}).get((item.crop.key, now.warm[item.batch.pk].of.measured), 0.0)
    return SowingSeen(
        tuple(rising), Lifted() if looked is None else looked[1], None if looked is None else looked[0], years, pace
    )


def _paces(now: SeasonFacts, crops: set[str]) -> dict[tuple[str, bool], float]:
    """How much faster or slower than the table seed of a crop was here this season: where the clock stood when half were up, in
    measured warmth and in assumed."""
    at: dict[tuple[str, bool], list[float]] = defaultdict(list)
    assert now.shared is not None
    for item in now.items:
        facts = item.raised.facts
        if item.batch is None or item.crop.key not in crops or facts.half_up is None or facts.split_on is not None:
            continue
        if under_the_mix(item.raised):
            continue  # its own counts speak for it
        had = now.shared.warmth.until(item.planting, item.batch, item.crop, facts.half_up)
        if had is not None and had.of.by_day[-1] > 0:
            at[item.crop.key, had.of.measured].append(had.of.by_day[-1])
    return {key: pace_of(clocks) for key, clocks in at.items()}


def _lifted(now: SeasonFacts, batches: Iterable[int]) -> dict[int, tuple[date, Lifted]]:
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
