"""Places, store, mixes, labels, paths and plants that came: what they say, and what they refuse."""

from __future__ import annotations

import io
from datetime import date
from typing import Any

import pypdfium2
import zxingcpp

from aestiva.bench.labels import Label, sheets_pdf
from aestiva.bench.models import Recipe, Store
from aestiva.bench.tests.test_trays import SOWN, TrayCase
from aestiva.frame.tests.garden import TODAY, client_for, plant, user
from aestiva.season.models import Batch, Container, Planting, Spot, Tray
from growing.bench.codes import code, read_code
from growing.bench.labels import SHEETS, own_sheet


class Places(TrayCase):
    def test_a_shelf_with_size_lamp_and_months(self) -> None:
        months = {f"m{n}": str(10 + n) for n in range(12)}
        answer = self.post(
            "spots/new/",
            code="R9·1",
            kind="shelf",
            length_cm="122",
            width_cm="56",
            clear_cm="45",
            lamp_cm="36",
            heated="room",
            months_said="measured",
            **months,
        )
        self.assertEqual(answer.status_code, 302, answer.content[:500])
        spot = Spot.objects.get(code="R9·1")
        self.assertEqual(
            (spot.length_cm, spot.lamp_cm, spot.lit, spot.months_said, spot.months_c[3]),
            (122, 36, "lamp", "measured", 13),
        )
        page = self.client.get(self.url(f"bench/at/{spot.pk}/")).content.decode()
        self.assertIn("Measured.", page)
        self.assertIn("13°", page)

    def test_a_shelf_without_months_of_its_own_has_those_of_its_room(self) -> None:
        room = Spot.objects.create(
            garden=self.garden, kind="room", code="Room", heated="room", months_c=[15.0] * 12, months_said="entered"
        )
        self.post(
            f"spots/{self.shelf.pk}/edit/",
            code="R1·1",
            kind="shelf",
            parent=room.pk,
            length_cm="120",
            width_cm="56",
            revision=self.shelf.revision,
        )
        page = self.client.get(self.url(f"bench/at/{self.shelf.pk}/")).content.decode()
        self.assertIn("As somebody reckons", page)
        self.assertIn("15°", page)

    def test_what_a_place_cannot_be(self) -> None:
        rack = Spot.objects.create(garden=self.garden, kind="rack", code="R7")
        for data, said in (
            ({"code": "R1·1"}, "called R1·1 already"),
            ({"code": ""}, "required"),
            ({"length_cm": "-5"}, "cannot be"),
            ({"length_cm": "wide"}, "number"),
            ({"lamp_cm": "60", "clear_cm": "40"}, "higher than there is room"),
            ({"kind": "mat", "parent": self.shelf.pk, "length_cm": "200", "width_cm": "30"}, "longer than R1·1"),
            ({"kind": "rack", "parent": self.shelf.pk}, "A rack is not on a shelf"),
            ({"m0": "99"}, "cannot be"),
            ({"kind": "cellar"}, "choose one of the list"),
        ):
            answer = self.post("spots/new/", **({"code": "Q1", "kind": "shelf"} | data))
            self.assertEqual(answer.status_code, 422, data)
            self.assertIn(said, answer.content.decode(), data)
        self.assertEqual(self.post(f"spots/{rack.pk}/remove/", revision=rack.revision).status_code, 302)
        self.filled()
        self.shelf.refresh_from_db()
        self.assertEqual(self.post(f"spots/{self.shelf.pk}/remove/", revision=self.shelf.revision).status_code, 422)

    def test_two_people_change_one_place(self) -> None:
        seen = self.shelf.revision
        self.post(f"spots/{self.shelf.pk}/edit/", code="R1·1", kind="shelf", name="Upper", revision=seen)
        self.assertEqual(
            self.post(
                f"spots/{self.shelf.pk}/edit/", code="R1·1", kind="shelf", name="Other", revision=seen
            ).status_code,
            409,
        )

    def test_a_garden_with_nothing(self) -> None:
        Spot.objects.all().delete()
        for address in (
            "bench/",
            "bench/days/",
            "bench/stock/",
            "bench/labels/",
            "bench/mixes/",
            "spots/",
            "bench/find/",
            "bench/received/",
            "bench/tray/new/",
        ):
            self.assertEqual(self.client.get(self.url(address)).status_code, 200, address)
        self.assertIn("No place to stand things yet", self.client.get(self.url("bench/")).content.decode())


class Stock(TrayCase):
    def test_short_from_a_day(self) -> None:
        self.flat.owned, self.flat.to_wash = 1, 1
        self.flat.save()
        for _ in range(3):
            plant(self.garden, self.owner, "lettuce", 20, sow_on=TODAY)
        page = self.client.get(self.url("bench/stock/")).content.decode()
        self.assertIn("short from Sun 12 April", page)
        self.assertIn("Wash: flat of 24 cells (1)", page)
        self.assertRegex(page, r"Order: flat of 24 cells, \d+")

    def test_counting(self) -> None:
        self.assertEqual(self.post("bench/stock/", thing="lid", owned="4", to_wash="1").status_code, 302)
        self.assertEqual(Store.objects.get().owned, 4)
        for data, said in (
            ({"thing": "lid", "owned": "many"}, "no number"),
            ({"thing": "lid", "owned": "-1"}, "cannot be"),
            ({"thing": "lid", "owned": "2", "to_wash": "5"}, "more than there are"),
            ({"thing": "gold", "owned": "2"}, "choose what"),
            ({"thing": "mix", "owned": "nan"}, "cannot be"),
        ):
            answer = self.post("bench/stock/", **data)
            self.assertEqual(answer.status_code, 422, data)
            self.assertIn(said, answer.content.decode())

    def test_containers_of_ones_own(self) -> None:
        page = self.client.get(self.url("bench/stock/container/new/?kind=flat_50")).content.decode()
        self.assertIn('value="50"', page)
        given = {
            "name": "Yoghurt pots",
            "cells": "1",
            "length_cm": "7",
            "width_cm": "7",
            "depth_cm": "8",
            "cell_ml": "150",
            "to_wash": "0",
            "owned": "20",
            "drains": "on",
        }
        self.assertEqual(self.post("bench/stock/container/new/", **given).status_code, 302)
        one = Container.objects.get(name="Yoghurt pots")
        for data, said in (
            ({"name": "Flat of 24 cells"}, "already"),
            ({"cells": "0"}, "cannot be"),
            ({"to_wash": "30"}, "more than there are"),
            ({"length_cm": "0"}, "cannot be"),
        ):
            answer = self.post(f"bench/stock/container/{one.pk}/edit/", **(given | data), revision=one.revision)
            self.assertEqual(answer.status_code, 422, data)
            self.assertIn(said, answer.content.decode(), data)

    def test_what_hangs_on_something_stays(self) -> None:
        spare = Container.objects.create(
            garden=self.garden, name="Spare", cells=6, length_cm=20, width_cm=20, depth_cm=5, cell_ml=50
        )
        self.assertEqual(
            self.post(f"bench/stock/container/{spare.pk}/remove/", revision=spare.revision).status_code, 302
        )
        self.assertFalse(Container.objects.filter(pk=spare.pk).exists())
        self.tray()
        answer = self.post(f"bench/stock/container/{self.flat.pk}/remove/", revision=self.flat.revision)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("hangs on it", answer.content.decode())


class Mixes(TrayCase):
    def test_written_down_and_weighed_out(self) -> None:
        given = {
            "name": "Seed mix",
            "use": "seed",
            "parts": "2 coir\n1 sharp sand",
            "grams": "1.5 lime",
            "water_ml": "200",
        }
        answer = self.post("bench/mixes/new/", **given)
        self.assertEqual(answer.status_code, 302, answer.content[:500])
        recipe = Recipe.objects.get()
        self.assertEqual(recipe.parts, [["coir", 2.0], ["sharp sand", 1.0]])
        page = self.client.get(self.url(f"bench/mixes/{recipe.pk}/?litres=9")).content.decode()
        self.assertIn("<b>6 l</b> coir", page)
        self.assertIn("<b>13.5 g</b> lime", page)
        self.assertIn("<b>1.8 l</b> water", page)
        for typed in ("0", "-2", "x", "nan", "inf", "1e9"):
            answer = self.client.get(self.url(f"bench/mixes/{recipe.pk}/?litres={typed}"))
            self.assertEqual(answer.status_code, 422, typed)

    def test_by_the_gallon(self) -> None:
        recipe = Recipe.objects.create(garden=self.garden, name="Mix", parts=[["coir", 1]])
        self.garden.units = "us"
        self.garden.save()
        page = self.client.get(self.url(f"bench/mixes/{recipe.pk}/?litres=2")).content.decode()
        self.assertIn("<b>2 US gal</b> coir", page)
        self.post("bench/stock/", thing="mix", owned="10")
        self.assertAlmostEqual(Store.objects.get(thing="mix").owned or 0, 37.854, places=2)
        self.assertIn("<b>10 US gal</b>", self.client.get(self.url("bench/stock/")).content.decode())

    def test_what_a_mix_cannot_be(self) -> None:
        for data, said in (
            ({"parts": "0 coir"}, "sum to nothing"),
            ({"parts": "coir"}, "begin with a number"),
            ({"parts": ""}, "give"),
            ({"parts": "-1 coir"}, "from 0 to 10000"),
            ({"parts": "2"}, "what it is"),
            ({"water_ml": "5000"}, "cannot be"),
        ):
            answer = self.post(
                "bench/mixes/new/", **({"name": "Bad", "use": "seed", "parts": "1 coir", "water_ml": "0"} | data)
            )
            self.assertEqual(answer.status_code, 422, data)
            self.assertIn(said, answer.content.decode(), data)
        self.assertFalse(Recipe.objects.exists())


def decoded(pdf: bytes) -> list[str]:
    """What an independent reader finds in the rendered pages."""
    found = []
    for page in pypdfium2.PdfDocument(io.BytesIO(pdf)):
        picture = page.render(scale=4, grayscale=True).to_numpy()
        found += [one.text for one in zxingcpp.read_barcodes(picture)]
    return found


def text_of(pdf: bytes) -> str:
    return "\n".join(page.get_textpage().get_text_range() for page in pypdfium2.PdfDocument(io.BytesIO(pdf)))


class Labels(TrayCase):
    def test_codes_are_read_back_from_the_rendered_page(self) -> None:
        tray, batch = self.filled()
        asked = f"bench/labels.pdf?of=B{batch.pk}&sheet=a4_24&n=3"
        answer = self.client.get(self.url(asked))
        self.assertEqual(answer["Content-Type"], "application/pdf")
        found = decoded(answer.content)
        self.assertEqual(found, [f"http://testserver/l/{code('B', batch.pk)}/"] * 3)
        words = text_of(answer.content)
        for said in ("Tomato", "sown 1 Apr 2026", tray.code, code("B", batch.pk)):
            self.assertIn(said, words)

    def test_every_sheet_has_codes_that_can_be_read(self) -> None:
        made = [
            Label(
                "Tomato",
                f"Old Ferry {n}",
                "sown 1 Apr 2026",
                "T7 A1–B5",
                code("B", n + 1),
                f"https://garden.example/l/{code('B', n + 1)}/",
            )
            for n in range(26)
        ]
        for name, sheet in SHEETS.items():
            found = decoded(sheets_pdf(made, sheet, name))
            self.assertEqual(sorted(found), sorted(one.address for one in made), name)

    def test_letters_of_many_tongues_are_printed(self) -> None:
        pdf = sheets_pdf(
            [Label("Kukuřice łódź", "Žížala", "sown 1 Apr 2026", "T1", "B2-X", "https://garden.example/l/B2-X/")],
            SHEETS["a4_24"],
            "x",
        )
        self.assertIn("Kukuřice łódź", text_of(pdf))
        self.assertIn("Žížala", text_of(pdf))

    def test_a_small_label_leaves_the_code_out_and_keeps_the_short_one(self) -> None:
        pdf = sheets_pdf(
            [Label("Tomato", "Old Ferry", "sown 1 Apr 2026", "T1", "B2-X", "https://garden.example/l/B2-X/")],
            own_sheet(30, 10),
            "x",
        )
        self.assertEqual(decoded(pdf), [])
        self.assertIn("B2-X", text_of(pdf))

    def test_what_cannot_be_printed(self) -> None:
        _, batch = self.filled()
        for asked, said in (
            (f"of=B{batch.pk}&n=500", "more than there are cells"),
            (f"of=B{batch.pk}&n=0", "1 or more"),
            (f"of=B{batch.pk}&n=x", "not a number of labels"),
            (f"of=B{batch.pk}&sheet=own&width=210&height=20", "does not fit the page"),
            (f"of=B{batch.pk}&sheet=own&width=wide&height=20", "not a number"),
            (f"of=B{batch.pk}&sheet=papyrus", "choose a sheet"),
            ("", "at least one batch"),
            ("of=B99999", "at least one batch"),
        ):
            answer = self.client.get(self.url(f"bench/labels.pdf?{asked}"))
            self.assertEqual(answer.status_code, 422, asked)
            self.assertIn(said, answer.content.decode(), asked)

    def test_a_code_opens_its_batch_after_log_in_and_nobody_elses(self) -> None:
        tray, batch = self.filled()
        for kind, row, address in (("B", batch, "batch"), ("T", tray, "bench/tray")):
            typed = code(kind, row.pk)
            self.assertEqual(read_code(typed), (kind, row.pk))
            self.assertEqual(self.client.get(f"/l/{typed}/").url, self.url(f"{address}/{row.pk}/"))
        self.assertEqual(client_for(user("rook")).get(f"/l/{code('B', batch.pk)}/").status_code, 404)
        self.client.logout()
        self.assertIn("/account/log-in/?next=/l/", self.client.get(f"/l/{code('B', batch.pk)}/").url)

    def test_a_code_typed_by_hand(self) -> None:
        _, batch = self.filled()
        typed = code("B", batch.pk)
        self.assertEqual(self.client.get("/l/", {"code": typed.lower().replace("-", " ")}).url, f"/l/{typed}/")
        self.assertEqual(self.client.get("/l/", {"code": "B9-9"}).status_code, 422)
        self.assertEqual(self.client.get("/l/", {"code": "<b>"}).status_code, 422)
        self.assertEqual(self.client.get("/l/nonsense/").status_code, 422)
        self.assertEqual(self.client.get("/l/").status_code, 200)


class Paths(TrayCase):
    def lay_out(self) -> None:
        super().lay_out()
        for name, kind, cells, side, ml in (
            ("Flat of 128 cells", "flat_128", 128, 28.0, 18),
            ("Pot 9 cm", "pot_9_square", 1, 9.0, 400),
        ):
            Container.objects.create(
                garden=self.garden,
                name=name,
                kind=kind,
                cells=cells,
                length_cm=54 if cells > 1 else side,
                width_cm=side,
                depth_cm=6,
                cell_ml=ml,
            )
        self.planting = plant(self.garden, self.owner, "tomato", 10, sow_on=TODAY, per_cell=1)

    def paths(self, **post: Any) -> Any:
        self.planting.refresh_from_db()
        return self.post(f"bench/path/{self.planting.pk}/", revision=self.planting.revision, **post)

    def test_a_path_is_chosen_and_what_follows_moves(self) -> None:
        page = self.client.get(self.url(f"bench/path/{self.planting.pk}/")).content.decode()
        self.assertIn("flat_128|pot_9_square", page)
        before = self.now().items[0].raised.course.steps["pot"].due
        self.assertEqual(self.paths(path="flat_128|pot_9_square").status_code, 302)
        self.planting.refresh_from_db()
        self.assertEqual(self.planting.path, ["flat_128", "pot_9_square"])
        self.assertNotEqual(self.now().items[0].raised.course.steps["pot"].due, before)
        self.undo_last()
        self.planting.refresh_from_db()
        self.assertEqual(self.planting.path, [])
        self.paths(path="flat_128|pot_9_square")
        self.paths(path="usual")
        self.planting.refresh_from_db()
        self.assertEqual(self.planting.path, [])

    def test_a_path_that_is_not_offered(self) -> None:
        for path in ("bucket", "", "flat_128|flat_128|flat_128"):
            self.assertEqual(self.paths(path=path).status_code, 422, path)

    def test_what_is_sown_in_place_has_none(self) -> None:
        other = plant(self.garden, self.owner, "carrot", 10, method="direct")
        self.assertIn(
            "No containers to choose between", self.client.get(self.url(f"bench/path/{other.pk}/")).content.decode()
        )


class Received(TrayCase):
    def test_where_they_stood_decides_their_ladder(self) -> None:
        for stood, hardens in (("glass", True), ("outdoors", False), ("", True)):
            answer = self.post(
                "bench/received/",
                crop="cabbage",
                count="6",
                stood=stood,
                came="given",
                price="0.80",
                on="2026-04-10",
                spot=self.shelf.pk,
            )
            self.assertEqual(answer.status_code, 302, answer.content[:500])
            batch = Batch.objects.latest("pk")
            item = next(i for i in self.now().items if i.batch is not None and i.batch.pk == batch.pk)
            self.assertEqual(item.raised.hardens, hardens, stood)
            self.assertEqual((batch.planting.came, batch.planting.price, item.raised.plants), ("given", 0.8, 6))
            self.assertEqual(batch.events.get(kind="received").on, date(2026, 4, 10))
        page = self.client.get(self.url("bench/")).content.decode()
        self.assertIn("Cabbage", page)

    def test_what_cannot_be(self) -> None:
        good = {"crop": "cabbage", "count": "6", "stood": "glass", "came": ""}
        for data, said in (
            ({"crop": "unicorn"}, "choose what they are"),
            ({"count": "0"}, "cannot be: give 1 to"),
            ({"count": "six"}, "not a whole number"),
            ({"stood": "moon"}, "where they stood"),
            ({"price": "free"}, "no number"),
            ({"price": "-1"}, "cannot be"),
            ({"on": "2026-06-01"}, "still to come"),
            ({"on": "yesterday"}, "not a day"),
        ):
            answer = self.post("bench/received/", **(good | data))
            self.assertEqual(answer.status_code, 422, data)
            self.assertIn(said, answer.content.decode(), data)
        self.assertFalse(Planting.objects.exists())
        self.assertFalse(Tray.objects.exists())
        self.assertLess(SOWN, TODAY)
