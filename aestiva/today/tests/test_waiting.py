"""What costs most to wait stands first; a long day is folded; the time there is is spent where it saves most."""

from __future__ import annotations

import re
from datetime import date, timedelta
from typing import Any

from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from aestiva.season.models import Batch, BatchEvent, TaskMark
from aestiva.today.listing import listing
from aestiva.today.order import MOST_ROWS, fold, rows_of
from aestiva.today.queries import Bundle, Folded, day, in_minutes


class Dark(GardenCase):
    """Seedlings that came up in the dark, between a kale and a leek that can wait."""

    def lay_out(self) -> None:
        super().lay_out()
        plant(self.garden, self.owner, "calendula", 12, sow_on=TODAY)
        self.batch = self.sown("cabbage", 30, TODAY - timedelta(days=7))
        self.post(f"batch/{self.batch.pk}/record/", kind="up", count="20", on=(TODAY - timedelta(days=1)).isoformat())

    def test_the_dearest_to_wait_stands_first_and_says_so(self) -> None:
        bench = next(g for g in day(self.now()).groups if g.where == "bench")
        first = bench.rows[0]
        assert isinstance(first, Bundle)
        self.assertEqual((first.kind, first.cannot_wait), ("lamp", True))
        costs = [row.cost for row in bench.rows]
        self.assertEqual(costs, sorted(costs, reverse=True))
        page = self.client.get(self.url("today/"))
        self.assertContains(page, "cannot wait: light Cabbage")
        self.assertContains(page, "A day’s delay:")
        why = self.client.get(self.url(f"task/{first.todos[0].task.key}/why/"))
        self.assertContains(why, "What waiting costs")
        self.assertContains(why, "spoilt by another day in the dark")

    def test_i_have_five_minutes(self) -> None:
        found = in_minutes(self.now(), 5)
        self.assertIn("lamp", [b.kind for g in found.groups for b in g.bundles])
        self.assertLessEqual(found.minutes, 5)
        page = self.client.get(self.url("today/minutes/?m=5"))
        self.assertContains(page, "5 minutes: these first")
        self.assertContains(page, "For another day")
        self.assertContains(
            self.client.get(self.url("today/minutes/?m=0")), "is not a number of minutes", status_code=422
        )
        self.assertContains(self.client.get(self.url("today/minutes/?m=soon")), "“soon”", status_code=422)
        left = [b.todos[0].task.key for b in found.left]
        self.post("today/put-off/", task=left[0])
        self.assertEqual(TaskMark.objects.get(key=left[0]).moved_to, TODAY + timedelta(days=1))
        self.assertNotContains(self.client.get(self.url("today/")), f"t-{left[0].replace('.', '-')}")

    def test_all_the_time_there_is_leaves_nothing(self) -> None:
        found = in_minutes(self.now(), 1000)
        self.assertEqual(found.left, [])
        self.assertContains(self.client.get(self.url("today/minutes/?m=1000")), "these first")


class ManyRows(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        crops = ("tomato", "kale", "lettuce", "cabbage", "broccoli", "leek", "basil", "calendula", "zinnia")
        for crop in crops:
            for n in range(4):
                on = TODAY - timedelta(days=6)
                planting = plant(self.garden, self.owner, crop, 8, sow_on=on, variety=f"Row {n}")
                batch = Batch.objects.create(planting=planting, sown_on=on, cells=12, per_cell=1, surplus="thin")
                BatchEvent.objects.create(batch=batch, kind="sown", on=on, count=12)

    def rows(self) -> list[Bundle | Folded]:
        return [row for group in day(self.now()).groups for row in group.rows]

    def test_a_long_day_is_folded_to_what_is_taken_in_at_a_glance(self) -> None:
        now = self.now()
        lines = listing(now, now.todos(TODAY)).lines
        self.assertGreater(len(lines), 50)
        rows = self.rows()
        self.assertLessEqual(len(rows), MOST_ROWS)
        self.assertTrue(any(isinstance(row, Folded) for row in rows))
        shown = sum(len(row.lines) if isinstance(row, Folded) else len(row.todos) for row in rows)
        self.assertEqual(shown, len(lines))  # nothing drops out of sight

    def opened(self, name: str) -> Any:
        return self.client.get(self.url(f"today/fold/?of={name}"), headers={"HX-Request": "true"})

    def test_a_fold_opens_and_a_tap_in_it_changes_its_sum(self) -> None:
        folded = next(row for row in self.rows() if isinstance(row, Folded) and row.fold.kind == "lamp")
        page = self.opened(folded.fold.anchor)
        self.assertContains(page, "<article", count=len(folded.rows))
        self.client.get(self.url("today/"))
        key = folded.lines[0].key
        answer = self.client.post(self.url(f"task/{key}/"), {}, headers={"HX-Request": "true"})
        self.assertEqual(answer.status_code, 200)
        text = answer.content.decode()
        self.assertIn(f'id="s-{folded.fold.anchor}" hx-swap-oob="true"', text)
        self.assertRegex(text, rf"{len(folded.rows) - 1}\s*<small>rows")
        self.assertIn(f'id="t-{key.replace(".", "-")}" hx-swap-oob="delete"', text)
        self.assertContains(self.client.get(self.url("today/fold/?of=nothing")), "Nothing of that is left")

    def test_as_a_page_of_its_own_without_scripts(self) -> None:
        folded = next(row for row in self.rows() if isinstance(row, Folded))
        page = self.client.get(self.url(f"today/fold/?of={folded.fold.anchor}"))
        self.assertContains(page, "all of today")
        self.assertEqual(len(re.findall("<article", page.content.decode())), len(folded.rows))

    def test_few_rows_are_not_folded(self) -> None:
        now = self.now()
        lines = listing(now, now.todos(TODAY)).lines[:MOST_ROWS]
        self.assertEqual(fold(rows_of(lines)), {})

    def test_the_day_put_off_can_be_taken_back_at_once(self) -> None:
        before = len(self.now().todos(TODAY))
        keys = [t.task.key for t in self.now().todos(TODAY)][:5]
        self.client.post(self.url("today/put-off/"), {"task": keys, "to": date(2026, 4, 20).isoformat(), "key": "once"})
        self.assertEqual(len(self.now().todos(TODAY)), before - 5)
        self.client.post(self.url("today/put-off/"), {"task": keys, "to": date(2026, 4, 20).isoformat(), "key": "once"})
        self.assertEqual(TaskMark.objects.filter(moved_to=date(2026, 4, 20)).count(), 5)
