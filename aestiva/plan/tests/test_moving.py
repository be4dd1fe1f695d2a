"""Sowing days tried in the picture: what moves, what cannot be, one entry, and two people at one handle."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from aestiva.course.state import moved
from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from aestiva.frame.wording import COURSE
from aestiva.gardens.models import JournalEntry, Member
from aestiva.plan.moving import changes
from aestiva.season.models import Absence, BedArea, CropValue, Planting, Spot


class Tries(GardenCase):
    def tried(self, moves: str, **more: str) -> dict[str, Any]:
        answer = self.client.get(self.url("plan/moves/tried/"), {"moves": moves} | more)
        self.assertEqual(answer.status_code, 200)
        found: dict[str, Any] = answer.json()
        return found

    def test_a_try_lists_dates_and_tasks_and_writes_nothing(self) -> None:
        one = plant(self.garden, self.owner, "tomato", 6)
        before = self.now().items[0].raised.dates
        found = self.tried(f"{one.pk}.2026-04-23", draw=str(one.pk), scale="2026-03-01.2026-11-30.wide")
        for said in ("Thu 23 April", "+7 days", "of its tasks move", "first look", "harden from", "Keep"):
            self.assertIn(said, found["panel"])
        self.assertEqual(list(found["rows"]), [str(one.pk)])
        self.assertIn('data-sow="2026-04-23"', found["rows"][str(one.pk)])
        self.assertEqual(self.now().items[0].raised.dates, before)

    def test_a_move_shows_every_step_of_its_course_that_moves(self) -> None:
        for crop in ("snapdragon", "tomato", "sweet_pea", "onion"):
            one = plant(self.garden, self.owner, crop, 6)
            before = self.now().items[-1].raised
            day = before.dates.sow_on + timedelta(days=7)
            moved_ = changes(self.now(), {one.pk: day})[0]
            shown = {step.name for step in (*moved_.main, *moved_.tasks)}
            after = moved(self.now(), {one.pk: day})[0].after.raised
            for kind, step in before.course.steps.items():
                if kind in after.course.steps and after.course.steps[kind].due != step.due:
                    self.assertIn(COURSE[kind], shown, crop)
            if crop == "snapdragon":
                self.assertIn("Pinch", shown)

    def test_what_cannot_be_is_said_and_hatched(self) -> None:
        one = plant(self.garden, self.owner, "tomato", 6)
        found = self.tried(f"{one.pk}.2026-03-01", draw=str(one.pk), scale="2026-02-01.2026-11-30.wide")
        self.assertIn("before the sowing window", found["panel"])
        self.assertIn('class="bad"', found["rows"][str(one.pk)])
        for moves in (f"{one.pk}.soon", f"{one.pk}.2026-02-31", f"{one.pk}.2031-01-01", "x.2026-04-01"):
            found = self.tried(moves)
            self.assertIn("Nothing was written", found["panel"], moves)
        self.assertEqual(self.post("plan/moves/keep/", moves=f"{one.pk}.soon").status_code, 422)
        one.refresh_from_db()
        self.assertIsNone(one.chosen_sow)

    def test_two_days_are_one_entry_and_one_undo(self) -> None:
        two = [plant(self.garden, self.owner, key, 6) for key in ("tomato", "leek")]
        before = [p.chosen_sow for p in two]
        entries = JournalEntry.objects.count()
        moves = f"{two[0].pk}.2026-04-23,{two[1].pk}.2026-04-14"
        self.post("plan/moves/keep/", moves=moves, seen=",".join(f"{p.pk}.{p.revision}" for p in two), key="k1")
        self.assertEqual(JournalEntry.objects.count(), entries + 1)
        self.post("plan/moves/keep/", moves=moves, key="k1")  # the same post once more
        self.assertEqual(JournalEntry.objects.count(), entries + 1)
        self.assertEqual(
            [p.chosen_sow for p in Planting.objects.order_by("pk")], [date(2026, 4, 23), date(2026, 4, 14)]
        )
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertEqual([p.chosen_sow for p in Planting.objects.order_by("pk")], before)

    def test_two_people_at_one_handle(self) -> None:
        one = plant(self.garden, self.owner, "tomato", 6)
        seen = f"{one.pk}.{one.revision}"
        self.post("plan/moves/keep/", moves=f"{one.pk}.2026-04-20", seen=seen)
        late = self.post("plan/moves/keep/", moves=f"{one.pk}.2026-04-28", seen=seen)
        self.assertEqual(late.status_code, 409)
        one.refresh_from_db()
        self.assertEqual(one.chosen_sow, date(2026, 4, 20))

    def test_what_is_sown_stays_and_what_is_let_go_follows_again(self) -> None:
        sown = self.sown("kale", 6).planting
        self.assertEqual(self.post("plan/moves/keep/", moves=f"{sown.pk}.2026-04-20").status_code, 422)
        pinned = plant(self.garden, self.owner, "tomato", 6, sow_on=date(2026, 4, 28))
        self.assertIn("Keep", self.tried(f"{pinned.pk}.")["panel"])
        self.post("plan/moves/keep/", moves=f"{pinned.pk}.")
        pinned.refresh_from_db()
        self.assertIsNone(pinned.chosen_sow)

    def test_a_reader_may_try_and_not_keep(self) -> None:
        one = plant(self.garden, self.owner, "tomato", 6)
        Member.objects.filter(garden=self.garden, user=self.owner).update(role="reader")
        self.assertNotIn("Keep", self.tried(f"{one.pk}.2026-04-23")["panel"])
        self.assertEqual(self.post("plan/moves/keep/", moves=f"{one.pk}.2026-04-23").status_code, 403)


class Ground(GardenCase):
    def laid(self, planting: Planting, x: float = 0.0) -> None:
        bed = Spot.objects.get(pk=self.bed.pk)
        BedArea.objects.create(planting=planting, spot=bed, x_cm=x, y_cm=0, length_cm=100, width_cm=100)

    def test_what_follows_waits_for_its_ground_and_moves_with_it(self) -> None:
        first = plant(self.garden, self.owner, "radish", 20, method="direct", sow_on=date(2026, 4, 20))
        second = plant(self.garden, self.owner, "zinnia", 10)
        alone = next(i for i in self.now().items if i.planting == second).raised.dates
        self.laid(first)
        self.laid(second)
        before, after = (i.raised.dates for i in sorted(self.now().items, key=lambda i: i.planting.pk))
        self.assertGreater(after.out.start, before.last)
        self.assertGreaterEqual(after.out.start, alone.out.start)
        later = date(2026, 5, 4)
        found = self.client.get(self.url("plan/moves/tried/"), {"moves": f"{first.pk}.{later}"}).json()["panel"]
        self.assertIn("follows on the same ground", found)
        page = self.client.get(self.url("plan/")).content.decode()
        self.assertIn("after Radish", page)
        self.assertEqual(page.count('class="handover"'), 1)

    def test_ground_that_is_free_too_late_is_said(self) -> None:
        first = plant(self.garden, self.owner, "leek", 20)
        second = plant(self.garden, self.owner, "zinnia", 10)
        self.laid(first)
        self.laid(second)
        self.assertIn("bed_late", {p.code for i in self.now().items for p in i.raised.dates.problems})

    def test_beside_each_other_nobody_waits(self) -> None:
        first = plant(self.garden, self.owner, "radish", 20, method="direct", sow_on=date(2026, 4, 20))
        second = plant(self.garden, self.owner, "zinnia", 10)
        before = next(i for i in self.now().items if i.planting == second).raised.dates
        self.laid(first)
        self.laid(second, x=100)
        self.assertEqual(next(i for i in self.now().items if i.planting == second).raised.dates, before)


class Away(GardenCase):
    def test_nothing_is_sown_or_set_out_while_nobody_is_there(self) -> None:
        plant(self.garden, self.owner, "tomato", 6)
        before = self.now().items[0].raised.dates
        for day in (before.sow_on, before.out_on):
            Absence.objects.create(garden=self.garden, since=day, until=day)
        after = self.now().items[0].raised.dates
        self.assertNotIn(before.sow_on, (after.sow_on,))
        self.assertNotEqual(after.out_on, before.out_on)
        self.assertTrue(after.sow.start <= after.sow_on <= after.sow.end)

    def test_a_pinned_day_stays_and_says_so_and_what_was_sown_then_does_not(self) -> None:
        day = date(2026, 4, 22)
        Absence.objects.create(garden=self.garden, since=day, until=day)
        plant(self.garden, self.owner, "tomato", 6, sow_on=day)
        plant(self.garden, self.owner, "carrot", 60, method="direct", sow_on=day)
        for item in self.now().items:
            dates = item.raised.dates
            self.assertEqual(dates.sow_on, day)
            self.assertIn("away_sow", {p.code for p in dates.problems})
        carrot = next(i for i in self.now().items if i.name == "Carrot").raised.dates
        self.assertEqual(carrot.out_on, day)
        self.post(f"task/p{self.now().items[0].planting.pk}.sow.0/", on=TODAY.isoformat())
        Absence.objects.update(since=TODAY, until=TODAY)
        sown = next(i for i in self.now().items if i.batch is not None)
        self.assertNotIn("away_sow", {p.code for p in sown.raised.dates.problems})

    def test_away_for_the_whole_window_is_said(self) -> None:
        plant(self.garden, self.owner, "tomato", 6)
        window = self.now().items[0].raised.dates.sow
        Absence.objects.create(garden=self.garden, since=window.start, until=window.end)
        problems = {p.code: p for p in self.now().items[0].raised.dates.problems}
        self.assertIn("away", problems)
        self.assertContains(self.client.get(self.url("plan/")), "away")


class Empty(GardenCase):
    def test_every_page_of_the_plan_in_a_garden_with_nothing_and_without_frost(self) -> None:
        pages = (
            *("plan/", "plan/week/", "plan/align/", "plan/again/", "plan/weeks/", "plan/ways/", "plan/away/"),
            *("plan/prices/", "plan/replan/", "plan/next/", "plan/print/", "plan/moves/", "plan/moves/tried/"),
        )
        for page in pages:
            self.assertEqual(self.client.get(self.url(page)).status_code, 200, page)
        self.garden.frost.delete()
        for page in pages:
            self.assertIn(self.client.get(self.url(page)).status_code, (200, 302), page)

    def test_own_experience_is_shown_with_its_reason_when_planned_again(self) -> None:
        CropValue.objects.create(garden=self.garden, crop_key="leek", field="raise_max", value=14, reason="thin at ten")
        page = self.client.get(
            self.url("plan/preview/"), {"crop": "Leek", "wanted": "6", "method": "raised", "term": "spring"}
        )
        self.assertContains(page, "because “thin at ten”")

    def test_what_has_happened_ends_today(self) -> None:
        self.sown("kale", 6, on=date(2026, 3, 1))
        plant(self.garden, self.owner, "tomato", 6)
        page = self.client.get(self.url("plan/?layer=happened")).content.decode()
        self.assertIn("Kale", page)
        self.assertNotIn('role="slider"', page)
