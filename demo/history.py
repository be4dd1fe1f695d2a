"""What was done to each batch, as the garden's rows have it: all that nature needs to know to say what became of it."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date, timedelta

from aestiva.gardens.models import Garden
from aestiva.season.crops import Crops
from aestiva.season.models import Batch, BatchEvent, BatchLink, BatchStand, CellRun, TrayStand
from demo.nature.kinds import Kind, kind
from demo.nature.seed import KEPT
from growing.ladders.ladder import NIGHT_HOURS

CELL, BOX, GROUND = (40.0, 21.0), (14.0, 7.0), (3000.0, 100.0)  # ml and cm² a plant: of a cell, a box, the ground
DARK_DAYS = 4  # so long light germinators forgive the dark
GONE = ("thinned", "given")


@dataclass
class History:
    """One batch.  name: what its chance goes by, the same whatever rows it has.  stands: from when it stands where, by code.

    outings: hours out by day, and whether the night as well.  gone: plants thinned or given away by day; died: losses that the grower
    has written down.  parent: the batch it was split from, so many plants on a day.  again: what happened on the bench, by day.
    """

    ref: int
    name: str
    kind: Kind
    seeds: int = 0
    age_years: float = 0.0
    keeping: float = 1.0
    cell: tuple[float, float] = CELL
    sown_on: date | None = None
    bought_on: date | None = None
    lid_off: date | None = None
    mat_off: date | None = None
    lit_on: date | None = None
    planted: date | None = None
    stands: list[tuple[date, str]] = field(default_factory=list)
    outings: dict[date, tuple[float, bool]] = field(default_factory=dict)
    gone: Counter[date] = field(default_factory=Counter)
    died: int = 0
    pricked: list[date] = field(default_factory=list)
    potted: list[date] = field(default_factory=list)
    parent: tuple[int, int, date] | None = None

    @property
    def begins(self) -> date | None:
        """The first day it is there; None: nothing was sown or fetched yet."""
        return self.parent[2] if self.parent is not None else self.sown_on or self.bought_on

    def wrong_light(self, day: date) -> bool:
        """By that day, was it left in the dark though it needs light, or lit from the first day though it needs dark?"""
        if self.sown_on is None:
            return False
        lit = self.lit_on or day
        if self.kind.light == "light":
            return (lit - self.sown_on).days > DARK_DAYS
        return self.kind.light == "dark" and self.lit_on is not None and (lit - self.sown_on).days < DARK_DAYS / 2

    def at(self, day: date) -> str:
        """Where it stands on a day; empty where nobody said."""
        return next((code for since, code in reversed(self.stands) if since <= day), "")


def histories(garden: Garden) -> list[History]:
    """Every batch of the garden that has begun, in the order they were made."""
    crops, found, names = Crops(garden), {}, Counter[str]()
    batches = (
        Batch.objects.filter(planting__season__garden=garden).select_related("planting__spot", "lot").order_by("pk")
    )
    for batch in batches:
        key, lot = batch.planting.crop_key, batch.lot
        name = f"{key}/{batch.planting.variety}/{batch.sown_on}"
        names[name] += 1
        made = History(batch.pk, f"{name}/{names[name]}", kind(key, crops[key].hardiness), sown_on=batch.sown_on)
        made.cell = BOX if batch.sown_in == "box" else CELL
        if batch.planting.method == "direct" and batch.sown_on is not None:  # no lid, no mat: where it will grow
            made.cell, made.lid_off, made.lit_on = GROUND, batch.sown_on, batch.sown_on + timedelta(days=DARK_DAYS)
            made.stands = [(batch.sown_on, batch.planting.spot.code if batch.planting.spot else "")]
        if lot is not None:
            made.age_years, made.keeping = (
                max(0, garden.year - (lot.packed_year or garden.year)),
                KEPT.get(lot.storage, 1.0),
            )
        found[batch.pk] = made
    for event in BatchEvent.objects.filter(batch__in=found).order_by("on", "pk"):
        happened(found[event.batch_id], event.kind, event.on, event.count, event.hours)
    for link in BatchLink.objects.filter(child__in=found).order_by("pk"):
        child, parent = found[link.child_id], found.get(link.parent_id)
        if not link.count:  # its cells sown again: seed of its own
            continue
        child.parent = (link.parent_id, link.count, link.on)
        child.seeds, child.cell = link.count, CELL
        if parent is not None:
            child.name = f"{parent.name}→{link.on}"
    _stands(found)
    return [one for one in found.values() if one.begins is not None and one.seeds > 0]


def happened(one: History, event: str, on: date, count: int | None, hours: float | None = None) -> None:
    """Take one event into the history."""
    number = count or 0
    if event == "sown":
        one.seeds, one.sown_on = one.seeds + number, on
    elif event == "received":
        one.seeds, one.bought_on = one.seeds + number, on
    elif event == "lamp":
        one.lit_on = one.lit_on or on
    elif event == "lid":
        one.lid_off = one.lid_off or on
    elif event == "mat":
        one.mat_off = one.mat_off or on
    elif event in GONE:
        one.gone[on] += number
    elif event in ("died", "lost_outside"):
        one.died += number
    elif event == "pricked":
        one.pricked.append(on)
    elif event == "potted":
        one.potted.append(on)
    elif event == "planted" and one.planted is None:  # one set out in parts is out from the first of them
        one.planted = on
    elif event == "out":  # until somebody brings it in, it stays
        one.outings[on] = (12.0, True)
    elif event == "outing":
        one.outings[on] = (min(hours or 0.0, 14.0), (hours or 0.0) >= NIGHT_HOURS)


def _stands(found: dict[int, History]) -> None:
    """Where each batch stood from when on: by itself, or in a tray that did."""
    for batch, since, code in BatchStand.objects.filter(batch__in=found).values_list("batch_id", "since", "spot__code"):
        found[batch].stands.append((since, code))
    trays: dict[int, list[tuple[date, date | None, str]]] = defaultdict(list)
    runs = list(CellRun.objects.filter(batch__in=found).values_list("batch_id", "tray_id", "since", "until"))
    rows = TrayStand.objects.filter(tray__in={tray for _, tray, _, _ in runs}).order_by("since", "pk")
    for tray, since, until, code in rows.values_list("tray_id", "since", "until", "spot__code"):
        trays[tray].append((since, until, code))
    for batch, tray, since, until in runs:
        for stood, left, code in trays[tray]:
            if (until is None or stood <= until) and (left is None or left >= since):
                found[batch].stands.append((max(since, stood), code))
    for one in found.values():
        one.stands.sort(key=lambda stand: stand[0])


def first_day(all_of_them: Iterable[History], default: date) -> date:
    """The day on which the first of them began."""
    return min((one.begins for one in all_of_them if one.begins is not None), default=default + timedelta(days=1))
