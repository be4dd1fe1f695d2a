"""What would mend a lack of room: every repair that there is for it, with its price and what it would change; nothing is written."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from copy import copy
from dataclasses import dataclass, field
from datetime import date, timedelta
from functools import cached_property
from typing import Any

import numpy as np

from aestiva.bench.ahead import BenchAhead
from aestiva.bench.elsewhere import WHY, days_slower, kind_of, places_for
from aestiva.bench.path_views import offers, path_now
from aestiva.bench.seeing import half_empty
from aestiva.bench.stays import flats_of, ref_of, stays_of, zone_of
from aestiva.course.state import Item, moved
from aestiva.frame import say
from aestiva.frame.say import METRIC, Reader
from growing.batch.facts import GoesTo
from growing.bench.ahead import SLACK, Overflow, Stay
from growing.bench.day import PER_CELL, PER_TRAY
from growing.bench.mending import Mended, Repair, cheapest, relief
from growing.chain.path import age_limit_days
from growing.waiting import harvest_day

MOST_OFFERED, MOST_SEARCHED, MOST_BATCHES, MOST_OF_A_KIND = 6, 18, 24, 2
LATER_DAYS = (4, 7, 14, 21)
POT_LATER = 0.5  # a day longer in a full container costs so much of a day: estimate
MOVE_MINUTES = PER_CELL["lift"] + PER_CELL["fill"]
VENT_MINUTES = 2.0  # a frame or porch opened, looked at and shut, a day: estimate


@dataclass(frozen=True)
class RepairOffer:
    """A repair with what it says, and all that is needed to do it."""

    repair: Repair
    act: str
    words: str
    why: str
    frees: float
    detail: Mapping[str, Any] = field(default_factory=dict)

    @property
    def key(self) -> str:
        return self.repair.key

    @property
    def trays(self) -> str:
        """“1½”, as trays are counted by hand."""
        return say.number(self.frees)


class Mending:
    """The repairs of the first lack of room there is, or of one that is named."""

    def __init__(self, ahead: BenchAhead, over: Overflow, reader: Reader = METRIC) -> None:
        self.ahead, self.over, self.reader = ahead, over, reader
        self.now = ahead.now
        self.ground = ahead.ground

    @cached_property
    def aim(self) -> Any:
        """The days to be mended."""
        aim = np.zeros_like(self.ahead.room.used, dtype=bool)
        k = self.ahead.room.row(self.over.zone.key)
        first, last = ((d - self.now.today).days for d in (self.over.since, self.over.until))
        first = max(first, min(1, last))  # what stands there today stands there today
        aim[k, first : last + 1] = True
        return aim

    @cached_property
    def offers(self) -> list[RepairOffer]:
        """All of them that free something, the cheapest for what it frees first; those that cost plants that are wanted last."""
        found: dict[str, RepairOffer] = {}
        for one in self._all():
            if one.frees > SLACK and one.key not in found:
                found[one.key] = one
        return sorted(
            found.values(), key=lambda o: (o.repair.plants > 0, o.repair.cost / o.frees, -o.frees, o.key)
        )  # plants that are wanted go last

    @property
    def shown(self) -> list[RepairOffer]:
        """The first of them, of each kind two at most and of each planting one."""
        kinds: dict[str, int] = defaultdict(int)
        found: list[RepairOffer] = []
        had: set[tuple[str, int]] = set()
        for one in self.offers:
            kind = one.repair.kind
            if kinds[kind] < MOST_OF_A_KIND and (kind, one.repair.batch) not in had:
                kinds[kind] += 1
                had.add((kind, one.repair.batch))
                found.append(one)
        return found[:MOST_OFFERED]

    @property
    def searched(self) -> list[RepairOffer]:
        """Those among which the cheapest set is looked for: what is shown, then the others as they come."""
        first = self.shown
        return [*first, *(o for o in self.offers if o not in first)][:MOST_SEARCHED]

    @cached_property
    def best(self) -> tuple[Mended, list[RepairOffer]]:
        """The cheapest set of them, and how much even that leaves."""
        some, room = self.searched, self.ahead.room
        spares = [o.repair for o in some if not o.repair.plants]
        found = cheapest(room.used, room.holds, self.aim, spares)
        if found.left > SLACK:  # without giving up plants that are wanted it cannot be mended
            found = cheapest(room.used, room.holds, self.aim, [o.repair for o in some])
        by_key = {o.key: o for o in some}
        return found, [by_key[r.key] for r in found.repairs]

    def find(self, keys: Sequence[str]) -> list[RepairOffer]:
        by_key = {o.key: o for o in self.offers}
        return [by_key[k] for k in keys if k in by_key]

    # ---- each kind

    def _all(self) -> Iterator[RepairOffer]:
        yield from self._put_away()
        yield from self._together()
        there = self._there()
        yield from self._later([i for i in there if i.batch is None])
        for item in there:
            yield from self._elsewhere(item)
            if item.batch is None:
                yield from self._smaller(item)
                yield from self._fewer(item)
            else:
                yield from self._pot_later(item)
                yield from self._give(item)

    def _there(self) -> list[Item]:
        """Whoever takes room there on those days, the most first."""
        first, last = self.over.since.toordinal(), self.over.until.toordinal()
        zones = {self.over.zone.key, *(z for z, within in self.ahead.within.items() if within == self.over.zone.key)}
        flats: dict[int, float] = defaultdict(float)
        for s in self.ahead.stays:
            if s.zone in zones and s.since <= last and s.until > first and s.batch in self.ahead.items:
                flats[s.batch] += s.flats
        most = sorted(flats, key=lambda b: -flats[b])[:MOST_BATCHES]
        return [self.ahead.items[b] for b in most]

    def _offer(
        self, kind: str, item: Item | None, ref: int, key: str, stays: Sequence[Stay], act: str, words: str, why: str,
        days: float = 0.0, minutes: float = 0.0, plants: float = 0.0, **detail: Any,
    ) -> RepairOffer:  # fmt: skip
        room = self.ahead.room
        change = self.ahead.with_stays(ref, stays).used - room.used
        lost = 0.0 if item is None or days <= 0 else harvest_day(item.raised)[0] * days
        repair = Repair(f"{kind}-{key}", kind, ref, change, max(0.0, days), lost, minutes, plants)
        frees = relief(room.used, room.holds, self.aim, change)
        if frees <= SLACK:  # it takes something off some of the days: worth a place in a set
            off = -change[self.aim]
            frees = float(off[off > 0].mean()) * 0.5 if np.any(off > SLACK) else 0.0
        return RepairOffer(repair, act, words, why, frees, detail)

    def _put_away(self) -> Iterator[RepairOffer]:
        for key, thing in self.ahead.idle.items():
            if thing.tray is None or thing.spot is None or zone_of(thing.spot) != self.over.zone.key:
                continue
            empty = "holds nothing" if not thing.contents else "holds nothing that lives"
            yield self._offer(
                "put_away", None, key, str(thing.tray.pk), [], "Put away", f"Put {thing.name} away",
                f"It stands on {thing.spot.code} and {empty}.", minutes=3, tray=thing.tray.pk,
            )  # fmt: skip

    def _together(self) -> Iterator[RepairOffer]:
        for pk in self.ahead.bench.order:
            one = self.ahead.bench.places[pk]
            if zone_of(one.spot) != self.over.zone.key:
                continue
            for half in half_empty(one):
                moves, gone = half.moves, half.freed
                things = {t.tray.pk: t for t in one.things if t.tray is not None}
                batch = things[next(iter(gone))].parts[0].batch
                freed = sum(flats_of(things[t]) for t in gone)
                own = [s for s in self.ahead.stays if s.batch == batch]
                whole = sum(s.flats for s in own if s.since <= self.now.today.toordinal() < s.until) or 1.0
                share = max(0.0, 1 - freed / whole)
                less = [s._replace(flats=s.flats * share) if s.stage != "potted" else s for s in own]
                yield self._offer(
                    "together", self.ahead.items.get(batch), batch, f"{pk}-{min(gone)}", less, "Set together",
                    f"Set half-empty trays of {half.name} together",
                    f"{say.plural(len(moves), 'plant')} to other cells; {say.plural(len(gone), 'tray')} free.",
                    minutes=2 + len(moves) * MOVE_MINUTES, moves=[list(m) for m in moves],
                )  # fmt: skip

    def _later(self, items: Sequence[Item]) -> Iterator[RepairOffer]:
        """Sown later, inside its window."""
        for n in LATER_DAYS:
            wanted = {}
            for item in items:
                dates = item.raised.dates
                day = dates.sow_on + timedelta(days=n)
                if dates.method == "raised" and not item.raised.secured and day <= max(dates.sow.end, dates.sow_closes):
                    wanted[item.planting.pk] = day
            if not wanted:
                continue
            for one in moved(self.now, wanted):
                pk = one.before.planting.pk
                if pk not in wanted:
                    continue
                days = (one.after.raised.dates.first.start - one.before.raised.dates.first.start).days
                stays = stays_of(self.now, one.after, self.ground)
                yield self._offer(
                    "later", one.before, -pk, f"{pk}-{n}", stays, "Sow later", f"Sow {self._name(one.before)} {say.plural(n, 'day')} later",
                    f"On {say.day(wanted[pk])}, still inside its window; out on {say.short_day(one.after.raised.dates.out_on)}, first on"
                    f" {say.short_day(one.after.raised.dates.first.start)}.", days=days, planting=pk, day=wanted[pk],
                )  # fmt: skip

    def _pot_later(self, item: Item) -> Iterator[RepairOffer]:
        """It stays in the smaller container, no longer than that carries it."""
        raised, step = item.raised, item.raised.course.open_pot
        if step is None or item.batch is None or item.crop.maybe("raise_max") is None or raised.facts.sown_on is None:
            return
        due = max(step.due, self.now.today)
        limit = raised.facts.sown_on + timedelta(days=self._carries(item))
        to = min(limit, self.over.until + timedelta(days=1), raised.dates.out_on - timedelta(days=14))
        days = (to - due).days
        if days < 1:
            return
        stays = stays_of(self.now, item, self.ground, put_off=to)
        n = 0 if step.kind == "pot" else 1
        yield self._offer(
            "pot_later", item, ref_of(item), f"{item.batch.pk}", stays, "Pot later", f"Pot {self._name(item)} {say.plural(days, 'day')} later",
            f"On {say.day(to)}: its container carries it until {say.day(limit)}. Growth slows in a full one.",
            days=days * POT_LATER, task=f"b{item.batch.pk}.pot.{n}", day=to,
        )  # fmt: skip

    def _carries(self, item: Item) -> int:
        vessel = self.ground.stands_in.get(item.batch.pk) if item.batch is not None else None
        return int(item.crop.number("raise_max") * 7) if vessel is None else age_limit_days(item.crop, vessel)

    def _smaller(self, item: Item) -> Iterator[RepairOffer]:
        """Sown into smaller cells, and moved once more."""
        if item.raised.dates.method != "raised" or item.crop.maybe("raise_max") is None or item.planting.path:
            return
        has = path_now(self.now, item, self.ground.vessels, self.ground.stands_in)
        if has is None:
            return
        first = has.standings[0].vessel
        for rival in offers(self.now, item, self.ground.vessels, self.ground.stands_in)[1]:
            vessel = rival.standings[0].vessel
            if (
                first is None
                or vessel is None
                or rival.short_days
                or vessel.measures.cell_ml >= first.measures.cell_ml * 0.8
            ):
                continue
            other = copy(item.planting)
            other.path = list(rival.keys)
            stays = stays_of(self.now, item._replace(planting=other), self.ground)
            yield self._offer(
                "smaller", item, ref_of(item), f"{item.planting.pk}-{'.'.join(rival.keys)}", stays, "Smaller cells",
                f"Sow {self._name(item)} into {say.thing(vessel.measures.name, self.reader).lower()}",
                f"{say.thing(rival.name, self.reader)}: {say.plural(rival.moves, 'move')}, holds until {say.day(rival.holds_until)}.",
                minutes=max(0.0, rival.minutes - has.minutes), planting=item.planting.pk, path=list(rival.keys),
            )  # fmt: skip

    def _elsewhere(self, item: Item) -> Iterator[RepairOffer]:
        """Into the frame what is hardy, onto a sill what is sturdy, back under lamps whatever was to go out early."""
        named = [to for to in self.now.rows.goes.get(item.planting.pk, []) if to.since <= self.over.until]
        since = max(self.over.since, self.now.today)
        end = self.over.until + timedelta(days=1)
        ref = ref_of(item)
        going = next((to for to in reversed(named) if self._zone_of(to.spot) == self.over.zone.key), None)
        if going is not None and going.since > self.now.today and end < item.raised.dates.out_on:
            goes = [to if to is not going else to._replace(since=end) for to in self._goes(item)]
            stays = stays_of(self.now, item, self.ground, goes=goes)
            yield self._offer(
                "wait", item, ref, str(item.planting.pk), stays, "Carry later", f"Leave {self._name(item)} where it stands until {say.day(end)}",
                f"It was to go to {going.code} on {say.day(going.since)}.", planting=item.planting.pk,
                day=end, spot=going.spot, instead=going.since,
            )  # fmt: skip
        for spot in places_for(self.ahead, self.over, item, since, going is not None):
            stays = stays_of(
                self.now,
                item,
                self.ground,
                goes=[*self._goes(item, before=since), GoesTo(since, spot.pk, spot.code, spot.kind)],
            )
            kind = kind_of(spot)
            trays = math.ceil(max((s.flats for s in stays), default=1.0))
            there = max(1, (item.raised.dates.out_on - since).days)
            minutes = trays * PER_TRAY["place"] * 2 + (there * VENT_MINUTES / 4 if kind == "frame" else 0.0)
            yield self._offer(
                kind, item, ref, f"{item.planting.pk}-{spot.pk}", stays, "Move out" if kind == "frame" else "Move",
                f"Stand {self._name(item)} {'in' if kind == 'frame' else 'on'} {spot.name or spot.code}",
                f"From {say.day(since)}, {say.plural(trays, 'tray')}: {WHY[kind]}", days=days_slower(self.ahead, item, spot, since),
                minutes=minutes, planting=item.planting.pk, spot=spot.pk, day=since,
            )  # fmt: skip

    def _give(self, item: Item) -> Iterator[RepairOffer]:
        """What is over given away; or so many that a tray is free."""
        plants = item.raised.plants or 0
        if item.batch is None or item.raised.accounts is None or not plants or item.raised.accounts.indoors is None:
            return
        own = [s for s in self.ahead.stays if s.batch == ref_of(item)]
        flats = max((s.flats for s in own if s.zone), default=0.0)
        if flats <= 0:
            return
        surplus = max(0, plants - item.raised.wanted)
        free = min(flats, self.over.most)
        count = max(surplus, math.ceil(plants * free / flats)) if flats > SLACK else 0
        count = min(count, plants - 1)
        if count < 1:
            return
        potted = [s for s in own if s.stage == "potted"]
        whole = flats >= 1.5 or potted
        share = 1 - count / plants
        less = [
            s._replace(
                flats=s.flats * share
                if s.stage == "potted"
                else max(1.0, math.ceil(s.flats * share))
                if whole
                else s.flats
            )
            for s in own
        ]
        yield self._offer(
            "give", item, ref_of(item), f"{item.batch.pk}-{count}", less, "Give away", f"Give away {count} {self._name(item)}",
            f"{plants - count} stay; {item.raised.wanted} are wanted.", minutes=3, plants=max(0, count - surplus), batch=item.batch.pk, count=count,
        )  # fmt: skip

    def _fewer(self, item: Item) -> Iterator[RepairOffer]:
        """Fewer plants of what is still to be sown."""
        own = [s for s in self.ahead.stays if s.batch == ref_of(item)]
        flats = max((s.flats for s in own if s.zone), default=0.0)
        wanted = item.raised.wanted
        if flats <= 0 or wanted < 2 or item.planting.as_fits:
            return
        count = min(wanted - 1, math.ceil(wanted * min(1.0, self.over.most / flats)))
        share = 1 - count / wanted
        less = [s._replace(flats=s.flats * share) for s in own]
        yield self._offer(
            "fewer", item, ref_of(item), f"{item.planting.pk}-{count}", less, "Sow fewer", f"Sow {count} {self._name(item)} fewer",
            f"{wanted - count} instead of {wanted}.", plants=count, planting=item.planting.pk, wanted=wanted - count,
        )  # fmt: skip

    def _name(self, item: Item) -> str:
        """The crop; with its variety where there are several of it."""
        several = sum(i.crop.key == item.crop.key for i in self.ahead.items.values()) > 1
        return item.full_name if several else item.name

    def _goes(self, item: Item, before: date | None = None) -> list[GoesTo]:
        return [to for to in self.now.rows.goes.get(item.planting.pk, []) if before is None or to.since < before]

    def _zone_of(self, spot: int) -> str:
        one = self.ahead.bench.places.get(spot)
        return "" if one is None else zone_of(one.spot)
