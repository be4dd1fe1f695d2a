"""What to see to on the bench today, the worst first: no room, leaves at the lamp, bad company, uneven and half-empty trays."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from typing import NamedTuple

from django.urls import reverse

from aestiva.bench.company import clashes
from aestiva.bench.front_things import SOON
from aestiva.bench.things import Bench, PlaceStanding, Thing, with_room
from aestiva.course.state import SeasonState
from aestiva.frame import say, wording
from aestiva.frame.say import Reader
from aestiva.gardens.providers import link
from aestiva.season.models import Spot
from growing.bench.cells import SPENT, CellShift, together, uneven
from growing.working import Working

MOST = 8


@dataclass
class Concern:
    """One of them: what is so, why, and what would mend it: a place to put it, or a page."""

    kind: str
    words: str
    more: str = ""
    working: Working | None = None
    put: Thing | None = None
    room: Spot | None = None
    href: str = ""
    act: str = ""
    shifts: list[CellShift] = field(default_factory=list)


def _page(garden: int, thing: Thing) -> str:
    if thing.tray is not None:
        return reverse("tray", args=[garden, thing.tray.pk])
    return reverse("batch", args=[garden, thing.parts[0].batch]) if thing.parts else ""


def _without_room(now: SeasonState, bench: Bench) -> list[Concern]:
    found = []
    for pk in bench.order:
        for thing in bench.places[pk].over:
            room = with_room(bench, thing)
            code = bench.places[pk].spot.code
            words = f"{say.listed(thing.names, 2) or thing.name} ({thing.name}) has no room on {code}"
            more = f"{room.code} has room." if room is not None else "No other place has room for it."
            put = thing if room is not None and thing.tray is not None else None
            found.append(
                Concern(
                    "room",
                    words,
                    more,
                    None,
                    put,
                    room,
                    _page(now.garden.pk, thing),
                    "To the tray" if put is None else "",
                )
            )
    return found


def _touching(now: SeasonState, bench: Bench, reader: Reader) -> list[Concern]:
    found = []
    for thing in bench.things:
        head = thing.headroom
        if head is None or head.days is None or head.days > SOON or thing.spot is None:
            continue
        words = wording.headline(head.working, reader)
        what = {"lid": "Take the lid off", "lamp": "Raise the lamp"}.get(head.under, "Give it a higher place")
        lamp = thing.spot.parent_id if thing.spot.kind == "mat" and thing.spot.parent_id else thing.spot.pk
        href = {"lid": _page(now.garden.pk, thing), "lamp": link("light", now.garden.pk, lamp)}.get(head.under, "")
        href = href or reverse("place_change", args=[now.garden.pk, thing.spot.pk])
        found.append(Concern("touch", f"{words} ({thing.spot.code})", "", head.working, None, None, href, what))
    return sorted(found, key=lambda c: c.words)


def _company(now: SeasonState, bench: Bench, day: date, reader: Reader) -> list[Concern]:
    found = []
    for clash in clashes(bench, day):
        put = clash.thing if clash.elsewhere and clash.thing.tray is not None and clash.shared != "tray" else None
        room = next(
            (bench.places[pk].spot for pk in bench.order if bench.places[pk].spot.code == clash.elsewhere), None
        )
        found.append(
            Concern(
                f"company {clash.shared}", wording.headline(clash.conflict.working, reader),
                wording.reason(clash.conflict.working, reader), clash.conflict.working, put, room if put else None,
                _page(now.garden.pk, clash.thing), "" if put else "To the tray",
            )
        )  # fmt: skip
    return found


def _uneven(now: SeasonState, bench: Bench) -> list[Concern]:
    found = []
    for thing in bench.things:
        split = None if thing.tray is None else uneven(thing.contents)
        if split is not None:
            words = f"{thing.name} is uneven: {len(split.tall)} tall, {len(split.short)} short"
            more = "The tall shade the short: regroup them, and each has its own distance to the lamp."
            found.append(Concern("uneven", words, more, None, None, None, _page(now.garden.pk, thing), "Regroup"))
    return found


class HalfEmpty(NamedTuple):
    """Trays of one kind and crop on a place that would do with fewer: how many there are, and which cells move."""

    name: str
    trays: int
    moves: list[CellShift]

    @property
    def freed(self) -> set[int]:
        return {m.tray for m in self.moves}


def half_empty(one: PlaceStanding) -> list[HalfEmpty]:
    """What could be set together on a place."""
    kinds: dict[tuple[int, str], dict[int, tuple[int, dict[int, tuple[int, str]]]]] = {}
    for thing in one.things:
        alive = any(mark not in SPENT for _, mark in thing.contents.values())
        if thing.tray is not None and thing.tray.container_id is not None and alive and len(thing.names) == 1:
            own = kinds.setdefault((thing.tray.container_id, thing.names[0]), {})
            own[thing.tray.pk] = (thing.tray.cells, dict(thing.contents))
    found = [HalfEmpty(name, len(trays), together(trays)) for (_, name), trays in kinds.items() if len(trays) > 1]
    return [half for half in found if half.moves]


def _half_empty(bench: Bench) -> list[Concern]:
    """Trays of one kind on one place that would do with fewer."""
    found = []
    for pk in bench.order:
        for half in half_empty(bench.places[pk]):
            gone = len(half.freed)
            words = f"{half.trays} half-empty trays on {bench.places[pk].spot.code} would do with {half.trays - gone}"
            more = f"{say.plural(len(half.moves), 'plant')} moved, {say.plural(gone, 'place')} free."
            found.append(Concern("together", words, more, shifts=half.moves, act="Set together"))
    return found


def _spent(now: SeasonState, bench: Bench) -> list[Concern]:
    """Trays in which nothing lives any more, and which still stand there."""
    found = []
    for thing in bench.things:
        if thing.tray is not None and thing.contents and all(mark in SPENT for _, mark in thing.contents.values()):
            at = f" on {thing.spot.code}" if thing.spot is not None else ""
            words = f"{thing.name}{at} holds nothing that lives"
            more = f"{say.listed(thing.names, 2)}: empty it and put it away, or sow its cells again."
            found.append(Concern("spent", words, more, None, None, None, _page(now.garden.pk, thing), "To the tray"))
    return found


def concerns(now: SeasonState, bench: Bench, reader: Reader) -> list[Concern]:
    """The worst first; what only shares a lamp is the least."""
    company = _company(now, bench, now.today, reader)
    return [
        *_without_room(now, bench),
        *_touching(now, bench, reader),
        *(c for c in company if "lamp" not in c.kind),
        *_uneven(now, bench),
        *_half_empty(bench),
        *_spent(now, bench),
        *(c for c in company if "lamp" in c.kind),
    ]
