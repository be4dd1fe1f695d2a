"""Both ledgers of one batch, from its events and what moved to and from other batches."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from typing import NamedTuple

from django.db.models import QuerySet

from aestiva.season.models import Batch, BatchEvent, BatchLink
from growing.batch.history import COUNTED
from growing.batch.ledger import Accounts, Entry, LedgerError, accounts, balance
from growing.batch.links import FIRST, LAST


def in_ledgers(batches: QuerySet[Batch]) -> QuerySet[Batch]:
    """These batches with all that their ledgers count: as many queries for forty as for one."""
    return batches.prefetch_related("events", "links_in", "links_out")


class Counted(NamedTuple):
    """Something that the ledgers count, and the row that says so."""

    kind: str
    on: date
    count: int | None  # type: ignore[assignment]
    estimated: bool = False
    row: BatchEvent | BatchLink | None = None


def counted(batch: Batch) -> list[Counted]:
    """Everything that the ledgers of a batch count, in the order it happened."""
    events = sorted((e for e in batch.events.all() if e.kind in COUNTED), key=lambda e: e.pk)
    found = [Counted(e.kind, e.on, e.count, e.estimated, e) for e in events]
    found += [Counted("received", link.on, link.count, False, link) for link in batch.links_in.all()]
    found += [Counted("moved", link.on, link.count, False, link) for link in batch.links_out.all()]
    return _sorted(found)


def _sorted(found: Iterable[Counted]) -> list[Counted]:
    """By days; of one day what came from another batch first, what left for another last."""
    return sorted(found, key=lambda c: (c.on, {"received": FIRST, "moved": LAST}.get(c.kind, 0)))


def in_order(found: Iterable[Counted]) -> list[Entry]:
    """As the ledgers read them."""
    return [Entry(c.kind, c.count, c.estimated) for c in _sorted(found)]


def accounts_of(batch: Batch) -> Accounts:
    """Both ledgers of a batch as they stand; raises LedgerError where they do not balance."""
    return accounts(in_order(counted(batch)))


def balance_of(batch: Batch) -> tuple[Accounts, Counted | None, LedgerError | None]:
    """Both ledgers without what they cannot hold, and the first thing that they cannot, with what is wrong with it."""
    rows = counted(batch)
    found, wrong = balance(in_order(rows))
    return found, None if wrong is None else rows[wrong.at], wrong


_SAY = {
    "up": "{count} up cannot be: {there} is the most there can be (seeds sown, less those given up), and no fewer than have moved on",
    "never_up": "{count} seeds given up, but only {there} are still waiting",
    "lost_outside": "{count} lost outdoors, but only {there} are planted out",
}
_WORDS = {"given": "given away", "moved": "moved to another batch", "planted": "planted out"}


def ledger_words(error: LedgerError) -> str:
    """What the accounts cannot hold, in words."""
    say = _SAY.get(error.kind, "{count} {kind}, but there are only {there}")
    return say.format(count=error.count, there=error.there_are, kind=_WORDS.get(error.kind, error.kind))
