"""What was written stays true: undo that would break a garden refuses, nothing goes along unseen, pages live."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.test import Client

from aestiva.bench.models import HelpLink
from aestiva.care.models import Feed
from aestiva.care.tests.test_feed import LABEL
from aestiva.frame.tests.garden import TODAY, GardenCase, client_for, plant, shown, user
from aestiva.gardens import journal
from aestiva.gardens.models import Garden, JournalEntry, JournalTouch, Member
from aestiva.gardens.undo import undo
from aestiva.place.models import Frost, Warmth
from aestiva.season.ledgers import accounts_of
from aestiva.season.models import Absence, Batch, BatchEvent, CropValue, GardenCrop, Lot, Planting, Spot
from aestiva.seeds.models import SeedTest
from aestiva.today.models import CalendarLink

PAGES = ("today/", "plan/", "seeds/", "beds/", "calendar/", "calendar/week/", "journal/", "tasks.csv")
RAISED = {"crop": "Tomato", "method": "raised", "term": "spring", "sown_in": "cells"}


class Case(GardenCase):
    def entry(self, says: str = "") -> JournalEntry:
        found = JournalEntry.objects.filter(garden=self.garden, summary__contains=says).first()
        assert found is not None, says
        return found

    def take_back(self, entry: JournalEntry, client: Client | None = None) -> Any:
        return (client or self.client).post(self.url(f"journal/{entry.pk}/undo/"), follow=True)

    def all_pages_live(self) -> None:
        for page in PAGES:
            with self.subTest(page):
                self.assertEqual(self.client.get(self.url(page)).status_code, 200)


class Ledgers(Case):
    def lay_out(self) -> None:
        super().lay_out()
        self.batch = self.sown("tomato", 10)
        for kind, count in (("up", 5), ("up", 12), ("died", 10)):
            self.post(f"batch/{self.batch.pk}/record/", kind=kind, count=str(count))

    def test_a_count_that_others_need_stays_and_the_entry_in_the_way_is_named(self) -> None:
        answer = self.take_back(self.entry("12 up so far"))
        self.assertContains(answer, "cannot be taken back")
        self.assertContains(answer, "“tomato: 10 died” came later and needs what it wrote")
        self.assertEqual((accounts_of(self.batch).emerged, accounts_of(self.batch).indoors), (12, 2))
        self.take_back(self.entry("10 died"))
        self.assertContains(self.take_back(self.entry("12 up so far")), "Took back")
        self.assertEqual(accounts_of(self.batch).indoors, 5)
        self.all_pages_live()

    def test_what_a_child_received_holds_the_parent(self) -> None:
        self.post(f"batch/{self.batch.pk}/change/", what="split", count="2")
        child = Batch.objects.get(links_in__parent=self.batch)
        self.post(f"batch/{child.pk}/record/", kind="died", count="2")
        self.assertContains(self.take_back(self.entry("Split 2 off")), "cannot be taken back")
        self.assertTrue(Batch.objects.filter(pk=child.pk).exists())

    def test_a_redo_that_no_longer_fits_refuses_too(self) -> None:
        died = self.entry("10 died")
        self.take_back(died)
        self.post(f"batch/{self.batch.pk}/record/", kind="given", count="9")
        self.assertContains(self.take_back(self.entry("Took back")), "cannot be taken back")
        self.assertEqual(accounts_of(self.batch).indoors, 3)

    def test_a_ledger_that_does_not_balance_is_shown_with_the_entry_to_correct(self) -> None:
        BatchEvent.objects.filter(batch=self.batch, kind="up", count=12).delete()  # as an older program could leave it
        self.all_pages_live()
        today = self.client.get(self.url("today/"))
        self.assertContains(today, "10 died, but there are only 5")
        self.assertContains(today, f'href="{self.url(f"batch/{self.batch.pk}/")}"')
        page = self.client.get(self.url(f"batch/{self.batch.pk}/"))
        self.assertContains(page, "do not balance")
        self.assertContains(page, "Take back “tomato: 10 died”")
        self.take_back(self.entry("10 died"))
        self.assertNotContains(self.client.get(self.url("today/")), "not everything can be said")


class Hanging(Case):
    def test_a_packet_with_a_test_stays(self) -> None:
        self.post("seeds/", crop="Tomato", variety="Old Ferry", packed="2025", seeds="30")
        lot = Lot.objects.get()
        self.post(f"seeds/{lot.pk}/test/", on="2026-04-10", sown="20", up="15")
        answer = self.take_back(self.entry("Put in the seed box"))
        self.assertContains(answer, "cannot be taken back")
        self.assertContains(answer, "“15 of 20 Old Ferry 2025 came in a test” came later and hangs on it")
        self.assertEqual((Lot.objects.count(), SeedTest.objects.count()), (1, 1))
        self.take_back(self.entry("came in a test"))
        self.take_back(self.entry("Put in the seed box"))
        self.assertEqual((Lot.objects.count(), SeedTest.objects.count()), (0, 0))

    def test_a_crop_that_is_planted_stays(self) -> None:
        self.client.post(self.url("crops/"), {"name": "Tree spinach", "relative": "Spinach"})
        plant(self.garden, self.owner, "tree_spinach", 4)
        self.assertContains(self.take_back(self.entry("Added the crop")), "cannot be taken back")
        self.assertTrue(GardenCrop.objects.exists())
        self.all_pages_live()

    def test_values_that_would_not_stand_together_are_refused(self) -> None:
        for name, value in (("max_c", "40"), ("high_c", "38"), ("germinate_c", "34")):
            self.post(f"crops/tomato/{name}/", value=value, reason="own")
        self.assertContains(self.take_back(self.entry("top of the germination optimum")), "cannot be taken back")
        self.all_pages_live()

    def test_the_first_planting_goes_while_the_second_stays(self) -> None:
        first = plant(self.garden, self.owner, "tomato", 4)
        second = plant(self.garden, self.owner, "kale", 4)
        self.assertContains(self.take_back(self.entry("Planned 4 Tomato")), "Took back")
        self.assertEqual(list(Planting.objects.values_list("pk", flat=True)), [second.pk])
        self.take_back(self.entry("Took back"))
        self.assertTrue(Planting.objects.filter(pk=first.pk).exists())

    def test_a_place_named_again_in_the_meantime_says_so(self) -> None:
        self.post("spots/new/", code="Z1", kind="shelf")
        self.take_back(self.entry("Added the place Z1"))
        self.post("spots/new/", code="Z1", kind="frame")
        redone = self.take_back(self.entry("Took back: Added the place Z1"))
        self.assertContains(redone, "of the same name is there by now")

    def test_moving_a_planting_after_its_frost_date_was_taken_back(self) -> None:
        planting = plant(self.garden, self.owner, "tomato", 4)
        Frost.objects.all().delete()
        for method in (self.client.get, self.client.post):
            answer = method(
                self.url("plan/moves/keep/" if method == self.client.post else "plan/moves/"),
                {"moves": f"{planting.pk}.2026-04-20"},
            )
            self.assertRedirects(answer, self.url("place/"))


class OldEntries(Case):
    def old(self, **change: Any) -> JournalEntry:
        """An entry as an older program could have written it."""
        with journal.change(self.garden, self.owner, "an old one") as write:
            write.save(Spot(garden=self.garden, kind="bed", code="Old"))
        entry = self.entry("an old one")
        entry.changes[0].update(change)
        entry.save()
        return entry

    def test_a_column_added_since_changes_nothing(self) -> None:
        entry = self.old()
        for name in ("note", "sun", "revision"):
            del entry.changes[0]["after"][name]
        entry.save()
        spot = Spot.objects.get(code="Old")
        Spot.objects.filter(pk=spot.pk).update(note="written into the new column")
        self.assertContains(self.take_back(entry), "Took back")
        self.take_back(self.entry("Took back"))
        self.assertEqual(Spot.objects.get(code="Old").note, "written into the new column")

    def test_dropped_models_and_columns_refuse_with_a_word(self) -> None:
        self.assertContains(self.take_back(self.old(model="season.Barrow")), "an older program")
        Spot.objects.filter(code="Old").delete()
        entry = self.old()
        entry.changes[0]["after"]["wheels"] = 1
        entry.save()
        self.assertContains(self.take_back(entry), "an older program")

    def test_what_somebody_who_left_has_done_can_still_be_taken_back(self) -> None:
        rook = user("rook")
        Member.objects.create(garden=self.garden, user=rook, role="grower")
        plant(self.garden, self.owner, "tomato", 10, sow_on=TODAY)
        client_for(rook).post(self.url(f"task/{self.todo('sow').task.key}/"), {"what": "move", "to": "2026-04-20"})
        client_for(rook).post("/account/delete/", {"password": "a long pass phrase"})
        self.assertContains(self.take_back(self.entry("Put off")), "Took back")
        self.assertIn("sow", self.kinds())


class Keys(Case):
    def test_no_key_makes_a_change_that_nobody_can_take_back_or_is_too_long(self) -> None:
        for key in ("note-anything", "feed-1", "import-1", "x" * 5000, "‮½" * 40, "\u2028a"):
            with self.subTest(key[:20]):
                self.post("spots/new/", code=f"Q{len(key)}", kind="shelf", key=key)
                self.assertTrue(self.entry(f"Q{len(key)}").can_be_taken_back)
                self.post("spots/new/", code=f"R{len(key)}", kind="shelf", key=key)
                self.assertFalse(Spot.objects.filter(code=f"R{len(key)}").exists())

    def test_a_person_called_simulation_is_a_person(self) -> None:
        self.owner.name = "simulation"
        self.owner.save()
        self.post("spots/new/", code="Z1", kind="shelf")
        self.assertContains(self.take_back(self.entry("Z1")), "Took back")

    def test_an_entry_names_the_rows_it_touched(self) -> None:
        self.post("spots/new/", code="Z1", kind="shelf")
        touched = JournalTouch.objects.filter(entry=self.entry("Z1")).values_list("model", "row")
        self.assertEqual(list(touched), [("season.Spot", Spot.objects.get(code="Z1").pk)])


class DoubleTaps(Case):
    def test_the_second_tap_is_no_refusal_though_the_form_finds_it_there(self) -> None:
        for rest, data, model in (
            ("place/warmth/", {"kind": "soil", "celsius": "10", "on": "2026-04-20"}, Warmth),
            ("care/feed/new/", LABEL, Feed),
        ):
            with self.subTest(rest):
                found = [self.post(rest, **data, key=f"tap {rest}").status_code for _ in range(2)]
                self.assertEqual((found, model._base_manager.count()), ([302, 302], 1))
                self.assertEqual(self.post(rest, **data, key="another").status_code, 422)

    def test_a_helper_s_address_lives_through_a_double_tap(self) -> None:
        away = Absence.objects.create(garden=self.garden, since=TODAY, until=TODAY)
        tokens = []
        for _ in range(2):
            self.post(f"away/{away.pk}/address/keep/", key="once")
            tokens.append(HelpLink.objects.get().token)
        self.assertEqual(tokens[0], tokens[1])

    def test_an_address_of_the_calendar_is_made_once_for_one_key(self) -> None:
        for _ in range(2):
            self.post("calendar/", what="new", key="once", sure="yes")
        self.assertEqual(CalendarLink.objects.count(), 1)
        self.assertContains(self.client.get(self.url("journal/")), "private calendar address")


class Overtaken(Case):
    """Two pages open on one row: the second one writes nothing and shows both."""

    def both(self, address: str, first: dict[str, Any], second: dict[str, Any], *said: str) -> None:
        self.assertIn(self.client.post(self.url(address), first).status_code, (200, 302))
        answer = self.client.post(self.url(address), second)
        self.assertContains(answer, "while you had it open", status_code=409)
        for text in said:
            self.assertContains(answer, text, status_code=409)

    def test_every_form_that_edits_a_row(self) -> None:
        planting = plant(self.garden, self.owner, "tomato", 4)
        form = {**RAISED, "revision": planting.revision}
        self.both(
            f"plan/{planting.pk}/", {**form, "wanted": 8}, {**form, "wanted": 12}, "<td>8</td><td>12</td>", "Wren"
        )
        seen = Planting.objects.get().revision
        self.both(
            "plan/moves/keep/",
            {"moves": f"{planting.pk}.2026-04-20", "seen": f"{planting.pk}.{seen}"},
            {"moves": f"{planting.pk}.2026-04-21", "seen": f"{planting.pk}.{seen}"},
        )
        seen = Planting.objects.get().revision
        self.post(f"plan/{planting.pk}/", **{**form, "wanted": 5, "revision": seen})
        self.assertEqual(self.post(f"plan/{planting.pk}/cancel/", sure="yes", revision=seen).status_code, 409)

        lot = Lot.objects.create(garden=self.garden, crop_key="tomato", variety="Old Ferry", packed_year=2025)
        facts = {"variety": "Old Ferry", "packed_year": "2025", "revision": lot.revision}
        self.both(
            f"seeds/{lot.pk}/facts/", {**facts, "seeds": "20"}, {**facts, "seeds": "30"}, "<td>20</td><td>30</td>"
        )

        bed = {"code": "Bed A", "kind": "bed", "width_cm": "120", "revision": self.bed.revision}
        self.both(f"beds/{self.bed.pk}/measure/", {**bed, "length_cm": "200"}, {**bed, "length_cm": "300"}, "300.0")
        self.post(f"beds/{self.bed.pk}/lay/", planting=planting.pk, x="0", y="0", l="90", w="60")
        row = planting.areas.get()
        moved = {"x": "10", "y": "0", "l": "90", "w": "60", "revision": row.revision}
        self.both(f"beds/area/{row.pk}/", moved, {**moved, "x": "20"})

        frost = {"last_meaning": "average", "first_meaning": "unknown", "revision": Frost.objects.get().revision}
        self.both(
            "place/typed/", {**frost, "last_on": "2026-05-02"}, {**frost, "last_on": "2026-05-03"}, "2 May", "3 May"
        )

        seen = Garden.objects.get(pk=self.garden.pk).settings_revision
        self.both("place/line/", {"risk": "20", "revision": seen}, {"risk": "30", "revision": seen})

    def test_keep_mine_keeps_it_after_all(self) -> None:
        planting = plant(self.garden, self.owner, "tomato", 4)
        form = {**RAISED, "revision": planting.revision}
        self.client.post(self.url(f"plan/{planting.pk}/"), {**form, "wanted": 8})
        answer = self.client.post(self.url(f"plan/{planting.pk}/"), {**form, "wanted": 12})
        again = {**form, "wanted": 12, "revision": answer.context["revision"]}
        self.assertEqual(self.client.post(self.url(f"plan/{planting.pk}/"), again).status_code, 302)
        self.assertEqual(Planting.objects.get().wanted, 12)

    def test_settings_are_not_stale_because_somebody_sowed(self) -> None:
        seen = self.garden.settings_revision
        self.sown("tomato", 4)
        self.assertEqual(self.post("place/line/", risk="20", revision=seen).status_code, 302)


class Split(Case):
    def test_a_split_child_remembers_that_it_is_up_thinned_and_has_been_out(self) -> None:
        batch = self.sown("tomato", 10, on=date(2026, 3, 1))
        today = TODAY
        self.post(f"batch/{batch.pk}/record/", kind="up", count="15", on="2026-03-12")
        for kind in ("lamp", "lid"):
            BatchEvent.objects.create(batch=batch, kind=kind, on=date(2026, 3, 12))
        BatchEvent.objects.create(batch=batch, kind="thinned", on=date(2026, 3, 20), count=3)
        BatchEvent.objects.create(batch=batch, kind="potted", on=date(2026, 3, 25))
        BatchEvent.objects.create(batch=batch, kind="outing", on=date(2026, 4, 10), hours=1, wanted_hours=1)
        self.post(f"batch/{batch.pk}/change/", what="split", count="4", on=today.isoformat())
        child = Batch.objects.get(links_in__parent=batch)
        items = {i.batch.pk: i.raised for i in self.now().items if i.batch is not None}
        ours, theirs = items[child.pk].facts, items[batch.pk].facts
        for name in ("first_up", "half_up", "outings"):
            self.assertEqual(getattr(ours, name), getattr(theirs, name), name)
        for kind in ("lamp", "lid", "thinned", "potted"):
            self.assertEqual(ours.first(kind), theirs.first(kind), kind)
        kinds = {t.task.kind for t in self.now().todos(date(2026, 8, 1)) if t.item.batch == child}
        self.assertFalse(kinds & {"look", "count", "lamp", "lid", "thin", "pot"}, kinds)
        self.take_back(self.entry("15 up so far"))  # refused: much hangs on it
        self.assertEqual(accounts_of(child).indoors, 4)

    def test_what_happens_to_the_parent_later_is_its_own(self) -> None:
        batch = self.sown("tomato", 10, on=date(2026, 3, 1))
        self.post(f"batch/{batch.pk}/record/", kind="up", count="15", on="2026-03-12")
        self.post(f"batch/{batch.pk}/change/", what="split", count="4", on="2026-03-20")
        BatchEvent.objects.create(batch=batch, kind="potted", on=date(2026, 3, 25))
        child = Batch.objects.get(links_in__parent=batch)
        facts = next(i.raised.facts for i in self.now().items if i.batch == child)
        self.assertIsNone(facts.first("potted"))

    def test_a_planting_sown_in_two_sittings_asks_for_its_number_once(self) -> None:
        plant(self.garden, self.owner, "tomato", 10, sow_on=TODAY)
        whole = self.todo("sow").task
        self.post(f"task/{whole.key}/", count=str((whole.count or 0) // 2))
        self.post(f"task/{whole.key}/")
        for batch in Batch.objects.order_by("pk"):
            self.post(f"batch/{batch.pk}/record/", kind="up", count=str(batch.cells))
        planted = [t.task.count for t in self.now().todos(date(2026, 9, 1)) if t.task.kind == "plant"]
        self.assertEqual((len(planted), sum(n or 0 for n in planted)), (2, 10))


class Odd(Case):
    """Rows as an older program, or a hand in the database, could leave them: said on the page, which lives."""

    def test_each_is_one_line_and_the_rest_of_the_page_lives(self) -> None:
        good = plant(self.garden, self.owner, "kale", 7)
        odd = plant(self.garden, self.owner, "tomato", 6)
        for values, said in (
            ({"crop_key": "dragonfruit"}, "dragonfruit"),
            ({"crop_key": "tomato", "values": {"wings": [1, "x"]}}, "no field"),
            ({"values": {}, "packet": {"weeks": 3}}, "cannot be reckoned with"),
            ({"packet": None, "chosen_out": date(9999, 12, 30)}, ""),
        ):
            with self.subTest(str(values)):
                Planting.objects.filter(pk=odd.pk).update(**values)
                self.all_pages_live()
                today = self.client.get(self.url("plan/"))
                self.assertContains(today, "Kale")
                if said:
                    self.assertContains(today, said)
                self.assertEqual(self.client.get(self.url(f"plan/{odd.pk}/")).status_code, 200)
                self.assertEqual(self.client.get(self.url(f"plan/{good.pk}/")).status_code, 200)

    def test_own_values_that_do_not_stand_together_are_left_aside_and_said(self) -> None:
        plant(self.garden, self.owner, "tomato", 6)
        CropValue.objects.create(garden=self.garden, crop_key="tomato", field="min_c", value=25, reason="slip")
        self.all_pages_live()
        self.assertContains(self.client.get(self.url("plan/")), "lowest temperature for germination (25) is above")
        self.assertEqual(self.client.get(self.url("crops/tomato/")).status_code, 200)

    def test_old_packets(self) -> None:
        for crop, storage, packed in (
            ("onion", "", 2015),
            ("beet", "shed", 2012),
            ("pepper", "kitchen", 1950),
            ("leek", "shed", 2019),
        ):
            with self.subTest(crop):
                lot = Lot.objects.create(
                    garden=self.garden, crop_key=crop, variety="Lintel", packed_year=packed, storage=storage, seeds=90
                )
                plant(
                    self.garden,
                    self.owner,
                    crop,
                    30,
                    lot=lot,
                    sow_on=TODAY,
                    method="direct" if crop == "beet" else "raised",
                )
                SeedTest.objects.create(lot=lot, on=date(2026, 4, 1), sown=20, up=0)
                self.all_pages_live()
                for page in (
                    f"seeds/{lot.pk}/",
                    "seeds/orders/",
                    f"seeds/count/{lot.planting_set.get().pk}/",
                    f"plan/{lot.planting_set.get().pk}/",
                ):
                    answer = self.client.get(self.url(page))
                    self.assertEqual(answer.status_code, 200, page)
                    self.assertNotIn("nan", shown(answer))
        self.assertContains(self.client.get(self.url("today/")), "it is its own test")
        self.assertContains(self.client.get(self.url("seeds/")), "fresh seed for 30")
        sow = self.todo("sow").task
        self.post(f"task/{sow.key}/", count="40")
        self.assertEqual(Batch.objects.get().cells, 40)


class Names(Case):
    def test_no_name_stays_after_an_account_is_deleted(self) -> None:
        rook = user("rook")
        Member.objects.create(garden=self.garden, user=rook, role="grower")
        client_for(rook).post(self.url("spots/new/"), {"code": "Z1", "kind": "shelf"})
        self.post("members/", what="role", member=Member.objects.get(user=rook).pk, role="reader")
        self.client.get(self.url("members/"))  # says so once
        JournalEntry.objects.create(  # as an imported copy has it
            garden=self.garden,
            by="Rook",
            at=journal.clock.instant(),
            day=TODAY,
            summary="Sown",
            key="import-1",
            kind="imported",
        )
        JournalEntry.objects.create(  # as it was written before entries said whom they are about
            garden=self.garden,
            user=self.owner,
            by="Wren",
            at=journal.clock.instant(),
            day=TODAY,
            summary="Made Rook grower",
            key="o",
            kind="note",
        )
        client_for(rook).post("/account/delete/", {"password": "a long pass phrase"})
        for address in ("journal/", "journal.csv", "today/", "garden.json"):
            self.assertNotContains(self.client.get(self.url(address)), "Rook")
        self.assertContains(self.client.get(self.url("journal/")), "a former member")

    def test_undo_by_key_twice_is_once(self) -> None:
        self.post("spots/new/", code="Z1", kind="shelf")
        entry = self.entry("Z1")
        undo(entry, self.owner)
        with self.assertRaises(journal.Repeated):
            undo(entry, self.owner)
