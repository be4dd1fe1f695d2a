"""What is reckoned once for a garden as it is on a day, and kept until either changes; it may be dropped at any time."""

from __future__ import annotations

from datetime import date

from aestiva.frame.version import code_version
from aestiva.gardens.models import Garden


def kept_key(what: str, garden: Garden, today: date, *more: int) -> str:
    """Under which it is kept: another garden, revision, day or program has another key."""
    return ":".join(
        str(part) for part in (what, code_version(), garden.pk, garden.revision, garden.readings_revision, today, *more)
    )
