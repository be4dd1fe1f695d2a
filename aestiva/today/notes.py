"""Words beside a task, from whoever looks at it, readers too: for people, never read by a rule."""

from __future__ import annotations

from datetime import date, timedelta

from aestiva.gardens.models import Garden
from aestiva.season.models import TaskNote

SHOWN_DAYS = 60


def notes_of(garden: Garden, today: date) -> dict[str, list[TaskNote]]:
    """The notes of the last weeks by their task, in the order they were left."""
    found: dict[str, list[TaskNote]] = {}
    since = today - timedelta(days=SHOWN_DAYS)
    for note in TaskNote.objects.filter(garden=garden, day__gte=since).select_related("by"):
        found.setdefault(note.key, []).append(note)
    return found
