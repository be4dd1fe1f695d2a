"""A kind of work that only one stage knows: it registers it, and every page that lists work lists it, from due to done to taken back."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, timedelta
from typing import Any
from unittest import mock

from aestiva.course.known import forget
from aestiva.frame import wording
from aestiva.frame.tests.garden import TODAY, GardenCase
from aestiva.frame.wording import Said, StageWords, StepWords
from aestiva.gardens import providers
from aestiva.gardens.models import JournalEntry
from aestiva.gardens.providers import Stage, register
from aestiva.season.actions import Finished
from aestiva.season.models import Absence
from growing.batch.facts import BatchFacts
from growing.batch.kinds import plain
from growing.steps import StepSpec, Task, TaskRef
from growing.working import Value, Working

EVERY = timedelta(days=3)


def _comb(one: BatchFacts, today: date, until: date) -> Iterator[Task]:
    """Every third day from the day they are up."""
    done = one.facts.days.get("combed", ())
    if one.facts.first_up is None or not one.growing:
        return
    due = (done[-1] if done else one.facts.first_up) + EVERY
    if due <= until:
        why = Working("combing.day", (Value("up", one.facts.first_up),), (), Value("comb", due))
        yield Task(COMB.key_of(one.ref, len(done)), COMB, due, one.plants, "plants", why)


COMB = StepSpec("comb", "bench", _comb, minutes=2, each=0.1)
WORDS = StageWords(
    {"combing.day": Said("Comb", "Combed every third day since {up}.")},
    {"comb": StepWords("seedlings to comb", "Combed", "Draw a card over their tops.", act="comb")},
    events={"combed": "combed"},
)


def _combed(done: Finished) -> None:
    done.event("combed")


STAGE = Stage(
    "combing",
    WORDS,
    rules={"combing.day": ("up",)},
    steps=(COMB,),
    events=plain("combed"),
    complete={"comb": _combed},
)


class Combing(GardenCase):
    def setUp(self) -> None:
        super().setUp()
        tables: list[tuple[Any, str]] = [
            *((providers, name) for name in ("_stages", "_by_key", "_events", "_complete")),
            *((wording, name) for name in ("RULES", "STEPS", "EVENTS")),
        ]
        for module, name in tables:  # what is registered here is known here alone
            patch = mock.patch.dict(getattr(module, name))
            patch.start()
            self.addCleanup(patch.stop)
        steps = mock.patch.object(providers, "_steps", [*providers._steps])
        steps.start()
        self.addCleanup(steps.stop)
        self.addCleanup(forget)
        register(STAGE)
        self.batch = self.sown("tomato", 12, on=TODAY)
        self.day(TODAY + timedelta(days=9))
        self.post(f"batch/{self.batch.pk}/record/", kind="up", count="14")
        self.on = TODAY + timedelta(days=12)
        self.day(self.on)

    def test_from_due_to_done_to_taken_back_on_every_page(self) -> None:
        away = Absence.objects.create(garden=self.garden, since=self.on, until=self.on + timedelta(days=2)).pk
        key = COMB.key_of(f"b{self.batch.pk}", 0)
        pages = {
            "today/": "seedlings to comb",
            "calendar/week/": "seedlings to comb",
            "calendar/tasks.ics": key,
            "tasks.csv": "seedlings to comb",
            f"batch/{self.batch.pk}/": "seedlings to comb",
            f"away/{away}/sheet/": "seedlings to comb",
            f"task/{key}/why/": "Combed every third day",
        }

        def found() -> dict[str, bool]:
            return {page: words in self.client.get(self.url(page)).content.decode() for page, words in pages.items()}

        listed = found()
        self.assertEqual(listed, dict.fromkeys(pages, True))
        self.assertEqual(TaskRef.of(key), TaskRef("batch", self.batch.pk, "comb", "0"))
        minutes = self.now().minutes_on(self.on)
        self.post(f"task/{key}/", what="done")
        self.assertNotIn(key, [t.task.key for t in self.now().todos(self.on)])
        self.assertIn(COMB.key_of(f"b{self.batch.pk}", 1), [t.task.key for t in self.now().todos(self.on + EVERY)])
        self.assertLess(self.now().minutes_on(self.on), minutes)
        self.assertIn("combed", self.client.get(self.url(f"batch/{self.batch.pk}/")).content.decode())
        entry = JournalEntry.objects.filter(garden=self.garden).latest("pk")
        self.post(f"journal/{entry.pk}/undo/")
        self.assertEqual(found(), listed)
        self.assertEqual(self.now().minutes_on(self.on), minutes)
