"""Sown in clumps, in a box, and sown again: tasks, ledgers and the ground follow; what is over keeps a place and a task."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from aestiva.beds.queries import apart_of, clump_of, laid_out, standing
from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from aestiva.gardens.models import JournalEntry
from aestiva.place.dating import dating_of
from aestiva.season.ledgers import accounts_of
from aestiva.season.models import Batch, BatchEvent, BedArea, Planting, Spot
from aestiva.season.places import where


class Clumps(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        Spot.objects.filter(pk=self.bed.pk).update(length_cm=360, width_cm=120)
        self.bed.refresh_from_db()
        self.planting = plant(
            self.garden, self.owner, "onion", 30, sow_on=date(2026, 1, 31), spot=self.bed, per_cell=None, surplus=""
        )
        self.post(f"task/p{self.planting.pk}.sow.0/", on="2026-01-31")
        self.batch = Batch.objects.get()
        self.post(f"batch/{self.batch.pk}/change/", what="move", spot=self.shelf.pk, on="2026-01-31")

    def up(self, count: int) -> None:
        self.post(f"batch/{self.batch.pk}/record/", kind="up", count=str(count), on="2026-02-20")

    def plant_task(self) -> Any:
        return next(t for t in self.now().todos(TODAY + timedelta(days=60)) if t.task.kind == "plant").task

    def test_a_sowing_remembers_its_seeds_a_cell_and_that_nothing_is_thinned(self) -> None:
        self.assertEqual((self.batch.surplus, self.batch.per_cell), ("clump", 4))
        self.assertEqual(accounts_of(self.batch).sown, 4 * (self.batch.cells or 0))
        self.up(36)
        self.assertNotIn("thin", self.kinds(TODAY + timedelta(days=400)))

    def test_clumps_are_set_out_and_those_over_stay_where_they_are(self) -> None:
        self.up(40)
        cells = self.batch.cells or 0
        task = self.plant_task()
        self.assertEqual((task.unit, task.count), ("clumps", 10))
        self.assertContains(self.client.get(self.url(f"task/{task.key}/why/")), "")
        self.post(f"task/{task.key}/", count="10")
        mine = accounts_of(self.batch)
        planted = round(40 * 10 / cells)
        self.assertEqual((mine.planted, mine.indoors, mine.moved), (planted, 0, 40 - planted))
        over = Batch.objects.get(links_in__parent=self.batch)
        self.assertEqual((over.cells, where(over), where(self.batch)), (cells - 10, self.shelf, self.bed))
        later = self.now().todos(TODAY + timedelta(days=30))
        spare = [t.task for t in later if t.task.kind == "spare"]
        self.assertEqual([(t.count, t.due) for t in spare], [(40 - planted, TODAY + timedelta(days=7))])
        self.assertNotIn("plant", [t.task.kind for t in later])
        self.post(f"task/{spare[0].key}/")
        self.assertEqual(accounts_of(over).given, 40 - planted)
        for _ in range(2):  # given away, and planted: both taken back
            entry = next(e for e in JournalEntry.objects.order_by("-pk") if e.can_be_taken_back and not e.undoes)
            self.post(f"journal/{entry.pk}/undo/")
        self.assertEqual(accounts_of(self.batch).indoors, 40)
        self.assertFalse(Batch.objects.filter(links_in__parent=self.batch).exists())

    def test_thin_clumps_are_clumps_too(self) -> None:
        self.up(24)  # ten clumps of two: all that were wanted
        cells = self.batch.cells or 0
        self.post(f"task/{self.plant_task().key}/", count=str(cells))
        self.assertEqual(accounts_of(self.batch).planted, 24)
        self.assertNotIn("plant", [t.task.kind for t in self.now().todos(TODAY + timedelta(days=60))])

    def test_thin_clumps_of_which_some_are_over_give_what_was_wanted_and_no_more(self) -> None:
        self.up(24)
        self.post(f"task/{self.plant_task().key}/", count="10")
        self.assertEqual(next(i.raised.wanted for i in self.now().items if i.batch == self.batch), 30)
        self.assertNotIn("plant", [t.task.kind for t in self.now().todos(TODAY + timedelta(days=60))])

    def test_clumps_given_away_leave_those_that_stay_as_full_as_they_were(self) -> None:
        self.up(3 * (self.batch.cells or 0))
        cells = self.batch.cells or 0
        self.post(f"batch/{self.batch.pk}/record/", kind="given", count="6", on="2026-03-20")
        self.assertEqual(next(i.raised.clumps for i in self.now().items if i.batch == self.batch), cells - 2)

    def test_in_instalments(self) -> None:
        self.up(40)
        key = self.plant_task().key
        self.post(f"task/{key}/", count="4")
        rest = self.plant_task()
        self.assertEqual((rest.key, rest.count, rest.total), (key, 6, 10))
        self.assertEqual(where(self.batch), self.shelf)  # most of it still stands there
        self.post(f"task/{key}/", count="6")
        self.assertEqual(where(self.batch), self.bed)
        answer = self.post(f"task/{key}/", count="99")
        self.assertIn(answer.status_code, (302, 404))

    def test_the_ground_holds_clumps_further_apart(self) -> None:
        BedArea.objects.create(planting=self.planting, spot=self.bed, x_cm=0, y_cm=0, length_cm=360, width_cm=120)
        dating = dating_of(self.garden)
        laid = laid_out(self.garden, standing(self.garden))[self.bed.pk][0]
        crop = dating.crop(self.planting)
        self.assertEqual(clump_of(self.planting, crop), 3)
        self.assertAlmostEqual(apart_of(self.planting, crop), 10 * 3**0.5)
        self.assertEqual(laid.plants, 3 * laid.fit.plants)
        self.assertTrue(300 <= laid.plants <= 432, laid.plants)  # about as much ground a plant as singly

    def test_the_form_counts_clumps_and_keeps_plants(self) -> None:
        form = {
            "crop": "Leek",
            "variety": "",
            "wanted": "20",
            "wanted_unit": "clumps",
            "method": "raised",
            "term": "spring",
        }
        self.post("plan/add/", **form)
        leeks = Planting.objects.latest("pk")
        self.assertEqual((leeks.wanted, leeks.wanted_unit), (60, "clumps"))
        page = self.client.get(self.url(f"plan/{leeks.pk}/"))
        self.assertContains(page, 'name="wanted" value="20"')
        self.assertEqual(self.post("plan/add/", **{**form, "crop": "Tomato"}).status_code, 422)
        refused = self.post("plan/add/", **{**form, "surplus": "keep", "crop": "Cucumber", "wanted_unit": "plants"})
        self.assertContains(refused, "cannot be separated, all kept", status_code=422)
        self.post("plan/add/", **{**form, "crop": "Carrots", "wanted_unit": "plants"})
        carrots = Planting.objects.latest("pk")
        self.assertEqual((carrots.crop_key, carrots.method), ("carrot", "direct"))  # nobody raises them


class Divided(GardenCase):
    def test_onions_from_a_box_are_neither_thinned_nor_pricked_out(self) -> None:
        batch = self.sown("onion", 90, date(2026, 1, 31), sown_in="box", surplus="", per_cell=None)
        self.assertEqual(batch.surplus, "divide")
        sown = accounts_of(batch).sown or 0
        self.assertTrue(110 <= sown <= 150, sown)
        self.post(f"batch/{batch.pk}/record/", kind="up", count="100", on="2026-02-20")
        later = [t.task for t in self.now().todos(TODAY + timedelta(days=60))]
        self.assertFalse({"thin", "prick"} & {t.kind for t in later})
        task = next(t for t in later if t.kind == "plant")
        self.assertEqual((task.unit, task.count), ("plants", 90))


class Again(GardenCase):
    def test_too_few_up_are_sown_again_while_the_window_is_open(self) -> None:
        planting = plant(self.garden, self.owner, "lettuce", 20, sow_on=date(2026, 4, 1), per_cell=1)
        self.post(f"task/p{planting.pk}.sow.0/", on="2026-04-01")
        batch = Batch.objects.get()
        self.assertNotIn("again", self.kinds())  # nobody has counted
        self.post(f"batch/{batch.pk}/record/", kind="up", count="6", on=TODAY.isoformat())
        task = self.todo("again", TODAY).task
        assert task.count is not None
        self.assertGreaterEqual(task.count, 14)
        self.assertContains(self.client.get(self.url("today/")), "sow again")
        self.post(f"task/{task.key}/")
        self.assertEqual(Batch.objects.count(), 2)
        self.assertNotIn("again", self.kinds())
        wanted = {i.raised.ref: i.raised.wanted for i in self.now().items}
        self.assertEqual(sum(wanted.values()), 20)

    def test_a_sowing_that_nobody_waits_for_any_more_keeps_a_task(self) -> None:
        planting = plant(self.garden, self.owner, "lettuce", 20, sow_on=date(2026, 3, 1), per_cell=1)
        self.post(f"task/p{planting.pk}.sow.0/", on="2026-03-01")
        first = Batch.objects.get()
        self.post(f"batch/{first.pk}/record/", kind="up", count="15", on="2026-03-12")
        self.post(f"task/{self.todo('again', TODAY).task.key}/", count="6")
        again = Batch.objects.latest("pk")
        self.post(f"batch/{again.pk}/record/", kind="up", count="6", on=TODAY.isoformat())
        self.post(f"batch/{first.pk}/record/", kind="up", count="20", on=TODAY.isoformat())
        for number in ("up", "planted"):
            BatchEvent.objects.get_or_create(batch=first, kind=number, on=TODAY, defaults={"count": 20})
        self.assertEqual(next(i.raised.wanted for i in self.now().items if i.batch == again), 0)
        found = [t.task for t in self.now().todos(TODAY + timedelta(days=90)) if t.item.batch == again]
        spare = next(t for t in found if t.kind == "spare")
        self.assertEqual((spare.count, spare.why.rule), (6, "plantingout.spare_unwanted"))
        self.assertContains(self.client.get(self.url(f"task/{spare.key}/why/")), "other sowings")

    def test_the_sowing_says_how_many_more_by_when(self) -> None:
        plant(self.garden, self.owner, "lettuce", 20, sow_on=TODAY, per_cell=1)
        self.assertContains(self.client.get(self.url("today/")), "if fewer than")


class Over(GardenCase):
    def test_plants_beyond_those_wanted_keep_a_place_and_a_task(self) -> None:
        batch = self.sown("kale", 8, date(2026, 3, 1), spot=self.bed)
        self.post(f"batch/{batch.pk}/change/", what="move", spot=self.frame.pk, on="2026-03-20")
        self.post(f"batch/{batch.pk}/record/", kind="up", count="11", on="2026-03-20")
        BatchEvent.objects.create(batch=batch, kind="potted", on=date(2026, 4, 1), count=11)
        self.post(f"task/b{batch.pk}.plant.0/", count="8")
        over = Batch.objects.get(links_in__parent=batch)
        self.assertEqual((where(batch), where(over), accounts_of(over).indoors), (self.bed, self.frame, 3))
        self.assertFalse(over.runs.exists())  # in pots, as those it came from
        found = [t for t in self.now().todos(TODAY + timedelta(days=20)) if t.item.batch == over]
        self.assertIn("spare", [t.task.kind for t in found])
