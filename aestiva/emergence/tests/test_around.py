"""What is done around a batch, where it goes, what is sown again, and how those that are up do: each written, each taken back."""

from __future__ import annotations

import html
from datetime import UTC, datetime, time, timedelta
from typing import Any

from aestiva.bench.models import Timer
from aestiva.emergence.coming import coming
from aestiva.emergence.heat import heats
from aestiva.emergence.seedlings import seedlings
from aestiva.emergence.tests.test_coming import ComingCase
from aestiva.frame.tests.garden import TODAY, GardenCase, client_for, plant, user
from aestiva.gardens.models import JournalEntry
from aestiva.place.models import ForecastNight
from aestiva.season.models import Absence, Batch, BatchEvent, BatchLink, Lot, Spot, TrayStand, WarmReading
from aestiva.season.places import where


class AroundCase(ComingCase):
    def act(self, what: str, batch: Batch | None = None, **data: Any) -> Any:
        return self.post(f"emergence/{(batch or self.batch).pk}/{what}/keep/", **data)

    def kinds_of(self, batch: Batch | None = None) -> list[str]:
        return list(BatchEvent.objects.filter(batch=batch or self.batch).order_by("pk").values_list("kind", flat=True))

    def take_back(self) -> Any:
        entry = JournalEntry.objects.filter(garden=self.garden, undoes=None).latest("pk")
        return self.post(f"journal/{entry.pk}/undo/")

    def come_up(self, days: int = 9, count: int = 30) -> None:
        self.days_on(days)
        self.count(count)


class WhatIsDone(AroundCase):
    def test_each_is_an_event_of_its_own(self) -> None:
        self.come_up()
        for kind in ("lamp", "vents", "ajar", "lid", "mat", "below"):
            self.assertEqual(self.act("trigger", kind=kind).status_code, 302, kind)
        self.assertEqual(self.kinds_of()[-6:], ["lamp", "vents", "ajar", "lid", "mat", "below"])
        self.take_back()
        self.assertEqual(self.kinds_of()[-1], "mat")

    def test_all_that_is_due_in_one_tap_and_one_entry(self) -> None:
        self.come_up()
        entries = JournalEntry.objects.count()
        self.assertIn("Done, all", self.page())
        self.assertEqual(self.act("trigger", all="1").status_code, 302)
        self.assertEqual(JournalEntry.objects.count(), entries + 1)
        self.assertTrue({"lamp", "lid", "below"} <= set(self.kinds_of()))
        self.assertNotIn("Done, all", self.page())
        self.assertNotIn("lid", self.kinds(self.now().today))  # Today asks no more
        self.take_back()
        self.assertIn("lid", self.kinds(self.now().today))

    def test_twice_or_nonsense_is_refused(self) -> None:
        self.come_up()
        self.act("trigger", kind="lamp")
        for bad in ({"kind": "lamp"}, {"kind": "roof"}, {}, {"kind": ["lid", "roof"]}):
            self.assertEqual(self.act("trigger", **bad).status_code, 422, bad)
        self.assertEqual(self.kinds_of().count("lamp"), 1)

    def test_a_mat_that_goes_its_own_way_is_a_task_of_its_own(self) -> None:
        mat = Spot.objects.create(garden=self.garden, kind="mat", code="M9", heated="mat", length_cm=60, width_cm=40)
        self.post(f"batch/{self.batch.pk}/change/", what="move", spot=str(mat.pk))
        self.garden.schools = {"mat_way": "first", "vents_way": "first"}
        self.garden.save()
        self.days_on(5)
        self.count(6)
        kinds = self.kinds(self.now().today)
        self.assertTrue({"mat", "vents"} <= set(kinds), kinds)
        self.assertNotIn("lid", kinds)
        key = next(t.task.key for t in self.now().todos(self.now().today) if t.task.kind == "mat")
        self.post(f"task/{key}/")
        self.assertIn("mat", self.kinds_of())

    def test_in_steps_vents_then_ajar_then_off(self) -> None:
        self.garden.schools = {"lid_way": "all", "cover_way": "paper"}
        self.garden.save()
        steps = self.one().item.raised.course.steps
        self.assertTrue(steps["vents"].due < steps["ajar"].due < steps["lid"].due)
        self.assertIn("paper", steps)
        self.come_up(12, 40)
        self.assertIn("paper", self.kinds(self.now().today))


class WhereItGoes(AroundCase):
    def lay_out(self) -> None:
        super().lay_out()
        make = Spot.objects.create
        self.mat = make(
            garden=self.garden, kind="mat", code="M9", heated="thermostat", set_c=25, length_cm=60, width_cm=40
        )
        self.cold = make(
            garden=self.garden, kind="shelf", code="Cold", heated="none", months_c=[12] * 12, months_said="entered",
            lit="lamp", length_cm=120, width_cm=60,
        )  # fmt: skip
        self.post(f"batch/{self.batch.pk}/change/", what="move", spot=str(self.mat.pk))

    def test_lit_places_first_for_what_is_up_and_the_mat_is_offered(self) -> None:
        other = self.sown("pepper", 12)
        self.post(f"batch/{other.pk}/change/", what="move", spot=str(self.cold.pk))
        self.come_up()
        page = self.page(f"emergence/{self.batch.pk}/move/")
        self.assertLess(page.index("under a lamp"), page.index("</table>"))
        answer = self.post(f"emergence/{self.batch.pk}/move/keep/", spot=str(self.shelf.pk))
        self.assertEqual(answer.status_code, 302)
        self.assertIn(f"freed={self.mat.pk}", answer.url)
        self.assertEqual(where(self.batch), self.shelf)
        page = html.unescape(self.client.get(answer.url).content.decode())
        self.assertIn("M9 is free.", page)
        self.assertIn("Put Pepper on it", page)
        self.post(f"emergence/{other.pk}/move/keep/", spot=str(self.mat.pk))
        self.assertEqual(where(other), self.mat)
        self.take_back()
        self.assertEqual(where(other), self.cold)

    def test_nowhere_and_elsewhere_is_refused(self) -> None:
        strange = Spot.objects.create(garden=self.another(), kind="shelf", code="Far")
        for bad in ("", "0", "x", str(strange.pk)):
            self.assertEqual(self.post(f"emergence/{self.batch.pk}/move/keep/", spot=bad).status_code, 422, bad)
        self.assertEqual(where(self.batch), self.mat)
        self.assertEqual(TrayStand.objects.filter(tray__runs__batch=self.batch, until=None).count(), 1)

    def another(self) -> Any:
        from aestiva.frame.tests.garden import garden

        return garden(user("finch"), name="Other Row")

    def test_a_stranger_finds_nothing(self) -> None:
        for rest in ("move/keep/", "trigger/keep/", "again/keep/", "stage/keep/", "grade/keep/"):
            answer = client_for(user(f"w{rest[:3]}")).post(self.url(f"emergence/{self.batch.pk}/{rest}"), {})
            self.assertEqual(answer.status_code, 404, rest)

    def test_nothing_tender_is_sent_out_into_the_cold(self) -> None:
        cabbage = self.sown("cabbage", 8)
        self.assertNotIn("Frame", self.page(f"emergence/{self.batch.pk}/move/"))
        self.assertIn("Frame", self.page(f"emergence/{cabbage.pk}/move/"))
        ForecastNight.objects.create(garden=self.garden, day=TODAY, tmin_c=-14)
        self.assertNotIn("Frame", self.page(f"emergence/{cabbage.pk}/move/"))

    def test_a_place_that_nobody_knows_is_not_taken_for_warm(self) -> None:
        Spot.objects.create(garden=self.garden, kind="sill", code="Dim", length_cm=90, width_cm=30)
        page = self.page(f"emergence/{self.batch.pk}/move/")
        row = page[page.index("Dim") :]
        self.assertIn("not known", row[: row.index("</tr>")])
        self.assertNotIn("Dim", [e.spot.code for e in self.elsewhere()])

    def elsewhere(self) -> Any:
        from aestiva.emergence.around import elsewhere

        return elsewhere(self.now(), self.one())


class SowAgain(AroundCase):
    def read(self, celsius: float, days: int) -> None:
        for k in range(days):
            for hour in (2, 8, 14, 20):
                WarmReading.objects.create(
                    garden=self.garden, spot=self.shelf, day=TODAY + timedelta(days=k), hour=hour, celsius=celsius
                )

    def test_nothing_up_and_measured_is_sown_again_from_here(self) -> None:
        self.read(22, 14)
        for day in (9, 11, 13):
            self.days_on(day)
            self.count(0)
        self.assertEqual(self.one().verdict.kind, "again")
        task = self.now().find(f"b{self.batch.pk}.again.0")
        assert task is not None
        self.assertEqual(task.task.count, self.one().verdict.sow)  # the page and Today say the same number
        page = self.page()
        self.assertIn(f'value="{task.task.count}"', page)
        for bad in ("0", "-3", "many", "99999"):
            self.assertEqual(self.act("again", count=bad).status_code, 422, bad)
        self.assertEqual(self.act("again", count="7", spot=str(self.shelf.pk)).status_code, 302)
        fresh = Batch.objects.latest("pk")
        self.assertEqual((fresh.cells, fresh.sown_on, where(fresh)), (7, self.now().today, self.shelf))
        self.assertIsNone(Batch.objects.get(pk=self.batch.pk).failed_on)
        self.take_back()
        self.assertFalse(Batch.objects.filter(pk=fresh.pk).exists())

    def test_a_soak_that_lasted_too_long_is_the_first_to_be_suspected(self) -> None:
        self.read(22, 14)
        self.days_on(13)
        self.count(0)
        self.assertNotIn("soaked too long", self.page())
        start = datetime.combine(TODAY, time(0), tzinfo=UTC) - timedelta(days=2)
        Timer.objects.create(
            garden=self.garden, kind="soak", what="soak", planting=self.batch.planting, started=start, due=start + timedelta(hours=12),
            done_at=start + timedelta(hours=40),
        )  # fmt: skip
        self.assertIn("soaked too long", self.page())

    def test_the_packet_says_whether_it_is_enough(self) -> None:
        lot = Lot.objects.create(
            garden=self.garden,
            crop_key="tomato",
            variety="Old Ferry",
            packed_year=2026,
            seeds=3,
            price=3.0,
            packet_seeds=30,
        )
        Batch.objects.filter(pk=self.batch.pk).update(lot=lot)
        self.read(22, 14)
        for day in (9, 11, 13):
            self.days_on(day)
            self.count(0)
        page = html.unescape(self.page())
        self.assertIn("The packet holds 3 seeds, this takes", page)
        self.assertIn("sow what there is, and order", page)

    def test_cells_sown_again_know_what_was_in_them(self) -> None:
        again = Batch.objects.create(
            planting=self.batch.planting, sown_on=TODAY + timedelta(days=12), cells=10, per_cell=1
        )
        BatchEvent.objects.create(batch=again, kind="sown", count=10, on=again.sown_on)
        BatchLink.objects.create(parent=self.batch, child=again, count=0, on=again.sown_on)
        self.days_on(14)
        found = {c.batch: c.case.batch for c in coming(self.now())}
        self.assertIsNone(found[self.batch.pk].first)
        first = found[again.pk].first
        assert first is not None
        self.assertGreater(first.late(float("inf")), 0.0)

    def test_what_is_well_is_not_sown_again(self) -> None:
        self.come_up()
        self.assertEqual(self.act("again").status_code, 422)
        self.assertEqual(Batch.objects.count(), 1)

    def test_dates_follow_the_warmth_had(self) -> None:
        before = self.one().item.raised.course.steps["up"].due
        self.read(14, 6)
        self.days_on(6)
        cold = self.one().item.raised.course.steps
        self.assertGreater((cold["up"].due - before).days, 3)
        self.assertGreater(cold["lid"].due, before)
        self.assertIn("in mix of", html.unescape(self.page(f"batch/{self.batch.pk}/")))


class HowTheyDo(AroundCase):
    def up(self) -> Batch:
        self.come_up(9, 34)
        self.days_on(24)
        return self.batch

    def test_a_stage_in_one_tap(self) -> None:
        batch = self.up()
        one = next(s for s in seedlings(self.now()) if s.batch == batch.pk)
        self.assertEqual(one.growing.kind, "unseen")
        self.assertEqual(self.act("stage", leaves="2", cm="6").status_code, 302)
        self.assertEqual(BatchEvent.objects.latest("pk").data, {"leaves": 2, "cm": 6.0})
        one = next(s for s in seedlings(self.now()) if s.batch == batch.pk)
        self.assertIn(one.growing.kind, ("on_time", "behind", "again"))
        wrong = [{"leaves": n} for n in ("two", "-1", "41", "")] + [{"leaves": "2", "cm": n} for n in ("tall", "900")]
        for bad in wrong:
            self.assertEqual(self.act("stage", **bad).status_code, 422, bad)
        self.take_back()
        one = next(s for s in seedlings(self.now()) if s.batch == batch.pk)
        self.assertEqual(one.growing.kind, "unseen")

    def test_big_and_small_apart(self) -> None:
        batch = self.up()
        self.assertEqual(self.act("grade", small="5", leaves="1").status_code, 302)
        link = BatchLink.objects.get(parent=batch)
        self.assertEqual(link.count, 5)
        self.assertEqual(BatchEvent.objects.filter(batch=link.child, kind="stage").get().data, {"leaves": 1})
        self.assertEqual(len(seedlings(self.now())), 2)
        for bad in ({"small": "0"}, {"small": "999"}, {"small": "x"}, {"small": ""}):
            self.assertEqual(self.act("grade", **bad).status_code, 422, bad)
        self.take_back()
        self.assertFalse(BatchLink.objects.exists())

    def test_many_of_them_are_one_tap_away(self) -> None:
        for crop in ("kale", "cabbage", "leek", "zinnia", "cosmos", "basil", "broccoli"):
            batch = self.sown(crop, 6)
            self.post(f"batch/{batch.pk}/record/", kind="up", count=str(2 * (batch.cells or 0)))
            BatchEvent.objects.create(batch=batch, kind="thinned", count=0, on=TODAY)
        page = self.page()
        self.assertEqual(page.count('class="stagelook"'), 6)
        self.assertIn("All 7 that are up", page)
        self.assertEqual(self.page("emergence/?up=all").count('class="stagelook"'), 7)

    def test_what_is_potted_is_looked_at_elsewhere(self) -> None:
        self.up()
        self.post(f"batch/{self.batch.pk}/record/", kind="thinned", count="4")
        self.assertEqual(len(seedlings(self.now())), 1)
        BatchEvent.objects.create(batch=self.batch, kind="potted", on=self.now().today)
        self.assertEqual(seedlings(self.now()), [])


class Warmth(AroundCase):
    def test_a_cold_mat_is_said_on_both_pages(self) -> None:
        mat = Spot.objects.create(garden=self.garden, kind="mat", code="M9", heated="thermostat", set_c=25)
        self.post(f"batch/{self.batch.pk}/change/", what="move", spot=str(mat.pk))
        for hour in (2, 8, 14, 20):
            WarmReading.objects.create(garden=self.garden, spot=mat, day=TODAY, hour=hour, celsius=15)
        self.days_on(1)
        now = self.now()
        found = heats(now, coming(now))
        self.assertEqual([a.kind for h in found for a in h.alarms], ["mat"])
        for page in ("emergence/", "today/"):
            self.assertIn("the mat is on but the mix has 15", self.page(page), page)

    def test_mild_days_ahead(self) -> None:
        for k in range(6):
            ForecastNight.objects.create(garden=self.garden, day=TODAY + timedelta(days=k), tmin_c=14, tmax_c=24)
        self.assertNotIn("mild days ahead", self.page("today/"))  # nobody knows what is usual here

    def test_a_gap_goes_on_as_it_was_read_and_counts_as_assumed(self) -> None:
        for hour in (2, 8, 14, 20):
            WarmReading.objects.create(garden=self.garden, spot=self.shelf, day=TODAY, hour=hour, celsius=12)
        self.days_on(2)
        had = self.one().had
        self.assertLess(float(had.hourly_c.max()), 13)
        self.assertFalse(had.source[-1:].any())
        self.days_on(9)
        self.assertGreater(float(self.one().had.hourly_c[-24:].mean()), 15)  # days later nobody knows any more

    def test_the_warmth_had_goes_out_as_a_sheet(self) -> None:
        self.days_on(2)
        lines = self.page(f"emergence/{self.batch.pk}/warmth.csv").split()
        self.assertEqual(len(lines), 1 + 48)
        self.assertEqual(lines[1].split(",")[0], f"{TODAY}T12:00")
        self.assertTrue(lines[1].endswith("assumed"))
        BatchEvent.objects.create(batch=self.batch, kind="potted", on=TODAY)
        self.assertEqual(self.client.get(self.url(f"emergence/{self.batch.pk}/warmth.csv")).status_code, 404)

    def test_readings_of_another_place_say_nothing(self) -> None:
        other = Spot.objects.create(garden=self.garden, kind="shelf", code="Far", heated="room")
        self.days_on(3)
        before = self.one().case.x
        for k in range(3):
            WarmReading.objects.create(garden=self.garden, spot=other, day=TODAY + timedelta(days=k), hour=8, celsius=8)
        self.assertEqual(self.one().case.x, before)


class Away(GardenCase):
    def test_an_absence_over_the_first_look_is_said_before_it_is_sown(self) -> None:
        planting = plant(self.garden, self.owner, "tomato", 10, sow_on=TODAY)
        self.assertNotIn("You are away", self.client.get(self.url("today/")).content.decode())
        item = next(i for i in self.now().items if i.planting == planting)
        look = item.raised.course.steps["look"].due
        absence = Absence.objects.create(garden=self.garden, since=look, until=look + timedelta(days=3))
        page = html.unescape(self.client.get(self.url("today/")).content.decode())
        self.assertIn("when the first look is due", page)
        self.assertIn("lamp on a timer", page)
        Absence.objects.filter(pk=absence.pk).update(since=TODAY + timedelta(days=60), until=TODAY + timedelta(days=70))
        self.assertNotIn("You are away", self.client.get(self.url("today/")).content.decode())
