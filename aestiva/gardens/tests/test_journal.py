"""Every change can be taken back; what later hangs on it refuses; a post counts once."""

from __future__ import annotations

from datetime import date, timedelta

from django.test import TestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase as HypothesisCase

from aestiva.frame.tests.garden import TODAY, GardenCase, garden, plant, user
from aestiva.gardens import changeset, journal
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.gardens.undo import undo
from aestiva.season.models import Batch, BatchEvent, Lot, Planting, Spot
from aestiva.seeds.models import SeedTest


class Undo(TestCase):
    def setUp(self) -> None:
        self.user = user("moss")
        self.garden = garden(self.user)

    def test_create_update_delete_and_back(self) -> None:
        with journal.change(self.garden, self.user, "made") as write:
            spot = write.save(Spot(garden=self.garden, kind="bed", code="A"))
        with journal.change(self.garden, self.user, "renamed") as write:
            spot.name = "by the wall"
            write.save(spot)
        with journal.change(self.garden, self.user, "removed") as write:
            write.delete(spot)
        entries = list(JournalEntry.objects.order_by("pk"))
        undo(entries[2], self.user)
        back = Spot.objects.get(code="A")
        self.assertEqual(back.name, "by the wall")
        undo(entries[1], self.user)
        back.refresh_from_db()
        self.assertEqual(back.name, "")
        undo(entries[0], self.user)
        self.assertFalse(Spot.objects.exists())

    def test_redo_is_undoing_the_undo(self) -> None:
        with journal.change(self.garden, self.user, "made") as write:
            write.save(Spot(garden=self.garden, kind="bed", code="A"))
        first = JournalEntry.objects.get()
        undone = undo(first, self.user)
        self.assertTrue(JournalEntry.objects.get(pk=first.pk).is_undone)
        redone = undo(undone, self.user)
        self.assertTrue(Spot.objects.filter(code="A").exists())
        self.assertEqual(redone.summary, "Redid: made")

    def test_refuses_and_names_the_later_entry(self) -> None:
        with journal.change(self.garden, self.user, "made") as write:
            spot = write.save(Spot(garden=self.garden, kind="bed", code="A"))
        first = JournalEntry.objects.get()
        with journal.change(self.garden, self.user, "named it") as write:
            spot.name = "wall"
            write.save(spot)
        with self.assertRaises(journal.CannotUndo) as caught:
            undo(first, self.user)
        assert caught.exception.later is not None
        self.assertEqual(caught.exception.later.summary, "named it")
        self.assertTrue(Spot.objects.filter(code="A", name="wall").exists())

    def test_names_the_entry_that_took_away_what_it_belongs_to(self) -> None:
        with journal.change(self.garden, self.user, "put a packet in") as write:
            lot = write.save(Lot(garden=self.garden, crop_key="kale"))
        put = JournalEntry.objects.get()
        with journal.change(self.garden, self.user, "tested it") as write:
            test = write.save(SeedTest(lot=lot, on=date(2026, 3, 1), sown=10, up=9))
        with journal.change(self.garden, self.user, "removed the test") as write:
            write.delete(test)
        removed = JournalEntry.objects.get(summary="removed the test")
        taken = undo(put, self.user)
        with self.assertRaisesMessage(
            journal.CannotUndo, "took away what it belongs to: take that back first"
        ) as caught:
            undo(removed, self.user)
        self.assertEqual(caught.exception.later, taken)
        undo(taken, self.user)
        undo(removed, self.user)
        self.assertEqual(SeedTest.objects.get().lot_id, lot.pk)

    def test_one_use_keys_and_revision(self) -> None:
        before = self.garden.revision
        with journal.change(self.garden, self.user, "made", "k1") as write:
            write.save(Spot(garden=self.garden, kind="bed", code="A"))
        with self.assertRaises(journal.Repeated), journal.change(self.garden, self.user, "made", "k1") as write:
            write.save(Spot(garden=self.garden, kind="bed", code="B"))
        self.assertEqual(Spot.objects.count(), 1)
        self.garden.refresh_from_db()
        self.assertEqual(self.garden.revision, before + 1)

    def test_a_failure_writes_nothing(self) -> None:
        with self.assertRaises(ZeroDivisionError), journal.change(self.garden, self.user, "made") as write:
            write.save(Spot(garden=self.garden, kind="bed", code="A"))
            raise ZeroDivisionError
        self.assertFalse(Spot.objects.exists() or JournalEntry.objects.exists())


class Backwards(GardenCase):
    def test_what_later_hangs_on_it_refuses(self) -> None:
        batch = self.sown()
        entry = JournalEntry.objects.filter(garden=self.garden).first()
        assert entry is not None
        self.post(f"batch/{batch.pk}/record/", kind="up", count="5")
        with self.assertRaises(journal.CannotUndo):
            undo(entry, self.owner)
        self.assertTrue(Batch.objects.filter(pk=batch.pk).exists())

    def test_simulated_days_only_go_forward(self) -> None:
        with journal.change(self.garden, None, "1 day went by") as write:
            row = Garden.objects.get(pk=self.garden.pk)
            row.simulated_on = TODAY + timedelta(days=1)
            write.save(row)
        entry = JournalEntry.objects.latest("pk")
        self.assertContains(self.post(f"journal/{entry.pk}/undo/"), "only go forward", status_code=403)
        self.assertEqual(Garden.objects.get(pk=self.garden.pk).simulated_on, TODAY + timedelta(days=1))

    def test_after_taking_back_one_lands_on_a_page_of_ours(self) -> None:
        for target, lands in (
            ("https://elsewhere.example/", "/today/"),
            ("//elsewhere.example", "/today/"),
            ("/\\\\elsewhere.example", "/today/"),
            ("/g/1/plan/", "/plan/"),
        ):
            plant(self.garden, self.owner, "tomato", 3)
            entry = JournalEntry.objects.latest("pk")
            answer = self.post(f"journal/{entry.pk}/undo/", next=target.replace("/g/1/", f"/g/{self.garden.pk}/"))
            self.assertTrue(answer["Location"].endswith(lands), target)


def snapshot(where: Garden) -> list[object]:
    """Everything of a garden that undo must restore: all but the counts of changes."""
    spots = [changeset.fields(s) | {"revision": 0} for s in Spot.objects.filter(garden=where).order_by("pk")]
    events = [
        changeset.fields(e) for e in BatchEvent.objects.filter(batch__planting__season__garden=where).order_by("pk")
    ]
    return [spots, events]


class UndoRestores(HypothesisCase):
    @settings(max_examples=40, deadline=None)
    @given(
        st.lists(
            st.tuples(st.sampled_from(["add", "name", "drop"]), st.integers(0, 4), st.text("abc", max_size=3)),
            max_size=12,
        )
    )
    def test_undoing_everything_backwards_restores_every_state(self, steps: list[tuple[str, int, str]]) -> None:
        who = user("tarn")
        where = garden(who)
        states = [snapshot(where)]
        for verb, n, text in steps:
            spot = Spot.objects.filter(garden=where, code=f"S{n}").first()
            with journal.change(where, who, f"{verb} {n}") as write:
                if verb == "add" and spot is None:
                    write.save(Spot(garden=where, kind="bed", code=f"S{n}", name=text))
                elif verb == "name" and spot is not None:
                    spot.name = text
                    write.save(spot)
                elif verb == "drop" and spot is not None:
                    write.delete(spot)
            if JournalEntry.objects.filter(garden=where).count() == len(states):
                states.append(snapshot(where))
        for entry in list(JournalEntry.objects.filter(garden=where)):
            self.assertEqual(snapshot(where), states.pop())
            undo(entry, who)
        self.assertEqual(snapshot(where), states[0])


class Many(TestCase):
    def setUp(self) -> None:
        self.user = user("moss")
        self.garden = garden(self.user)
        self.plantings = [plant(self.garden, self.user, "kale", n) for n in (3, 4, 5)]

    def test_many_rows_are_one_entry_and_one_undo(self) -> None:
        rows = list(Planting.objects.order_by("pk"))
        for row in rows:
            row.chosen_sow = TODAY + timedelta(days=7)
        with journal.change(self.garden, self.user, "moved three") as write:
            write.update_many(rows, ["chosen_sow"])
        entry = JournalEntry.objects.latest("pk")
        self.assertEqual(len(entry.changes), 3)
        self.assertEqual({r.revision for r in Planting.objects.all()}, {2})
        undo(entry, self.user)
        before = [p.chosen_sow for p in self.plantings]
        self.assertEqual(list(Planting.objects.order_by("pk").values_list("chosen_sow", flat=True)), before)

    def test_what_changed_in_other_columns_since_is_in_the_way(self) -> None:
        rows = list(Planting.objects.order_by("pk"))
        for row in rows:
            row.chosen_sow = TODAY + timedelta(days=7)
        with journal.change(self.garden, self.user, "moved three") as write:
            write.update_many(rows, ["chosen_sow"])
        moved = JournalEntry.objects.latest("pk")
        with journal.change(self.garden, self.user, "wanted nine") as write:
            rows[0].wanted = 9
            write.save(rows[0])
        more = JournalEntry.objects.latest("pk")
        with self.assertRaises(journal.CannotUndo) as refused:
            undo(moved, self.user)
        self.assertIn("wanted nine", str(refused.exception))
        back = undo(more, self.user)
        undone = undo(moved, self.user)
        undo(undone, self.user)  # and forward again, in order
        undo(back, self.user)
        self.assertEqual(Planting.objects.get(pk=rows[0].pk).wanted, 9)

    def test_one_that_changed_meanwhile_stops_them_all(self) -> None:
        rows = list(Planting.objects.order_by("pk"))
        plant_again = Planting.objects.get(pk=rows[1].pk)
        with journal.change(self.garden, self.user, "another was quicker") as write:
            plant_again.wanted = 9
            write.save(plant_again)
        for row in rows:
            row.chosen_sow = TODAY + timedelta(days=7)
        with self.assertRaises(journal.Stale), journal.change(self.garden, self.user, "moved") as write:
            write.update_many(rows, ["chosen_sow"])
        self.assertEqual(JournalEntry.objects.latest("pk").summary, "another was quicker")

    def test_a_whole_list_brought_in_goes_at_once_unless_something_hangs_on_it(self) -> None:
        rows = [Spot(garden=self.garden, kind="shelf", code=f"Z{n}") for n in range(700)]
        with journal.change(self.garden, self.user, "brought in") as write:
            write.insert(rows)
        entry = JournalEntry.objects.latest("pk")
        undone = undo(entry, self.user)
        self.assertFalse(Spot.objects.exists())
        again = undo(undone, self.user)
        self.assertEqual(Spot.objects.count(), 700)
        with journal.change(self.garden, self.user, "planned for it") as write:
            self.plantings[0].spot = Spot.objects.get(code="Z650")
            write.save(self.plantings[0])
        with self.assertRaisesMessage(journal.CannotUndo, "planned for it"):
            undo(again, self.user)
        self.assertEqual(Spot.objects.count(), 700)
