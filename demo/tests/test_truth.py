"""Is what becomes of the demo's plants what was done to them, and is none of it to be seen before a grower looks?"""

from __future__ import annotations

from datetime import date, timedelta
from unittest import mock

import numpy as np
from django.test import TestCase

from aestiva.frame.tests.garden import client_for
from aestiva.gardens import journal
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.providers import simulation
from aestiva.gardens.undo import undo
from aestiva.season.actions import add_event, split
from aestiva.season.ledgers import accounts_of
from aestiva.season.models import Batch, Spot
from aestiva.season.places import stand
from aestiva.today.demo_views import step
from demo.hands import do_tasks, live_day, notice, truth_of
from demo.history import DARK_DAYS, History, histories
from demo.nature import plants
from demo.nature.kinds import kind
from demo.station import NatureStation, simulate
from demo.story import NOWHERE, last_day, name_of, world, world_of
from demo.tests.lived import quarry_lane
from demo.truth import Truth

BEGINS = date(2025, 12, 20)
SPOTS = (("R1·1", "shelf"), ("Porch", "porch"), ("Frame", "frame"), ("Bed A", "bed"), NOWHERE)


def history(key: str, seeds: int = 60, sown: date = date(2026, 3, 1), **more: object) -> History:
    made = History(1, f"{key}/test", kind(key), seeds, sown_on=sown, stands=[(sown, "R1·1")])
    made.lit_on = sown + timedelta(days=DARK_DAYS)
    for name, value in more.items():
        setattr(made, name, value)
    return made


def lived(day: date, *all_of_them: History) -> Truth:
    return Truth(list(all_of_them), world("quarry_lane", SPOTS), day)


class FromRows(TestCase):
    """What the rows say was done, and nothing else, makes the truth."""

    def test_nothing_is_up_on_the_day_of_sowing_and_most_a_fortnight_later(self) -> None:
        one = history("tomato")
        self.assertEqual(lived(one.begins, one).up(1), 0)  # type: ignore[arg-type]
        later = lived(date(2026, 3, 20), one)
        self.assertGreater(later.up(1), 30)
        self.assertEqual(
            (later.up(1), later.living(1)), (later.up_on(1, date(2026, 3, 20)), later.living_on(1, date(2026, 3, 19)))
        )
        self.assertEqual(lived(date(2026, 3, 20), one).up(1), later.up(1))

    def test_a_count_is_about_right_and_never_under_what_was_known(self) -> None:
        truth = lived(date(2026, 3, 25), history("kale", 200))
        self.assertAlmostEqual(truth.counted(1, 0), truth.up(1), delta=0.12 * truth.up(1))
        self.assertEqual(truth.counted(1, 200), 200)
        self.assertEqual(truth.counted(99, 4), 4)  # a batch that has not begun

    def test_a_packet_ten_years_old_comes_more_thinly(self) -> None:
        old, fresh = (lived(date(2026, 4, 10), history("onion", 200, age_years=age)).up(1) for age in (6.0, 0.0))
        self.assertLess(old, 0.6 * fresh)

    def test_light_germinators_left_in_the_dark_come_at_a_quarter(self) -> None:
        on = date(2026, 3, 1)
        lit, dark = (history("lobelia", 100, lit_on=when) for when in (on + timedelta(days=1), None))
        self.assertLess(lived(date(2026, 4, 5), dark).up(1), 0.4 * lived(date(2026, 4, 5), lit).up(1))
        self.assertFalse(dark.wrong_light(on + timedelta(days=2)))  # nobody is late yet
        self.assertTrue(history("pansy", lit_on=on).wrong_light(on + timedelta(days=9)))
        self.assertFalse(history("pansy", lit_on=on + timedelta(days=5)).wrong_light(on + timedelta(days=9)))

    def test_a_tender_night_out_that_nobody_ended_kills(self) -> None:
        day = date(2026, 4, 3)  # −5 °C at the station
        forgotten = history("basil", outings={day - timedelta(days=1): (12.0, True)})
        kept = history("basil", outings={day - timedelta(days=1): (4.0, False)})
        dead = [lived(day + timedelta(days=2), one).dead(1) for one in (forgotten, kept)]
        self.assertGreater(dead[0], dead[1] + 20)

    def test_what_was_split_off_is_the_childs_and_what_was_thinned_is_not_dead(self) -> None:
        on = date(2026, 3, 25)
        parent = history("kale", 40)
        child = History(
            2, "kale/test→", kind("kale"), 10, sown_on=parent.sown_on, stands=[(on, "Frame")], parent=(1, 10, on)
        )
        parent.gone[on + timedelta(days=2)] += 5
        truth = lived(on + timedelta(days=4), parent, child)
        self.assertEqual(truth.living(2) + truth.dead(2), 10)
        self.assertEqual(truth.living(1) + truth.dead(1), truth.up(1) - 15)

    def test_sown_in_the_ground_or_the_frame_it_comes_when_that_is_warm(self) -> None:
        for code, cell in (("Bed A", (3000.0, 100.0)), ("Frame", (40.0, 21.0))):
            may, winter = (
                history("lettuce", 50, on, stands=[(on, code)], cell=cell, lid_off=on)
                for on in (date(2026, 5, 1), date(2026, 1, 5))
            )
            self.assertGreater(lived(date(2026, 5, 25), may).up(1), 25, code)
            self.assertEqual(lived(date(2026, 1, 12), winter).up(1), 0, code)

    def test_what_stands_nowhere_and_a_garden_without_places_live_too(self) -> None:
        one = history("kale", stands=[])
        bare = Truth([one], world("quarry_lane", (NOWHERE,)), date(2026, 3, 25))
        self.assertGreater(bare.up(1), 30)

    def test_one_sowing_more_changes_nothing_for_the_others(self) -> None:
        one, early = history("kale", 40), history("leek", 40, date(2026, 1, 3))
        early.ref = 2
        alone, beside = lived(date(2026, 4, 10), one), lived(date(2026, 4, 10), one, early)
        assert alone.plants is not None and beside.plants is not None
        np.testing.assert_array_equal(alone.plants.leaves[:, 0], beside.plants.leaves[:, 0])

    def test_sown_before_there_is_weather_it_begins_with_the_weather(self) -> None:
        old = history("kale", 40, date(2025, 10, 1), stands=[(date(2025, 10, 1), "R1·1")])
        self.assertGreater(lived(date(2026, 1, 10), old).up(1), 20)

    def test_a_plant_set_out_lives_in_the_ground(self) -> None:
        one = history(
            "kale", 20, planted=date(2026, 4, 20), stands=[(date(2026, 3, 1), "R1·1"), (date(2026, 4, 20), "Bed A")]
        )
        truth = lived(date(2026, 5, 20), one)
        assert truth.plants is not None
        self.assertTrue(truth.plants.planted[0])
        self.assertGreater(truth.plants.leaves.max(), 5)


class InTheGarden(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.garden = quarry_lane()
        cls.owner = cls.garden.members.get(role="owner").user

    def fresh(self) -> Garden:
        return Garden.objects.get(pk=self.garden.pk)

    def batch(self, crop: str) -> Batch:
        return Batch.objects.filter(planting__crop_key=crop, planting__season__garden=self.garden).earliest("pk")

    def test_what_is_taken_back_never_happened(self) -> None:
        before = {one.name: one.seeds for one in histories(self.garden)}
        last = JournalEntry.objects.filter(garden=self.garden).latest("pk").pk
        do_tasks(self.fresh(), self.owner)
        self.assertGreater(len(histories(self.garden)), len(before))
        for entry in JournalEntry.objects.filter(garden=self.garden, pk__gt=last).order_by("-pk"):
            undo(entry, self.owner)
        self.assertEqual({one.name: one.seeds for one in histories(self.garden)}, before)

    def test_what_died_is_written_down_once_where_it_was_known(self) -> None:
        tomb = self.batch("kale")
        porch = Spot.objects.get(garden=self.garden, code="Porch")
        alive = accounts_of(tomb).indoors or 0
        garden = self.fresh()
        with mock.patch.object(Truth, "dead", lambda _, ref: 3 if ref == tomb.pk else 0):
            self.assertEqual(notice(garden, self.owner, truth_of(garden)), 1)
            self.assertEqual(accounts_of(tomb).indoors, alive - 3)
            self.assertEqual(notice(garden, self.owner, truth_of(garden)), 0)
        with mock.patch.object(Truth, "dead", lambda _, ref: 10_000 if ref == tomb.pk else 0):
            notice(garden, self.owner, truth_of(garden))  # never more than anybody knew of
        self.assertEqual(accounts_of(tomb).indoors, 0)
        with journal.change(garden, self.owner, "moved") as write:
            stand(write, write.touch(tomb), porch, date(2026, 4, 12))
        self.assertEqual(next(o for o in histories(garden) if o.ref == tomb.pk).at(date(2026, 4, 12)), "Porch")

    def test_no_more_is_counted_than_was_not_written_off(self) -> None:
        garden = self.fresh()
        client = client_for(self.owner)
        for batch in Batch.objects.filter(planting__season__garden=garden, sown_on__gte=date(2026, 3, 20)):
            waiting = accounts_of(batch).waiting
            if waiting:
                client.post(f"/g/{garden.pk}/batch/{batch.pk}/record/", {"kind": "never_up", "count": str(waiting)})
        for _ in range(2):
            do_tasks(self.fresh(), self.owner)
            step(self.fresh(), 5)
        for batch in Batch.objects.filter(planting__season__garden=garden):
            now = accounts_of(batch)
            if now.waiting is not None:
                self.assertGreaterEqual(now.waiting, 0)

    def test_rows_become_histories(self) -> None:
        garden, kale = self.fresh(), self.batch("kale")
        with journal.change(garden, self.owner, "moved a few") as write:
            mine = write.touch(kale)
            child = split(write, mine, 3, date(2026, 4, 12), date(2026, 4, 12))
            add_event(write, mine, "given", date(2026, 4, 12), date(2026, 4, 12), count=1)
        found = {one.ref: one for one in histories(garden)}
        self.assertEqual(found[child.pk].parent, (kale.pk, 3, date(2026, 4, 12)))
        self.assertEqual((found[kale.pk].gone[date(2026, 4, 12)], found[kale.pk].kind.key), (1, "kale"))
        self.assertEqual(found[self.batch("leek").pk].age_years, 3)
        self.assertTrue(found[kale.pk].at(date(2026, 3, 20)).startswith("R"))

    def test_pages_know_nothing_of_it(self) -> None:
        client, batch = client_for(self.owner), self.batch("kale")
        pages = [
            f"/g/{self.garden.pk}/{rest}" for rest in ("today/", "plan/", f"batch/{batch.pk}/", "seeds/", "calendar/")
        ]
        with mock.patch.object(plants.Plants, "__init__", side_effect=AssertionError("hidden state was asked for")):
            for page in pages:
                self.assertEqual(client.get(page).status_code, 200, page)
            step(self.fresh(), 1)  # nor does a day that goes by
            with self.assertRaises(AssertionError):
                live_day(self.fresh(), self.owner, {})  # a grower who looks does

    def test_a_renamed_demo_lives_on(self) -> None:
        garden = self.fresh()
        garden.name = "Somewhere else"
        garden.save()
        self.assertEqual(name_of(garden), "quarry_lane")
        step(garden, 1)

    def test_the_one_provider(self) -> None:
        offered = simulation()
        assert offered is not None
        self.assertIs(offered.simulate, simulate)
        garden = self.fresh()
        with self.assertRaises(Refused):
            offered.simulate(garden, last_day(garden) + timedelta(days=1))

    def test_the_week_button_at_the_end_of_the_weather_says_so(self) -> None:
        Garden.objects.filter(pk=self.garden.pk).update(simulated_on=last_day(self.garden))
        answer = client_for(self.owner).post(
            f"/g/{self.garden.pk}/today/clock/", {"what": "week", "key": "end"}, follow=True
        )
        self.assertContains(answer, "The simulated weather ends here: reset the demo.", status_code=422)

    def test_a_station_gives_days_and_nights_or_refuses(self) -> None:
        source = NatureStation(world_of(self.garden).weather)
        days = source.observed(BEGINS, BEGINS + timedelta(days=4))
        self.assertEqual(len(days.tmin), 5)
        self.assertEqual(len(source.forecast(date(2026, 4, 1))), 8)
        with self.assertRaises(ValueError):
            source.observed(date(2025, 1, 1), BEGINS)
