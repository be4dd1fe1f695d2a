"""The rows of a garden's season in hand, in a constant number of queries; thousands of events are read at C speed."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from operator import itemgetter
from typing import Any, NamedTuple

from django.db.models import CharField, IntegerField, Q
from django.db.models.functions import Cast

from aestiva.gardens.models import Garden
from aestiva.season.models import (
    Batch,
    BatchEvent,
    BatchLink,
    BatchStand,
    CellRun,
    Goes,
    Planting,
    Spot,
    TaskMark,
    Tray,
    TrayStand,
)
from growing.batch.facts import GoesTo
from growing.batch.history import Events
from growing.batch.links import Link
from growing.chain.leaves import LeavesSeen
from growing.place.warmth import COVER_AIR_C

STANDS = {row._meta.label for row in (BatchStand, CellRun, Tray, TrayStand)}
MANY = 5000  # rows taken from the database at a time
FEW = 100  # plantings that are named one by one


class Mark(NamedTuple):
    """What a grower said about one task."""

    done_on: date | None
    skipped_on: date | None
    moved_to: date | None
    count_done: int | None


class Stood(NamedTuple):
    """A batch, by itself or in a tray, stood in a place; until: None: it still does.  lid: what was said of its tray's."""

    spot: int
    since: date
    until: date | None
    lid: str = ""

    def on(self, day: date) -> bool:
        """Did it stand there on that day?"""
        return self.since <= day and (self.until is None or day < self.until)


@dataclass(frozen=True, slots=True)
class SeasonRows:
    """plantings not cancelled, their batches by planting, events by batch in the order they happened.

    stood: where each batch, or its tray, stood from when until when, in order.
    stands: kind and code of the spot where it does.  links: what moved between batches.
    marks: what was said about tasks by their keys.  goes: where plantings are to stand from which day on, in order.
    spots: code and kind of every spot.  looks: what was seen of the leaves of each batch, in order.
    """

    plantings: list[Planting]
    batches: dict[int, list[Batch]]
    events: dict[int, Events]
    stood: dict[int, list[Stood]]
    stands: dict[int, tuple[str, str]]
    links: list[Link]
    marks: dict[str, Mark]
    goes: dict[int, list[GoesTo]]
    spots: Mapping[int, tuple[str, str]]
    looks: dict[int, list[LeavesSeen]]

    def here(self, batch: int) -> Stood | None:
        """Where a batch, or its tray, stands now; None where nobody said."""
        return next((stood for stood in reversed(self.stood.get(batch, ())) if stood.until is None), None)

    def code(self, spot: int | None) -> str:
        """The code of a spot; empty where there is none."""
        return "" if spot is None or spot not in self.spots else self.spots[spot][0]

    def kind(self, spot: int | None) -> str:
        """The kind of a spot; empty where there is none."""
        return "" if spot is None or spot not in self.spots else self.spots[spot][1]

    @property
    def covers(self) -> dict[int, str]:
        """The spots under a cover, by what covers them."""
        return {pk: kind for pk, (_, kind) in self.spots.items() if kind in COVER_AIR_C}


class Before(NamedTuple):
    """Rows as they were before something was written of batches and their tasks alone, and of which kinds it was."""

    rows: SeasonRows
    wrote: frozenset[str]


def season_rows(
    garden: Garden,
    plantings: Collection[int] | None = None,
    spots: Mapping[int, tuple[str, str]] | None = None,
    before: Before | None = None,
) -> SeasonRows:
    """The rows of the season in hand; of some plantings only, where they are named.  spots: where they are known.  before: rows of
    the same plantings: what was not written since is taken from there."""
    if spots is None:
        named = Spot.objects.filter(garden=garden).values_list("pk", "code", "kind")
        spots = {pk: (code, kind) for pk, code, kind in named}
    if before is not None and {p.pk for p in before.rows.plantings} != set(plantings or ()):
        before = None
    found = before.rows.plantings if before is not None else _plantings(garden, plantings)
    batches: dict[int, list[Batch]] = defaultdict(list)
    some = plantings is not None or len(found) <= FEW
    season = {"season__garden": garden, "season__year": garden.year, "cancelled_on": None}
    of_plantings = {"planting__in": [p.pk for p in found]} if some else _under("planting", season)
    for batch in Batch.objects.filter(**of_plantings).order_by("pk"):
        batches[batch.planting_id].append(batch)
    keys = [b.pk for here in batches.values() for b in here]
    of_batches = {"in": keys} if some else _under("planting", season)  # without naming hundreds

    def theirs(rows: Any, batch: str = "batch", **more: Any) -> Any:
        return rows.objects.filter(**_under(batch, of_batches), **more) if keys else rows.objects.none()

    if before is not None and before.wrote.isdisjoint(STANDS):
        stood = before.rows.stood
    else:
        stood = _stood(theirs(BatchStand), theirs(TrayStand, "tray__runs__batch"))
    events = _events(theirs(BatchEvent))
    seen = any(event[0] == "stage" for own in events.values() for event in own)
    links = theirs(BatchLink, "child").order_by("pk").values_list("parent_id", "child_id", "on", "count")
    marks = TaskMark.objects.filter(garden=garden)
    if plantings is not None:
        marks = marks.filter(_about([*(f"p{p.pk}." for p in found), *(f"b{pk}." for pk in keys)]))
    goes = Goes.objects.filter(**of_plantings) if found and before is None else Goes.objects.none()
    return SeasonRows(
        found,
        batches,
        events,
        stood,
        {
            batch: spots.get(last.spot, ("", ""))[::-1]
            for batch, places in stood.items()
            if (last := next((place for place in reversed(places) if place.until is None), None)) is not None
        },
        [Link(*row) for row in links] if len(keys) > 1 else [],
        {row[0]: Mark(*row[1:]) for row in marks.values_list("key", "done_on", "skipped_on", "moved_to", "count_done")},
        _goes(goes, spots) if before is None else before.rows.goes,
        spots,
        _looks(theirs(BatchEvent, kind="stage")) if seen else {},
    )


def _plantings(garden: Garden, plantings: Collection[int] | None) -> list[Planting]:
    wanted = Planting.objects.filter(season__garden=garden, season__year=garden.year, cancelled_on=None)
    if plantings is not None:
        wanted = wanted.filter(pk__in=list(plantings))
    return list(wanted.defer("made", "note", "not_again").order_by("pk"))


def _under(name: str, conditions: Mapping[str, Any]) -> dict[str, Any]:
    """The conditions on what that relation leads to."""
    return {f"{name}__{condition}": value for condition, value in conditions.items()}


def _stood(stands: Any, trays: Any) -> dict[int, list[Stood]]:
    """Where batches, or the trays they are in, stood; the latest last."""
    found: dict[int, list[Stood]] = defaultdict(list)
    for batch, *place in stands.values_list("batch_id", "spot_id", "since", "until"):
        found[batch].append(Stood(*place))
    runs = trays.values_list(
        "tray__runs__batch_id", "tray__runs__since", "tray__runs__until", "spot_id", "since", "until", "tray__lid"
    )
    for batch, begins, ends, spot, since, until, lid in runs:
        last = min((day for day in (ends, until) if day is not None), default=None)
        if last is None or last >= max(begins, since):
            found[batch].append(Stood(spot, max(begins, since), last, lid))
    for places in found.values():
        places.sort(key=lambda place: (place.until is None, place.since))
    return found


def _goes(rows: Any, spots: Mapping[int, tuple[str, str]]) -> dict[int, list[GoesTo]]:
    """Where they are to stand from which day on."""
    goes: dict[int, list[GoesTo]] = defaultdict(list)
    for planting, since, spot in rows.order_by("since", "pk").values_list("planting_id", "since", "spot_id"):
        goes[planting].append(GoesTo(since, spot, *spots.get(spot, ("", ""))))
    return dict(goes)


def _looks(events: Any) -> dict[int, list[LeavesSeen]]:
    """True leaves and heights that somebody saw, by batch in order."""
    found: dict[int, list[LeavesSeen]] = defaultdict(list)
    for batch, on, data in events.order_by("on", "pk").values_list("batch_id", "on", "data"):
        if isinstance(data, dict) and isinstance(data.get("leaves"), int | float):
            cm = data.get("cm")
            found[batch].append(LeavesSeen(int(data["leaves"]), float(cm) if isinstance(cm, int | float) else None, on))
    return dict(found)


def _about(refs: Iterable[str]) -> Q:
    """Marks whose keys begin with one of these."""
    found = Q(pk=None)
    for ref in refs:
        found |= Q(key__startswith=ref)
    return found


def _events(events: Any) -> dict[int, Events]:
    """Events by batch, days read as text."""
    found: dict[int, list[tuple[str, date, int | None, bool, float | None, float | None]]] = defaultdict(list)
    rows = events.order_by("batch_id", "pk").annotate(
        day=Cast("on", CharField()), guess=Cast("estimated", IntegerField())
    )
    for batch, kind, day, count, guess, hours, wanted in rows.values_list(
        "batch_id", "kind", "day", "count", "guess", "hours", "wanted_hours"
    ).iterator(chunk_size=MANY):
        found[batch].append((kind, date.fromisoformat(day), count, bool(guess), hours, wanted))
    for events in found.values():
        events.sort(key=itemgetter(1))  # by day; of one day in the order they were written
    return dict(found)
