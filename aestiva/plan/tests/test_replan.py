"""Replanning touches nothing done, moves what is ticked as one entry; the next season is reckoned anew."""

from __future__ import annotations

import re
from datetime import date, timedelta

from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from aestiva.gardens.models import JournalEntry
from aestiva.place.models import ForecastNight
from aestiva.plan.replan import proposals
from aestiva.season.models import Batch, BatchEvent, Lot, Planting


class Replan(GardenCase):
    def kinds_now(self) -> dict[str, str]:
        return {p.name: p.kind for p in proposals(self.now())}

    def form(self) -> dict[str, object]:
        page = self.client.get(self.url("plan/replan/")).content.decode()
        found: dict[str, object] = {
            name: re.findall(rf'name="{name}" value="([^"]+)"', page) for name in ("take", "seen")
        }
        return found | dict(re.findall(r'name="(to\.[\d.a-z]+)" value="([^"]+)"', page))

    def test_overdue_outside_and_in_time(self) -> None:
        plant(self.garden, self.owner, "tomato", 6, sow_on=date(2026, 4, 9))
        plant(self.garden, self.owner, "lettuce", 6, sow_on=date(2026, 4, 20))
        plant(self.garden, self.owner, "squash", 6, sow_on=date(2026, 4, 14))
        self.assertEqual(self.kinds_now(), {"Tomato": "overdue", "Squash": "outside"})
        self.assertContains(self.client.get(self.url("plan/")), "not go as planned")

    def test_what_is_ticked_moves_as_one_entry_and_nothing_done_is_touched(self) -> None:
        done = self.sown("kale", 6)
        before = list(BatchEvent.objects.values_list("pk", "kind", "on"))
        for key in ("tomato", "leek"):
            plant(self.garden, self.owner, key, 6, sow_on=date(2026, 3, 1))
        form, entries = self.form(), JournalEntry.objects.count()
        self.assertEqual(len(form["take"]), 2)
        self.post("plan/replan/", **form)
        self.assertEqual(JournalEntry.objects.count(), entries + 1)
        tomato = Planting.objects.get(crop_key="tomato")
        self.assertGreaterEqual(tomato.chosen_sow, TODAY)
        self.assertEqual(list(BatchEvent.objects.values_list("pk", "kind", "on")), before)
        done.planting.refresh_from_db()
        self.assertEqual(done.planting.chosen_sow, TODAY)
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        tomato.refresh_from_db()
        self.assertEqual(tomato.chosen_sow, date(2026, 3, 1))

    def test_none_ticked_nothing_moves_and_a_list_grown_old_is_refused(self) -> None:
        one = plant(self.garden, self.owner, "tomato", 6, sow_on=date(2026, 4, 1))
        form = self.form()
        self.post("plan/replan/", seen=form["seen"])
        one.refresh_from_db()
        self.assertEqual(one.chosen_sow, date(2026, 4, 1))
        self.day(TODAY + timedelta(days=9))
        self.assertEqual(self.post("plan/replan/", **form).status_code, 422)
        self.day(TODAY)
        one.note = "changed"
        one.revision += 1
        one.save()
        self.assertEqual(self.post("plan/replan/", **form).status_code, 409)

    def test_too_late_is_only_said(self) -> None:
        plant(self.garden, self.owner, "tomato", 6, sow_on=date(2026, 4, 16))
        self.day(date(2026, 8, 20))
        self.assertEqual(self.kinds_now(), {"Tomato": "late"})
        self.assertContains(self.client.get(self.url("plan/replan/")), "look at what else would do")
        self.assertEqual(self.form()["take"], [])

    def test_failed_slow_cold_and_too_many(self) -> None:
        batch = self.sown("lettuce", 6)
        Batch.objects.filter(pk=batch.pk).update(failed_on=TODAY)
        self.day(TODAY + timedelta(days=2))
        self.assertEqual(self.kinds_now(), {"Lettuce": "failed"})
        slow = self.sown("tomato", 6, on=TODAY + timedelta(days=2))
        Planting.objects.filter(pk=slow.planting_id).update(chosen_out=date(2026, 5, 4))
        self.assertEqual(self.kinds_now()["Tomato"], "slow")
        Planting.objects.filter(pk=slow.planting_id).update(chosen_out=date(2026, 6, 4))
        for n, hours in enumerate((2, 3, 4, 6, 8, 10, 24)):
            BatchEvent.objects.create(
                batch=slow, kind="outing", on=date(2026, 5, 20) + timedelta(days=n), hours=hours, wanted_hours=hours
            )
        self.day(date(2026, 6, 2))
        self.assertNotIn("Tomato", {n for n, k in self.kinds_now().items() if k == "cold"})
        for k in range(6):
            ForecastNight.objects.create(
                garden=self.garden, day=date(2026, 6, 2) + timedelta(days=k), tmin_c=-2 if k < 4 else 9
            )
        cold = next(p for p in proposals(self.now()) if p.name == "Tomato")
        self.assertEqual((cold.kind, cold.after), ("cold", date(2026, 6, 6)))


class Next(GardenCase):
    def test_dates_anew_values_and_notes_along_and_what_is_left_out_is_named(self) -> None:
        lot = Lot.objects.create(garden=self.garden, crop_key="tomato", variety="Old Ferry")
        plant(
            self.garden,
            self.owner,
            "tomato",
            6,
            lot=lot,
            note="by the wall",
            values={"raise_max": [9, "small last year"]},
        )
        pinned = plant(self.garden, self.owner, "lettuce", 9, sow_on=date(2026, 4, 25))
        leek = plant(self.garden, self.owner, "leek", 9)
        self.assertContains(self.client.get(self.url("plan/next/")), "What is grown again in 2027?")
        keys = [str(p.pk) for p in Planting.objects.exclude(pk=leek.pk)]
        data = {"year": "2027", "again": keys, f"why.{leek.pk}": "rust, three years running", "go": "yes"}
        self.post("plan/next/", **data, key="n1")
        self.post("plan/next/", **data, key="n1")
        made = {p.crop_key: p for p in Planting.objects.filter(season__year=2027)}
        self.assertEqual(set(made), {"tomato", "lettuce"})
        self.assertEqual(
            (made["tomato"].note, made["tomato"].lot, made["tomato"].values["raise_max"][0]), ("by the wall", lot, 9)
        )
        self.assertIsNone(made["tomato"].chosen_sow)
        self.assertEqual(made["tomato"].made["sow_on"][:4], "2027")
        base = date(2026, 5, 9)
        assert made["lettuce"].chosen_sow is not None and pinned.chosen_sow is not None
        self.assertLessEqual(
            abs((made["lettuce"].chosen_sow - date(2027, 5, 9)).days - (pinned.chosen_sow - base).days), 40
        )
        self.garden.refresh_from_db()
        self.assertEqual(self.garden.year, 2027)
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.garden.refresh_from_db()
        self.assertEqual((self.garden.year, Planting.objects.filter(season__year=2027).count()), (2026, 0))

    def test_left_out_and_named_next_time_and_nothing_is_made_twice(self) -> None:
        leek = plant(self.garden, self.owner, "leek", 9, not_again="rust")
        plant(self.garden, self.owner, "tomato", 6)
        page = self.client.get(self.url("plan/next/")).content.decode()
        self.assertLess(page.index("Left out"), page.index("because rust"))
        tomato = Planting.objects.get(crop_key="tomato")
        self.post("plan/next/", year="2027", again=[str(tomato.pk)])
        self.assertContains(self.client.get(self.url("plan/next/")), "planned there already")
        leek.refresh_from_db()
        self.assertEqual(leek.not_again, "rust")

    def test_a_season_is_not_made_from_itself(self) -> None:
        plant(self.garden, self.owner, "tomato", 6)
        for year in ("2026", "2019", "2099"):
            self.assertEqual(self.client.get(self.url(f"plan/next/?year={year}")).status_code, 422)
            self.assertEqual(self.post("plan/next/", year=year, again=["1"]).status_code, 422)
        self.assertEqual(Planting.objects.count(), 1)
