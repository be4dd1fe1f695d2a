"""Where did they come from?  Plants that left one batch for another: splits, merges, re-sowings."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date
from graphlib import CycleError, TopologicalSorter
from typing import NamedTuple

from growing.batch.ledger import Entry

FIRST, LAST = -1, 1  # of one day: what was received comes first, what moved on comes last


class Link(NamedTuple):
    """So many plants of `parent` that became plants of `child` on a day, both by their keys."""

    parent: int
    child: int
    on: date
    count: int  # type: ignore[assignment]


def inward(links: Iterable[Link]) -> dict[int, list[Link]]:
    """The links by the batch that received them, in the order of days."""
    return _by(links, "child")


def outward(links: Iterable[Link]) -> dict[int, list[Link]]:
    """The links by the batch that gave them, in the order of days."""
    return _by(links, "parent")


def _by(links: Iterable[Link], end: str) -> dict[int, list[Link]]:
    found: dict[int, list[Link]] = {}
    for link in sorted(links, key=lambda one: one.on):
        found.setdefault(getattr(link, end), []).append(link)
    return found


def parents_first(batches: Iterable[int], links: Sequence[Link]) -> list[int]:
    """The batches, each after those that its plants came from; raises ValueError where they go round in a circle."""
    before: dict[int, set[int]] = {key: set() for key in batches}
    for link in links:
        if link.child in before and link.parent in before:
            before[link.child].add(link.parent)
    try:
        return list(TopologicalSorter(before).static_order())
    except CycleError as error:
        raise ValueError(f"batches {error.args[1]} come from each other") from error


def with_links(events: Iterable[tuple[date, Entry]], received: Iterable[Link], moved: Iterable[Link]) -> list[Entry]:
    """What the ledgers of one batch read: its events and its links, in the order of days.

    Of one day what was received comes first, and what moved on comes last: nobody counts plants that have left.
    """
    rows = [(on, 0, entry) for on, entry in events]
    rows += [(link.on, FIRST, Entry("received", link.count)) for link in received]
    rows += [(link.on, LAST, Entry("moved", link.count)) for link in moved]
    return [entry for _, _, entry in sorted(rows, key=lambda row: row[:2])]
