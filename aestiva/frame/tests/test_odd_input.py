"""Odd days, numbers, keys and files through the pages: refused with a word, or taken; never an error of ours."""

from __future__ import annotations

import io
import time
from datetime import date, timedelta
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile

from aestiva.frame.files import csv_response
from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from aestiva.place.actions import merge
from aestiva.place.keys import digest_of
from aestiva.place.models import Feed, GardenNight, SoilReading, Station
from aestiva.season.models import GardenCrop, Lot, Planting

ODD = (
    "0",
    "-1",
    "1e9",
    "nan",
    "inf",
    "-inf",
    "9" * 5000,
    "2026-02-31",
    "0001-01-01",
    "9999-12-31",
    "🌱",
    "",
    " ",
    "１２",
    "1,5",
    "\x00",
    "a" * 300,
)


class Fields(GardenCase):
    """Every field of the forms named, one at a time, with every eighth of what is odd (`make soak` takes all)."""

    def lay_out(self) -> None:
        super().lay_out()
        self.batch = self.sown("tomato", 10)
        self.planting = self.batch.planting
        self.lot = Lot.objects.create(garden=self.garden, crop_key="tomato", variety="Old Ferry", packed_year=2025)
        self.post(f"beds/{self.bed.pk}/measure/", code="Bed A", kind="bed", length_cm="300", width_cm="120")
        self.post(f"beds/{self.bed.pk}/lay/", planting=self.planting.pk, x="0", y="0", l="90", w="60")

    def attack(self, rest: str, good: dict[str, Any], *names: str) -> None:
        for k, name in enumerate(names or good):
            for value in ODD[k % 8 :: 8]:
                with self.subTest(rest, name=name, value=value[:20]):
                    answer = self.client.post(self.url(rest), {**good, name: value})
                    self.assertIn(answer.status_code, (400,) if "\x00" in str(value) else (200, 302, 404, 409, 422))

    def after(self) -> None:
        for page in ("today/", "plan/", "place/", "place/readings/", "beds/", "seeds/", "calendar/", "calendar/month/"):
            self.assertEqual(self.client.get(self.url(page)).status_code, 200, page)

    def test_plan_and_bench(self) -> None:
        task = f"task/{self.todo('look').task.key}/"
        self.attack(task, {"count": "3", "on": "2026-04-12", "what": "done", "to": "2026-04-20"})
        form = {"crop": "Kale", "wanted": "6", "method": "raised", "term": "spring", "sown_in": "cells", "per_cell": "2",
                "sow_on": "2026-04-14", "chosen_out": "2026-06-01", "packet_min": "4", "packet_max": "6", "packet_base": "last_frost",
                "packet_out": "1", "spot": self.bed.pk, "lot": ""}  # fmt: skip
        self.attack("plan/add/", form)
        self.attack(
            "plan/moves/keep/",
            {"moves": f"{self.planting.pk}.2026-04-14", "seen": f"{self.planting.pk}.1", "look": "?by=out"},
        )
        self.attack(f"batch/{self.batch.pk}/record/", {"kind": "up", "count": "3", "on": "2026-04-12", "revision": ""})
        self.attack(
            f"batch/{self.batch.pk}/change/", {"what": "split", "count": "1", "on": "2026-04-12", "spot": self.frame.pk}
        )
        self.after()

    def test_place_seeds_and_beds(self) -> None:
        self.attack("place/typed/", {"last_on": "2026-05-09", "last_meaning": "average", "first_meaning": "unknown",
                                     "last_spread": "9", "first_on": "2026-10-03"})  # fmt: skip
        self.attack("place/warmth/", {"kind": "soil", "celsius": "9", "on": "2026-04-20"})
        self.attack("place/readings/", {"which": "soil", "day": "2026-04-10", "hour": "8", "celsius": "9"})
        self.attack("place/readings/", {"which": "night", "day": "2026-04-10", "celsius": "2"})
        self.attack(
            "place/forecast/", {"one": "1", "day": "2026-04-13", "tmin": "2", "tmax": "9", "cloud": "50", "wind": "9"}
        )
        self.attack("place/reckoning/", {"station": "", "shift_c": "-1", "basis": "all", "cover": "bare"})
        self.attack(f"seeds/{self.lot.pk}/facts/", {"variety": "x", "packed_year": "2025", "seeds": "9", "grams": "1", "storage_c": "9",
                                                    "price": "2", "storage": "own", "storage_rh": "40"})  # fmt: skip
        self.attack(f"seeds/{self.lot.pk}/test/", {"on": "2026-04-01", "sown": "20", "up": "9"})
        self.attack("seeds/", {"crop": "Kale", "variety": "x", "packed": "25", "seeds": "9"})
        self.attack(
            f"beds/{self.bed.pk}/measure/",
            {"code": "Bed A", "kind": "bed", "length_cm": "300", "width_cm": "120", "x_cm": "1", "y_cm": "1"},
        )
        self.attack(f"beds/{self.bed.pk}/move/", {"x": "1", "y": "1"})
        area = self.planting.areas.get()
        self.attack(f"beds/area/{area.pk}/", {"x": "1", "y": "1", "l": "60", "w": "60"})
        self.attack("beds/use/", {"crop": "tomato", "per_week": "2", "per_plant": "3"})
        self.attack("crops/tomato/raise_max/", {"value": "9", "reason": "own"})
        self.after()

    def test_addresses(self) -> None:
        for rest in (
            "calendar/week/?from={}", "calendar/month/?month={}", "place/line/?on={}", "place/line/?risk={}", "place/?shift={}&with=1",
            "plan/moves/?moves={}", "plan/moves/tried/?moves=1.2026-04-14&draw=1&scale={}", "plan/?by={0}&span=week&at={0}&open={0}",
            "plan/week/?at={}", "plan/align/?far={}", "plan/away/?since={0}&until={0}",
            "plan/again/?by=need&crop=Kale&per_week={0}&since={0}&until={0}", "plan/preview/?crop=Kale&wanted=3&method=raised&term=spring&sow_on={}",
            f"seeds/count/{self.planting.pk}/?warmth={{}}&sure=90", f"seeds/count/{self.planting.pk}/?warmth=20&sure={{}}",
            f"beds/{self.bed.pk}/?week={{}}", f"beds/{self.bed.pk}/fit/?planting={self.planting.pk}&l={{}}&w=50", "journal/?page={}",
            "place/readings/?nights={}&soil=2",
        ):  # fmt: skip
            for value in ODD[len(rest) % 2 :: 2]:
                with self.subTest(rest, value=value[:20]):
                    self.assertIn(
                        self.client.get(self.url(rest.format(value))).status_code,
                        (400,) if "\x00" in value else (200, 302, 404, 422),
                    )

    def test_a_reading_of_the_year_one_that_is_there_can_be_removed(self) -> None:
        merged = Station.objects.create(name="The Weir", owner=self.garden)
        import numpy as np

        days = [date(2025, 1, 1) + timedelta(days=k) for k in range(400)]
        merge(merged, days, np.full(400, 1.5), np.full(400, 9.0))
        self.garden.frost.station = merged
        self.garden.frost.save()
        for day in [date(1, 1, 1), *(date(2026, 1, 1) + timedelta(days=k) for k in range(40))]:
            GardenNight.objects.create(garden=self.garden, day=day, tmin_c=1)
            SoilReading.objects.create(garden=self.garden, day=day, celsius=5)
        self.after()
        last = self.client.get(self.url("place/readings/?nights=2"))
        odd = GardenNight.objects.get(day=date(1, 1, 1))
        self.assertContains(last, f'value="{odd.pk}"')
        self.post("place/readings/", which="remove", pk=odd.pk)
        self.assertFalse(GardenNight.objects.filter(pk=odd.pk).exists())


class Files(GardenCase):
    def send(self, rest: str, file: str, data: bytes, **more: Any) -> Any:
        began = time.monotonic()
        answer = self.client.post(self.url(rest), {"file": SimpleUploadedFile(file, data), **more})
        self.assertLess(time.monotonic() - began, 5)
        return answer

    def test_twenty_one_months_of_a_long_file(self) -> None:
        rows = ["STATION,DATE,ELEMENT,VALUE,M,Q,S"]
        for k in range(650):
            day = date(2024, 6, 1) + timedelta(days=k)
            rows += [f"X,{day:%Y%m%d},TMIN,{-20 + k % 80},,,", f"X,{day:%Y%m%d},TMAX,{150 + k % 70},,,"]
        shown = self.send("place/weather/", "w.csv", "\n".join(rows).encode(), name="The Weir")
        self.client.post(
            self.url("place/weather/"), {"name": "The Weir", "kept": shown.context["stored"], "leave_out": "yes"}
        )
        for page in ("place/", "place/?season=autumn", "place/?threshold=-2.2", "today/", "plan/"):
            self.assertEqual(self.client.get(self.url(page)).status_code, 200, page)
        self.assertContains(self.client.get(self.url("place/")), "1 usable")

    def test_large_and_poisoned_files_are_refused_with_the_limit(self) -> None:
        unknown = "crop,wanted\n" + "".join(f"zzgrub{n} of no kind,3\n" for n in range(1999))
        for rest, name, data, said in (
            ("crops/import/", "c.toml", b"x = 1\n" * 200_000, "0.5 MB, the most that is read"),
            ("plan/import/", "p.csv", unknown.encode(), "1999 names are no crops"),
            ("seeds/import/", "s.csv", unknown.replace("wanted", "seeds").encode(), "1999 names are no crops"),
            ("seeds/import/", "s.csv", b"crop\n" + b"tomato\n" * 700_000, "4 MB, the most that is read"),
            ("seeds/import/", "s.csv", b'crop\n"' + b"a" * 140_000 + b'"\n', "quotation mark"),
            ("place/readings/", "n.csv", b"date,tmin\n" + b"x,y\n" * 4000, "More than 200 rows"),
            ("place/forecast/", "f.csv", b'date,tmin\n"' + b"1" * 140_000, "quotation mark"),
        ):  # fmt: skip
            with self.subTest(rest + said):
                self.assertContains(self.send(rest, name, data, which="file"), said, status_code=422)
        nights = b"date,tmin\n" + b"".join(f"{date(2010, 1, 1) + timedelta(days=k)},1\n".encode() for k in range(4500))
        self.assertContains(self.send("place/readings/", "n.csv", nights, which="file"), "up to 4,000", status_code=422)
        self.assertEqual((GardenNight.objects.count(), Lot.objects.count(), Planting.objects.count()), (0, 0, 0))

    def test_gardens_that_cannot_be(self) -> None:
        whole = self.client.get(self.url("garden.json")).content
        spot = (
            b'{"kind":"bed","code":"Q","name":"","order":0,"x_cm":null,"y_cm":null,"length_cm":null,'
            b'"width_cm":null,"sun":"","note":"","heated":"","set_c":null,"clear_cm":null,'
            b'"lit":"","lamp_cm":null,"sun_h":null,"months_c":null,"months_said":"","watts":null,"facing":"","card":false,'
            b'"hangs_by":"","step_cm":null,"white":"","parent":null}'
        )
        for data, said in (
            (whole.replace(b'"latitude":52.0', b'"latitude":NaN'), "NaN is not a number"),
            (whole.replace(b'"name":"Test Row"', b'"name":"\\ud800"'), "half a character"),
            (whole.replace(b'"seed":1', b'"seed":' + b"9" * 5000), "5000 digits"),
            (whole.replace(b'"spots":[', b'"spots":[' + b",".join([spot] * 2) + b","), "is there already as number 1"),
            (whole.replace(b'"spots":[', b'"spots":[' + b",".join([spot] * 45_000) + b","), "up to 40,000 are read"),
            (whole.replace(b'"spots":[', b'"spots":[' + b",".join([spot] * 100_000) + b","), "are read"),
            (whole.replace(b'"last_on":"2026-05-09"', b'"last_on":"0001-05-09"'), "give a year from"),
            (whole.replace(b'"crops":[]', b'"crops":[{"key":"compare","name":"x","relative":"tomato","hardiness":"","speed":""}]'), "cannot be"),
            (whole + b" " * (17 * 1024 * 1024), "16 MB are read"),
        ):  # fmt: skip
            with self.subTest(said):
                began = time.monotonic()
                answer = self.client.post("/gardens/import/", {"file": SimpleUploadedFile("g.json", data)})
                self.assertContains(answer, said, status_code=422)
                self.assertLess(time.monotonic() - began, 5)

    def test_a_key_of_a_planting_taken_back_does_not_become_another_s(self) -> None:
        from aestiva.gardens import portable
        from aestiva.season.models import TaskMark

        planting = plant(self.garden, self.owner, "tomato", 3)
        TaskMark.objects.create(garden=self.garden, key="p999999.sow.0", done_on=TODAY)
        TaskMark.objects.create(garden=self.garden, key=f"p{planting.pk}.sow.0", moved_to=TODAY + timedelta(days=3))
        self.assertEqual([m["key"] for m in portable.export(self.garden)["marks"]], ["p1.sow.0"])

    def test_crops_of_the_garden_s_own_get_addresses_that_are_free(self) -> None:
        for name in ("Compare", "Import", "Ü", "豆", "..", "a/b"):
            self.assertEqual(
                self.client.post(self.url("crops/"), {"name": name, "relative": "Tomato"}).status_code, 302
            )
        for crop in GardenCrop.objects.all():
            self.assertContains(self.client.get(self.url(f"crops/{crop.key}/")), crop.name)
        self.assertContains(self.client.get(self.url("crops/compare/")), "Compare")

    def test_devices_that_send_nonsense(self) -> None:
        Feed.objects.create(garden=self.garden, name="shed", digest=digest_of("token"))
        for body in (
            b"\xff\xfe",
            b"[" * 4000,
            b'{"kind": ' + b"9" * 5000 + b"}",
            b'{"kind":"soil","readings":[{"at":"0001-01-01","celsius":3}]}',
            b'{"kind":"garden","readings":[{"at":"\\ud800","celsius":NaN}]}',
            b'{"kind":"station","days":[{"day":"9999-12-31","tmin":1}]}',
        ):
            answer = self.client.post(
                "/feed/", body, content_type="application/json", headers={"Authorization": "Bearer token"}
            )
            self.assertEqual(answer.status_code, 422, body[:40])

    def test_words_that_a_spreadsheet_would_run(self) -> None:
        cells = ("=1+1", "＝1+1", "﹢1", "－1", "＠x", "\u200b=1", " =1", "\n=1", "|x", "plain", "Ü", "½ =", 3, -3)
        text = csv_response("x.csv", ("a",), [(c,) for c in cells]).content.decode()
        import csv

        out = [row[0] for row in csv.reader(io.StringIO(text))][1:]
        self.assertEqual([o.startswith("'") for o in out], [True] * 9 + [False] * 5)
