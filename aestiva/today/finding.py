"""A task by its key, as the garden is now: the season as far as it is about it, and what was written of it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import date
from typing import Any

from aestiva.course.kept import at_hand_to_change
from aestiva.course.state import SeasonState, Todo, load
from aestiva.gardens import journal
from aestiva.gardens.models import Garden
from aestiva.season.models import Batch, BatchEvent, BatchLink, BatchStand, CellRun, TaskMark, Tray, TrayStand
from growing.batch.outlook import MOVED_ON
from growing.steps import TaskRef

OF_BATCHES = {row._meta.label for row in (Batch, BatchEvent, BatchLink, BatchStand, CellRun, TaskMark, Tray, TrayStand)}


def plantings_of(garden: Garden, keys: Iterable[str]) -> set[int]:
    """The plantings that these tasks are about."""
    plantings: set[int] = set()
    for key in keys:
        ref = TaskRef.of(key)
        if ref is not None and ref.subject == "planting":
            plantings.add(ref.pk)
        elif ref is not None and ref.subject == "batch":
            plantings.update(Batch._base_manager.filter(pk=ref.pk).values_list("planting_id", flat=True))
    return plantings


def state_for(garden: Garden, keys: Iterable[str], today: date) -> SeasonState:
    """The season as far as these tasks are about it."""
    return load(garden, today, plantings_of(garden, keys), like=at_hand_to_change(garden, today, SeasonState))


def find(garden: Garden, key: str, today: date) -> Todo | None:
    """The open task of that key, however far ahead."""
    return state_for(garden, [key], today).find(key)


def written(now: SeasonState, write: journal.ChangeSet) -> SeasonState:
    """The season in which it was found, and whether what was written is of batches alone."""
    wrote = frozenset(change["model"] for change in write.changes)
    now.wrote = wrote if wrote <= OF_BATCHES else None
    now.of_seed = any(_of_seed(change) for change in write.changes)
    return now


def _of_seed(change: Mapping[str, Any]) -> bool:
    """Does it change what sowings say of their packets?  Counts do, and that those that came have gone on; a sowing says nothing yet."""
    if change["model"] != BatchEvent._meta.label:
        return False
    return change["before"] is not None or change["after"]["kind"] in ("up", *MOVED_ON)
