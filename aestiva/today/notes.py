"""Words beside a task, from whoever looks at it, readers too: for people, never read by a rule."""

from __future__ import annotations

from datetime import date, timedelta

from aestiva.accounts.models import User
from aestiva.gardens import journal
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.season.models import TaskNote

LONGEST = 200
SHOWN_DAYS = 60


def leave(garden: Garden, user: User, task: str, what: str, text: str, day: date, key: str = "") -> TaskNote:
    """Write a note down beside a task.  what: the task in words.  Raises Refused where nothing is said, or too much."""
    text = " ".join(text.split())
    if not text:
        raise Refused("text", "Nothing is said yet: write a word or two")
    if len(text) > LONGEST:
        raise Refused("text", f"That is {len(text)} letters: {LONGEST} are kept, so say it shorter")
    note = TaskNote(garden=garden, key=task, day=day, by=user, text=text)
    with journal.change(garden, user, f"Note on {what}: {text}"[:250], key) as write:
        write.save(note)
    return note


def notes_of(garden: Garden, today: date) -> dict[str, list[TaskNote]]:
    """The notes of the last weeks by their task, in the order they were left."""
    found: dict[str, list[TaskNote]] = {}
    since = today - timedelta(days=SHOWN_DAYS)
    for note in TaskNote.objects.filter(garden=garden, day__gte=since).select_related("by"):
        found.setdefault(note.key, []).append(note)
    return found
