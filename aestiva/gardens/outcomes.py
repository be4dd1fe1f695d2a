"""How a change can end other than well: done before, overtaken, refused, not to be taken back, nothing to count from.

Views raise these; `garden_view` turns each into its answer.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.db import models

if TYPE_CHECKING:
    from aestiva.gardens.models import JournalEntry


class Repeated(Exception):
    """This post was already carried out (its one-use key is known): nothing more to do."""


class Stale(Exception):
    """The row changed since the page was read: carries the row as it is now, and as it was to be."""

    def __init__(self, row: models.Model, wanted: models.Model | None = None) -> None:
        self.row, self.wanted = row, wanted
        super().__init__(f"{row} was changed in the meantime")


class Refused(ValueError):
    """Something typed cannot be: names the field, says what is wrong with which value, and the mend."""

    def __init__(self, field: str, message: str) -> None:
        self.field = field
        self.errors: dict[str, list[str]] = {field: [message]}  # by field, all that is wrong
        super().__init__(message)


class NotHere(Refused):
    """What it is about is not of this garden, or is there no more."""


_REASONS = {"": "changed the same thing", "needs": "needs what it wrote", "belongs": "took away what it belongs to"}


class CannotUndo(Exception):
    """Something stands in the way of taking an entry back: carries the later entry, None when it is something else."""

    def __init__(self, later: JournalEntry | None, why: str = "") -> None:
        self.later = later
        if later is not None:
            said = f"“{later.summary}” came later and {_REASONS.get(why, 'hangs on it')}: take that back first"
        else:
            said = why or "something later hangs on what it made: take that back first"
        super().__init__(said)


class NoFrostDate(Exception):
    """The garden has neither a typed last frost nor a usable station: nothing can be counted yet."""


def gone(row: Any) -> bool:
    """Was this row once stored, and is it so no more?"""
    return row.pk is not None and not row._state.adding
