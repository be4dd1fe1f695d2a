"""Ways of working at four levels: resolved in order, told with what they would change, kept as one entry."""

from __future__ import annotations

import json
from datetime import date, timedelta

from aestiva.frame.tests.garden import GardenCase, plant
from aestiva.gardens import portable
from aestiva.gardens.bring_in import bring_in
from aestiva.gardens.document import read_document
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.place.dating import dating_of
from aestiva.season.models import CropValue, Lot, Planting
from growing.practices import SCHOOLS


class Levels(GardenCase):
    def way(self, planting: Planting) -> str:
        self.garden.refresh_from_db()
        return dating_of(self.garden).crop(Planting.objects.get(pk=planting.pk)).word("lead_way")

    def test_planting_before_packet_before_crop_before_garden_before_the_usual(self) -> None:
        lot = Lot.objects.create(garden=self.garden, crop_key="tomato", variety="Old Ferry")
        one = plant(self.garden, self.owner, "tomato", 6, lot=lot)
        self.assertEqual(self.way(one), "book")
        self.post("plan/ways/", lead_way="bigger", revision=str(self.garden.settings_revision))
        self.assertEqual(self.way(one), "bigger")
        self.post("plan/ways/?crop=tomato", lead_way="book", reason="leggy last year")
        self.assertEqual(self.way(one), "book")
        self.assertEqual(CropValue.objects.get(field="lead_way").reason, "leggy last year")
        lot.refresh_from_db()
        self.post(f"plan/ways/?lot={lot.pk}", lead_way="bigger", revision=str(lot.revision))
        self.assertEqual(self.way(one), "bigger")
        one.refresh_from_db()
        self.post(f"plan/ways/?planting={one.pk}", lead_way="book", revision=str(one.revision))
        self.assertEqual(self.way(one), "book")
        one.refresh_from_db()
        self.post(f"plan/ways/?planting={one.pk}", lead_way="above", revision=str(one.revision))
        self.assertEqual(self.way(one), "bigger")
        for _ in range(5):  # taken back one by one, each level falls to the next
            self.post(f"journal/{self.newest().pk}/undo/")
        self.assertEqual(self.way(one), "book")

    def newest(self) -> JournalEntry:
        return next(e for e in JournalEntry.objects.all() if e.can_be_taken_back and e.undoes_id is None)

    def test_bigger_plants_are_sown_earlier_and_go_out_on_the_same_day(self) -> None:
        plant(self.garden, self.owner, "leek", 6)
        plant(self.garden, self.owner, "squash", 6)
        before = {i.name: i.raised.dates for i in self.now().items}
        Garden.objects.filter(pk=self.garden.pk).update(schools={"lead_way": "bigger"})
        after = {i.name: i.raised.dates for i in self.now().items}
        self.assertLess(after["Squash"].sow.start, before["Squash"].sow.start)
        self.assertEqual(after["Squash"].out, before["Squash"].out)

    def test_tender_crops_by_the_four_ways_and_hardy_ones_alike(self) -> None:
        plant(self.garden, self.owner, "tomato", 6)
        plant(self.garden, self.owner, "kale", 6)
        outs, hardy = {}, set()
        base = self.now().place.last_frost[0]
        for way in ("gates", "cover", "weeks", "soil"):
            Garden.objects.filter(pk=self.garden.pk).update(schools={"out_way": way})
            found = {i.name: i.raised.dates.out.start for i in self.now().items}
            outs[way] = found["Tomato"]
            hardy.add(found["Kale"])
        self.assertEqual(len(hardy), 1)
        self.assertLess(outs["cover"], outs["gates"])
        self.assertGreaterEqual(outs["weeks"], base + timedelta(days=14))

    def test_lamp_and_lid_by_their_ways(self) -> None:
        plant(self.garden, self.owner, "parsley", 6, sow_on=date(2026, 4, 20))

        def days(**schools: str) -> tuple[date | None, date | None]:
            Garden.objects.filter(pk=self.garden.pk).update(schools=schools)
            course = self.now().items[0].raised.course
            return course.day("lamp"), course.day("lid")

        lamp, lid = days()
        assert lamp is not None and lid is not None
        self.assertEqual(days(lamp_way="sowing")[0], date(2026, 4, 20))
        later = days(lamp_way="first")[0]
        assert later is not None
        self.assertGreater(later, lamp)
        order = [days(lid_way=way)[1] for way in ("first", "third", "half", "most", "all")]
        self.assertEqual(order, sorted(order, key=lambda d: d or date.max))
        self.assertEqual(order[2], lid)

    def test_sown_and_thinned_by_the_ways_unless_the_planting_says(self) -> None:
        usual = plant(self.garden, self.owner, "lettuce", 12, sow_on=date(2026, 4, 12))
        own = plant(self.garden, self.owner, "lettuce", 12, sow_on=date(2026, 4, 12), sown_in="cells")
        Garden.objects.filter(pk=self.garden.pk).update(schools={"sown_way": "box"})
        ways = {i.planting.pk: i.raised.how.sown_in for i in self.now().items}
        self.assertEqual((ways[usual.pk], ways[own.pk]), ("box", "cells"))
        self.post(f"task/p{usual.pk}.sow.0/", on="2026-04-12")
        batch = usual.batches.get()
        self.assertEqual((batch.sown_in, batch.surplus), ("box", "prick"))
        Garden.objects.filter(pk=self.garden.pk).update(schools={"sown_way": "blocks", "surplus_way": "keep"})
        item = next(i for i in self.now().items if i.batch == batch)
        self.assertEqual(item.raised.how.sown_in, "box")  # what is sown stays as it was sown

    def test_a_ladder_of_its_own_for_one_crop(self) -> None:
        plant(self.garden, self.owner, "tomato", 6)
        before = self.now().items[0].raised.course.day("harden")
        self.post("plan/ways/?crop=tomato", ladder_way="cool")
        item = self.now().items[0]
        self.assertEqual(item.raised.ladder.key, "cool")
        self.assertGreater(item.raised.course.day("harden"), before)

    def test_every_way_says_why_and_what_it_would_change(self) -> None:
        plant(self.garden, self.owner, "tomato", 6)
        page = self.client.get(self.url("plan/ways/")).content.decode()
        for school in SCHOOLS[:-1]:
            self.assertIn(school.question, page)
            told = self.client.get(self.url(f"plan/ways/{school.field}/")).content.decode()
            for option in school.options:
                self.assertIn(option.why[:30].replace("’", "’"), told)
        bigger = self.client.get(self.url("plan/ways/lead_way/")).content.decode()
        self.assertIn("1 planting would change", bigger)
        self.assertIn(
            "nothing here would change", self.client.get(self.url("plan/ways/surplus_way/?crop=leek")).content.decode()
        )

    def test_what_is_no_way_is_refused_and_an_old_document_is_told_which(self) -> None:
        self.assertEqual(self.post("plan/ways/", lead_way="moonlight").status_code, 422)
        document = portable.export(self.garden)
        document["garden"]["schools"] = {"lead_way": "moonlight"}
        with self.assertRaises(portable.BadDocument) as found:
            bring_in(read_document(json.dumps(document).encode()), self.owner)
        self.assertIn("moonlight", str(found.exception))
        Garden.objects.filter(pk=self.garden.pk).update(schools={"lead_way": "moonlight", "moon": "full"})
        self.assertEqual(self.client.get(self.url("plan/")).status_code, 200)  # the usual way is taken
