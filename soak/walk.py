"""Two people work in one garden at random, take back and redo; after every step the garden must hold and its pages answer."""

from __future__ import annotations

import random
from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import Any

from django.apps import apps
from django.db import transaction
from django.test import Client

from aestiva.course.state import load
from aestiva.gardens import changeset, clock
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.gardens.outcomes import CannotUndo, Repeated
from aestiva.gardens.undo import undo
from aestiva.season.ledgers import accounts_of
from aestiva.season.models import Batch
from soak.acts import ACTIONS

MOST_PASSES = 5  # of taking everything back
MAIN = (
    "today/",
    "plan/",
    "plan/replan/",
    "plan/weeks/",
    "seeds/",
    "beds/",
    "bench/",
    "bench/room/",
    "hands/",
    "best-days/",
    "bench/days/",
    "bench/stock/",
    "emergence/",
    "light/",
    "care/",
    "care/feed/",
    "care/moving/",
    "care/trouble/",
    "care/tools/",
    "hardening/",
    "door/",
    "hardening/people/",
    "plantingout/",
    "tonight/",
    "place/",
    "calendar/",
    "journal/",
    "crops/",
    "spots/",
)
LABELS = (
    "season.Spot", "season.GardenCrop", "season.CropValue", "season.Lot", "season.Planting", "season.BedArea", "season.Batch",
    "season.BatchEvent", "season.BatchStand", "season.BatchLink", "season.Container", "season.Tray", "season.TrayStand",
    "season.CellRun",
    "care.Feed", "care.TrayLook", "care.PotLook", "care.Ailment", "care.AirLook", "care.Sprayer", "care.TrayWeight",
    "season.OwnLadder", "gardens.Member", "plantingout.CoverAtHand", "plantingout.BedState",
    "season.Lamp", "season.LampSetting", "season.LightReading", "season.Tariff",
    "season.Goes", "season.WarmReading", "season.TaskMark", "season.Absence", "plan.Price", "seeds.SeedTest",
    "beds.Plot", "beds.Use", "place.Frost", "bench.Store", "bench.Recipe", "bench.Filled", "bench.BenchDay", "bench.DayLine",
    "bench.StageDone", "bench.Timer", "bench.Turn", "place.Warmth", "place.GardenNight", "place.SoilReading", "place.ForecastNight",
    "gardens.Garden",
)  # fmt: skip
ASIDE = ("revision", "settings_revision", "readings_revision")


def garden_path(label: str) -> str:
    """How one gets from a row to its garden."""
    return {
        "season.Planting": "season__garden", "season.BedArea": "planting__season__garden",
        "season.Batch": "planting__season__garden", "season.BatchEvent": "batch__planting__season__garden",
        "season.BatchStand": "batch__planting__season__garden", "season.Goes": "planting__season__garden",
        "season.BatchLink": "child__planting__season__garden",
        "plantingout.BedState": "spot__garden", "care.TrayLook": "tray__garden", "care.PotLook": "batch__planting__season__garden",
        "care.Ailment": "batch__planting__season__garden", "care.AirLook": "spot__garden", "care.TrayWeight": "tray__garden",
        "season.Lamp": "spot__garden", "season.LampSetting": "spot__garden", "season.LightReading": "spot__garden",
        "season.TrayStand": "tray__garden", "season.CellRun": "tray__garden", "bench.Filled": "recipe__garden", "bench.DayLine": "day__garden",
        "bench.StageDone": "day__garden", "seeds.SeedTest": "lot__garden", "gardens.Garden": "pk",
    }.get(label, "garden")  # fmt: skip


def state(garden: Garden) -> dict[str, list[dict[str, Any]]]:
    """Every row of the garden as stored, revisions aside."""
    found = {}
    for label in LABELS:
        rows = apps.get_model(label)._base_manager.filter(**{garden_path(label): garden.pk}).order_by("pk")
        found[label] = [{n: v for n, v in changeset.fields(row).items() if n not in ASIDE} for row in rows]
    return found


def origin(entry: JournalEntry) -> tuple[int, bool]:
    """The entry that a chain of undo and redo goes back to, and whether the end of the chain takes it away."""
    depth = 0
    while entry.undoes is not None:
        entry, depth = entry.undoes, depth + 1
    return entry.pk, depth % 2 == 1


def in_the_way(entry: JournalEntry) -> JournalEntry | None:
    """The entry that a refusal to take this one back names; None where it is not refused, or names none."""
    try:
        with transaction.atomic():
            undo(entry, None)
            transaction.set_rollback(True)
    except CannotUndo as refused:
        return refused.later
    except Repeated:
        return None
    return None


@dataclass
class Walk:
    """One walk: `people` log in by turns; `done` counts what was accepted by kind."""

    garden: Garden
    people: list[Client]
    seed: int
    done: dict[str, int] = field(default_factory=dict)
    refused: int = 0

    def __post_init__(self) -> None:
        self.random = random.Random(self.seed)
        self.key = 0

    def pick(self, rows: Any) -> Any:
        return self.random.choice(list(rows)) if rows else None

    def post(self, rest: str, **data: Any) -> int:
        self.key += 1
        who = self.pick(self.people)
        answer = who.post(f"/g/{self.garden.pk}/{rest}", {"key": f"walk-{self.seed}-{self.key}", **data})
        if answer.status_code not in (200, 302, 409, 422, 403, 404):
            raise AssertionError(f"{rest} {data}: {answer.status_code}")
        self.refused += answer.status_code in (409, 422)
        return int(answer.status_code)

    def step(self) -> str:
        """One action at random."""
        kind = self.random.choice(list(ACTIONS))
        before = JournalEntry.objects.filter(garden=self.garden).count()
        ACTIONS[kind](self)
        if JournalEntry.objects.filter(garden=self.garden).count() > before:
            self.done[kind] = self.done.get(kind, 0) + 1
        return kind

    def check(self, pages: tuple[str, ...] = MAIN) -> None:
        """The main pages answer, and every ledger balances; AssertionError otherwise."""
        for page in pages:
            status = self.people[0].get(f"/g/{self.garden.pk}/{page}").status_code
            if status != 200:
                raise AssertionError(f"{page}: {status}")
        for batch in Batch.objects.filter(planting__season__garden=self.garden).prefetch_related("events"):
            accounts_of(batch)
        batch = self.pick(Batch.objects.filter(planting__season__garden=self.garden))
        if batch is not None and self.people[0].get(f"/g/{self.garden.pk}/batch/{batch.pk}/").status_code != 200:
            raise AssertionError(f"batch {batch.pk}")
        troubles = load(Garden.objects.get(pk=self.garden.pk), self.today).troubles
        if troubles:
            raise AssertionError(f"{troubles}")

    @property
    def today(self) -> date:
        return clock.today(Garden.objects.get(pk=self.garden.pk))

    def day(self, back: int = 3) -> str:
        return (self.today - timedelta(days=self.random.randrange(back))).isoformat()

    def undo_everything(self, since: int) -> int:
        """Take back what was first written after entry `since` and is in force, newest first, then put back what was
        written before it and is not, doing what a refusal says; how many refuse all the same."""
        stuck: list[JournalEntry] = []
        for _ in range(MOST_PASSES):
            stuck = [entry for entry in self._out_of_place(since) if not self._as_told(entry)]
            if not self._out_of_place(since):
                return 0
        return len(stuck)

    def _out_of_place(self, since: int) -> list[JournalEntry]:
        standing = JournalEntry.objects.filter(garden=self.garden, pk__gt=since, undone_by=None).defer("changes")
        open_ = [(entry, *origin(entry)) for entry in standing if entry.can_be_taken_back]
        away = [entry for entry, first, undone in open_ if first > since and not undone]
        return away + [entry for entry, first, undone in reversed(open_) if first <= since and undone]

    def _as_told(self, entry: JournalEntry, deep: int = 4) -> bool:
        """Take it back, and first what a refusal names."""
        if self._take_back(entry):
            return True
        if deep and (named := in_the_way(entry)) is not None and self._as_told(named, deep - 1):
            return self._take_back(entry)
        return False

    def _take_back(self, entry: JournalEntry) -> bool:
        self.key += 1
        key = f"end-{self.seed}-{self.key}"
        self.people[0].post(f"/g/{self.garden.pk}/journal/{entry.pk}/undo/", {"key": key})
        return JournalEntry.objects.filter(undoes=entry).exists()
