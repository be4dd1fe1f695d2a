"""What is known of a planting by all that it follows from: a change of one leaves the others known, and no change leaves an old answer."""

from __future__ import annotations

from dataclasses import fields
from datetime import timedelta
from typing import Any
from unittest import mock

from django.db import models

from aestiva.course import items, kept
from aestiva.course.known import MOST, forget, known, values_of
from aestiva.course.state import SeasonState, load
from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from aestiva.gardens.models import Garden
from aestiva.season.models import Batch, Planting, Spot, TaskMark
from growing.batch.facts import BatchFacts


def seen(now: SeasonState) -> dict[str, Any]:
    """What the rules see of each, and the tasks of two months."""
    facts: dict[str, Any] = {}
    for one in (i.raised for i in now.items):
        course = {kind: (step.due, step.happened) for kind, step in one.course.steps.items()}
        facts[one.ref] = course, *(getattr(one, f.name) for f in fields(one) if f.name not in ("course", "memo"))
    todos = {t.task.key: (t.task, t.due) for t in now.todos(TODAY + timedelta(days=60))}
    return {**facts, **todos}


class Known(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.batch = self.sown("tomato", 12, on=TODAY)
        self.others = [plant(self.garden, self.owner, crop, 6) for crop in ("kale", "basil", "lettuce")]

    def both(self) -> tuple[dict[str, Any], dict[str, Any]]:
        """As it is with all that is known, and worked out anew."""
        kept.forget()
        garden = Garden.objects.get(pk=self.garden.pk)
        before = seen(load(garden, TODAY))
        forget()
        return before, seen(load(garden, TODAY))

    def worked_out(self, rest: str, **data: Any) -> set[int]:
        """The plantings that a post, and the page after it, work out."""
        found: set[int] = set()
        real = items._worked_out

        def count(planting: Planting, *args: Any) -> Any:
            found.add(planting.pk)
            return real(planting, *args)

        with mock.patch.object(items, "_worked_out", count):
            self.post(rest, **data)
            self.client.get(self.url("today/"))
        return found

    def test_a_tap_works_out_one_planting(self) -> None:
        self.client.get(self.url("today/"))
        self.assertEqual(self.worked_out("place/"), set())
        sown = self.others[0].pk
        self.assertEqual(self.worked_out(f"task/p{sown}.sow.0/", what="done", on=TODAY.isoformat()), {sown})
        self.assertEqual(
            self.worked_out(f"batch/{self.batch.pk}/record/", kind="up", count="9"), {self.batch.planting_id}
        )

    def test_whatever_is_changed_is_seen(self) -> None:
        """Each column of a planting and of a batch that may differ is another answer, or plays no part in any."""
        spot = Spot.objects.create(garden=self.garden, kind="sill", code="Sill", heated="none", months_c=[9.0] * 12)
        day = TODAY + timedelta(days=3)
        changes: list[tuple[Any, dict[str, Any]]] = [
            (self.batch.planting, {"wanted": 40}),
            (self.batch.planting, {"chosen_out": day + timedelta(days=90)}),
            (self.batch.planting, {"spot": spot}),
            (self.batch.planting, {"values": {"hold": [9.0, "mine"]}}),
            (self.batch.planting, {"packet": {"weeks_min": 4.0, "weeks_max": 5.0, "base": "transplanting"}}),
            (self.batch, {"sown_on": TODAY - timedelta(days=9)}),
            (self.batch, {"temperature_c": 14.0}),
            (self.batch, {"cells": 30}),
            (self.batch, {"ladder": "fresh"}),
            (self.others[0], {"chosen_sow": day}),
            (self.others[0], {"germinates_at": spot}),
        ]
        for row, values in changes:
            old, _ = self.both()
            row.__class__.objects.filter(pk=row.pk).update(**values)
            with_all_known, anew = self.both()
            self.assertEqual(with_all_known, anew, values)
            self.assertNotEqual(old, anew, values)
        TaskMark.objects.create(garden=self.garden, key=f"p{self.others[1].pk}.sow.0", count_done=2)
        with_all_known, anew = self.both()
        self.assertEqual(with_all_known, anew)

    def test_a_row_is_known_by_every_column(self) -> None:
        for row in (self.batch, self.others[0]):
            before = values_of(row)
            for column in row._meta.concrete_fields:
                was = getattr(row, column.attname)
                setattr(row, column.attname, [was] if isinstance(column, models.JSONField) else (was, "else"))
                self.assertNotEqual(values_of(row), before, column.attname)
                setattr(row, column.attname, was)
            self.assertEqual(values_of(row), before)

    def test_what_a_page_finds_out_of_a_batch_is_its_own(self) -> None:
        one, other = (load(self.garden, TODAY).item_of(self.batch.pk) for _ in range(2))
        assert one is not None and other is not None
        self.assertIsNot(one.raised, other.raised)
        one.raised.verdict = mock.sentinel.verdict
        self.assertIsNone(other.raised.verdict)
        for column in fields(BatchFacts):
            if column.name != "verdict":
                self.assertIs(getattr(one.raised.anew(), column.name), getattr(one.raised, column.name))

    def test_only_so_much_is_kept_and_the_latest_longest(self) -> None:
        forget()
        asked = []

        def ask(k: int) -> int:
            return known(("a number", k), lambda: asked.append(k) or k)  # type: ignore[func-returns-value]

        for k in range(3 * MOST):
            ask(k)
            ask(0)  # asked again and again
        self.assertEqual(asked.count(0), 1)
        ask(1)
        self.assertEqual(asked.count(1), 2)
        self.assertEqual(ask(3 * MOST - 1), 3 * MOST - 1)
        self.assertEqual(asked.count(3 * MOST - 1), 1)


class Sister(GardenCase):
    def test_what_a_neighbour_says_is_heard_when_only_the_neighbour_was_counted(self) -> None:
        """Two sowings of one crop: the counts of one speak of the other, whoever of them is known already."""
        first, second = (self.sown("tomato", 20, on=TODAY - timedelta(days=9)) for _ in range(2))
        self.now().todos(TODAY)
        self.post(f"batch/{first.pk}/record/", kind="up", count="15")
        kept.forget()
        late = load(self.garden, TODAY)
        late.todos(TODAY)
        forget()
        anew = load(self.garden, TODAY)
        anew.todos(TODAY)
        for batch in Batch.objects.filter(pk__in=(first.pk, second.pk)):
            one, other = late.item_of(batch.pk), anew.item_of(batch.pk)
            assert one is not None and other is not None
            self.assertIsNotNone(one.raised.verdict)
            self.assertEqual(one.raised.verdict, other.raised.verdict)
