"""At the gates over real rows: verdicts, planting against a gate, beds, covers, losses and what fills the gaps; all taken back."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any
from unittest import mock

import numpy as np
from django.db import connection
from django.test.utils import CaptureQueriesContext

from aestiva.frame.tests.garden import TODAY, GardenCase, client_for, user
from aestiva.gardens import journal
from aestiva.gardens.models import JournalEntry, Member
from aestiva.place.models import ForecastNight, Frost, SoilReading, Station, StationYear
from aestiva.place.queries import pack
from aestiva.plantingout.asked import GateRow, at_the_gates
from aestiva.plantingout.models import BedState, CoverAtHand
from aestiva.plantingout.tonight import tonight
from aestiva.season.models import Batch, BatchEvent, Spot
from growing.ladders.ladder import ladders
from growing.place.station import Climate, generate


class GateCase(GardenCase):
    """Hardened kale that is up, thirty years of weather, a mild week, warm soil."""

    def lay_out(self) -> None:
        super().lay_out()
        self.weather()
        self.kale = self.sown("kale", 8, TODAY - timedelta(days=45), spot=self.bed)
        self.record(self.kale, kind="up", count="9", on=(TODAY - timedelta(days=38)).isoformat())
        self.harden(self.kale)
        for n in range(3):
            SoilReading.objects.create(garden=self.garden, day=TODAY - timedelta(days=n), hour=8, celsius=9.0)
        self.week()

    def record(self, batch: Batch, **data: str) -> None:
        self.post(f"batch/{batch.pk}/record/", **data)

    def weather(self) -> None:
        start = date(1995, 7, 16)
        made = generate(Climate(9.0, 7.5, 3.0), False, 7, start, (date(2026, 1, 1) - start).days)
        station = Station.objects.create(name="Made up", owner=self.garden)
        for name, values in (("tmin", made.tmin), ("tmax", made.tmax)):
            days = np.array([start + timedelta(days=n) for n in range(len(values))])
            for year in range(1996, 2026):
                inside = np.array([d.year == year for d in days])
                StationYear.objects.create(station=station, variable=name, year=year, tenths=pack(values[inside]))
        Frost.objects.filter(garden=self.garden).update(station=station)

    def harden(self, batch: Batch) -> None:
        rungs = ladders()["seven"].rungs
        for n, rung in enumerate(rungs):
            day = TODAY - timedelta(days=len(rungs) - n)
            BatchEvent.objects.create(batch=batch, kind="outing", on=day, hours=rung.hours, wanted_hours=rung.hours)
        BatchEvent.objects.create(batch=batch, kind="stage", on=TODAY - timedelta(days=1), data={"leaves": 6})

    def week(self, **more: Any) -> None:
        ForecastNight.objects.filter(garden=self.garden).delete()
        for n in range(8):
            given = {"tmin_c": 8.0, "tmax_c": 16.0, "cloud": 0.9, "wind_kmh": 8.0} | more
            ForecastNight.objects.create(garden=self.garden, day=TODAY + timedelta(days=n), **given)

    def row(self, batch: Batch | None = None) -> GateRow:
        return next(r for r in at_the_gates(self.now()).rows if r.batch == (batch or self.kale).pk)

    def back(self) -> None:
        entry = JournalEntry.objects.filter(undoes=None, undone_by=None).latest("pk")
        self.assertLess(self.post(f"journal/{entry.pk}/undo/").status_code, 400)


class Gates(GateCase):
    def test_go_and_the_page_says_it(self) -> None:
        row = self.row()
        self.assertEqual((row.verdict.kind, [g.name for g in row.gates if g.holds]), ("go", []))
        assert row.verdict.today is not None
        self.assertTrue(0.5 < row.verdict.today <= 1.0)
        page = self.client.get(self.url("plantingout/"))
        self.assertContains(page, "Plant 8 Kale today.")
        self.assertContains(page, "Go: 8 today")
        one = self.client.get(self.url(f"plantingout/{self.kale.pk}/"))
        self.assertContains(one, "What planting is worth")
        self.assertContains(one, 'class="worthline"')
        self.assertContains(one, "fine net")

    def test_wind_frost_soil_and_the_bed_each_hold_it(self) -> None:
        for change, gate in (
            (lambda: self.week(wind_kmh=40.0), "day"),
            (lambda: self.week(tmin_c=-12.0, cloud=0.0, wind_kmh=1.0), "frost"),
            (lambda: SoilReading.objects.update(celsius=2.0), "soil"),
            (lambda: BedState.objects.create(spot=self.bed, day=TODAY, state="wet"), "bed"),
        ):
            self.week()
            SoilReading.objects.update(celsius=9.0)
            change()
            row = self.row()
            self.assertEqual((row.verdict.kind, gate in row.verdict.by), ("wait", True), gate)
            self.assertIsNotNone(next(g for g in row.gates if g.name == gate).opens, gate)

    def test_a_cover_at_hand_opens_the_frost_gate(self) -> None:
        self.week(tmin_c=-3.2, cloud=0.5, wind_kmh=10.0)  # −4.2 at the plant: hardened kale is damaged at −6
        self.week(tmin_c=-5.2, cloud=0.5, wind_kmh=10.0)
        self.assertEqual(self.row().verdict.kind, "wait")
        self.post("tonight/covers/keep/", kind="double", length="10", width="2")
        row = self.row()
        self.assertEqual(row.verdict.kind, "cover")
        self.assertIn("cover", {w.key for w in row.verdict.ways})

    def test_without_years_the_gates_go_by_typed_days(self) -> None:
        Frost.objects.update(station=None)
        row = self.row()
        self.assertIsNone(row.verdict.today)
        self.assertContains(self.client.get(self.url("plantingout/")), "no years of weather are known here")
        self.assertContains(self.client.get(self.url(f"plantingout/{self.kale.pk}/")), "bring a record in")

    def test_queries_do_not_grow_with_the_batches(self) -> None:
        def asked() -> int:
            self.client.get(self.url("plantingout/"))
            with CaptureQueriesContext(connection) as found:
                self.client.get(self.url("plantingout/"))
            return len(found)

        few = asked()
        for _ in range(3):
            more = self.sown("kale", 8, TODAY - timedelta(days=45), spot=self.bed)
            self.record(more, kind="up", count="9", on=(TODAY - timedelta(days=38)).isoformat())
            self.harden(more)
        self.assertLessEqual(asked(), few + 2)

    def test_csv_and_readers(self) -> None:
        text = self.client.get(self.url("plantingout/gates.csv")).content.decode()
        self.assertIn("Kale,8,Bed A,2026-04-12,go", text)
        reader = user("reed")
        Member.objects.create(garden=self.garden, user=reader, role="reader")
        for rest in ("plantingout/", f"plantingout/{self.kale.pk}/", "tonight/"):
            page = client_for(reader).get(self.url(rest))
            self.assertEqual(page.status_code, 200)
            self.assertNotContains(page, "/keep/")

    def test_not_at_the_gates_yet_and_elsewhere(self) -> None:
        tomato = self.sown("tomato", 5, TODAY - timedelta(days=3), spot=self.bed)
        self.assertContains(self.client.get(self.url(f"plantingout/{tomato.pk}/")), "is not at the gates yet")
        self.assertEqual(self.client.get(self.url("plantingout/99999/")).status_code, 404)


class Planting(GateCase):
    def plants(self, **more: Any) -> Any:
        self.kale.refresh_from_db()
        return self.post(f"plantingout/{self.kale.pk}/planted/keep/", revision=self.kale.revision, **more)

    def test_planted_with_a_dip_and_taken_back(self) -> None:
        self.assertEqual(self.plants(dipped="1", litres="0.4", hours="12").status_code, 302)
        dip = BatchEvent.objects.get(batch=self.kale, kind="dipped")
        self.assertEqual(dip.data, {"litres": 0.4, "hours": 12.0})
        self.assertEqual(BatchEvent.objects.get(batch=self.kale, kind="planted").count, 8)
        self.back()
        self.assertFalse(BatchEvent.objects.filter(kind__in=("dipped", "planted")).exists())

    def test_half_now_and_half_later(self) -> None:
        self.assertEqual(self.plants(count="4").status_code, 302)
        self.assertEqual(self.row().plants, 4)

    def test_against_a_gate_only_with_a_word_why(self) -> None:
        self.week(wind_kmh=40.0)
        self.assertContains(self.plants(), "held by wind, heat", status_code=422)
        self.assertEqual(self.plants(note="a wall shelters that bed").status_code, 302)
        note = BatchEvent.objects.get(batch=self.kale, kind="note").note
        self.assertEqual(note, "Planted while held by wind, heat: a wall shelters that bed")

    def test_more_than_on_hand_and_other_nonsense(self) -> None:
        for more in (
            {"count": "40"},
            {"count": "0"},
            {"count": "-2"},
            {"count": "x"},
            {"dipped": "1", "litres": "much"},
            {"dipped": "1", "hours": "1e9"},
        ):
            self.assertEqual(self.plants(**more).status_code, 422, more)
        self.assertFalse(BatchEvent.objects.filter(kind="planted").exists())

    def test_twice_is_once(self) -> None:
        for _ in range(2):
            self.plants(key="one")
        self.assertEqual(BatchEvent.objects.filter(kind="planted").count(), 1)


class Tonight(GateCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.post(f"plantingout/{self.kale.pk}/planted/keep/", revision=Batch.objects.get(pk=self.kale.pk).revision)

    def act(self, kind: str) -> Any:
        keys = [t.task.key for t in self.now().todos(self.now().today, (kind,))]
        return self.post("tonight/covered/keep/", task=keys)

    def test_what_to_cover_with_what_and_how_long(self) -> None:
        self.week(tmin_c=-4.0, cloud=0.0, wind_kmh=1.0)  # −7 at the plant, damaged at −6
        self.post("tonight/covers/keep/", kind="fleece30", length="20", width="2.1")
        found = tonight(self.now())
        line = found.to_cover[0]
        self.assertEqual((line.plants, line.cover, line.at_hand), (8, "fleece30", True))
        self.assertEqual(line.length_cm, 8 * 45.0 + 100)
        self.assertEqual(found.stock[0].left, 2000.0 - line.length_cm)
        page = self.client.get(self.url("tonight/"))
        self.assertContains(page, "Cover 8 plants tonight.")
        self.assertContains(page, 'class="bedsnight"')

    def test_covered_uncovered_in_the_morning_and_back(self) -> None:
        self.week(tmin_c=-4.0, cloud=0.0, wind_kmh=1.0)
        self.assertEqual(self.act("cover").status_code, 302)
        self.assertEqual(self.act("uncover").status_code, 422)  # not before the morning
        self.day(TODAY + timedelta(days=1))
        self.assertIn("uncover", self.kinds(TODAY + timedelta(days=1)))
        self.assertEqual(self.act("uncover").status_code, 302)
        self.assertNotIn("uncover", self.kinds(TODAY + timedelta(days=1)))
        self.back()
        self.assertIn("uncover", self.kinds(TODAY + timedelta(days=1)))

    def test_nothing_bears_everything(self) -> None:
        self.week(tmin_c=-14.0, cloud=0.0, wind_kmh=1.0)
        self.assertEqual(tonight(self.now()).to_cover[0].cover, "")
        self.assertContains(self.client.get(self.url("tonight/")), "no cover is enough")
        self.week(tmin_c=9.0)
        self.assertEqual(len(tonight(self.now()).bear_it), 1)
        ForecastNight.objects.all().delete()
        self.assertContains(self.client.get(self.url("tonight/")), "No forecast reaches tonight")

    def test_losses_and_what_fills_the_gaps(self) -> None:
        spare = self.sown("kale", 3, TODAY - timedelta(days=40), spot=self.bed)
        self.record(spare, kind="up", count="5", on=(TODAY - timedelta(days=35)).isoformat())
        revision = Batch.objects.get(pk=self.kale.pk).revision
        self.assertEqual(self.post(f"tonight/lost/{self.kale.pk}/keep/", count="2", revision=revision).status_code, 302)
        self.assertContains(self.client.get(self.url("tonight/")), "2 missing")
        revision = Batch.objects.get(pk=self.kale.pk).revision
        filled = self.post(f"tonight/lost/{self.kale.pk}/keep/", fill="2", spare=spare.pk, revision=revision)
        self.assertEqual(filled.status_code, 302)
        self.assertEqual(BatchEvent.objects.get(batch=spare, kind="planted").count, 2)
        self.back()
        self.assertFalse(BatchEvent.objects.filter(batch=spare, kind="planted").exists())

    def test_covers_and_losses_that_cannot_be(self) -> None:
        for data in (
            {"kind": "tarpaulin"},
            {"kind": "fleece30", "length": ""},
            {"kind": "fleece30", "length": "far"},
            {"kind": "fleece30", "length": "20", "width": "nan"},
            {"kind": "cloche", "pieces": "0"},
            {"kind": "cloche", "pieces": "many"},
        ):
            self.assertEqual(self.post("tonight/covers/keep/", **data).status_code, 422, data)
        self.assertFalse(CoverAtHand.objects.exists())
        for data in (
            {},
            {"count": "99"},
            {"count": "x"},
            {"fill": "2"},
            {"fill": "2", "spare": str(self.kale.pk)},
            {"count": "-1"},
        ):
            self.assertEqual(self.post(f"tonight/lost/{self.kale.pk}/keep/", **data).status_code, 422, data)

    def test_a_cover_worn_out_is_taken_back(self) -> None:
        self.post("tonight/covers/keep/", kind="cloche", pieces="6")
        row = CoverAtHand.objects.get()
        self.post(f"tonight/covers/{row.pk}/remove/")
        self.assertFalse(CoverAtHand.objects.exists())
        self.back()
        self.assertEqual(CoverAtHand.objects.get().pieces, 6)

    def test_the_slower_half_of_a_double_tap_finds_its_row_gone_and_is_no_error(self) -> None:
        row = CoverAtHand.objects.create(garden=self.garden, kind="fleece30", pieces=2)
        where, key = self.url(f"tonight/covers/{row.pk}/remove/"), "one tap"
        self.assertEqual(self.client.post(where, {"key": key}).status_code, 302)
        with mock.patch.object(
            journal, "done_before", side_effect=[False, True]
        ):  # it came in before the other was written
            self.assertEqual(self.client.post(where, {"key": key}).status_code, 302)
        self.assertEqual(self.client.post(where, {"key": "another tap"}).status_code, 404)

    def test_a_bed_is_said_to_be_ready_once_a_day(self) -> None:
        other = Spot.objects.create(garden=self.garden, kind="bed", code="Bed Z")
        for state in ("wet", "ready"):
            self.post("plantingout/bed/keep/", spot=other.pk, state=state)
        self.assertEqual(BedState.objects.get(spot=other).state, "ready")
        self.assertEqual(self.post("plantingout/bed/keep/", spot=other.pk, state="lovely").status_code, 422)
        self.assertEqual(self.post("plantingout/bed/keep/", spot="999999", state="wet").status_code, 422)
