"""The whole garden out and in: equal after the round trip, old versions readable, bad documents bring in nothing."""

from __future__ import annotations

import copy
import json
from datetime import date
from pathlib import Path
from typing import Any

import numpy as np
from django.conf import settings as conf
from django.core.files.uploadedfile import SimpleUploadedFile
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase as HypothesisCase

from aestiva.course.state import load
from aestiva.frame.tests.garden import TODAY, GardenCase, garden, plant, user
from aestiva.gardens import portable
from aestiva.gardens.bring_in import bring_in
from aestiva.gardens.document import read_document
from aestiva.gardens.models import Garden, JournalEntry, Member
from aestiva.place.models import ForecastNight, Station, StationYear, Warmth
from aestiva.place.queries import pack
from aestiva.season.models import (
    Batch,
    BatchEvent,
    BatchLink,
    BatchStand,
    CellRun,
    CropValue,
    GardenCrop,
    Lot,
    Planting,
    Season,
    Spot,
    TaskMark,
    Tray,
    TrayStand,
)

OLD = Path(__file__).parent / "garden-v1.json"


def there_and_back(where: Garden) -> tuple[dict[str, Any], dict[str, Any], Garden]:
    before = portable.export(where)
    again = bring_in(read_document(json.dumps(before).encode()), where.members.get().user)
    return before, portable.export(again), again


class RoundTrip(GardenCase):
    def test_a_garden_with_everything_is_equal_and_gives_the_same_tasks(self) -> None:
        batch = self.sown("tomato", 10, date(2026, 4, 1), spot=self.bed, note="by the wall")
        self.post(f"batch/{batch.pk}/record/", kind="up", count="12")
        self.post(f"batch/{batch.pk}/change/", what="split", count="4", spot=self.frame.pk)
        self.post("crops/tomato/raise_max/", value="9", reason="own")
        self.client.post(self.url("crops/"), {"name": "Tree spinach", "hardiness": "tender", "speed": "fast"})
        planting = plant(self.garden, self.owner, "kale", 6, sow_on=TODAY)
        self.post(f"task/p{planting.pk}.sow.0/", count="3")
        ForecastNight.objects.create(garden=self.garden, day=TODAY, tmin_c=-1.5)
        before, after, again = there_and_back(self.garden)
        self.assertEqual(before, after)
        self.assertNotEqual(again.pk, self.garden.pk)
        ours, theirs = (
            [
                (t.task.kind, t.due, t.task.count, t.part_done, t.item.spot_code)
                for t in load(g, TODAY).todos(date(2027, 1, 1))
            ]
            for g in (self.garden, again)
        )
        self.assertEqual(ours, theirs)

    def test_page_previews_then_keeps_a_new_garden(self) -> None:
        self.sown("tomato", 10)
        data = self.client.get(self.url("garden.json")).content
        page = self.client.post("/gardens/import/", {"file": SimpleUploadedFile("g.json", data)})
        self.assertContains(page, "nothing kept yet")
        self.assertEqual(Garden.objects.count(), 1)
        self.client.post("/gardens/import/", {"kept": page.context["sealed"]})
        again = Garden.objects.latest("pk")
        self.assertEqual(Garden.objects.count(), 2)
        self.assertEqual(json.loads(self.client.get(f"/g/{again.pk}/garden.json").content), json.loads(data))
        other = user("moss")
        self.client.force_login(other, backend="django.contrib.auth.backends.ModelBackend")
        stolen = self.client.post("/gardens/import/", {"kept": page.context["sealed"]})
        self.assertContains(stolen, "too old", status_code=422)

    def test_version_one_stays_readable(self) -> None:
        document = read_document(OLD.read_bytes())
        made = bring_in(document, self.owner)
        self.assertEqual(made.name, "An old garden")
        self.assertGreater(len(load(made, date(2026, 4, 12)).todos(date(2027, 1, 1))), 3)

    def test_published_schema_is_what_is_written(self) -> None:
        published = json.loads((conf.BASE_DIR / "docs" / "garden.schema.json").read_text(encoding="utf-8"))
        self.assertEqual(published, portable.schema())
        document = portable.export(self.garden)
        self.assertEqual(set(document), set(published["properties"]))
        for name, rows in document.items():
            if isinstance(rows, list) and rows and name != "journal":
                self.assertEqual(set(rows[0]), set(published["properties"][name]["items"]["required"]))


class BadDocuments(GardenCase):
    def refused(self, data: bytes) -> str:
        gardens = Garden.objects.count()
        answer = self.client.post("/gardens/import/", {"file": SimpleUploadedFile("g.json", data)})
        self.assertEqual((answer.status_code, Garden.objects.count()), (422, gardens))
        return answer.content.decode()

    def test_what_cannot_be_read_at_all(self) -> None:
        whole = json.dumps(portable.export(self.garden)).encode()
        for data, said in (
            (whole[: len(whole) // 2], "cut off"),
            (b"\xff\xfe\x00", "not text in UTF-8"),
            (b"[1, 2]", "This is not a garden"),
            (b"[" * 100_000, "not whole JSON"),
            (whole.replace(b'"version": 14', b'"version": 15'), "Version 15 is not known"),
            (b"{}", "This is not a garden"),
        ):
            self.assertIn(said, self.refused(data))
        with self.assertRaises(portable.BadDocument):
            read_document(b" " * (33 * 1024 * 1024))

    def test_rows_that_cannot_be_name_their_place(self) -> None:
        batch = self.sown("tomato", 10, spot=self.bed)
        self.post(f"batch/{batch.pk}/record/", kind="up", count="12")
        shelf = Spot.objects.create(garden=self.garden, kind="shelf", code="R9·9")
        self.post(f"batch/{batch.pk}/change/", what="split", count="4", spot=shelf.pk)
        good = portable.export(self.garden)

        def change(part: str, field: str, value: Any) -> bytes:
            bad = copy.deepcopy(good)
            row = bad[part] if part == "garden" else bad[part][0]
            row[field] = value
            return json.dumps(bad).encode()

        for data, said in (
            (change("plantings", "season", 99), "plantings 1, season: 99 points to nowhere"),
            (change("plantings", "season", None), "refers to nothing"),
            (change("events", "data", {"to_cm": 3}), "has no fact"),
            (change("links", "parent", 9), "points to nowhere"),
            (change("cell_runs", "first", 0), "cannot be"),
            (change("trays", "container", 1), "points to nowhere"),
            (change("spots", "heated", "stove"), "cannot be"),
            (change("plantings", "wanted", -4), "plantings 1, wanted: -4 cannot be"),
            (change("plantings", "wanted", "many"), "cannot be"),
            (change("plantings", "chosen_sow", "2026-02-30"), "cannot be"),
            (change("plantings", "method", "magic"), "cannot be"),
            (change("plantings", "id", 3), "id not known"),
            (change("events", "batch", True), "points to nowhere"),
            (change("garden", "latitude", 120), "garden.latitude: 120 cannot be"),
            (change("garden", "owner", 1), "there is no such field"),
            (change("spots", "code", {"a": 1}), "cannot be"),
        ):
            self.assertIn(said, self.refused(data).replace("&#x27;", "'"))
        del good["spots"][0]["code"]
        self.assertIn("code missing", self.refused(json.dumps(good).encode()))

    def test_what_does_not_hold_together_is_refused_whole(self) -> None:
        self.sown("tomato", 10, spot=self.bed)
        self.post("crops/tomato/raise_max/", value="9", reason="own")
        good = portable.export(self.garden)
        for part, field, value, said in (
            ("plantings", "crop_key", "moonfruit", "there is no crop “moonfruit”"),
            ("events", "kind", "given", "do not balance"),
            ("plantings", "packet", {"weeks": 3}, "cannot be reckoned"),
            ("plantings", "values", {"wings": [3, ""]}, "cannot be reckoned"),
            ("crop_values", "value", 400, "does not hold together"),
            ("crop_values", "field", "wings", "does not hold together"),
        ):
            bad = copy.deepcopy(good)
            bad[part][0][field] = value
            if field == "kind":
                bad["events"].insert(0, {**good["events"][0], "kind": "up", "count": 3})
            gardens = Garden.objects.count()
            self.assertIn(said, self.refused(json.dumps(bad).encode()), f"{part}.{field}")
            with self.assertRaises(portable.BadDocument):
                bring_in(bad, self.owner)
            self.assertEqual(Garden.objects.count(), gardens)

    def test_settings_that_no_page_could_live_with(self) -> None:
        for field, value in (
            ("sowing_days", "abc"),
            ("timezone", "Mars/Base"),
            ("ladder", "rope"),
            ("units", "cubits"),
            ("accepted_risk", 7),
        ):
            document = portable.export(self.garden)
            document["garden"][field] = value
            self.assertIn(f"garden.{field}", self.refused(json.dumps(document).encode()))

    def test_another_gardens_numbers_mean_nothing(self) -> None:
        other = garden(user("moss"), name="Elsewhere")
        theirs = plant(other, other.members.get().user)
        document = portable.export(self.garden)
        document["marks"].append(
            {
                "key": f"p{theirs.pk}.sow.0",
                "done_on": "2026-04-12",
                "skipped_on": None,
                "moved_to": None,
                "count_done": None,
            }
        )
        made = bring_in(read_document(json.dumps(document).encode()), self.owner)
        self.assertFalse(Planting.objects.filter(season__garden=made).exists())
        self.assertTrue(Planting.objects.filter(pk=theirs.pk, season__garden=other).exists())


DAY = st.dates(date(2025, 7, 1), date(2027, 6, 30))
TEXT = st.text(st.characters(exclude_categories=("Cs", "Cc", "Zl", "Zp")), max_size=20)  # of one line, as names are
CROP = st.sampled_from(["tomato", "kale", "cosmos", "leek"])


class GeneratedGardens(HypothesisCase):
    @settings(max_examples=40, deadline=None)
    @given(st.data())
    def test_round_trip_of_generated_gardens(self, data: st.DataObject) -> None:
        draw = data.draw
        who = user("tarn")
        where = Garden.objects.create(
            name=draw(TEXT.filter(bool)), latitude=draw(st.floats(-90, 90)), year=draw(st.integers(2020, 2030)),
            simulated_on=draw(st.none() | DAY), accepted_risk=draw(st.floats(0.01, 0.5)),
        )  # fmt: skip
        Member.objects.create(garden=where, user=who, role="owner")
        spots = [
            Spot.objects.create(garden=where, kind="bed", code=f"S{n}", name=draw(TEXT))
            for n in range(draw(st.integers(0, 3)))
        ]
        if len(spots) > 1:
            spots[1].parent = spots[0]
            spots[1].save()
        season = Season.objects.create(garden=where, year=2026)
        for n in range(draw(st.integers(0, 2))):
            GardenCrop.objects.create(garden=where, key=f"own{n}", name=draw(TEXT.filter(bool)), relative="tomato")
            CropValue.objects.create(
                garden=where, crop_key=f"own{n}", field="hold", value=draw(st.integers(9, 60)), reason=draw(TEXT)
            )
        for _ in range(draw(st.integers(0, 4))):
            lot = (
                Lot.objects.create(garden=where, crop_key=draw(CROP), variety=draw(TEXT.filter(bool)))
                if draw(st.booleans())
                else None
            )
            planting = Planting.objects.create(
                season=season, crop_key=draw(CROP), variety=draw(TEXT), wanted=draw(st.integers(1, 500)), lot=lot, chosen_sow=draw(DAY),
                spot=draw(st.sampled_from(spots)) if spots else None, packet=draw(st.none() | st.just({"weeks_min": 6})), note=draw(TEXT),
            )  # fmt: skip
            parent: Batch | None = None
            for _ in range(draw(st.integers(0, 2))):
                before, parent = parent, Batch.objects.create(
                    planting=planting, sown_on=draw(DAY), cells=draw(st.integers(1, 90))
                )  # fmt: skip
                if before is not None:
                    BatchLink.objects.create(parent=before, child=parent, on=draw(DAY), count=0)
                if draw(st.booleans()):
                    tray = Tray.objects.create(garden=where, code=f"T{parent.pk}", cells=parent.cells)
                    CellRun.objects.create(tray=tray, batch=parent, first=1, count=parent.cells, since=draw(DAY))
                    if spots:
                        TrayStand.objects.create(
                            tray=tray, spot=spots[0], since=draw(DAY), x_cm=draw(st.none() | st.floats(0, 90))
                        )
                BatchEvent.objects.create(
                    batch=parent, kind="sown", on=draw(DAY), count=draw(st.none() | st.integers(0, 99)), note=draw(TEXT)
                )
                if spots:
                    BatchStand.objects.create(batch=parent, spot=spots[0], since=draw(DAY))
                TaskMark.objects.create(garden=where, key=f"b{parent.pk}.look.0", done_on=draw(st.none() | DAY))
        if draw(st.booleans()):
            station = Station.objects.create(name="Weir", owner=where)
            tmin = np.array([draw(st.floats(-30, 30)) if n % 7 else np.nan for n in range(14)])
            StationYear.objects.create(station=station, variable="tmin", year=2020, tenths=pack(tmin))
            Warmth.objects.create(garden=where, kind="soil", celsius=draw(st.floats(0, 25)), month=5, day=3)
        JournalEntry.objects.create(
            garden=where, by="Tarn", at="2026-04-01T10:00:00+00:00", day=draw(DAY), summary=draw(TEXT), key="k"
        )
        before, after, _ = there_and_back(where)
        self.assertEqual(before, after)


def keep_old(where: Garden) -> None:
    """How garden-v1.json was made, once, when version 1 was new."""
    OLD.write_text(json.dumps(portable.export(where), indent=1), encoding="utf-8")
