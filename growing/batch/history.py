"""What has happened to these batches?  Their events replayed: accounts, what was done, what a split took along, and how
many of the plants wanted each is to give."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from datetime import date
from typing import NamedTuple

from growing.batch.ledger import Accounts, Entry, LedgerError, balance
from growing.batch.links import Link, inward, outward, parents_first, with_links
from growing.batch.sharing import shares
from growing.chain.happened import Facts
from growing.crops import Crop
from growing.ladders.ladder import Outing
from growing.seeds.thermal_time import share_coming

COUNTED = frozenset(
    ("sown", "up", "never_up", "received", "thinned", "died", "given", "moved", "planted", "lost_outside")
)


class Event(NamedTuple):
    """Something that happened to a batch; plain tuples like it will do.

    count: plants or seeds, None where nobody counted.  hours, wanted_hours: of an outing [h].
    """

    kind: str
    on: date
    count: int | None = None  # type: ignore[assignment]
    estimated: bool = False
    hours: float | None = None
    wanted_hours: float | None = None


Events = Sequence[tuple[str, date, int | None, bool, float | None, float | None]]


class Sown(NamedTuple):
    """What a batch is: when it was sown, in what, at which warmth of the mix [°C] (None: the crop's own).

    cells: None where it has none yet.  clump: plants left together.
    """

    sown_on: date | None
    sown_in: str = "cells"
    cells: int | None = None
    temperature_c: float | None = None
    clump: int = 1


class BatchState(NamedTuple):
    """A batch as its events leave it.

    accounts: both ledgers, without an event that they cannot hold; wrong: the first such event (its place among the
    counted ones), None where all is well.  wanted: plants it is to give.  facts: what has happened, its parent's history
    up to the split included.
    """

    accounts: Accounts
    wrong: LedgerError | None
    wanted: int
    facts: Facts


def ledgers(
    events: Events, received: Sequence[Link] = (), moved: Sequence[Link] = ()
) -> tuple[Accounts, LedgerError | None]:
    """Both accounts from events in the order they happened and the links of the batch, and the first that they cannot hold."""
    if not received and not moved:
        return balance((e[0], e[2], e[3]) for e in events if e[0] in COUNTED)
    counted = [(e[1], Entry(e[0], e[2], e[3])) for e in events if e[0] in COUNTED]
    return balance(with_links(counted, received, moved))


def replay(
    sown: Sown,
    crop: Crop,
    events: Events,
    wanted: int,
    inherited: Sequence[tuple[Link, BatchState]] = (),
    balanced: tuple[Accounts, LedgerError | None] | None = None,
) -> BatchState:
    """The state of one batch.

    events: in the order they happened.  wanted: plants it is to give, ≥ 0: once so many are planted out it is done.
    inherited: the states of the batches that its plants came from, with the links.  balanced: its ledgers, where known.
    """
    accounts, wrong = balanced or ledgers(events, [link for link, _ in inherited])
    facts = _facts(sown, crop, events, accounts, wanted)
    for link, parent in inherited:
        facts = facts.split_from(parent.facts, link.on)
    return BatchState(accounts, wrong, wanted, facts)


class PlantingState(NamedTuple):
    """A planting as the events of all its batches leave it: the state of each by its key, parents first; those that live;
    the places already sown for it at first hand."""

    batches: Mapping[int, BatchState]
    living: Sequence[int]
    secured: int


def replay_planting(
    crop: Crop,
    wanted: int,
    batches: Mapping[int, Sown],
    living: Sequence[int],
    events: Mapping[int, Events],
    links: Sequence[Link] = (),
    to_sow: Callable[[int], int] | None = None,
) -> PlantingState:
    """The state of one planting and of every batch of it.

    batches, events: by key.  wanted: plants of the planting, shared among the living batches.  links: what moved between
    them.  to_sow: plants that the places still to be sown for it will give, of the places secured; None: nothing is.
    """
    links = [link for link in links if not _again(link, batches)]
    given, taken = inward(links), outward(links)
    balanced = {key: ledgers(events.get(key, ()), given.get(key, ()), taken.get(key, ())) for key in batches}
    secured = sum(places_sown(batches[key], balanced[key][0].sown) for key in living if key not in given)
    weights = {key: _places(batches[key], balanced[key][0]) for key in living}
    least = [_given(batches[key], balanced[key][0]) for key in living]
    open_ = 0 if to_sow is None else to_sow(secured)
    over = {link.child for link in links if _planted_by(events.get(link.parent, ()), link.on)}
    if over and sum(weight for key, weight in weights.items() if key not in over) + open_ >= wanted:
        weights |= dict.fromkeys(over & weights.keys(), 0.0)  # left over when the rest went out: the others give
    held = [*weights.values()]
    if open_:
        held, least = [*held, float(open_)], [*least, 0]
    part = dict(zip(living, shares(wanted, held, least), strict=False))
    found: dict[int, BatchState] = {}
    for key in parents_first(batches, links) if links else batches:
        above = [(link, found[link.parent]) for link in given.get(key, ()) if link.parent in found]
        found[key] = replay(batches[key], crop, events.get(key, ()), part.get(key, wanted), above, balanced[key])
    return PlantingState(found, living, secured)


def _again(link: Link, batches: Mapping[int, Sown]) -> bool:
    """Is it a sowing again beside the first?  It has a clock of its own and takes nothing along."""
    one, other = batches.get(link.parent), batches.get(link.child)
    return link.count == 0 and one is not None and other is not None and one.sown_on != other.sown_on


def _planted_by(events: Events, on: date) -> bool:
    """Whether some of a batch had been planted out by a day."""
    return any(event[0] == "planted" and event[1] <= on for event in events)


def _places(sown: Sown, accounts: Accounts) -> float:
    """Plants a batch has to give from: its own and those of the seeds that may still come, no more than it has cells for;
    its cells (of a box its seeds) until somebody has counted.  Clumps count as what they are to hold."""
    places = float(places_sown(sown, accounts.sown) * sown.clump)
    if accounts.indoors is None:
        return places
    plants = float(_as_wanted(sown, accounts, accounts.indoors + accounts.planted))
    return max(plants, min(plants + (accounts.waiting or 0), places))


def places_sown(sown: Sown, seeds: int | None) -> int:
    """Cells or blocks that a sowing filled, of a box its seeds; 0 where nobody said."""
    return (seeds if sown.sown_in == "box" else sown.cells) or 0


def half_coming(crop: Crop, temperature_c: float | None, seeds: int | None) -> float | None:
    """Half of the seeds that will come at the warmth they have; None where nobody counted them."""
    if not seeds:
        return None
    warmth = crop.number("germinate_c") if temperature_c is None else temperature_c
    return 0.5 * seeds * share_coming(crop, warmth)


def _given(sown: Sown, accounts: Accounts) -> int:
    """Plants of those wanted that a batch has given."""
    return _as_wanted(sown, accounts, accounts.planted)


def _as_wanted(sown: Sown, accounts: Accounts, plants: int) -> int:
    """Plants of those wanted that so many are: whole clumps as many as they are to hold, full or thin."""
    if sown.clump == 1:
        return plants
    ratio = _in_a_clump(sown, accounts)
    return plants if ratio in (0.0, 1.0) else sown.clump * round(plants / (sown.clump * ratio))


def _in_a_clump(sown: Sown, accounts: Accounts) -> float:
    """What its clumps really hold against what they were to hold, at most 1: thin clumps are clumps too."""
    if not sown.cells or accounts.indoors is None:
        return 1.0
    return min(1.0, accounts.whole / (sown.clump * sown.cells))


def _facts(sown: Sown, crop: Crop, events: Events, accounts: Accounts, wanted: int) -> Facts:
    """What has happened, read from the events in order."""
    days: dict[str, list[date]] = {}
    first_up = half_up = last_count = planted_on = None
    counts, outings = 0, []
    out: Outing | None = None
    half = half_coming(crop, sown.temperature_c, accounts.sown)
    for kind, on, count, _, hours, wanted_hours in events:
        if kind == "up":
            counts, last_count = counts + 1, on
            if count and first_up is None:
                first_up = on
            if count and half is not None and count >= half and half_up is None:
                half_up = on
        elif kind == "outing":
            outings.append(Outing(on, hours or 0.0, wanted_hours or hours or 1.0))
        elif kind == "out":
            out = Outing(on, hours or 0.0, wanted_hours or hours or 1.0)
        elif kind == "planted":
            planted_on = on
        else:
            days.setdefault(kind, []).append(on)
    all_out = accounts.planted > 0 and (accounts.indoors == 0 or _given(sown, accounts) >= wanted)
    return Facts(
        sown_on=sown.sown_on,
        temperature_c=sown.temperature_c,
        first_up=first_up,
        half_up=half_up,
        planted_on=planted_on if all_out else None,
        last_count=last_count,
        counts=counts,
        outings=tuple(outings),
        out=None if out is None or any(had.day >= out.day for had in outings) else out,
        days={kind: tuple(done) for kind, done in days.items()},
    )
