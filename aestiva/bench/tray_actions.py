"""What hands do with a tray: mark what is seen, sow into cells, lift, shift, set together, merge, turn; one entry each.

A tray is held while its cells are written, and compared with what the page showed: two people never lift the same plant.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from datetime import date

from aestiva.accounts.models import User
from aestiva.bench.things import grid
from aestiva.gardens import journal
from aestiva.gardens.journal import ChangeSet
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import add_event, sow, split
from aestiva.season.contents import contents_of, free_cells, marks_in, open_runs, put
from aestiva.season.ledgers import accounts_of
from aestiva.season.models import Batch, BatchLink, CellRun, Container, Planting, Spot, Tray, TrayStand
from aestiva.season.places import end_stands, next_code, place_tray
from growing.bench.cells import (
    GROWS,
    LYING,
    MOVED,
    SPENT,
    STATES,
    UNSEEN,
    CellShift,
    listed,
    seen,
)

Held = dict[int, tuple[int, str]]


def held(write: ChangeSet, tray: Tray, revision: str | int | None) -> tuple[Tray, Held]:
    """The tray as it is now, nobody else writing it, and what is in its cells."""
    tray = write.touch(tray, revision)
    return tray, contents_of(open_runs(tray))


def _batches(contents: Mapping[int, tuple[int, str]], cells: Iterable[int]) -> dict[int, list[int]]:
    found: dict[int, list[int]] = defaultdict(list)
    for cell in cells:
        found[contents[cell][0]].append(cell)
    return found


def _booked(tray: Tray, contents: Held, cells: Sequence[int]) -> None:
    """Refuse cells that are empty."""
    empty = [c for c in cells if c not in contents]
    if empty:
        raise Refused(
            "cells", f"{listed(empty, grid(tray))} of {tray.code} hold nothing: choose cells with seed or plants"
        )


def free(tray: Tray, contents: Held, cells: Sequence[int]) -> None:
    """Refuse cells that are beyond the tray, or booked."""
    if beyond := [c for c in cells if not 1 <= c <= tray.cells]:
        raise Refused("cells", f"{tray.code} has {tray.cells} cells: {min(beyond)} is none of them")
    taken = [c for c in cells if c in contents and contents[c][1] not in SPENT]
    if taken:
        raise Refused("cells", f"{listed(taken, grid(tray))} of {tray.code} are booked already: choose free cells")


def marks_of(batch: Batch, instead: Mapping[int, Held]) -> list[str]:
    """The marks of every cell of a batch; instead: trays as they will be."""
    found: list[str] = []
    for run in CellRun.objects.filter(batch=batch, until=None).exclude(tray__in=instead):
        found += marks_in(run)
    for contents in instead.values():
        found += [mark for one, mark in contents.values() if one == batch.pk]
    return found


def mark(
    garden: Garden, user: User, tray: Tray, cells: Sequence[int], state: str, today: date, key: str, revision: str
) -> None:
    """Write down what is seen in some cells, and what that says of their batches."""
    if state not in STATES or state in (UNSEEN, MOVED):
        raise Refused("state", "choose what you see in them")
    with journal.change(garden, user, "", key) as write:
        tray, contents = held(write, tray, revision)
        _booked(tray, contents, cells)
        write.summary = f"{tray.code} {listed(cells, grid(tray))}: {STATES[state]}"[:250]
        after = dict(contents)
        for pk, theirs in _batches(contents, cells).items():
            batch = write.touch(Batch.objects.select_related("planting").get(pk=pk))
            accounts = accounts_of(batch)
            nothing_up = not accounts.emerged and not accounts.received
            for cell, (one, was) in after.items():
                if one == pk and was == UNSEEN and nothing_up:
                    after[cell] = (pk, LYING)
            for cell in theirs:
                after[cell] = (pk, state)
            before = {c: contents[c][1] for c in theirs}
            now = dict.fromkeys(theirs, state)
            found = seen(before, now, marks_of(batch, {tray.pk: after}), accounts, batch.per_cell)
            if found.up is not None:
                add_event(write, batch, "up", today, today, found.up, found.estimated)
            if found.never_up:
                add_event(write, batch, "never_up", today, today, found.never_up, found.estimated)
            if found.died:
                add_event(write, batch, "died", today, today, found.died, found.estimated)
        put(write, tray, after, today)


def sow_into(
    write: ChangeSet,
    tray: Tray,
    contents: Held,
    planting: Planting,
    cells: Sequence[int],
    per_cell: int,
    surplus: str,
    on: date,
    today: date,
    sown_in: str = "cells",
    seeds: int | None = None,
) -> Batch:
    """Sow free cells of a tray that is held: a batch of its own.  seeds: of a box."""
    free(tray, contents, cells)
    box = sown_in == "box"
    batch = sow(write, planting, on, today, seeds or 1 if box else len(cells), per_cell, surplus, sown_in)
    put(write, tray, contents | dict.fromkeys(cells, (batch.pk, UNSEEN)), on)
    return batch


def sow_again(
    garden: Garden, user: User, tray: Tray, cells: Sequence[int], per_cell: int, today: date, key: str, revision: str
) -> Batch:
    """Fill spent or empty cells with seed of the batch that had them: a batch with a clock of its own."""
    with journal.change(garden, user, "", key) as write:
        tray, contents = held(write, tray, revision)
        free(tray, contents, cells)
        owners = {contents[c][0] for c in cells if c in contents} or {b for b, _ in contents.values()}
        if len(owners) != 1:
            raise Refused("cells", "these cells are of several sowings: sow each again by itself")
        first = Batch.objects.select_related("planting").get(pk=owners.pop())
        write.touch(first)
        batch = sow_into(write, tray, contents, first.planting, cells, per_cell, first.surplus, today, today)
        write.save(BatchLink(parent=first, child=batch, count=0, on=today))
        write.summary = f"Sowed {listed(cells, grid(tray))} of {tray.code} again: {first.planting}"[:250]
    return batch


def lift(
    garden: Garden,
    user: User,
    tray: Tray,
    cells: Sequence[int],
    target: Tray | None,
    today: date,
    key: str,
    revision: str,
    potted: bool = False,
    container: Container | None = None,
    spot: Spot | None = None,
    to_cells: Sequence[int] = (),
) -> Batch:
    """Plants of some cells of one batch into another tray, as a batch of their own with all their history.

    target: None: a new tray of that container.  potted: moved into pots, which starts their time in them.  Where they are all that
    stands of the batch, it goes as it is.
    """
    with journal.change(garden, user, "", key) as write:
        tray, contents = held(write, tray, revision)
        _booked(tray, contents, cells)
        batch = _one_batch(write, tray, contents, cells)
        if not_plants := [c for c in cells if contents[c][1] not in GROWS | {UNSEEN}]:
            raise Refused("cells", f"no plant stands in {listed(not_plants, grid(tray))}: mark what is up first")
        if target is not None and target.pk == tray.pk:
            raise Refused("target", "that is the tray they are in: choose another")
        there: Held = {}
        if target is None:
            target = _new_tray(write, garden, container, len(cells))
        else:
            target, there = held(write, target, None)
        into = list(to_cells) or free_cells(target, {c: v for c, v in there.items() if v[1] not in SPENT})[: len(cells)]
        if len(into) < len(cells):
            raise Refused(
                "target", f"{target.code} has {len(into)} free cells, {len(cells)} are to come: choose a larger one"
            )
        free(target, there, into)
        child = _parted(write, batch, contents, cells, today)
        if potted:
            add_event(write, child, "potted", today, today, count=len(cells))
        marks = [contents[c][1] for c in cells]
        moved = dict.fromkeys(cells, (batch.pk, MOVED)) if child.pk != batch.pk else {}
        put(write, tray, {c: v for c, v in contents.items() if c not in cells} | moved, today)
        put(write, target, there | {c: (child.pk, m) for c, m in zip(into, marks, strict=True)}, today)
        end_stands(write, child, today)
        _stand_as(write, target, spot or _spot_of(tray), today)
        what = "Potted" if potted else "Lifted"
        write.summary = f"{what} {len(cells)} of {batch.planting} from {tray.code} to {target.code}"[:250]
    return child


def _one_batch(write: ChangeSet, tray: Tray, contents: Held, cells: Sequence[int]) -> Batch:
    owners = {contents[c][0] for c in cells}
    if len(owners) != 1:
        raise Refused("cells", "these cells hold plants of several sowings: lift each by itself")
    return write.touch(Batch.objects.select_related("planting", "lot").get(pk=owners.pop()))


def _parted(write: ChangeSet, batch: Batch, contents: Held, cells: Sequence[int], today: date) -> Batch:
    """The plants of those cells as a batch of their own; the batch itself, where they are all that is left of it."""
    accounts = accounts_of(batch)
    known = (accounts.emerged or 0) + accounts.received
    if known < len(cells):  # nobody counted them, but here they are
        add_event(write, batch, "up", today, today, (accounts.emerged or 0) + len(cells) - known)
        accounts = accounts_of(batch)
    if accounts.indoors == len(cells) and not accounts.waiting:
        return batch
    return split(write, batch, len(cells), today, today, placed=False)


def _new_tray(write: ChangeSet, garden: Garden, container: Container | None, count: int) -> Tray:
    cells = count if container is None or container.cells == 1 else container.cells
    if container is not None and 1 < container.cells < count:
        raise Refused("target", f"{container.name} has {container.cells} cells, {count} are to come: choose another")
    return write.save(Tray(garden=garden, code=next_code(garden.pk), container=container, cells=max(cells, 1)))


def _spot_of(tray: Tray) -> Spot | None:
    stand = TrayStand.objects.filter(tray=tray, until=None).select_related("spot").first()
    return None if stand is None else stand.spot


def _stand_as(write: ChangeSet, tray: Tray, spot: Spot | None, on: date) -> None:
    if spot is not None and not tray.stands.filter(until=None).exists():
        place_tray(write, tray, spot, on)


def shift(
    garden: Garden,
    user: User,
    moves: Sequence[CellShift],
    today: date,
    key: str,
    revisions: Mapping[int, str],
    said: str,
) -> None:
    """Plants to other cells, of the same or another tray; they stay the batch they are."""
    if not moves:
        raise Refused("cells", "nothing is to be moved")
    with journal.change(garden, user, said, key) as write:
        shifted(write, garden, moves, today, revisions)


def shifted(
    write: ChangeSet, garden: Garden, moves: Sequence[CellShift], today: date, revisions: Mapping[int, str]
) -> None:
    """The same with a pen in hand; a tray that holds nothing any more is put away."""
    trays: dict[int, Tray] = {}
    contents: dict[int, Held] = {}
    for pk in dict.fromkeys(k for one in moves for k in (one.tray, one.to_tray)):
        row = Tray.objects.get(pk=pk, garden=garden)
        trays[pk], contents[pk] = held(write, row, revisions.get(pk))
    taken: list[tuple[CellShift, tuple[int, str]]] = []
    for one in moves:
        if one.cell not in contents[one.tray] or contents[one.tray][one.cell][1] in SPENT:
            raise Refused("cells", f"{grid(trays[one.tray]).name(one.cell)} holds nothing to move any more")
        taken.append((one, contents[one.tray].pop(one.cell)))
    for one, what in taken:
        if not 1 <= one.to_cell <= trays[one.to_tray].cells:
            raise Refused("cells", f"{trays[one.to_tray].code} has no cell {one.to_cell}")
        there = contents[one.to_tray].get(one.to_cell)
        if there is not None and there[1] not in SPENT:
            name = grid(trays[one.to_tray]).name(one.to_cell)
            raise Refused("cells", f"{name} of {trays[one.to_tray].code} is booked twice: choose a free cell")
        contents[one.to_tray][one.to_cell] = what
    for pk in sorted(trays):
        live = dict(contents[pk].items())
        emptied = not any(v[1] not in SPENT for v in live.values())
        put(write, trays[pk], {} if emptied else live, today)
        if emptied:
            stands_nowhere(write, trays[pk], today)


def stands_nowhere(write: ChangeSet, tray: Tray, on: date) -> None:
    """A tray that holds nothing stands nowhere."""
    for stand in tray.stands.filter(until=None):
        stand.until = max(on, stand.since)
        write.save(stand)


def merge(garden: Garden, user: User, batches: Sequence[Batch], today: date, key: str) -> Batch:
    """Batches of one packet and sowing day become one again, with the history of all of them."""
    if len({b.pk for b in batches}) < 2:
        raise Refused("batches", "choose two batches or more")
    with journal.change(garden, user, "", key) as write:
        rows = [write.touch(b) for b in batches]
        first = rows[0]
        alike = {(b.planting_id, b.lot_id, b.sown_on) for b in rows}
        if len(alike) != 1:
            raise Refused("batches", "only plants of one packet and one sowing day become one: let these share a tray")
        counts = {}
        for row in rows:
            accounts = accounts_of(row)
            if accounts.indoors is None or accounts.indoors == 0:
                raise Refused("batches", "nobody has counted one of them: count it first")
            counts[row.pk] = accounts.indoors
        child = write.save(
            Batch(
                planting=first.planting,
                lot=first.lot,
                sown_on=first.sown_on,
                cells=sum(counts.values()),
                per_cell=1,
                surplus=first.surplus,
                temperature_c=first.temperature_c,
            )
        )
        for row in rows:
            write.save(BatchLink(parent=row, child=child, count=counts[row.pk], on=today))
        _cells_to(write, rows, child, today)
        write.summary = f"Put {len(rows)} batches of {first.planting} together"[:250]
    return child


def _cells_to(write: ChangeSet, rows: Sequence[Batch], child: Batch, today: date) -> None:
    """The plants of some batches, where they stand, are another's from now on; seed that still waits stays theirs."""
    pks = {row.pk for row in rows}
    for tray in Tray.objects.filter(runs__batch__in=pks, runs__until=None).distinct():
        contents = contents_of(open_runs(write.touch(tray)))
        after = {
            c: (child.pk, m) if b in pks and m not in SPENT | {LYING} else (b, m) for c, (b, m) in contents.items()
        }
        put(write, tray, after, today)
    alone = [stand for row in rows for stand in row.stands.filter(until=None)]
    for stand in alone:
        stand.until = max(today, stand.since)
        write.save(stand)
    if alone and not child.runs.exists():
        write.save(type(alone[0])(batch=child, spot=alone[0].spot, since=today))


def turn(garden: Garden, user: User, tray: Tray, quarters: int, today: date, key: str, revision: str) -> None:
    """Turn it where it stands; cells keep their names, which go by the marked corner."""
    with journal.change(garden, user, f"Turned {tray.code}", key) as write:
        tray = write.fresh(tray)
        tray.turns, tray.turned_on = (tray.turns + quarters) % 4, today
        write.save(tray, revision)


def cover(garden: Garden, user: User, tray: Tray, lid: str, today: date, key: str, revision: str) -> None:
    """A lid put on a tray, or taken off: what is in it has had its lid, and is not asked for it again."""
    words = f"{'Put a lid on' if lid == 'lid' else 'Took the lid off'} {tray.code}"
    with journal.change(garden, user, words, key) as write:
        tray = write.fresh(tray)
        tray.lid = lid
        write.save(tray, revision)
        if lid != "lid":
            live = {b for b, m in contents_of(open_runs(tray)).values() if m not in SPENT}
            for batch in Batch.objects.filter(pk__in=live).exclude(events__kind="lid").order_by("pk"):
                if batch.sown_on is not None:
                    add_event(write, batch, "lid", today, today)


def clear(garden: Garden, user: User, tray: Tray, cells: Sequence[int], today: date, key: str, revision: str) -> None:
    """Cells that are spent are empty again."""
    with journal.change(garden, user, "", key) as write:
        tray, contents = held(write, tray, revision)
        _booked(tray, contents, cells)
        if alive := [c for c in cells if contents[c][1] not in SPENT]:
            raise Refused(
                "cells", f"{listed(alive, grid(tray))} hold seed or plants: write down first what became of them"
            )
        put(write, tray, {c: v for c, v in contents.items() if c not in cells}, today)
        write.summary = f"Emptied {listed(cells, grid(tray))} of {tray.code}"[:250]


def delete(garden: Garden, user: User, tray: Tray, today: date, key: str, revision: str) -> None:
    """Remove a tray that holds nothing; one that was used before is only put away, with what it held."""
    with journal.change(garden, user, f"Put away {tray.code}", key) as write:
        tray, contents = held(write, tray, revision)
        full = [c for c, (_, m) in contents.items() if m not in SPENT]
        if full:
            raise Refused("tray", f"{tray.code} is not empty ({len(full)} cells hold seed or plants): move them first")
        put(write, tray, {}, today)
        stands_nowhere(write, tray, today)
        if not (tray.runs.exists() or tray.stands.exists() or tray.bench_lines.exists()):
            write.delete(tray)
