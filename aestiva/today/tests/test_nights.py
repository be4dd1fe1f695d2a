"""The frost watch over real rows: what stands where, which night, carried in or covered, and only that night."""

from __future__ import annotations

from datetime import date, timedelta

from aestiva.frame.tests.garden import TODAY, GardenCase
from aestiva.gardens.models import JournalEntry
from aestiva.place.models import ForecastNight, Frost
from aestiva.season.models import Batch, TaskMark
from aestiva.season.places import where
from aestiva.today.queries import day


class Nights(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.batch = self.sown("broccoli", 8, date(2026, 2, 20), spot=self.bed)
        self.post(f"batch/{self.batch.pk}/record/", kind="up", count="9", on="2026-03-02")

    def stands_in(self, spot: object) -> None:
        self.post(f"batch/{self.batch.pk}/change/", what="move", spot=spot.pk)  # type: ignore[attr-defined]

    def night(self, after: int, low: float, **more: float) -> None:
        ForecastNight.objects.create(garden=self.garden, day=TODAY + timedelta(days=after), tmin_c=low, **more)

    def watched(self) -> list[tuple[str, int, int]]:
        """(kind, days ahead, plants) of every watch task."""
        todos = self.now().todos(TODAY + timedelta(days=6))
        return [
            (t.task.kind, (t.due - TODAY).days, t.task.count or 0)
            for t in todos
            if t.task.kind in ("cover", "carry_in")
        ]

    def test_nothing_is_watched_indoors(self) -> None:
        self.stands_in(self.shelf)
        self.night(0, -9)
        self.assertEqual(self.watched(), [])

    def test_a_frost_that_nothing_minds_is_told_all_the_same(self) -> None:
        self.post(f"task/b{self.batch.pk}.plant.0/", count="8")
        for low, cloud, said in ((3.5, 0.1, "0.5° at the plant tonight"), (4.5, 0.1, "Nothing outdoors is in danger")):
            ForecastNight.objects.all().delete()
            self.night(0, low, cloud=cloud, wind_kmh=2)
            self.assertContains(self.client.get(self.url("today/")), said)

    def test_not_yet_hardened_it_is_carried_in_each_cold_night(self) -> None:
        self.stands_in(self.frame)
        self.night(0, 1.0)
        self.night(1, 14.0)
        self.night(2, -1.0)
        self.assertEqual(self.watched(), [("carry_in", 0, 9), ("carry_in", 2, 9)])
        self.post(f"task/b{self.batch.pk}.carry_in.{TODAY.isoformat()}/")
        self.assertEqual(self.watched(), [("carry_in", 2, 9)])
        self.assertEqual(where(self.batch), self.frame)

    def test_planted_out_it_is_covered_only_against_what_damages_it(self) -> None:
        self.post(f"task/b{self.batch.pk}.plant.0/", count="8")
        for low, kinds in ((1.0, []), (-3.0, ["cover"])):  # −2 and −6 at the plant; it stands −4
            ForecastNight.objects.all().delete()
            self.night(0, low)
            self.assertEqual([k for k, _, _ in self.watched()], kinds, low)
        self.assertEqual(self.watched()[0][2], 8)

    def test_wind_and_the_gardens_own_cold_count(self) -> None:
        self.post(f"task/b{self.batch.pk}.plant.0/", count="8")
        self.night(0, -2.5, cloud=0.9, wind_kmh=30)  # overcast: −2.5 at the plant, told from −3
        self.assertEqual(self.watched(), [])
        Frost.objects.filter(garden=self.garden).update(shift_c=-2.0)  # a hollow
        self.assertEqual([k for k, _, _ in self.watched()], ["cover"])

    def test_today_says_which_later_night_is_too_cold(self) -> None:
        self.stands_in(self.frame)
        self.night(0, 14.0, cloud=0.9, wind_kmh=20)
        self.night(3, -2.0)
        found = day(self.now())
        assert found.next_risk is not None
        self.assertEqual((found.next_risk.night.day, found.next_risk.at_risk), (TODAY + timedelta(days=3), 9))
        self.assertContains(
            self.client.get(self.url("today/")), "the night of Wed 15 April may be too cold for 9 of them"
        )

    def test_given_up_plants_are_not_watched(self) -> None:
        self.stands_in(self.frame)
        self.night(0, -5)
        self.post(f"batch/{self.batch.pk}/change/", what="fail", sure="yes", note="slugs")
        self.assertEqual(self.watched(), [])


class OtherChoices(GardenCase):
    def test_the_page_without_scripts_has_the_same_choices(self) -> None:
        batch = self.sown("tomato", 10, TODAY - timedelta(days=5))
        page = self.client.get(self.url(f"task/b{batch.pk}.look.0/more/"))
        for said in ("<html", "how many", "done on", "Put off", "Skip it"):
            self.assertContains(page, said)
        part = self.client.get(self.url(f"task/b{batch.pk}.look.0/more/"), headers={"HX-Request": "true"})
        self.assertNotContains(part, "<html")
        for path in ("more/", "why/"):
            self.assertEqual(self.client.get(self.url(f"task/b{batch.pk}.dance.0/{path}")).status_code, 404)
            self.assertEqual(self.client.get(self.url(f"task/nonsense/{path}")).status_code, 404)

    def test_skipping_a_look_writes_no_count(self) -> None:
        batch = self.sown("tomato", 10, TODAY - timedelta(days=5))
        self.post(f"task/b{batch.pk}.look.0/", what="skip")
        self.assertFalse(batch.events.filter(kind="up").exists())
        self.assertEqual(TaskMark.objects.get(key=f"b{batch.pk}.look.0").skipped_on, TODAY)
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertIn("look", self.kinds())

    def test_bought_plants_from_under_glass_climb_the_whole_ladder(self) -> None:
        form = {"crop": "pepper", "wanted": "6", "method": "bought", "term": "spring", "stood": "glass"}
        self.client.post(self.url("plan/add/"), form)
        buy = self.todo("buy")
        out = self.now().items[0].raised.dates.out_on
        self.assertEqual((out - buy.due).days, 10)
        self.assertContains(self.client.get(self.url(f"task/{buy.task.key}/why/")), "the whole ladder")
        self.day(buy.due)
        self.post(f"task/{buy.task.key}/", count="5")
        batch = Batch.objects.get()
        self.assertEqual(batch.events.get(kind="received").count, 5)
        kinds = [t.task.kind for t in self.now().todos(date(2027, 1, 1))]
        self.assertEqual((kinds.count("harden"), kinds.count("plant"), kinds.count("buy")), (7, 1, 0))

    def test_bought_and_direct_sown_plants_have_their_own_short_course(self) -> None:
        for crop, method, kinds in (("pepper", "bought", ["buy", "plant"]), ("calendula", "direct", ["sow_direct"])):
            self.client.post(
                self.url("plan/add/"),
                {"crop": crop, "wanted": "6", "method": method, "term": "spring", "stood": "outdoors"},
            )
            todos = sorted(self.now().todos(date(2027, 1, 1)), key=lambda t: (t.due, t.task.kind))
            found = [t.task.kind for t in todos if t.item.crop.key == crop and t.task.kind != "seed"]
            self.assertEqual(found, kinds)
        key = self.todo("sow_direct").task.key
        self.day(self.todo("sow_direct").due)
        self.post(f"task/{key}/")
        self.assertTrue(Batch.objects.filter(planting__crop_key="calendula", cells=None).exists())
        plant_key = self.todo("plant").task.key
        self.day(self.todo("plant").due)
        self.post(f"task/{plant_key}/", count="4")
        self.assertEqual(self.client.get(self.url("today/")).status_code, 200)
        self.assertEqual(Batch.objects.get(planting__crop_key="pepper").events.get(kind="planted").count, 4)
