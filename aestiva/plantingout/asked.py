"""Who stands at the gates, and what the season knows of each: hardening, leaves, soil, frost, the day, the bed."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, timedelta
from typing import NamedTuple, cast

from aestiva.course.item import Lit
from aestiva.course.known import known
from aestiva.course.light import growth_of, lights, up_since
from aestiva.course.state import Item, SeasonState
from aestiva.place.models import SoilReading
from aestiva.plantingout.models import BedState, CoverAtHand
from growing.batch.climb import case_of
from growing.chain.choice import Held
from growing.chain.leaves import leaf_days
from growing.chain.windows import needs_of, spring_out
from growing.ladders.ahead import ahead_of
from growing.place.kinds import GLAZED
from growing.place.soil import MORNING_HOUR
from growing.place.year import Gate as PlaceGate
from growing.place.year import PlaceYear
from growing.plantingout.asking import age_limit, sort_of
from growing.plantingout.gates import MORNINGS, Asked, Bed, GateTest, Kept, gates, held
from growing.plantingout.springs import SpringsAhead, springs
from growing.plantingout.verdict import GoVerdict, judged
from growing.plantingout.worth import Sort

READY = "ready"  # the day, among what was found out of a batch
AHEAD_DAYS = 28  # before its day, from which a batch stands at the gates
MORNING_SPAN_H = 3.0  # around the hour at which soil is read
STATE_DAYS = 14  # for which what was seen of a bed holds


class GateRow(NamedTuple):
    """One batch at the gates with its verdict, and the day to which its container carries it."""

    item: Item
    asked: Asked
    gates: tuple[GateTest, ...]
    verdict: GoVerdict
    limit: date
    sort: Sort | None

    @property
    def batch(self) -> int:
        return self.item.batch_pk

    @property
    def out_on(self) -> date:
        """The day on which it is to be planted out, as it stands today: the same on every page."""
        return self.item.raised.dates.out_on

    @property
    def may_go(self) -> bool:
        """Does nothing hold it back that a cover, or the evening, would not help?"""
        return self.verdict.kind != "wait"

    @property
    def plants(self) -> int:
        """Plants that would go."""
        return to_go(self.item)


class AtTheGates(NamedTuple):
    """All rows, those that may go first; the springs they were judged by (of the open garden)."""

    rows: tuple[GateRow, ...]
    springs: SpringsAhead | None


def to_go(item: Item) -> int:
    """Plants that would go: those there are, of those still wanted."""
    one = item.raised
    there = one.plants if one.plants is not None else one.wanted
    planted = one.accounts.planted if one.accounts is not None else 0
    return max(0, min(there, one.wanted - planted))


def at_gate(item: Item, today: date) -> bool:
    """Is it growing, and within four weeks of its day, or on the ladder?"""
    one = item.raised
    if item.batch is None or not one.growing or one.dates.method == "direct":
        return False
    up = one.facts.half_up is not None or one.facts.first_up is not None or one.facts.first("received") is not None
    near = one.dates.out_on <= today + timedelta(days=AHEAD_DAYS)
    return up and (near or bool(one.facts.outings)) and to_go(item) > 0


def holds(now: SeasonState, items: list[Item]) -> dict[int, Held]:
    """What holds back today each of these that stands at the gates, by batch; leaves that nobody saw hold nothing back."""
    chosen = [i for i in items if at_gate(i, now.today)]
    if not chosen:
        return {}
    garden, found = _garden(now), {}
    ready = _ready(now, [i for i in chosen if not i.raised.facts.outings])  # those begun have their day already
    for place, here in _by_place(now, chosen):
        years = springs_at(now, place)
        shared: Kept = {}
        for item in here:
            one = _asked(now, item, garden, ready.get(item.batch_pk))
            found[item.batch_pk] = _held(now, place, one, years, shared)
    return found


def _held(now: SeasonState, place: PlaceYear, one: Asked, years: SpringsAhead | None, shared: Kept) -> Held:
    """What holds it, as its gates stand today; years, shared: of the place."""
    assert now.shared is not None
    key = "held", now.shared.follows_from, place.cover, one
    return known(key, lambda: held(gates(one, years, shared), one.ready))


def springs_at(now: SeasonState, place: PlaceYear) -> SpringsAhead | None:
    """The years of a place from today on; found once a day."""
    key = ("springs", now.today, now.nights, now.shift_c)
    return place.memo(key, lambda: springs(place, now.today, now.nights, now.shift_c))


def _by_place(now: SeasonState, items: list[Item]) -> list[tuple[PlaceYear, list[Item]]]:
    """Items by the place where they will grow: the open garden, and each cover."""
    assert now.shared is not None
    found: dict[str, tuple[PlaceYear, list[Item]]] = {}
    for item in items:
        place = now.shared.dating.place_of(item.planting)
        found.setdefault(place.cover, (place, []))[1].append(item)
    return list(found.values())


def at_the_gates(now: SeasonState, items: list[Item] | None = None) -> AtTheGates:
    """Everyone at the gates, judged together; items: only these."""
    chosen = [i for i in (now.items if items is None else items) if i.batch is not None and i.batch.pk in now.held]
    garden, lit, ready = _garden(now), lights(now) if chosen else {}, _ready(now, chosen)
    rows: list[GateRow] = []
    for place, there in _by_place(now, chosen):
        here = springs_at(now, place)
        shared: Kept = {}
        asked = [_asked(now, i, garden, ready.get(i.batch_pk), lit) for i in there]
        found = [gates(one, here, shared) for one in asked]
        sorts = [None if here is None else sort_of(i.raised, place, here, now.today, now.garden.sells) for i in there]
        verdicts = judged(found, sorts, here, now.today, [one.covers for one in asked])
        rows += [
            GateRow(i, one, g, v, age_limit(i.raised), s)
            for i, one, g, v, s in zip(there, asked, found, verdicts, sorts, strict=True)
        ]
    order = {"go": 0, "evening": 1, "cover": 2, "wait": 3}
    rows.sort(key=lambda r: (r.may_go and r.out_on > now.today, order[r.verdict.kind], r.out_on, r.item.full_name))
    return AtTheGates(tuple(rows), springs_at(now, now.place))


class GardenSeen(NamedTuple):
    """What was read and seen in the garden: soil of the last mornings, the state of beds, covers at hand."""

    mornings: tuple[float, ...]
    states: Mapping[int, str]
    hand: tuple[str, ...]


def _garden(now: SeasonState) -> GardenSeen:
    return GardenSeen(soil_mornings(now), bed_states(now), covers_at_hand(now))


def _ready(now: SeasonState, items: list[Item]) -> dict[int, date | None]:
    """The day on which each of these that climbs a ladder is ready; None where that is beyond what was looked at."""
    new = [i.raised for i in items if READY not in i.raised.memo]
    cases = [(one, case) for one in new if (case := case_of(one, now.today)) is not None]
    for (one, _), found in zip(cases, ahead_of([case for _, case in cases]), strict=True):
        one.memo[READY] = found.ready
    for one in new:
        one.memo.setdefault(READY, None)
    return {i.batch_pk: cast("date | None", i.raised.memo[READY]) for i in items}


def _asked(
    now: SeasonState, item: Item, seen: GardenSeen, ready: date | None, lit: Mapping[int, Lit] | None = None
) -> Asked:
    """One batch as its gates see it.  ready: the day on which its ladder is climbed.  lit: the light it had; None: not asked, and
    leaves that nobody saw are not known."""
    assert now.shared is not None
    one, dating = item.raised, now.shared.dating
    place = dating.place_of(item.planting)
    free = dating.on_ground(item.planting)
    after = None if free is None else next((p for p in now.rows.plantings if p.pk == free.after), None)
    still = free is not None and free.day > now.today and (after is None or now.set_out().get(after.pk) is not None)
    spot = item.planting.spot_id
    bed = Bed(
        now.rows.code(spot),
        free.day if free is not None and still else None,
        "" if after is None or not still else f"{now.name_of(after)} {after.variety}".strip(),
        seen.states.get(spot, "") if spot is not None else "",
    )
    opens = {g.kind: g for g in _gates_of(item, place)}
    leaves = None
    if one.stage is not None:
        leaves = one.stage.leaves
    elif lit is not None and one.facts.sown_on is not None and up_since(item) is not None:
        leaves = growth_of(item, now.today, lit).leaves
    place_soil = seen.mornings if not place.cover else ()  # the probe lies in the garden's usual bed
    return Asked(
        crop=item.crop,
        today=now.today,
        climbed=0 if one.hardened is None else one.hardened.climbed,
        rungs=0 if one.hardened is None else one.hardened.rungs,
        ready=ready,
        leaves=leaves,
        seen=one.stage is not None,
        mornings=place_soil,
        night=now.night,
        bed=bed,
        risk=one.accepted_risk,
        frost_opens=_day(opens, "frost"),
        soil_opens=_day(opens, "soil"),
        nights_opens=_day(opens, "nights"),
        leaf_days=leaf_days(item.crop, None) if one.stage is None else 1 / max(1e-3, one.stage.a_day),
        covers=seen.hand,
        sheltered=place.cover in GLAZED,
        by_cover=item.crop.word("out_way") == "cover",
    )


def _gates_of(item: Item, place: PlaceYear) -> tuple[PlaceGate, ...]:
    if item.raised.dates.term != "spring":
        needs = needs_of(item.crop, item.raised.dates.method)
        return place.memo(("gates", needs), lambda: place.gates(needs))
    return spring_out(item.crop, place, item.raised.dates.method)[1]


def _day(opens: Mapping[str, PlaceGate], kind: str) -> date | None:
    return opens[kind].day if kind in opens else None


def soil_mornings(now: SeasonState) -> tuple[float, ...]:
    """What the garden's own probe said on the last three mornings."""
    since = now.today - timedelta(days=MORNINGS - 1)
    rows = SoilReading.objects.filter(
        garden=now.garden,
        day__range=(since, now.today),
        hour__range=(MORNING_HOUR - MORNING_SPAN_H, MORNING_HOUR + MORNING_SPAN_H),
    )
    return tuple(rows.order_by("day", "hour").values_list("celsius", flat=True))


def bed_states(now: SeasonState) -> dict[int, str]:
    """What was last seen of each bed, while it holds."""
    rows = BedState.objects.filter(
        spot__garden=now.garden, day__range=(now.today - timedelta(days=STATE_DAYS), now.today)
    )
    return dict(rows.order_by("day").values_list("spot_id", "state"))


def covers_at_hand(now: SeasonState) -> tuple[str, ...]:
    """The kinds of cover that the garden has."""
    return tuple(dict.fromkeys(CoverAtHand.objects.filter(garden=now.garden).values_list("kind", flat=True)))
