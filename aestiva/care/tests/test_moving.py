"""Leaves seen move the work; roots, surplus, setbacks kept apart; what cannot be; everything taken back."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.db import connection
from django.test.utils import CaptureQueriesContext

from aestiva.care.moving import rows
from aestiva.care.stages import asks, moved, moved_said
from aestiva.care.tests.test_round import RoundCase
from aestiva.course.state import Item, SeasonState, load
from aestiva.emergence.views import batch_of
from aestiva.frame.say import US
from aestiva.frame.tests.garden import TODAY, client_for, user
from aestiva.gardens.models import JournalEntry, Member
from aestiva.gardens.outcomes import CannotUndo
from aestiva.gardens.undo import undo
from aestiva.season.models import Batch, BatchEvent
from growing.batch.stress import APART_DAYS


class MovingCase(RoundCase):
    """The tray of lettuce, a tray of cabbage three weeks up, and tomatoes that are to be potted up."""

    def lay_out(self) -> None:
        super().lay_out()
        self.tomato = self.up("tomato", 14)

    def now(self) -> SeasonState:
        return load(self.garden, TODAY)

    def item(self, batch: Batch) -> Item:
        return next(i for i in self.now().items if i.batch is not None and i.batch.pk == batch.pk)

    def seen(self, batch: Batch, leaves: int | str, **more: Any) -> Any:
        return self.client.post(
            self.url(f"care/stage/{batch.pk}/keep/"),
            {"leaves": leaves, "revision": batch_of(self.garden, batch.pk).revision, **more},
        )

    def act(self, batch: Batch, what: str, **more: Any) -> Any:
        revision = batch_of(self.garden, batch.pk).revision
        return self.client.post(self.url(f"care/moving/{batch.pk}/{what}/keep/"), {"revision": revision, **more})

    def back(self) -> None:
        entry = JournalEntry.objects.latest("pk")
        self.assertLess(self.client.post(self.url(f"journal/{entry.pk}/undo/")).status_code, 400)


class Leaves(MovingCase):
    def test_a_look_moves_the_potting_and_says_by_how_much(self) -> None:
        before = self.item(self.tomato)
        due = before.raised.course.steps["pot"].due
        answer = self.seen(self.tomato, 5)
        self.assertEqual(answer.status_code, 302)
        after = self.item(self.tomato)
        assert after.raised.stage is not None
        self.assertEqual(after.raised.stage.seen.leaves, 5)
        self.assertLessEqual(after.raised.course.steps["pot"].due, TODAY)
        changed = moved(before, after)
        self.assertIn("pot", [("pot" if m.word == "Pot up" else m.word) for m in changed])
        said = moved_said(changed, TODAY)
        self.assertIn("Pot up now, not", said)
        self.assertIn("now", self.page("care/moving/"))
        self.assertLess(after.raised.course.steps["pot"].due, due)

    def test_few_leaves_put_it_off_and_it_is_behind(self) -> None:
        before = self.item(self.tomato)
        self.seen(self.tomato, 0)
        after = self.item(self.tomato)
        self.assertGreater(after.raised.course.steps["pot"].due, before.raised.course.steps["pot"].due)
        assert after.raised.stage is not None
        self.assertGreater(after.raised.stage.behind_days, 3)
        self.assertGreaterEqual(after.raised.dates.out_on, before.raised.dates.out_on)

    def test_a_forecast_goes_on_from_the_look(self) -> None:
        self.seen(self.tomato, 2)
        today, later = self.item(self.tomato), None
        for one in load(self.garden, TODAY + timedelta(days=8)).items:
            if one.batch is not None and one.batch.pk == self.tomato.pk:
                later = one
        assert later is not None and later.raised.stage is not None and today.raised.stage is not None
        self.assertGreater(later.raised.stage.leaves, today.raised.stage.leaves + 0.5)
        self.assertAlmostEqual(
            (later.raised.course.steps["pot"].due - today.raised.course.steps["pot"].due).days, 0, delta=2
        )

    def test_going_backwards_is_asked_and_then_believed(self) -> None:
        self.seen(self.tomato, 4)
        refused = self.seen(self.tomato, 2)
        self.assertEqual(refused.status_code, 422)
        page = refused.content.decode()
        self.assertIn("Yes, there are fewer now", page)
        self.assertIn('name="leaves" value="2"', page)
        self.assertEqual(self.seen(self.tomato, 2, fewer="1").status_code, 302)

    def test_nothing_up_has_no_leaves(self) -> None:
        lying = self.sown("pepper", 6, on=TODAY)
        self.assertEqual(self.seen(lying, 1).status_code, 422)
        self.assertFalse(BatchEvent.objects.filter(kind="stage").exists())

    def test_taken_back_its_days_are_as_before(self) -> None:
        before = self.item(self.tomato).raised.course.steps["pot"].due
        self.seen(self.tomato, 5)
        self.back()
        self.assertEqual(self.item(self.tomato).raised.course.steps["pot"].due, before)

    def test_height_in_the_readers_unit_and_what_it_should_not_be(self) -> None:
        self.seen(self.tomato, 3, cm="12")
        self.assertEqual(BatchEvent.objects.get(kind="stage").data, {"leaves": 3, "cm": 12.0})
        self.assertEqual(self.seen(self.tomato, 3, cm="900").status_code, 422)
        self.assertEqual(self.seen(self.tomato, "many").status_code, 422)

    def test_choices_hold_the_likely_leaf(self) -> None:
        for ask in asks(self.now()):
            self.assertIn(ask.likely, [n for n, _ in ask.choices])
            self.assertEqual(len(ask.heights(US)), len(set(ask.heights(US))))

    def test_queries_do_not_grow_with_batches(self) -> None:
        self.seen(self.batch, 1)
        counts = []
        for _ in range(2):
            for crop in ("kale", "broccoli", "cabbage"):
                self.seen(self.up(crop, 15), 1)
            with CaptureQueriesContext(connection) as queries:
                self.page("care/moving/")
            counts.append(len(queries))
        self.assertLessEqual(counts[1], counts[0])


class IntoAPot(MovingCase):
    def test_roots_at_the_holes_are_enough(self) -> None:
        self.assertEqual(self.act(self.tomato, "roots", roots="at the holes").status_code, 302)
        row = next(r for r in rows(self.now()) if r.batch == self.tomato.pk)
        assert row.potting is not None
        self.assertEqual(row.potting.kind, "move")
        self.assertTrue(any(t.task.kind == "pot" and t.due <= TODAY for t in row.todos))
        self.assertIn("yes, now", self.page("care/moving/"))

    def test_no_roots_wait_a_week_whatever_the_days_say(self) -> None:
        self.act(self.tomato, "roots", roots="none")
        row = next(r for r in rows(self.now()) if r.batch == self.tomato.pk)
        assert row.potting is not None
        self.assertEqual(row.potting.kind, "wait")
        self.assertTrue(TODAY < row.potting.on <= TODAY + timedelta(days=7))

    def test_done_from_there_and_the_next_setback_waits(self) -> None:
        self.act(self.tomato, "roots", roots="circling")
        self.assertEqual(self.act(self.tomato, "done", kind="pot").status_code, 302)
        self.assertTrue(BatchEvent.objects.filter(batch=self.tomato, kind="potted").exists())
        todos = [
            t
            for t in self.now().todos(TODAY + timedelta(days=200), ("harden", "fill", "pinch"))
            if t.item.batch == self.tomato
        ]
        self.assertTrue(any(t.task.kind == "fill" for t in todos))
        for todo in todos:
            self.assertGreaterEqual(todo.due, TODAY + timedelta(days=APART_DAYS))
        self.back()
        self.assertFalse(BatchEvent.objects.filter(batch=self.tomato, kind="potted").exists())

    def test_what_cannot_be(self) -> None:
        wrong: tuple[tuple[str, dict[str, str]], ...] = (
            ("roots", {"roots": "blue"}),
            ("done", {"kind": "dance"}),
            ("over", {"way": "eat", "count": "1"}),
            ("over", {"way": "give", "count": "0"}),
            ("over", {"way": "give", "count": "900"}),
            ("over", {"way": "keep", "count": "x"}),
        )
        for what, more in wrong:
            with self.subTest(what, **more):
                self.assertEqual(self.act(self.tomato, what, **more).status_code, 422)
        lying = self.sown("pepper", 6, on=TODAY)
        self.assertEqual(self.act(lying, "roots", roots="none").status_code, 422)


class WhatIsOver(MovingCase):
    def test_given_sold_snipped_and_kept_balance(self) -> None:
        BatchEvent.objects.create(batch=self.tomato, kind="thinned", on=TODAY, count=0)
        there = self.item(self.tomato).raised.accounts
        assert there is not None and there.indoors == 20
        row = next(r for r in rows(self.now()) if r.batch == self.tomato.pk)
        if row.over is not None:
            self.assertEqual(row.over.there, row.over.need + row.over.over)
            self.assertIn("over</b>", self.page("care/moving/"))
        for way in ("give", "sell", "snip", "keep"):
            self.assertEqual(self.act(self.tomato, "over", way=way, count="2").status_code, 302)
        after = self.item(self.tomato).raised.accounts
        assert after is not None
        self.assertEqual(after.indoors, 12)
        self.assertEqual(BatchEvent.objects.get(note="sold").kind, "given")
        self.assertEqual(Batch.objects.filter(links_in__parent=self.tomato).count(), 1)
        for entry in JournalEntry.objects.order_by("-pk")[:4]:
            self.client.post(self.url(f"journal/{entry.pk}/undo/"))
        self.assertEqual(self.item(self.tomato).raised.accounts, there)

    def test_separated_instead_of_thinned(self) -> None:
        self.assertEqual(self.act(self.batch, "separate").status_code, 302)
        self.batch.refresh_from_db()
        self.assertEqual(self.batch.surplus, "keep")
        self.assertEqual(self.act(self.batch, "separate").status_code, 422)


class TakenBackInAnyOrder(MovingCase):
    def test_a_refusal_names_what_really_stands_in_the_way(self) -> None:
        self.act(self.batch, "separate")
        separated = JournalEntry.objects.latest("pk")
        self.act(self.batch, "roots", roots="none")
        looked = JournalEntry.objects.latest("pk")
        self.seen(self.batch, 2)
        taken = undo(separated, self.owner)
        with self.assertRaises(CannotUndo) as refused:
            undo(looked, self.owner)
        self.assertEqual(refused.exception.later, taken)  # not the look that came later, which changed nothing of it
        undo(taken, self.owner)
        undo(looked, self.owner)
        self.assertFalse(BatchEvent.objects.filter(kind="roots_none").exists())


class Readers(MovingCase):
    def test_a_reader_sees_it_and_changes_nothing(self) -> None:
        reader = user("reader")
        Member.objects.create(garden=self.garden, user=reader, role="reader")
        client = client_for(reader)
        page = client.get(self.url("care/moving/")).content.decode()
        self.assertIn("Tomato", page)
        self.assertNotIn('<button name="leaves"', page)
        self.assertEqual(client.post(self.url(f"care/stage/{self.tomato.pk}/keep/"), {"leaves": "1"}).status_code, 403)
