"""Place: typed dates, warmth, weather files with preview, the nights ahead; what cannot be is named with its mend."""

from __future__ import annotations

import re
from datetime import date, timedelta
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile

from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.place.models import ForecastNight, Frost, Station, Warmth
from aestiva.place.queries import place_year, record_of
from growing.place.frost import TypedFrost
from growing.place.minima import ComputedFrost
from growing.place.station import Climate, generate


def years(count: int = 15, bad: str = "") -> bytes:
    """A daily file of so many years, with further rows at the end."""
    start = date(2010, 7, 16)
    weather = generate(Climate(6, 7, 2.5), False, 9, start, 365 * count)
    rows = [
        f"{start + timedelta(days=i)},{lo},{hi}"
        for i, (lo, hi) in enumerate(zip(weather.tmin, weather.tmax, strict=True))
    ]
    return ("date,tmin,tmax\n" + "\n".join(rows) + "\n" + bad).encode()


class Typed(GardenCase):
    def test_meaning_moves_the_date(self) -> None:
        data = {"last_on": "2026-05-22", "last_meaning": "safe", "first_meaning": "unknown", "last_spread": "10"}
        self.post("place/typed/", **data)
        self.assertEqual(place_year(Garden.objects.get(pk=self.garden.pk)).last_frost[0], date(2026, 5, 9))
        self.assertContains(self.client.get(self.url("place/")), "Sat 9 May")

    def test_impossible_dates_name_field_and_mend(self) -> None:
        for change, said in (
            ({"last_on": "2026-02-30"}, "is not a day"),
            ({"last_on": "2026-09-01"}, "January to June"),
            ({"first_on": "2026-03-01"}, "July to December"),
            ({"last_spread": "300"}, "300 days cannot be"),
            ({"last_on": ""}, "required"),
        ):
            data = {
                "last_on": "2026-05-09",
                "last_meaning": "average",
                "first_meaning": "average",
                "source": "a neighbour",
            } | change
            answer = self.post("place/typed/", **data)
            self.assertContains(answer, said, status_code=422)
            self.assertContains(answer, "a neighbour", status_code=422)

    def test_fahrenheit_at_the_edge_never_rewrites(self) -> None:
        Garden.objects.filter(pk=self.garden.pk).update(units="us")
        self.post("place/reckoning/", shift_c="-1.8", basis="all", cover="bare")
        self.assertEqual(Frost.objects.get(garden=self.garden).shift_c, -1.0)
        self.assertContains(self.client.get(self.url("place/reckoning/")), 'value="-1.8"')

    def test_days_of_warmth_rise_and_gate_the_plan(self) -> None:
        self.post("place/warmth/", kind="soil", celsius="12", on="2026-05-06")
        self.post("place/warmth/", kind="soil", celsius="16", on="2026-06-12")
        self.assertContains(
            self.post("place/warmth/", kind="soil", celsius="15", on="2026-04-01"), "wrong way round", status_code=422
        )
        self.assertContains(
            self.post("place/warmth/", kind="soil", celsius="12", on="2026-05-01"), "already", status_code=422
        )
        self.assertContains(
            self.post("place/warmth/", kind="soil", celsius="99", on="2026-07-01"), "cannot be", status_code=422
        )
        plant(self.garden, self.owner, "pepper", 8)
        self.assertEqual(self.now().items[0].raised.dates.out.start, date(2026, 6, 12))
        row = Warmth.objects.get(celsius=16)
        self.post("place/warmth/", remove=str(row.pk))
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertTrue(Warmth.objects.filter(celsius=16).exists())


class WeatherFiles(GardenCase):
    def look(self, data: bytes, name: str = "The Weir") -> Any:
        return self.client.post(self.url("place/weather/"), {"file": SimpleUploadedFile("w.csv", data), "name": name})

    def keep(self, page: Any, **more: str) -> Any:
        stored = re.search(r'name="kept" value="([^"]+)"', page.content.decode())
        assert stored is not None
        return self.client.post(self.url("place/weather/"), {"kept": stored[1], "name": "The Weir", **more})

    def test_preview_writes_nothing_then_keep_dates_from_it(self) -> None:
        page = self.look(years())
        self.assertContains(page, "nothing kept yet")
        self.assertContains(page, "Every row can be read")
        self.assertFalse(Station.objects.exists())
        self.keep(page)
        station = Station.objects.get()
        record = record_of(station)
        assert record is not None
        self.assertEqual(int(np.sum(~np.isnan(record.minima.values))), 365 * 15)
        place = place_year(self.garden)
        self.assertIsInstance(place.climate, ComputedFrost)
        shown = self.client.get(self.url("place/"))
        self.assertContains(shown, "The years behind it")
        self.assertContains(shown, "icicle")
        for threshold in ("2.2", "-2.2", "nonsense"):
            self.assertEqual(self.client.get(self.url(f"place/?threshold={threshold}")).status_code, 200)

    def test_taking_an_import_back_keeps_the_record_for_later(self) -> None:
        self.keep(self.look(years()))
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertIsInstance(place_year(self.garden).climate, TypedFrost)
        self.post("place/station/", station=str(Station.objects.get().pk))
        self.assertIsInstance(place_year(self.garden).climate, ComputedFrost)
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertIsInstance(place_year(self.garden).climate, TypedFrost)

    def test_the_same_file_again_is_the_same_station(self) -> None:
        for _ in range(2):
            self.keep(self.look(years()))
        self.assertEqual(Station.objects.count(), 1)

    def test_bad_rows_are_listed_and_left_out_only_on_purpose(self) -> None:
        page = self.look(years(bad="2031-02-30,1,2\n2025-12-01,9,3\n"))
        self.assertContains(page, "“2031-02-30” is not a day")
        self.assertContains(page, "minimum is above the maximum")
        refused = self.keep(page)
        self.assertContains(refused, "leave those days out")
        self.assertFalse(Station.objects.exists())
        self.keep(page, leave_out="yes")
        self.assertTrue(Station.objects.exists())

    def test_files_that_cannot_be_are_refused_in_words(self) -> None:
        for data, said in (
            (b"\x89PNG\r\n\x1a\n\x00\x00\x00", "neither text nor a workbook"),
            (b"date,tmin\n", "no day under it"),
            (b"date,tmin\n13/01/2024,5\n01/14/2024,6\n", "date order"),
            (b"a," * 500 + b"\n", "columns"),
        ):
            self.assertContains(self.look(data), said, status_code=422)
        self.assertFalse(Station.objects.exists())

    def test_columns_that_no_heading_tells_are_asked_and_remembered(self) -> None:
        data = b"My station\nwhen,how cold\n" + b"".join(b"2024-01-%02d,%d\n" % (k, k % 9 - 4) for k in range(1, 29))
        page = self.look(data)
        self.assertContains(page, "No column says <b>date</b> or <b>lowest of the day</b>")
        told = {"kept": page.context["stored"], "name": "The Weir", "columns": "yes", "col-0": "date", "col-1": "tmin"}
        page = self.client.post(self.url("place/weather/"), told)
        self.assertContains(page, "28 days from The Weir, nothing kept yet")
        self.assertContains(self.look(data), "28 days from The Weir, nothing kept yet")
        self.assertFalse(Station.objects.exists())

    def test_day_or_month_first_is_said_before_it_is_kept(self) -> None:
        rows = b"".join(b"%02d/%02d/2024,%d\n" % (m, d, d) for m in range(1, 11) for d in range(1, 11))
        page = self.look(b"date,tmin\n" + rows)
        self.assertContains(page, "which comes first?")
        self.assertContains(self.keep(page), "Say first which comes first")
        self.assertFalse(Station.objects.exists())
        self.keep(page, order="mdy")
        self.assertTrue(Station.objects.exists())

    def test_too_few_years_say_so_and_typed_dates_stay(self) -> None:
        page = self.look(years(4))
        self.assertContains(page, "at least 10 are needed")
        self.keep(page)
        self.assertIsInstance(place_year(self.garden).climate, TypedFrost)

    def test_a_preview_cannot_be_kept_elsewhere_or_forged(self) -> None:
        self.assertContains(
            self.client.post(self.url("place/weather/"), {"kept": "forged"}), "choose the file again", status_code=422
        )
        self.assertFalse(Station.objects.exists())


class Nights(GardenCase):
    def test_typed_nights_replace_earlier_words(self) -> None:
        for low in ("3", "-1"):
            self.post("place/forecast/", one="1", day=TODAY.isoformat(), tmin=low, cloud="20", wind="4")
        night = ForecastNight.objects.get()
        self.assertEqual((night.tmin_c, night.cloud), (-1.0, 0.2))
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertEqual(ForecastNight.objects.get().tmin_c, 3.0)

    def test_nights_that_cannot_be(self) -> None:
        for change, said in (
            ({"day": "2026-06-12"}, "forecasts reach no further"),
            ({"day": "2026-04-01"}, "forecasts reach no further"),
            ({"tmin": "80"}, "cannot be"),
            ({"tmin": "5", "tmax": "2"}, "below the lowest"),
            ({"cloud": "140"}, "less than or equal to 100"),
        ):
            data = {"one": "1", "day": TODAY.isoformat(), "tmin": "1"} | change
            self.assertContains(self.post("place/forecast/", **data), said, status_code=422)

    def test_a_forecast_file_is_taken_whole_or_not_at_all(self) -> None:
        good = "date,tmin,tmax\n" + "".join(f"{TODAY + timedelta(days=i)},{i},{i + 8}\n" for i in range(5))
        for text, kept in ((good + "2026-04-30,x,3\n", 0), ("date,tmin\n2020-01-01,4\n", 0), (good, 5)):
            self.client.post(self.url("place/forecast/"), {"file": SimpleUploadedFile("f.csv", text.encode())})
            self.assertEqual(ForecastNight.objects.count(), kept)
