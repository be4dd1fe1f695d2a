"""How gardens from before trays and links are brought up: for the migration and for older documents, and changed no more."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import date
from typing import NamedTuple

OPEN_GROUND = ("bed", "tunnel", "container", "planter")


class OldBatch(NamedTuple):
    """A batch as it was: the batch it was split from, whether it lives, its cells (of a box one), whether it is in pots."""

    key: int
    parent: int | None
    lives: bool
    cells: int | None


class OldEvent(NamedTuple):
    key: int
    batch: int
    kind: str
    on: date | str
    count: int | None  # type: ignore[assignment]


class Split(NamedTuple):
    """A split as a link, and the two events that said it (None: there was none)."""

    parent: int
    child: int
    on: date | str
    count: int  # type: ignore[assignment]
    moved: int | None
    received: int | None


def splits(batches: Iterable[OldBatch], events: Iterable[OldEvent]) -> list[Split]:
    """Every child with the first plants it received and its parent's event of the same day and number.

    A child that received nothing keeps its history with a link of none, from the day it first did something.
    """
    moved: dict[tuple[int, object, int | None], list[int]] = {}
    received: dict[int, OldEvent] = {}
    first: dict[int, date | str] = {}
    for event in events:
        first.setdefault(event.batch, event.on)
        if event.kind == "moved":
            moved.setdefault((event.batch, event.on, event.count), []).append(event.key)
        elif event.kind == "received":
            received.setdefault(event.batch, event)
    found = []
    for batch in batches:
        if batch.parent is None:
            continue
        came = received.get(batch.key)
        if came is None:
            if batch.key in first:
                found.append(Split(batch.parent, batch.key, first[batch.key], 0, None, None))
            continue
        left = moved.get((batch.parent, came.on, came.count), [])
        gone = left.pop(0) if left else None
        found.append(Split(batch.parent, batch.key, came.on, came.count or 0, gone, came.key))
    return found


def in_trays(
    batches: Iterable[OldBatch], potted: set[int], stands: Iterable[tuple[int, int, str, bool]]
) -> dict[int, list[int]]:
    """The batches that stand in a tray of their own now, each with its stands that become the tray's.

    stands: (key, batch, kind of spot, still there).  Those living in cells or a box, neither potted nor in open ground.
    """
    cells: Mapping[int, int] = {b.key: b.cells for b in batches if b.lives and b.cells and b.key not in potted}
    found: dict[int, list[int]] = {}
    grounded = set()
    for key, batch, kind, still in stands:
        if batch in cells and kind in OPEN_GROUND:
            grounded |= {batch} if still else set()
        elif batch in cells:
            found.setdefault(batch, []).append(key)
    return {batch: keys for batch, keys in found.items() if batch not in grounded}
