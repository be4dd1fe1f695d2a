"""The rows of a garden's season in hand, in a constant number of queries; thousands of events are read at C speed."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from operator import itemgetter
from typing import Any, NamedTuple

from django.db.models import CharField, IntegerField
from django.db.models.functions import Cast

from aestiva.gardens.models import Garden
from aestiva.season.models import Batch, BatchEvent, BatchLink, BatchStand, Planting, Spot, TaskMark, TrayStand
from growing.batch.history import Events
from growing.batch.links import Link


class Mark(NamedTuple):
    """What a grower said about one task."""

    done_on: date | None
    skipped_on: date | None
    moved_to: date | None
    count_done: int | None


@dataclass(frozen=True, slots=True)
class SeasonRows:
    """plantings not cancelled, their batches by planting, events by batch in the order they happened.

    stands: kind and code of the spot where each batch, or its tray, stands.  links: what moved between batches.
    marks: what was said about tasks by their keys.  codes, tunnels: of every spot.
    """

    plantings: list[Planting]
    batches: dict[int, list[Batch]]
    events: dict[int, Events]
    stands: dict[int, tuple[str, str]]
    links: list[Link]
    marks: dict[str, Mark]
    codes: dict[int, str]
    tunnels: frozenset[int]


def season_rows(garden: Garden, plantings: Iterable[int] | None = None) -> SeasonRows:
    """The rows of the season in hand; of some plantings only, where they are named."""
    spots = list(Spot.objects.filter(garden=garden).values_list("pk", "code", "kind"))
    wanted = Planting.objects.filter(season__garden=garden, season__year=garden.year, cancelled_on=None)
    if plantings is not None:
        wanted = wanted.filter(pk__in=list(plantings))
    found = list(wanted.defer("made", "note").order_by("pk"))
    batches: dict[int, list[Batch]] = defaultdict(list)
    for batch in Batch.objects.filter(planting__in=wanted).order_by("pk"):
        batches[batch.planting_id].append(batch)
    stands = BatchStand.objects.filter(batch__planting__in=wanted, until=None)
    trays = TrayStand.objects.filter(until=None, tray__runs__until=None, tray__runs__batch__planting__in=wanted)
    links = BatchLink.objects.filter(child__planting__in=wanted).order_by("pk")
    marks = TaskMark.objects.filter(garden=garden)
    return SeasonRows(
        found,
        batches,
        _events(wanted),
        {
            batch: (kind, code)
            for batch, kind, code in (
                *stands.values_list("batch_id", "spot__kind", "spot__code"),
                *trays.values_list("tray__runs__batch_id", "spot__kind", "spot__code"),
            )
        },
        [Link(*row) for row in links.values_list("parent_id", "child_id", "on", "count")],
        {row[0]: Mark(*row[1:]) for row in marks.values_list("key", "done_on", "skipped_on", "moved_to", "count_done")},
        {pk: code for pk, code, _ in spots},
        frozenset(pk for pk, _, kind in spots if kind == "tunnel"),
    )


def _events(plantings: Any) -> dict[int, Events]:
    """Every event of those plantings by batch, days read as text."""
    found: dict[int, list[tuple[str, date, int | None, bool, float | None, float | None]]] = defaultdict(list)
    rows = BatchEvent.objects.filter(batch__planting__in=plantings).order_by("pk")
    rows = rows.annotate(day=Cast("on", CharField()), guess=Cast("estimated", IntegerField()))
    for batch, kind, day, count, guess, hours, wanted in rows.values_list(
        "batch_id", "kind", "day", "count", "guess", "hours", "wanted_hours"
    ):
        found[batch].append((kind, date.fromisoformat(day), count, bool(guess), hours, wanted))
    for events in found.values():
        events.sort(key=itemgetter(1))  # by day; of one day in the order they were written
    return dict(found)
