"""What shares a tray, a mat, a lid or a lamp today, and which of them harm each other."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date
from typing import NamedTuple

from aestiva.bench.things import Bench, PartOf, PlaceStanding, Thing, with_room
from aestiva.course.state import Item
from aestiva.frame import wording
from aestiva.frame.say import Reader
from growing.place.kinds import LEAVES_FOR
from growing.shelves.company import Companion, Conflict, conflicts

MOST_TOGETHER = 30  # kinds of plants on one place that are compared with each other


class CompanyClash(NamedTuple):
    """Two that share something and should not: what, where, and the thing that the proposal is about."""

    shared: str
    spot: PlaceStanding | None
    thing: Thing
    conflict: Conflict
    elsewhere: str


def companion(part: PartOf, thing: Thing, today: date) -> Companion | None:
    """A batch with what it wants; None where the rules know nothing of it."""
    item = part.item
    if item is None:
        return None
    up = item.raised.course.steps.get("up")
    facts = item.raised.facts
    if facts.half_up is not None or (facts.sown_on is None and facts.first("received") is not None) or up is None:
        ahead = 0.0
    else:
        ahead = float(max((up.day - today).days, 0 if facts.first_up is not None else 1))
    return Companion(str(part.batch), item.full_name, item.crop, ahead, thing.depth_cm + part.growth.height_cm)


def _companions(things: Iterable[Thing], today: date) -> dict[str, tuple[Companion, Thing]]:
    """One of each kind and height that stands there."""
    found: dict[tuple[str, bool, int], tuple[Companion, Thing]] = {}
    for thing in things:
        for part in thing.parts:
            one = companion(part, thing, today)
            if one is not None:
                found.setdefault((one.name, one.up, round(one.height_cm / 4)), (one, thing))
    return {one.ref: (one, thing) for one, thing in list(found.values())[:MOST_TOGETHER]}


def clashes_in(thing: Thing, bench: Bench, today: date) -> list[CompanyClash]:
    """Of what shares one tray, or its lid."""
    if len(thing.parts) < 2:
        return []
    here = _companions([thing], today)
    room = with_room(bench, thing, LEAVES_FOR["tray"])
    elsewhere = "" if room is None else room.code
    company = [one for one, _ in here.values()]
    found = conflicts("tray", company, None, elsewhere)
    if thing.lidded:
        kinds = {c.kind for c in found}
        found += [c for c in conflicts("lid", company, None, elsewhere) if c.kind not in kinds]
    return [
        CompanyClash("tray", bench.places.get(thing.spot.pk) if thing.spot else None, thing, c, elsewhere)
        for c in found
    ]


def clashes_on(one: PlaceStanding, bench: Bench, today: date) -> list[CompanyClash]:
    """Of what shares a mat or a lamp."""
    found: list[CompanyClash] = []
    shares = ["mat"] if one.spot.kind == "mat" or one.spot.heated in ("mat", "thermostat") else []
    if one.spot.lit == "lamp":
        shares.append("lamp")
    for shared in shares:
        here = _companions(one.here if shared == "lamp" else one.things, today)
        rooms: dict[int, str] = {}
        for clash in conflicts(shared, [c for c, _ in here.values()], one.spot.set_c if shared == "mat" else None, ""):
            thing = here[clash.one.ref][1]
            if id(thing) not in rooms:
                room = with_room(bench, thing, LEAVES_FOR[shared])
                rooms[id(thing)] = "" if room is None else room.code
            elsewhere = rooms[id(thing)]
            pair = [clash.one] if clash.one.ref == clash.other.ref else [clash.one, clash.other]
            again = conflicts(shared, pair, one.spot.set_c if shared == "mat" else None, elsewhere) if elsewhere else []
            said = next((c for c in again if c.kind == clash.kind), clash)
            found.append(CompanyClash(shared, one, thing, said, elsewhere))
    return _worst(found)


def before_sharing(
    moving: Sequence[Companion],
    there: Iterable[Thing],
    shared: str,
    today: date,
    set_c: float | None = None,
    elsewhere: str = "",
) -> list[Conflict]:
    """What speaks against standing with those that are there already, before anything is moved."""
    here = [one for one, _ in _companions(there, today).values() if one.ref not in {m.ref for m in moving}]
    mine = {one.ref for one in moving}
    found = conflicts(shared, [*moving, *here], set_c, elsewhere)
    return [c for c in found if (c.one.ref in mine) != (c.other.ref in mine) or (c.kind == "set" and c.one.ref in mine)]


def against_place(thing: Thing, one: PlaceStanding, bench: Bench, today: date) -> list[Conflict]:
    """What speaks against a tray on a mat or under a lamp with those that stand there: before it is put down."""
    moving = [c for p in thing.parts if (c := companion(p, thing, today)) is not None]
    room = with_room(bench, thing, LEAVES_FOR["lid"])
    elsewhere = "" if room is None or room.pk == one.spot.pk else room.code
    found: list[Conflict] = []
    if one.spot.kind == "mat" or one.spot.heated in ("mat", "thermostat"):
        others = [t for t in one.things if t is not thing]
        found += before_sharing(moving, others, "mat", today, one.spot.set_c, elsewhere)
    lit = one if one.spot.lit == "lamp" else bench.places.get(one.spot.parent_id or 0)
    if lit is not None and lit.spot.lit == "lamp":
        lamp = before_sharing(moving, [t for t in lit.here if t is not thing], "lamp", today, None, elsewhere)
        found += list(
            {c.kind: c for c in sorted(lamp, key=lambda c: abs(c.one.height_cm - c.other.height_cm))}.values()
        )
    return found


def said(found: Iterable[Conflict], reader: Reader) -> list[str]:
    """Each in words, with what would mend it."""
    return [f"{wording.headline(c.working, reader)}. {wording.reason(c.working, reader)}" for c in found]


def sowing_companion(item: Item) -> Companion:
    """A sowing that is still to be, with what it will want."""
    name = item.full_name
    return Companion(item.raised.ref, name, item.crop, item.raised.course.emergence_days)


def _worst(found: list[CompanyClash]) -> list[CompanyClash]:
    """Of a place one of each kind that is about the same plants: of heights the greatest difference."""
    kept: dict[tuple[str, str], CompanyClash] = {}
    for clash in found:
        key = (clash.conflict.kind, "" if clash.conflict.kind in ("height", "hours") else clash.conflict.one.name)
        if key not in kept or _apart(clash) > _apart(kept[key]):
            kept[key] = clash
    return list(kept.values())


def _apart(clash: CompanyClash) -> float:
    return abs(clash.conflict.one.height_cm - clash.conflict.other.height_cm)


def clashes(bench: Bench, today: date) -> list[CompanyClash]:
    """All of them, trays first."""
    found = [c for thing in bench.things for c in clashes_in(thing, bench, today)]
    return found + [c for pk in bench.order for c in clashes_on(bench.places[pk], bench, today)]
