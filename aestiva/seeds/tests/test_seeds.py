"""The seed box: packets in few keys, tests, counts that feed the plan, packet text confirmed, lists in and out."""

from __future__ import annotations

import json
import re
from datetime import date, timedelta
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile

from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from aestiva.gardens import portable
from aestiva.gardens.bring_in import rehearse
from aestiva.gardens.document import read_document
from aestiva.gardens.models import JournalEntry
from aestiva.season.models import Batch, CropValue, Lot, Planting
from aestiva.seeds.models import SeedTest


class Box(GardenCase):
    def put(self, **more: str) -> Any:
        return self.post("seeds/", **({"crop": "Tomato", "variety": "Old Ferry", "packed": "25", "seeds": "30"} | more))

    def test_a_packet_in_a_few_keys(self) -> None:
        self.put()
        lot = Lot.objects.get()
        self.assertEqual((lot.crop_key, lot.variety, lot.packed_year, lot.seeds), ("tomato", "Old Ferry", 2025, 30))
        self.put(crop="courgette", variety="", packed="", seeds="")
        squash = Lot.objects.latest("pk")
        self.assertEqual((squash.crop_key, squash.packed_year, squash.seeds), ("squash", TODAY.year, None))
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertEqual(Lot.objects.count(), 1)

    def test_the_same_packet_is_noticed_and_asked_about(self) -> None:
        self.put()
        self.assertContains(self.put(), "is in the box already, with 30 seeds")
        self.assertEqual(Lot.objects.count(), 1)
        self.put(twin="add")
        self.assertEqual(Lot.objects.get().seeds, 60)
        self.put(twin="another")
        self.assertEqual(Lot.objects.count(), 2)

    def test_packets_that_cannot_be_keep_what_was_typed(self) -> None:
        for more, said in (
            ({"crop": "Tomatto"}, "did you mean Tomato"),
            ({"crop": "Moon weed"}, "add it under Crops first"),
            ({"packed": "2031"}, "2031 cannot be: a packet is for 1950 to 2027"),
            ({"seeds": "many"}, "is not a whole number"),
        ):
            answer = self.put(**more)
            self.assertContains(answer, said, status_code=422)
            self.assertContains(answer, "Old Ferry", status_code=422)
        self.assertFalse(Lot.objects.exists())

    def test_what_the_plan_needs_stands_beside_what_is_there(self) -> None:
        self.put(seeds="12")
        plant(self.garden, self.owner, "tomato", 10, lot=Lot.objects.get())
        page = self.client.get(self.url("seeds/"))
        row = page.context["rows"][0][0]
        self.assertEqual(row.needed, row.needs[0].sowing.seeds)
        self.assertContains(page, f"{row.needed - 12} short")
        self.assertContains(page, "Short of Tomato Old Ferry")
        orders = self.client.get(self.url("seeds/orders/"))
        self.assertContains(orders, str(row.needed - 12))
        Lot.objects.update(price=2.5, packet_seeds=10, origin="=Ferry Hill")
        line = self.client.get(self.url("seeds/orders.csv")).content.decode().splitlines()[1]
        packets = -(-(row.needed - 12) // 10)
        self.assertTrue(
            line.startswith(f"'=Ferry Hill,Tomato,Old Ferry,{row.needed - 12},{packets},{packets * 2.5}"), line
        )
        Lot.objects.update(seeds=500)
        self.assertContains(self.client.get(self.url("seeds/orders/")), "Nothing to order")

    def test_empty_packets_keep_their_facts(self) -> None:
        self.put()
        lot = Lot.objects.get()
        self.post(
            f"seeds/{lot.pk}/facts/",
            variety="Old Ferry",
            packed_year="2025",
            seeds="30",
            used_up="on",
            storage="fridge",
        )
        lot.refresh_from_db()
        self.assertTrue(lot.used_up)
        plant(self.garden, self.owner, "tomato", 10, lot=lot)
        self.assertEqual(self.client.get(self.url("seeds/")).context["rows"][0][0].had, 0)
        for more, said in (
            ({"storage": "own"}, "needs both"),
            ({"storage": "own", "storage_c": "90", "storage_rh": "40"}, "90 °C cannot be"),
            ({"packed_year": "2040"}, "2040 cannot be"),
        ):
            data = {"variety": "x", "packed_year": "2025", "storage": ""} | more
            self.assertContains(self.post(f"seeds/{lot.pk}/facts/", **data), said, status_code=422)


class Tests(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.lot = Lot.objects.create(garden=self.garden, crop_key="leek", variety="Weir", packed_year=2023, seeds=400)

    def test_a_test_changes_what_will_come_and_what_is_sown(self) -> None:
        plant(self.garden, self.owner, "leek", 30, lot=self.lot, sow_on=date(2026, 4, 18))
        before = self.todo("sow").task.count or 0
        self.assertContains(self.client.get(self.url(f"seeds/{self.lot.pk}/")), "Test ")
        self.post(f"seeds/{self.lot.pk}/test/", on="2026-04-01", sown="40", up="38")
        self.assertLess(self.todo("sow").task.count or 0, before)
        page = self.client.get(self.url(f"seeds/{self.lot.pk}/"))
        self.assertContains(page, "40")
        self.assertContains(page, 'class="test"')
        self.post(f"seeds/{self.lot.pk}/test/", remove=str(SeedTest.objects.get().pk))
        self.assertEqual(self.todo("sow").task.count, before)

    def test_more_up_than_sown_is_refused(self) -> None:
        for data, said in (
            ({"on": "2026-04-01", "sown": "20", "up": "25"}, "25 came of 20 laid out"),
            ({"on": "2026-05-01", "sown": "20", "up": "5"}, "still to come"),
            ({"on": "2026-04-01", "sown": "0", "up": "0"}, "cannot be: give 1"),
        ):
            self.assertContains(self.post(f"seeds/{self.lot.pk}/test/", **data), said, status_code=422)
        self.assertFalse(SeedTest.objects.exists())

    def test_saved_seed_of_crossing_species_and_treated_seed_are_warned_of(self) -> None:
        Lot.objects.filter(pk=self.lot.pk).update(saved=True, treated=True, crop_key="squash")
        page = self.client.get(self.url(f"seeds/{self.lot.pk}/"))
        self.assertContains(page, "does not come true")
        self.assertContains(page, "never eat it")


class Count(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.lot = Lot.objects.create(
            garden=self.garden, crop_key="tomato", variety="Old Ferry", packed_year=2024, seeds=40
        )
        self.planting = plant(self.garden, self.owner, "tomato", 12, lot=self.lot)

    def test_the_chosen_way_feeds_the_planting(self) -> None:
        page = self.client.get(self.url(f"seeds/count/{self.planting.pk}/"))
        ways = {code: w.sowing for w, _, code, *_ in page.context["ways"]}
        self.assertGreater(ways["cells-thin-1"].places, ways["cells-thin-2"].places)
        self.assertContains(page, "Odds of each number of plants: 12 or more in")
        for way, unit in (
            ("cells-thin-1", "cells"),
            ("box-prick", "seeds"),
            ("cells-keep-3", "cells"),
            ("blocks-thin-1", "blocks"),
        ):
            self.post(f"seeds/count/{self.planting.pk}/", way=way)
            task = self.todo("sow").task
            self.assertEqual((task.count, task.unit), (ways[way].places, unit), way)
            self.assertContains(self.client.get(self.url(f"seeds/count/{self.planting.pk}/")), "as planned")

    def test_clumps_are_counted_and_a_plant_more_has_its_price(self) -> None:
        onions = plant(self.garden, self.owner, "onion", 90, per_cell=None, surplus="")
        page = self.client.get(self.url(f"seeds/count/{onions.pk}/"))
        self.assertContains(page, "30 clumps of 3")
        self.assertContains(page, "divided at planting out")
        self.assertContains(page, "A plant more than you want takes about")
        box = next(w for w, _, code, *_ in page.context["ways"] if code == "box-divide")
        self.assertTrue(110 <= box.sowing.seeds <= 150, box.sowing.seeds)

    def test_a_packet_without_a_variety_serves_a_planting_without_one(self) -> None:
        Lot.objects.create(garden=self.garden, crop_key="leek", packed_year=2026, seeds=300)
        leeks = plant(self.garden, self.owner, "leek", 20)
        named = plant(self.garden, self.owner, "leek", 20, variety="Weir")
        page = self.client.get(self.url("seeds/"))
        self.assertEqual([n.planting for n in page.context["unlisted"]], [named])
        self.assertNotIn("seed", [t.task.kind for t in self.now().todos(TODAY) if t.item.planting == leeks])
        task = next(
            t
            for t in self.now().todos(TODAY + timedelta(days=400))
            if t.item.planting == leeks and t.task.kind == "sow"
        )
        self.post(f"task/{task.task.key}/")
        self.assertEqual(Batch.objects.get(planting=leeks).lot.crop_key, "leek")

    def test_once_sown_nothing_is_changed(self) -> None:
        self.post(f"task/p{self.planting.pk}.sow.0/", on=TODAY.isoformat())
        self.post(f"seeds/count/{self.planting.pk}/", way="cells-thin-3")
        self.assertEqual(Planting.objects.get(pk=self.planting.pk).per_cell, 2)
        self.assertContains(self.client.get(self.url(f"seeds/count/{self.planting.pk}/")), "is sown already")

    def test_warmth_decides_how_many_come(self) -> None:
        lettuce = plant(self.garden, self.owner, "lettuce", 12)
        cool, hot = (
            self.client.get(self.url(f"seeds/count/{lettuce.pk}/"), {"warmth": w}).context["ways"][0][0].sowing.places
            for w in ("20", "30")
        )
        self.assertGreater(hot, 3 * cool)
        self.assertContains(
            self.client.get(self.url(f"seeds/count/{lettuce.pk}/"), {"warmth": "40"}), "There is no count"
        )
        self.assertEqual(
            self.client.get(self.url(f"seeds/count/{lettuce.pk}/"), {"warmth": "x", "sure": "y"}).status_code, 200
        )

    def test_transplant_tolerance_is_respected(self) -> None:
        squash = plant(self.garden, self.owner, "squash", 4)
        CropValue.objects.create(garden=self.garden, crop_key="beet", field="transplants", value="direct")
        beet = plant(self.garden, self.owner, "beet", 40, method="direct")
        page = self.client.get(self.url(f"seeds/count/{squash.pk}/"))
        self.assertNotIn("box", [w.how.sown_in for w, *_ in page.context["ways"]])
        self.post(f"seeds/count/{squash.pk}/", way="box-prick")
        squash.refresh_from_db()
        self.assertEqual(squash.sown_in, "")
        self.assertContains(self.client.get(self.url(f"seeds/count/{beet.pk}/")), "sown where it grows")


class PacketText(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.lot = Lot.objects.create(garden=self.garden, crop_key="cosmos", variety="Paper Kite", packed_year=2025)
        self.planting = plant(self.garden, self.owner, "cosmos", 12, lot=self.lot)

    def read(self, text: str, **more: str) -> Any:
        return self.post(f"seeds/{self.lot.pk}/text/", text=text, **more)

    def test_confirmed_readings_move_the_dates_of_that_lot_alone(self) -> None:
        other = plant(self.garden, self.owner, "cosmos", 12)
        before = {i.planting.pk: i.raised.dates.sow for i in self.now().items}
        words = "Sow indoors 8-10 weeks before last frost, 1/4 in deep, 45 cm apart"
        page = self.read(words)
        self.assertContains(page, "8–10 weeks")
        self.assertEqual(Lot.objects.get().facts, {})
        self.read(words, keep="yes", **{"take-weeks": "1", "take-depth_cm": "1", "take-spacing_cm": "1"})
        lot = Lot.objects.get()
        self.assertEqual(
            (lot.facts["depth_cm"][0], lot.packet["weeks_max"], lot.packet["base"]), (0.64, 10, "last_frost")
        )
        after = {i.planting.pk: i.raised.dates.sow for i in self.now().items}
        self.assertLess(after[self.planting.pk].start, before[self.planting.pk].start)
        self.assertEqual(after[other.pk], before[other.pk])
        self.assertContains(self.client.get(self.url(f"seeds/{lot.pk}/")), "packet: 1/4 in deep")
        self.post(f"seeds/{lot.pk}/facts/", drop="weeks")
        self.assertEqual(self.now().items[0].raised.dates.sow, before[self.planting.pk])

    def test_an_unnamed_base_is_asked_for(self) -> None:
        words = "Start indoors 6 weeks early"
        self.assertContains(self.read(words), "Before what?")
        asked = self.read(words, keep="yes", **{"take-weeks": "1"})
        self.assertContains(asked, "Say which", status_code=422)
        self.read(words, keep="yes", base="transplanting", **{"take-weeks": "1"})
        self.assertEqual(Lot.objects.get().packet["base"], "transplanting")

    def test_a_contradiction_shows_both_readings(self) -> None:
        words = "1 cm deep. Cover with 5 mm of mix."
        page = self.read(words)
        self.assertContains(page, "The text gives two")
        self.read(words, keep="yes", **{"take-depth_cm": "1", "which-depth_cm": "1"})
        self.assertEqual(Lot.objects.get().facts["depth_cm"][0], 0.5)

    def test_readings_that_cannot_stand_are_refused(self) -> None:
        page = self.read("40 cm deep", keep="yes", **{"take-depth_cm": "1"})
        self.assertContains(page, "must lie between", status_code=422)
        self.assertContains(self.read("Lovely."), "Nothing in it is a depth")
        self.assertEqual(Lot.objects.get().facts, {})


class Files(GardenCase):
    def look(self, text: str) -> Any:
        return self.client.post(self.url("seeds/import/"), {"file": SimpleUploadedFile("l.csv", text.encode())})

    def keep(self, page: Any, **more: str) -> Any:
        sealed = re.search(r'name="kept" value="([^"]+)"', page.content.decode())
        assert sealed is not None
        return self.client.post(self.url("seeds/import/"), {"kept": sealed[1], "what": "keep", **more})

    def test_a_list_with_unknown_names_is_asked_about(self) -> None:
        page = self.look("crop,variety,packed,seeds,price\nTomato,Old Ferry,2025,40,2.5\nMoon weed,Weir,2024,,\n")
        self.assertContains(page, "Which crops are these?")
        self.assertFalse(Lot.objects.exists())
        self.keep(page, **{"means-moon weed": "leek"})
        self.assertEqual(sorted(Lot.objects.values_list("crop_key", flat=True)), ["leek", "tomato"])
        self.assertEqual(Lot.objects.get(crop_key="tomato").price, 2.5)

    def test_packets_that_are_there_are_left_out_unless_asked(self) -> None:
        Lot.objects.create(garden=self.garden, crop_key="tomato", variety="Old Ferry", packed_year=2025)
        page = self.look("crop,variety,packed\nTomato,old ferry,2025\nLeek,Weir,2024\nLeek,Weir,2024\n")
        self.assertContains(page, "there already", count=2)
        self.keep(page)
        self.assertEqual(Lot.objects.count(), 2)
        self.keep(page, known="also")
        self.assertEqual(Lot.objects.count(), 5)

    def test_bad_rows_bring_in_nothing_until_they_are_left_out(self) -> None:
        for text, said in (
            ("crop,packed\nTomato,2099\n", "“2099” is not a year"),
            ("crop,seeds\nTomato,-4\n", "“-4” is not a whole count"),
            ("crop,grams\nTomato,a lot\n", "“a lot” is not a weight"),
            ("crop,variety\n,Weir\n", "no crop is named"),
        ):
            page = self.look(text + "\n")
            self.assertContains(page, said)
            self.assertContains(page, "<span>Row 2</span>")
            self.keep(page)
            self.keep(page, leave_bad="yes")
        self.assertFalse(Lot.objects.exists())
        self.assertContains(self.look("variety\nOld Ferry\n"), "No column says <b>crop</b>")
        page = self.look("crop,seeds\nTomato,-4\nLeek,30\n")
        self.keep(page, leave_bad="yes")
        self.assertEqual(Lot.objects.get().crop_key, "leek")

    def test_a_list_goes_out_as_it_comes_in_and_runs_nothing(self) -> None:
        Lot.objects.create(garden=self.garden, crop_key="leek", variety="=Weir()", packed_year=2023, seeds=90)
        out = self.client.get(self.url("lots.csv")).content.decode()
        self.assertIn("Leek,'=Weir(),2023,90", out)
        Lot.objects.all().delete()
        self.keep(self.look(out))
        self.assertEqual(Lot.objects.get().seeds, 90)


class BroughtIn(GardenCase):
    def test_packets_and_tests_that_cannot_be_are_refused_with_their_place(self) -> None:
        lot = Lot.objects.create(garden=self.garden, crop_key="tomato", facts={"spacing_cm": [60, "packet"]})
        SeedTest.objects.create(lot=lot, on=date(2026, 1, 1), sown=20, up=12)
        whole = json.dumps(portable.export(self.garden))
        rehearse(read_document(whole.encode()), self.owner)
        for old, new, said in (
            ('"spacing_cm": [60', '"spacing_cm": [9000', "lots 1: what its packet says cannot stand"),
            ('"spacing_cm": [60, "packet"]', '"spacing_cm": 60', "lots 1"),
            ('"crop_key": "tomato"', '"crop_key": "moonweed"', "lots 1: there is no crop"),
            ('"up": 12', '"up": 30', "more came than were laid out"),
        ):
            self.assertIn(old, whole)
            with self.assertRaisesRegex(portable.BadDocument, said):
                rehearse(read_document(whole.replace(old, new).encode()), self.owner)


class Joined(GardenCase):
    def test_a_planting_takes_the_packet_of_its_variety_and_refuses_another_crops(self) -> None:
        lot = Lot.objects.create(garden=self.garden, crop_key="tomato", variety="Old Ferry", packed_year=2025)
        leek = Lot.objects.create(garden=self.garden, crop_key="leek", variety="Weir", packed_year=2025)
        data = {"crop": "tomato", "wanted": "8", "method": "raised", "term": "spring"}
        self.post("plan/add/", variety="old ferry", **data)
        self.assertEqual(Planting.objects.get().lot, lot)
        self.post("plan/add/", lot=str(lot.pk), **data)
        self.assertEqual(Planting.objects.latest("pk").variety, "Old Ferry")
        self.assertContains(self.post("plan/add/", lot=str(leek.pk), **data), "That packet is leek", status_code=422)

    def test_the_packet_is_chosen_where_the_seeds_are_counted(self) -> None:
        lot = Lot.objects.create(garden=self.garden, crop_key="tomato", variety="Old Ferry", packed_year=2021)
        planting = plant(self.garden, self.owner, "tomato", 8)
        fresh = self.todo("sow").task.count or 0
        self.post(f"seeds/count/{planting.pk}/", lot=str(lot.pk))
        self.assertGreater(self.todo("sow").task.count or 0, fresh)
        self.post(f"seeds/count/{planting.pk}/", lot="")
        self.assertEqual(self.todo("sow").task.count, fresh)

    def test_a_packets_own_value_carries_its_reason(self) -> None:
        lot = Lot.objects.create(garden=self.garden, crop_key="tomato", variety="Old Ferry", packed_year=2025)
        self.post(f"seeds/{lot.pk}/facts/", field="spacing_cm", value="80", why="sprawling kind")
        lot.refresh_from_db()
        self.assertEqual(lot.facts["spacing_cm"], [80.0, "sprawling kind"])
        for value, why, said in (
            ("wide", "x", "is no number"),
            ("80", "", "Why: give the value and why"),
            ("900", "x", "must lie between"),
        ):
            page = self.client.post(
                self.url(f"seeds/{lot.pk}/facts/"), {"field": "spacing_cm", "value": value, "why": why}, follow=True
            )
            self.assertContains(page, said)
        lot.refresh_from_db()
        self.assertEqual(lot.facts["spacing_cm"][0], 80.0)

    def test_a_number_typed_goes_before_the_ground(self) -> None:
        planting = plant(self.garden, self.owner, "tomato", 8)
        Planting.objects.filter(pk=planting.pk).update(as_fits=True)
        planting.refresh_from_db()
        data = {"crop": "Tomato", "method": "raised", "term": "spring", "sow_on": planting.made["sow_on"]}
        self.post(f"plan/{planting.pk}/", wanted="11", revision=str(planting.revision), **data)
        planting.refresh_from_db()
        self.assertEqual((planting.wanted, planting.as_fits), (11, False))
