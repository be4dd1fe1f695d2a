"""What cannot be said of a row, and why: shown on the page as that one line, while all the rest lives."""

from __future__ import annotations

from typing import NamedTuple

from aestiva.season.actions import ledger_words
from growing.batch.ledger import LedgerError

# What odd rows make the rules raise.
CANNOT = (ArithmeticError, LookupError, TypeError, ValueError)


class Trouble(NamedTuple):
    """A planting, batch, packet or crop of which something cannot be said: what it is, what is wrong, where to mend it."""

    name: str
    words: str
    address: str = ""
    batch: int | None = None


def words_of(error: Exception) -> str:
    """What went wrong, for a grower: the rule's own words where it has any."""
    if isinstance(error, LedgerError):
        return ledger_words(error)
    if isinstance(error, KeyError):
        return f"there is no {error.args[0]!r} here any more"
    if isinstance(error, ValueError) and str(error):
        return str(error).rstrip(".")
    return "its dates, values or counts cannot be reckoned with"
