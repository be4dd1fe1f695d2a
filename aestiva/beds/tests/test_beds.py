"""Beds: drawn, laid out, moved, overfilled with a word; the number wanted follows the ground, never silently once sown."""

from __future__ import annotations

import json
from datetime import date
from xml.etree import ElementTree

from aestiva.beds.models import Plot, Use
from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from aestiva.gardens import portable
from aestiva.gardens.bring_in import bring_in
from aestiva.gardens.document import read_document
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.season.models import BedArea, Lot, Planting, Season, Spot
from growing.beds.packing import fit


class Ground(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        Spot.objects.filter(pk=self.bed.pk).update(x_cm=60, y_cm=60, length_cm=360, width_cm=120)
        self.planting = plant(self.garden, self.owner, "tomato", 10, spot=self.bed)

    def lay(self, planting: Planting | None = None, **more: str) -> BedArea:
        planting = planting or self.planting
        self.post(f"beds/{self.bed.pk}/lay/", planting=str(planting.pk), **more)
        return BedArea.objects.latest("pk")

    def undo(self) -> None:
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")


class Drawing(Ground):
    def test_a_bed_is_drawn_changed_and_taken_back(self) -> None:
        self.post(
            "beds/draw/", code="Bed Z", kind="bed", length_cm="300", width_cm="90", x_cm="30", y_cm="30", sun="sun"
        )
        made, drawn = Spot.objects.get(code="Bed Z"), JournalEntry.objects.latest("pk")
        self.assertEqual((made.length_cm, made.x_cm, made.sun), (300, 30, "sun"))
        self.assertContains(self.client.get(self.url("beds/")), "Bed Z")
        self.post(f"beds/{made.pk}/measure/", code="Bed Y", kind="planter", length_cm="60", width_cm="40")
        self.assertEqual(Spot.objects.get(pk=made.pk).code, "Bed Y")
        self.undo()
        self.assertEqual(Spot.objects.get(pk=made.pk).code, "Bed Z")
        self.post(f"journal/{drawn.pk}/undo/")
        self.assertFalse(Spot.objects.filter(pk=made.pk).exists())

    def test_beds_that_cannot_be(self) -> None:
        for more, said in (
            ({"code": "Bed A"}, "There is a place called Bed A already"),
            ({"length_cm": "2"}, "2 cm cannot be"),
            ({"width_cm": ""}, "This field is required"),
            ({"kind": "shelf"}, "Select a valid choice"),
        ):
            data = {"code": "New", "kind": "bed", "length_cm": "100", "width_cm": "100"} | more
            self.assertContains(self.post("beds/draw/", **data), said, status_code=422)

    def test_a_bed_is_moved_and_held_on_the_plot(self) -> None:
        Plot.objects.create(garden=self.garden, width_cm=900, height_cm=600, grid_cm=30)
        self.post(f"beds/{self.bed.pk}/move/", x="120", y="30")
        self.bed.refresh_from_db()
        self.assertEqual((self.bed.x_cm, self.bed.y_cm), (120, 30))
        self.post(f"beds/{self.bed.pk}/move/", x="800", y="-40")
        self.bed.refresh_from_db()
        self.assertEqual((self.bed.x_cm, self.bed.y_cm), (540, 0))
        for x in ("", "nan", "far"):
            self.post(f"beds/{self.bed.pk}/move/", x=x, y="0")
        self.undo()
        self.bed.refresh_from_db()
        self.assertEqual((self.bed.x_cm, self.bed.y_cm), (120, 30))

    def test_inches_at_the_edge(self) -> None:
        Garden.objects.filter(pk=self.garden.pk).update(units="us")
        self.post("beds/draw/", code="Box", kind="planter", length_cm="48", width_cm="24")
        self.assertAlmostEqual(Spot.objects.get(code="Box").length_cm or 0, 121.92)

    def test_the_plot_and_its_files(self) -> None:
        self.post("beds/ground/", width_cm="900", height_cm="600", grid_cm="15.24", north_deg="90", seen_from="left")
        self.assertEqual(Plot.objects.get().grid_cm, 15.24)
        self.lay()
        svg = self.client.get(self.url("beds/plan.svg")).content.decode()
        self.assertIn("Bed A", svg)
        ElementTree.fromstring(svg)
        self.assertContains(self.client.get(self.url("beds/print/")), "1 : 50")
        self.assertContains(self.client.get(self.url("beds/print/")), 'width="180.0mm"')
        line = self.client.get(self.url("beds/list.csv")).content.decode().splitlines()[1]
        self.assertTrue(line.startswith("Bed A,Tomato,,0.0,0.0,"), line)

    def test_out_and_in_again_with_the_garden(self) -> None:
        self.post("beds/ground/", width_cm="900", height_cm="600", grid_cm="30", north_deg="90", seen_from="left")
        self.lay()
        document = portable.export(self.garden)
        again = bring_in(read_document(json.dumps(document).encode()), self.owner)
        other = portable.export(again)
        for part in ("areas", "plot", "spots", "lots", "plantings"):
            self.assertEqual(document[part], other[part])


class Laying(Ground):
    def test_it_goes_to_free_ground_and_holds_what_is_wanted(self) -> None:
        area = self.lay()
        spacing = 55
        self.assertGreaterEqual(fit(area.length_cm, area.width_cm, spacing).plants, 10)
        other = plant(self.garden, self.owner, "lettuce", 8, spot=self.bed)
        second = self.lay(other)
        self.assertFalse(
            area.x_cm < second.x_cm + second.length_cm and second.x_cm < area.x_cm + area.length_cm
            and area.y_cm < second.y_cm + second.width_cm and second.y_cm < area.y_cm + area.width_cm
        )  # fmt: skip
        page = self.client.get(self.url(f"beds/{self.bed.pk}/"))
        self.assertContains(page, "Everything planned has its ground")
        self.undo()
        self.assertEqual(BedArea.objects.count(), 1)

    def test_who_comes_later_takes_the_ground_of_who_has_gone(self) -> None:
        first = plant(self.garden, self.owner, "lettuce", 33, spot=self.bed)
        early = self.lay(first)
        kale = plant(self.garden, self.owner, "kale", 10, spot=self.bed, term="autumn")
        late = self.lay(kale)
        self.assertEqual((late.x_cm, late.y_cm), (early.x_cm, early.y_cm))
        page = self.client.get(self.url(f"beds/{self.bed.pk}/"))
        self.assertEqual(page.context["overlaps"], [])

    def test_what_could_follow_is_offered_and_planned(self) -> None:
        lettuce = plant(self.garden, self.owner, "lettuce", 33, spot=self.bed)
        area = self.lay(lettuce)
        page = self.client.get(self.url(f"beds/{self.bed.pk}/"))
        self.assertContains(page, self.url(f"beds/area/{area.pk}/next/"))
        address = self.url(f"beds/area/{area.pk}/next/")
        self.assertContains(self.client.get(address), "No packet in the box could follow Lettuce")
        Lot.objects.create(garden=self.garden, crop_key="kale", variety="Quarry Curl", packed_year=2026)
        Lot.objects.create(garden=self.garden, crop_key="lettuce", variety="Ferrymead", packed_year=2026)
        Lot.objects.create(garden=self.garden, crop_key="squash", packed_year=2026)
        page = self.client.get(address)
        self.assertContains(page, "could follow Lettuce in Bed A")
        self.assertContains(page, "same family as Lettuce", 1)
        self.assertNotContains(page, "Squash")
        self.assertGreater(len(self.client.get(address + "?all").context["found"]), len(page.context["found"]))
        one, lot, again, offer = next(f for f in page.context["found"] if f[0].crop.key == "kale")
        self.assertFalse(again)
        form = self.client.get(offer).context["form"]
        values = {name: form[name].value() for name in ("crop", "wanted", "method", "term", "spot", "sow_on", "lot")}
        self.assertEqual((values["crop"], values["term"], str(values["spot"])), ("Kale", "autumn", str(self.bed.pk)))
        self.client.post(self.url("plan/add/"), {**values, "variety": "Quarry Curl", "key": "next"})
        kept = Planting.objects.get(crop_key="kale")
        self.assertEqual((kept.term, kept.chosen_sow, kept.lot), ("autumn", one.dates.sow_on, lot))
        late = self.lay(kept)
        self.assertEqual((late.x_cm, late.y_cm), (area.x_cm, area.y_cm))

    def test_ground_that_stays_taken_offers_nothing(self) -> None:
        area = self.lay()
        self.assertContains(
            self.client.get(self.url(f"beds/area/{area.pk}/next/")), "This ground does not come free for six weeks"
        )

    def test_what_stands_elsewhere_is_not_laid_twice(self) -> None:
        other = Spot.objects.create(
            garden=self.garden, kind="bed", code="Bed B", x_cm=60, y_cm=300, length_cm=360, width_cm=120
        )
        BedArea.objects.create(planting=self.planting, spot=other, x_cm=0, y_cm=0, length_cm=220, width_cm=110)
        area = self.lay()
        self.assertEqual(fit(area.length_cm, area.width_cm, 55).plants, 2)

    def test_moved_resized_and_held_inside_the_bed(self) -> None:
        area = self.lay()
        self.post(f"beds/area/{area.pk}/", x="330", y="-40", l="110", w="110")
        area.refresh_from_db()
        self.assertEqual((area.x_cm, area.y_cm, area.length_cm, area.width_cm), (250, 0, 110, 110))
        page = self.client.get(self.url(f"beds/{self.bed.pk}/"))
        self.assertContains(page, "4 fit here: 6 of the 10 wanted have no place yet")
        self.undo()
        area.refresh_from_db()
        self.assertNotEqual(area.x_cm, 250)
        note = self.client.post(
            self.url(f"beds/area/{area.pk}/"), {"x": "0", "y": "0", "l": "1", "w": "1"}, headers={"X-Part": "board"}
        )
        self.assertContains(note, "holds nothing: draw it larger")
        whole = self.client.post(
            self.url(f"beds/area/{area.pk}/"), {"x": "a", "y": "0", "l": "9", "w": "9"}, headers={"X-Part": "board"}
        )
        self.assertContains(whole, "did not arrive whole")

    def test_spacing_and_pattern_by_hand(self) -> None:
        area = self.lay()
        values = {"x_cm": "0", "y_cm": "0", "length_cm": "360", "width_cm": "120", "pattern": "staggered", "edge": "on"}
        self.post(f"beds/area/{area.pk}/", spacing_cm="30", **values)
        page = self.client.get(self.url(f"beds/{self.bed.pk}/"))
        self.assertContains(page, str(fit(360, 120, 30, "staggered").plants))
        bad = self.client.post(
            self.url(f"beds/area/{area.pk}/"), values | {"spacing_cm": "0"}, headers={"X-Part": "board"}
        )
        self.assertContains(bad, "0 cm cannot be")
        wide = self.client.post(
            self.url(f"beds/area/{area.pk}/"), values | {"spacing_cm": "290"}, headers={"X-Part": "board"}
        )
        self.assertContains(wide, "0 fit here: 10 of the 10 wanted have no place yet")  # said, not forbidden

    def test_a_bed_too_dark_or_made_too_small_says_so(self) -> None:
        self.lay()
        Spot.objects.filter(pk=self.bed.pk).update(sun="part", length_cm=200)
        page = self.client.get(self.url(f"beds/{self.bed.pk}/"))
        self.assertContains(page, "Tomato wants full sun; this bed has half shade.")
        self.assertContains(page, "hangs over the edge")
        Spot.objects.filter(pk=self.bed.pk).update(sun="sun", length_cm=360)
        page = self.client.get(self.url(f"beds/{self.bed.pk}/"))
        self.assertNotContains(page, "wants full sun")
        self.assertNotContains(page, "hangs over")

    def test_overlap_is_shown_not_forbidden(self) -> None:
        self.lay(x="0", y="0", l="360", w="120")
        lettuce = plant(self.garden, self.owner, "lettuce", 8, spot=self.bed)
        self.lay(lettuce, x="0", y="0", l="120", w="60")
        page = self.client.get(self.url(f"beds/{self.bed.pk}/"))
        self.assertContains(page, "Tomato and Lettuce share 100 %")
        full = self.client.post(
            self.url(f"beds/{self.bed.pk}/lay/"),
            {"planting": plant(self.garden, self.owner, "squash", 5).pk},
            headers={"X-Part": "board"},
        )
        self.assertContains(full, "has no free ground for Squash")

    def test_what_fits_is_told_while_drawing(self) -> None:
        said = self.client.get(
            self.url(f"beds/{self.bed.pk}/fit/"), {"planting": self.planting.pk, "l": "220", "w": "110"}
        )
        self.assertEqual(said.content.decode(), "8 Tomato fit; 10 wanted")
        self.assertIn(
            "Choose", self.client.get(self.url(f"beds/{self.bed.pk}/fit/"), {"l": "220", "w": "110"}).content.decode()
        )
        self.assertIn(
            "larger",
            self.client.get(
                self.url(f"beds/{self.bed.pk}/fit/"), {"planting": self.planting.pk, "l": "0", "w": "1"}
            ).content.decode(),
        )


class Joined(Ground):
    def test_the_number_wanted_and_the_sowing_follow_the_ground(self) -> None:
        area = self.lay(x="0", y="0", l="220", w="110")
        self.post(f"beds/area/{area.pk}/", as_fits="yes")
        self.assertEqual(Planting.objects.get(pk=self.planting.pk).wanted, 8)
        cells = self.todo("sow").task.count or 0
        answer = self.client.post(
            self.url(f"beds/area/{area.pk}/"), {"x": "0", "y": "0", "l": "330", "w": "110"}, headers={"X-Part": "board"}
        )
        self.assertContains(answer, "12 are wanted now")
        self.assertGreater(self.todo("sow").task.count or 0, cells)
        self.undo()
        self.assertEqual(Planting.objects.get(pk=self.planting.pk).wanted, 8)
        self.post(f"beds/area/{area.pk}/", as_fits="no")
        self.post(f"beds/area/{area.pk}/", x="0", y="0", l="110", w="110")
        self.assertEqual(Planting.objects.get(pk=self.planting.pk).wanted, 8)

    def test_once_sown_it_is_said_and_nothing_changes(self) -> None:
        area = self.lay(x="0", y="0", l="220", w="110")
        self.post(f"beds/area/{area.pk}/", as_fits="yes")
        self.post(f"task/p{self.planting.pk}.sow.0/", on=TODAY.isoformat())
        answer = self.client.post(
            self.url(f"beds/area/{area.pk}/"), {"x": "0", "y": "0", "l": "330", "w": "110"}, headers={"X-Part": "board"}
        )
        self.assertContains(answer, "The beds hold 12 now, but 8 are sown for")
        self.assertEqual(Planting.objects.get(pk=self.planting.pk).wanted, 8)

    def test_a_packets_distance_counts(self) -> None:
        from aestiva.season.models import Lot

        lot = Lot.objects.create(
            garden=self.garden, crop_key="tomato", facts={"spacing_cm": [110, "packet: 110 cm apart"]}
        )
        Planting.objects.filter(pk=self.planting.pk).update(lot=lot)
        said = self.client.get(
            self.url(f"beds/{self.bed.pk}/fit/"), {"planting": self.planting.pk, "l": "220", "w": "110"}
        )
        self.assertEqual(said.content.decode(), "2 Tomato fit; 10 wanted")

    def test_direct_sown_plantings_belong_too(self) -> None:
        beet = plant(self.garden, self.owner, "beet", 60, method="direct", spot=self.bed)
        area = self.lay(beet)
        self.assertEqual(area.planting, beet)


class Season_(Ground):
    def test_weeks_slots_and_family_of_last_year(self) -> None:
        last = Season.objects.create(garden=self.garden, year=2025)
        Planting.objects.create(season=last, crop_key="pepper", wanted=3, spot=self.bed, chosen_sow=date(2025, 3, 1))
        self.lay()
        lettuce = plant(self.garden, self.owner, "lettuce", 6, spot=self.bed)
        self.lay(lettuce)
        page = self.client.get(self.url(f"beds/{self.bed.pk}/"))
        self.assertContains(page, "Tomato: Pepper of the same family stood in this bed last year")
        self.assertContains(page, "come free after Lettuce")
        winter = self.client.get(self.url(f"beds/{self.bed.pk}/"), {"week": "2026-03-16"})
        self.assertContains(winter, "not there that week")
        summer = self.client.get(self.url(f"beds/{self.bed.pk}/"), {"week": "2026-07-20", "by": "family"})
        self.assertContains(summer, "stands")
        self.assertEqual(self.client.get(self.url("beds/"), {"week": "x", "by": "y"}).status_code, 200)

    def test_household(self) -> None:
        plant(self.garden, self.owner, "lettuce", 30)
        self.post("beds/use/", crop="lettuce", per_week="4")
        self.assertContains(self.client.get(self.url("beds/")), "sow in ")
        self.post("beds/use/", crop="lettuce", per_week="many")
        self.assertEqual(Use.objects.get().per_week, 4)
        self.post("beds/use/", crop="moonweed", per_week="3")
        self.assertEqual(Use.objects.count(), 1)

    def test_queries_do_not_grow_with_areas(self) -> None:
        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        def queries() -> int:
            with CaptureQueriesContext(connection) as seen:
                self.client.get(self.url(f"beds/{self.bed.pk}/"))
            return len(seen)

        self.lay(x="0", y="0", l="60", w="60")
        few = queries()
        for k in range(6):
            self.lay(plant(self.garden, self.owner, "lettuce", 4), x=str(30 * k), y="60", l="30", w="30")
        self.assertEqual(queries(), few)
