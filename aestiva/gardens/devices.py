"""What devices write: in bursts that are one entry, and without making forms and proposals of people old.

with devices.heard(garden, Device("Scale", "3.scale.12"), said) as write:
    write.insert(looks)
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import timedelta
from typing import NamedTuple

from aestiva.gardens import clock, guards, journal
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.gardens.outcomes import Refused

BURST = timedelta(minutes=10)  # in which what one device sends of one thing is one entry
MOST_TOGETHER = 4000  # rows of such an entry


class Device(NamedTuple):
    """Who writes where nobody did: its name, a word for what it sends of what, and whether that moves what is planned
    (a probe in the soil does)."""

    name: str
    sends: str
    moves: bool = False


@contextmanager
def heard(garden: Garden, device: Device, summary: Callable[[int], str]) -> Iterator[journal.ChangeSet]:
    """What a device writes: one entry for what it sends of one thing in ten minutes, which can be taken back.

    summary: the sentence for so many rows.  Only what moves the plan raises the garden's revision.
    """
    with journal.noted(garden):
        write = journal.ChangeSet(garden, "")
        yield write
        if not write.changes:
            return
        if found := guards.wrong(garden, write.changes):
            raise Refused("", found[0].words)
        last, key = _burst(garden, device)
        if last is None:
            said = summary(len(write.changes))
            journal.enter(garden, None, said, key, write.changes, by=device.name, kind="device", moves=device.moves)
            return
        last.changes += write.changes
        last.summary = summary(len({(one["model"], one["pk"]) for one in last.changes}))[:250]
        last.save(update_fields=["changes", "summary"])
        journal.note_touched(last, write.changes)
        journal.raise_revision(garden, device.moves)


def noticed(garden: Garden, device: Device, summary: str) -> None:
    """Write down, once in ten minutes, that a device sent what is not taken back; inside `journal.noted`."""
    last, key = _burst(garden, device)
    if last is None:
        journal.enter(garden, None, summary, key, [], by=device.name, kind="note", moves=device.moves)
    else:
        journal.raise_revision(garden, device.moves)


def _burst(garden: Garden, device: Device) -> tuple[JournalEntry | None, str]:
    """The entry of which this is more, None where there is none or a person has written since; and the key of a new one."""
    slot = int(clock.instant().timestamp() // BURST.total_seconds())
    key = journal.stored_key("device", f"{device.sends}.{slot}")
    last = JournalEntry.objects.filter(garden=garden, key=key).first()
    if last is None:
        return None, key
    since = JournalEntry.objects.filter(garden=garden, pk__gt=last.pk).exclude(user=None).exists()
    if since or last.is_undone or last.day != clock.today(garden) or len(last.changes) >= MOST_TOGETHER:
        return None, journal.stored_key("device", "")
    return last, key
