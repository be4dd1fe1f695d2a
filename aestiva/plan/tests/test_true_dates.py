"""Dates on pages: proposals that follow, ways out, both frosts, class risks, own raising times, the third term."""

from __future__ import annotations

from datetime import date, timedelta

from aestiva.frame.tests.garden import GardenCase, plant
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.place.models import Frost
from aestiva.season.models import CropValue, Planting

FORM = {"wanted": "6", "method": "raised", "term": "spring"}


class Following(GardenCase):
    def test_days_that_were_only_kept_may_follow_once_and_can_be_taken_back(self) -> None:
        kept = plant(self.garden, self.owner, "tomato", 6)
        pinned = plant(self.garden, self.owner, "cosmos", 6)
        day = date.fromisoformat(kept.made["sow_on"])
        Planting.objects.filter(pk=kept.pk).update(chosen_sow=day)
        Planting.objects.filter(pk=pinned.pk).update(chosen_sow=day + timedelta(days=3))
        self.assertNotContains(self.client.get(self.url("plan/")), "Let it follow")
        Garden.objects.update(follow_asked=False)  # a garden from before
        self.assertContains(self.client.get(self.url("plan/")), "Let it follow")
        self.post("plan/follow/", let="yes")
        kept.refresh_from_db()
        pinned.refresh_from_db()
        self.assertEqual((kept.chosen_sow, pinned.chosen_sow), (None, day + timedelta(days=3)))
        self.assertNotContains(self.client.get(self.url("plan/")), "Let it follow")
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        kept.refresh_from_db()
        self.assertEqual(kept.chosen_sow, day)
        self.assertContains(self.client.get(self.url("plan/")), "Let it follow")
        self.post("plan/follow/", let="no")
        kept.refresh_from_db()
        self.assertEqual(kept.chosen_sow, day)
        self.assertNotContains(self.client.get(self.url("plan/")), "Let it follow")

    def test_the_page_says_whose_day_it_is(self) -> None:
        planting = plant(self.garden, self.owner, "tomato", 6)
        self.assertContains(self.client.get(self.url(f"plan/{planting.pk}/")), "Proposed")
        self.post("plan/moves/keep/", moves=f"{planting.pk}.2026-04-29", seen=f"{planting.pk}.{planting.revision}")
        self.assertContains(self.client.get(self.url(f"plan/{planting.pk}/")), "Your day")


class Ripening(GardenCase):
    def test_what_does_not_ripen_says_so_first_with_ways_out(self) -> None:
        Frost.objects.filter(garden=self.garden).update(last_on="2026-05-20", first_on="2026-09-05")
        answer = self.client.get(self.url("plan/preview/"), FORM | {"crop": "pepper"})
        page = answer.content.decode()
        self.assertIn("Pepper will hardly do here", page)
        self.assertLess(page.index("will hardly do here"), page.index("If you try it all the same"))
        for said in ("What could be done", "in a bigger pot", "instead", "of years"):
            self.assertIn(said, page)

    def test_later_is_not_too_late_and_worded_by_speed(self) -> None:
        for crop, day, said in (
            ("single-stem sunflower", "2026-06-10", "catches up"),
            ("leek", "2026-04-25", "stays smaller"),
            ("onion", "2026-04-25", "whatever its size"),
            ("pepper", "2026-08-01", "nothing worth its place"),
        ):
            answer = self.client.get(self.url("plan/preview/"), FORM | {"crop": crop, "sow_on": day})
            self.assertContains(answer, said, msg_prefix=crop)

    def test_without_an_autumn_frost_the_end_is_unknown_everywhere(self) -> None:
        Frost.objects.filter(garden=self.garden).update(first_on=None)
        answer = self.client.get(self.url("plan/preview/"), FORM | {"crop": "pepper"})
        self.assertContains(answer, "not known")
        self.assertNotContains(answer, "until about")
        plant(self.garden, self.owner, "pepper", 6)
        row = self.client.get(self.url("plan/season.csv")).content.decode().strip().splitlines()[-1]
        self.assertTrue(row.endswith(","), row)  # no end that nobody knows

    def test_living_through_winter_needs_weather_and_says_so(self) -> None:
        answer = self.client.get(self.url("plan/preview/"), FORM | {"crop": "onion", "term": "overwinter"})
        self.assertContains(answer, "How cold the winter gets is not known here")


class OwnValues(GardenCase):
    def test_own_experience_sets_three_numbers_with_one_reason(self) -> None:
        page = self.post(
            "crops/pepper/raising/", raise_min="12", raise_max="14", hold="15", reason="small plants twice"
        )
        self.assertEqual(page.status_code, 302)
        self.assertEqual(CropValue.objects.filter(crop_key="pepper", reason="small plants twice").count(), 3)
        planting = plant(self.garden, self.owner, "pepper", 6)
        dates = self.now().items[0].raised.dates
        self.assertEqual((dates.out.start - dates.sow.start).days, 14 * 7)
        self.assertContains(self.client.get(self.url(f"plan/{planting.pk}/")), "small plants twice")
        for bad, said in (
            ({"raise_max": "11"}, "wrong way"),
            ({"hold": "13"}, "under the longest"),
            ({"reason": ""}, "required"),
        ):
            form = {"raise_min": "12", "raise_max": "14", "hold": "15", "reason": "x"} | bad
            self.assertContains(self.post("crops/pepper/raising/", **form), said, status_code=422)
        self.post("crops/pepper/raising/", forget="1")
        self.assertFalse(CropValue.objects.exists())
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertEqual(CropValue.objects.count(), 3)

    def test_class_risks_move_their_class_alone(self) -> None:
        plant(self.garden, self.owner, "kale", 6)
        plant(self.garden, self.owner, "tomato", 6)

        def starts() -> dict[str, date]:
            return {i.crop.key: i.raised.dates.out.start for i in self.now().items}

        before = starts()
        Garden.objects.update(risk_scale={"hardy": 1.0})
        after = starts()
        self.assertGreater(after["kale"], before["kale"])
        self.assertEqual(after["tomato"], before["tomato"])
        page = self.client.get(self.url("settings/"))
        self.assertContains(page, "Times the accepted risk for hardy crops")


class BothFrosts(GardenCase):
    def test_a_guessed_autumn_is_marked_wherever_it_is_used(self) -> None:
        frost = Frost.objects.get(garden=self.garden)
        Frost.objects.filter(pk=frost.pk).update(first_on=None)
        form = {"last_on": "2026-05-09", "last_meaning": "average", "revision": str(frost.revision)}
        self.post("place/typed/", guess_first="on", **form)
        frost.refresh_from_db()
        self.assertEqual(frost.first_meaning, "guess")
        assert frost.first_on is not None
        self.assertTrue(date(2026, 9, 20) < frost.first_on < date(2026, 10, 25), frost.first_on)
        planting = plant(self.garden, self.owner, "pepper", 6)
        self.assertContains(self.client.get(self.url(f"plan/{planting.pk}/")), "guessed from the latitude")
        self.assertContains(self.client.get(self.url("place/typed/")), "checked")
