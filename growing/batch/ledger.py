"""Where did they all go?  Two accounts per batch, from its events; unknown counts stay unknown.

Seeds: sown = waiting + never up + emerged.
Plants: emerged + received = thinned + died + given away + moved on + indoors + planted out.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

LOSSES = ("thinned", "died", "given", "moved")
LEAVING = frozenset((*LOSSES, "planted"))


class Entry(NamedTuple):
    """One event as the accounts see it; `count` None: nobody counted.

    kind: sown, up (all emerged so far), never_up, received, thinned, died, given, moved, planted, lost_outside.
    """

    kind: str
    count: int | None  # type: ignore[assignment]
    estimated: bool = False


class Accounts(NamedTuple):
    """Both ledgers; None where a count is not known.  `estimated`: some figure in them is an estimate."""

    sown: int | None
    waiting: int | None
    never_up: int
    emerged: int | None
    received: int
    thinned: int
    died: int
    given: int
    moved: int
    planted: int
    indoors: int | None
    outdoors: int
    estimated: bool

    @property
    def whole(self) -> int:
        """Plants here, and those that left whole: a clump goes as it is, and only what died makes it thinner."""
        return (self.indoors or 0) + self.planted + self.moved + self.given

    @property
    def spent(self) -> bool:
        """Is nothing of it left indoors?  Seed still waiting may come, unless the plants have gone out or away without it."""
        return self.indoors == 0 and not (self.waiting and not self.planted + self.given)

    @property
    def lost(self) -> bool:
        """Was all of it lost: nothing left anywhere, and nobody has any of it?"""
        return self.spent and not self.outdoors and not self.given + self.moved


class LedgerError(ValueError):
    """An event that the accounts cannot hold; names the count, what there is, and the mend.

    at: its place among the events, from 0.
    """

    def __init__(self, kind: str, count: int, there_are: int, at: int = 0) -> None:
        self.kind, self.count, self.there_are, self.at = kind, count, there_are, at
        super().__init__(f"{kind} {count}: there are only {there_are}; count again or correct an earlier entry")


def accounts(entries: Iterable[tuple[str, int | None, bool]]) -> Accounts:
    """Balance the events in the order they happened (`Entry` or plain triples like it).

    Raises LedgerError where one takes more than there is.
    """
    found, wrong = balance(entries)
    if wrong is not None:
        raise wrong
    return found


def balance(entries: Iterable[tuple[str, int | None, bool]]) -> tuple[Accounts, LedgerError | None]:
    """Both accounts without the events that they cannot hold, and the first of those."""
    total = dict.fromkeys(("never_up", "received", "planted", "lost_outside", *LOSSES), 0)
    sown: int | None = None
    emerged: int | None = None
    gone = 0  # plants that have left the bench: losses and those planted out
    estimated = False
    wrong: LedgerError | None = None
    for at, (kind, count, guess) in enumerate(entries):
        if count is None:
            continue
        if count < 0:
            wrong = wrong or LedgerError(kind, count, 0, at)
            continue
        if kind == "sown":
            sown, estimated = (sown or 0) + count, estimated or guess
            continue
        before = emerged
        if kind == "up":
            emerged = count
        else:
            total[kind] += count
            gone += count if kind in LEAVING else 0
        try:
            _check(kind, count, sown, emerged, gone, total)
        except LedgerError as error:
            error.at, wrong = at, wrong or error
            emerged = before
            if kind != "up":
                total[kind] -= count
                gone -= count if kind in LEAVING else 0
        else:
            estimated = estimated or guess
    known = emerged if emerged is not None else (0 if total["received"] else None)
    return Accounts(
        sown=sown,
        waiting=None if sown is None else sown - (emerged or 0) - total["never_up"],
        never_up=total["never_up"],
        emerged=emerged,
        received=total["received"],
        thinned=total["thinned"],
        died=total["died"],
        given=total["given"],
        moved=total["moved"],
        planted=total["planted"],
        indoors=None if known is None else known + total["received"] - gone,
        outdoors=total["planted"] - total["lost_outside"],
        estimated=estimated,
    ), wrong


def _check(kind: str, count: int, sown: int | None, emerged: int | None, gone: int, total: dict[str, int]) -> None:
    if kind in ("up", "never_up") and sown is not None and (emerged or 0) + total["never_up"] > sown:
        other = total["never_up"] if kind == "up" else (emerged or 0)
        raise LedgerError(kind, count, max(0, sown - other))
    if kind == "lost_outside" and total["lost_outside"] > total["planted"]:
        raise LedgerError(kind, count, total["planted"] - total["lost_outside"] + count)
    if emerged is None and not total["received"]:
        return
    left = (emerged or 0) + total["received"] - gone
    if left < 0:
        if kind == "up":  # a lower count than what has already been moved on
            raise LedgerError(kind, count, gone - total["received"])
        raise LedgerError(kind, count, left + count)
