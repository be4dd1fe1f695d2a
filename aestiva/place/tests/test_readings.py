"""Weather files that grow, own readings, devices that post, charts with their tables."""

from __future__ import annotations

import json
import re
from datetime import date, timedelta
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from aestiva.frame.tests.garden import TODAY, GardenCase
from aestiva.gardens.models import JournalEntry
from aestiva.place.actions import take_weather
from aestiva.place.models import Feed, ForecastNight, GardenNight, SoilReading, Station
from aestiva.place.queries import record_of
from aestiva.place.tests.test_curve import StationCase
from growing.place.nights import Night
from growing.place.station import Given, generate


def lines(start: date, low: list[float], high: list[float]) -> bytes:
    rows = (f"{start + timedelta(days=k)},{a},{b}" for k, (a, b) in enumerate(zip(low, high, strict=True)))
    return ("date,tmin,tmax\n" + "\n".join(rows) + "\n").encode()


class Files(GardenCase):
    def look(self, data: bytes, name: str = "The Weir") -> Any:
        return self.client.post(self.url("place/weather/"), {"file": SimpleUploadedFile("w.csv", data), "name": name})

    def keep(self, page: Any, **more: str) -> Any:
        stored = re.search(r'name="kept" value="([^"]+)"', page.content.decode())
        assert stored is not None
        return self.client.post(self.url("place/weather/"), {"kept": stored[1], "name": "The Weir", **more})

    def known(self) -> list[float]:
        record = record_of(Station.objects.get())
        assert record is not None
        return record.minima.values.tolist()

    def test_importing_again_adds_only_new_days_and_keeps_the_old_values(self) -> None:
        self.keep(self.look(lines(date(2026, 3, 1), [1, 2, 3], [8, 9, 9.5])))
        page = self.look(lines(date(2026, 3, 2), [2, 7, 4, 5], [9, 9.5, 11, 12]))
        self.assertContains(page, "2 days would be added, 1 known the same")
        self.assertContains(page, "1 differ (3 Mar 2026)")
        self.keep(page)
        self.assertEqual(self.known(), [1, 2, 3, 4, 5])
        self.assertEqual(Station.objects.count(), 1)

    def test_a_unit_can_be_told(self) -> None:
        low, high = [float(30 + k % 20) for k in range(60)], [float(48 + k % 20) for k in range(60)]
        data = lines(date(2026, 1, 1), low, high).replace(b"tmin,tmax", b"tmin (C),tmax (C)")
        page = self.look(data)
        self.assertContains(page, "is it °F? Choose the unit")
        again = self.keep(page, again="yes", unit="F")
        self.assertContains(again, "degrees Fahrenheit, converted")
        self.assertFalse(Station.objects.exists())
        self.keep(again, unit="F")
        self.assertAlmostEqual(self.known()[0], (30 - 32) / 1.8, delta=0.06)

    def test_stuck_sensors_and_days_to_come_are_left_out_and_said(self) -> None:
        low = [float(k % 9) for k in range(120)]
        high = [v + 8 + k % 3 for k, v in enumerate(low)]
        low[20:32], high[20:32] = [3.0] * 12, [9.0] * 12
        page = self.look(lines(date(2026, 1, 1), low, high))
        self.assertContains(page, "stand still")
        self.assertContains(page, "Days that have not come yet are left out: 18")
        self.keep(page)
        known = self.known()
        self.assertEqual(len(known), (TODAY - date(2026, 1, 1)).days + 1)
        self.assertEqual(int(np.isnan(known).sum()), 12)

    def test_the_fixed_width_form_comes_in(self) -> None:
        rows = []
        for month, first in ((1, 0), (2, 31)):
            for element, add in (("TMAX", 80), ("TMIN", 0), ("PRCP", 5)):
                values = "".join(
                    f"{(first + k) % 50 + add if k < 28 else -9999:5d}   " if k != 4 else f"{999:5d} X "
                    for k in range(31)
                )
                rows.append(f"AAX00012345{2026}{month:02d}{element}{values}")
        page = self.look("\n".join(rows).encode())
        self.assertContains(page, "tenths of a degree Celsius")
        self.keep(page)
        self.assertEqual(self.known()[:4], [0.0, 0.1, 0.2, 0.3])
        self.assertTrue(np.isnan(self.known()[4]))  # it failed its own check
        self.assertAlmostEqual(self.known()[5], 0.5)

    def test_a_station_far_away_is_warned_of(self) -> None:
        data = b"STATION,DATE,LATITUDE,LONGITUDE,ELEVATION,TMIN,TMAX\n" + b"".join(
            f"AAX00012345,2026-01-{k:02d},53.1,0.2,900,-{k},{k}\n".encode() for k in range(1, 29)
        )
        page = self.look(data)
        self.assertContains(page, "km from the garden")
        self.assertContains(page, "lies lower by 900 m")
        self.keep(page)
        station = Station.objects.get()
        self.assertEqual((station.latitude, station.elevation_m), (53.1, 900))

    def test_days_go_out_as_they_come_in(self) -> None:
        data = lines(date(2026, 3, 1), [1.5, -2, 3], [8, 9, 9.5])
        self.keep(self.look(data))
        out = self.client.get(self.url(f"place/weather/{Station.objects.get().pk}/days.csv")).content
        page = self.look(out, "Again")
        self.assertContains(page, "3 days from Again")

    def test_a_made_up_station_says_so_everywhere(self) -> None:
        self.post("place/weather/made-up/", preset="continental")
        station = Station.objects.get()
        self.assertTrue(station.simulated)
        self.assertContains(self.client.get(self.url("place/")), "Made-up continental (simulated)")
        self.post("place/weather/made-up/", preset="the moon")
        self.assertEqual(Station.objects.count(), 1)


class History(StationCase):
    def test_a_year_as_chart_and_table_agree(self) -> None:
        page = self.client.get(self.url(f"place/weather/{self.station.pk}/?year=2020"))
        data = page.context["chart"]
        lows = next(s["values"] for s in data["series"] if s["name"] == "lows of 2020")
        january = [v for v in lows[:31] if v is not None]
        month = page.context["months"][0]
        self.assertAlmostEqual(month.low, sum(january) / 31, delta=0.06)
        self.assertEqual(month.frosts, sum(v <= 0 for v in january))
        self.assertEqual((len(data["x"]), month.missing), (366, 0))
        band = next(s for s in data["series"] if s["kind"] == "band")
        self.assertTrue(all(w >= 0 for w in band["width"] if w == w))
        outside = self.client.get(self.url(f"place/weather/{self.station.pk}/?year=1900"))
        self.assertEqual(outside.context["year"], 2026)

    def test_the_nights_ahead_as_chart_and_table(self) -> None:
        for k, low in enumerate((3.0, -1.0, 5.0)):
            day = TODAY + timedelta(days=k)
            ForecastNight.objects.create(garden=self.garden, day=day, tmin_c=low, cloud=0.1, wind_kmh=3)
        page = self.client.get(self.url("place/forecast/"))
        forecast = page.context["chart"]["series"][2]["values"]
        self.assertEqual(forecast, [3.0, -1.0, 5.0])
        self.assertContains(page, "−4°")  # −1 and a clear calm night


class Source(StationCase):
    def test_what_a_source_saw_and_says_is_taken_up_by_one_way(self) -> None:
        before = record_of(self.station)
        assert before is not None
        weather = generate(self.climate, False, 9, date(2005, 7, 16), (TODAY - date(2005, 7, 16)).days + 40)
        today = TODAY + timedelta(days=10)
        days = [weather.start + timedelta(days=k) for k in range(weather.index(today))]
        nights = tuple(Night(today + timedelta(days=k), 3.0) for k in range(8))
        seen = Given.of(days, weather.tmin[: len(days)], weather.tmax[: len(days)])
        take_weather(self.garden, Given(seen.weather, nights), today, self.station)
        after = record_of(self.station)
        assert after is not None
        self.assertEqual(after.minima.end, today - timedelta(days=1))
        self.assertEqual(len(after.minima.values), len(before.minima.values) + 10)
        self.assertEqual(ForecastNight.objects.filter(garden=self.garden).count(), 8)


class Own(StationCase):
    def test_readings_typed_replaced_removed_and_taken_back(self) -> None:
        for low in ("2", "1.5"):
            self.post("place/readings/", which="night", day="2026-04-10", celsius=low)
        self.assertEqual(GardenNight.objects.get().tmin_c, 1.5)
        self.post("place/readings/", which="soil", day="2026-04-10", celsius="7", hour="8")
        self.post("place/readings/", which="soil", day="2026-04-10", celsius="9", hour="15")
        self.assertEqual(SoilReading.objects.count(), 2)
        self.post("place/readings/", which="remove", of="soil", pk=str(SoilReading.objects.latest("hour").pk))
        self.assertEqual(SoilReading.objects.count(), 1)
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertEqual(SoilReading.objects.count(), 2)
        page = self.client.get(self.url("place/readings/"))
        self.assertContains(page, "1 of 14 nights read")

    def test_readings_that_cannot_be(self) -> None:
        for data, said in (
            ({"which": "night", "day": "2026-05-01", "celsius": "1"}, "still to come"),
            ({"which": "night", "day": "2026-04-01", "celsius": "80"}, "cannot be"),
            ({"which": "soil", "day": "2026-04-01", "celsius": "8", "hour": "31"}, "it goes from 0:00 to 24:00"),
        ):
            self.assertContains(self.post("place/readings/", **data), said, status_code=422)
        self.assertFalse(GardenNight.objects.exists() or SoilReading.objects.exists())

    def test_own_nights_from_a_file_whole_or_not_at_all(self) -> None:
        good = "date,tmin\n" + "".join(f"2026-03-{k:02d},{k / 4}\n" for k in range(1, 20))
        for text, kept in ((good + "2026-03-40,1\n", 0), (good, 19)):
            self.client.post(
                self.url("place/readings/"), {"which": "file", "file": SimpleUploadedFile("n.csv", text.encode())}
            )
            self.assertEqual(GardenNight.objects.count(), kept)


class Posts(GardenCase):
    def setUp(self) -> None:
        super().setUp()
        page = self.post("place/feeds/", name="Probe")
        self.token = page.context["token"]
        self.device = Client()

    def send(self, message: Any, token: str | None = None) -> Any:
        body = message if isinstance(message, str) else json.dumps(message)
        headers = {"Authorization": f"Bearer {token or self.token}"}
        return self.device.post("/feed/", body, content_type="application/json", headers=headers)

    def soil(self, *readings: tuple[str, float]) -> dict[str, Any]:
        return {"kind": "soil", "readings": [{"at": at, "celsius": c} for at, c in readings]}

    def test_a_probe_posts_and_its_entry_can_be_taken_back(self) -> None:
        self.assertEqual(self.send(self.soil(("2026-04-11T08:00", 7.5), ("2026-04-10T08:30", 7.1))).json()["taken"], 2)
        self.assertEqual(SoilReading.objects.get(day=date(2026, 4, 10)).hour, 8.5)  # an older one finds its place
        entry = JournalEntry.objects.latest("pk")
        self.assertEqual((entry.by, entry.summary), ("Probe", "Probe sent 2 soil readings"))
        self.post(f"journal/{entry.pk}/undo/")
        self.assertFalse(SoilReading.objects.exists())

    def test_the_same_message_again_changes_nothing(self) -> None:
        message = self.soil(("2026-04-11T08:00", 7.5))
        self.send(message)
        entries = JournalEntry.objects.count()
        self.assertEqual(self.send(message).json(), {"taken": 0, "repeated": True})
        self.assertEqual((JournalEntry.objects.count(), SoilReading.objects.count()), (entries, 1))

    def test_wrong_and_revoked_keys_are_refused(self) -> None:
        self.assertEqual(self.send(self.soil(("2026-04-11T08:00", 7.5)), "guess").status_code, 401)
        self.assertEqual(self.device.post("/feed/", "{}", content_type="application/json").status_code, 401)
        self.assertEqual(self.device.get("/feed/").status_code, 405)
        self.post(f"place/feeds/{Feed.objects.get().pk}/revoke/")
        self.assertEqual(self.send(self.soil(("2026-04-11T08:00", 7.5))).status_code, 401)
        self.assertFalse(SoilReading.objects.exists())
        self.assertNotContains(self.client.get(self.url("place/feeds/")), self.token)

    def test_too_much_at_once_is_refused_before_it_is_read(self) -> None:
        answer = self.send(" " * 600_000)
        self.assertEqual(answer.status_code, 413)
        self.assertIn("half a megabyte", answer.json()["problem"])

    def test_messages_that_cannot_be_say_which_entry_and_take_nothing(self) -> None:
        good = {"at": "2026-04-11T08:00", "celsius": 7.5}
        for message, said in (
            ("{", "not JSON"),
            ([1], "must be one of"),
            ({"kind": "rain"}, "must be one of"),
            ({"kind": "soil", "readings": []}, "at least one entry"),
            (
                {"kind": "soil", "readings": [good, {"at": "2026-04-13T08:00", "celsius": 7}]},
                "Entry 2: 2026-04-13 has not come",
            ),
            ({"kind": "soil", "readings": [good, {"at": "yesterday", "celsius": 7}]}, "Entry 2: “at” is"),
            (
                {"kind": "soil", "readings": [good, {"at": "2026-04-11T09:00", "celsius": "warm"}]},
                "Entry 2: “celsius” is",
            ),
            ({"kind": "soil", "readings": [good, 3]}, "Entry 2: must be an object"),
            ({"kind": "soil", "readings": [good] * 3000}, "too many"),
            ({"kind": "forecast", "nights": [{"night": "2026-06-01", "tmin": 1}]}, "not in the next 16 days"),
            ({"kind": "forecast", "nights": [{"night": "2026-04-13", "tmin": 1, "cloud": 40}]}, "“cloud” is 40"),
        ):
            answer = self.send(message)
            self.assertEqual(answer.status_code, 422, said)
            self.assertIn(said, answer.json()["problem"])
        self.assertFalse(SoilReading.objects.exists())

    def test_a_station_posts_its_days_and_makes_its_own_record(self) -> None:
        days = [{"day": f"2026-04-{k:02d}", "tmin": k / 10, "tmax": 9} for k in (3, 1, 2)]
        self.assertEqual(self.send({"kind": "station", "days": days}).json()["taken"], 3)
        later = [{"day": "2026-04-02", "tmin": 5}, {"day": "2026-04-05", "tmin": 1}]
        self.assertEqual(self.send({"kind": "station", "days": later}).json()["taken"], 1)
        record = record_of(Station.objects.get(name="Probe"))
        assert record is not None
        self.assertEqual(record.minima.values[:3].tolist(), [0.1, 0.2, 0.3])
        self.assertTrue(np.isnan(record.minima.values[3]))
        self.assertNotContains(self.client.get(self.url("journal/")), "undo/")  # a record is not taken back
        for bad, said in (
            ({"day": "2026-04-20", "tmin": 1}, "has not come yet"),
            ({"day": "1990-04-20", "tmin": 1}, "too long ago"),
            ({"day": "2026-04-02", "tmin": 8, "tmax": 2}, "above the maximum"),
            ({"day": "x", "tmin": 8}, "“day” is"),
        ):
            answer = self.send({"kind": "station", "days": [{"day": "2026-04-06", "tmin": 1}, bad]})
            self.assertIn(f"Entry 2: {said}" if said.startswith("“") else said, answer.json()["problem"])

    def test_nights_and_forecasts_come_by_post_too(self) -> None:
        self.send({"kind": "garden", "readings": [{"at": "2026-04-11", "celsius": -0.8}]})
        self.assertEqual(GardenNight.objects.get().tmin_c, -0.8)
        self.send(
            {"kind": "forecast", "nights": [{"night": "2026-04-13", "tmin": 1, "tmax": 9, "cloud": 0.2, "wind": 6}]}
        )
        night = ForecastNight.objects.get()
        self.assertEqual((night.day, night.cloud, night.source), (date(2026, 4, 13), 0.2, "Probe"))


class SoilSheets(GardenCase):
    def send(self, text: str, **more: str) -> Any:
        data = {"which": "soilfile", "hour": "8", "file": SimpleUploadedFile("s.csv", text.encode()), **more}
        return self.client.post(self.url("place/readings/"), data, follow=True)

    def test_a_sheet_of_soil_readings_comes_in_and_goes_back_whole(self) -> None:
        page = self.send('our probe\nDate,Soil\n10 April,9.5\n11 April,"10,5"\n11 April,10.6\n')
        self.assertContains(page, "2 readings are in, all taken as read at 8:00.")
        self.assertEqual(list(SoilReading.objects.order_by("day").values_list("celsius", flat=True)), [9.5, 10.6])
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertFalse(SoilReading.objects.exists())

    def test_a_bad_row_takes_nothing_and_is_named(self) -> None:
        for text, said in (
            ("Date,Soil\n10 April,9\n11 April,hot\n", "Row 3: “hot” is not a number"),
            ("Date,Soil\n10 May,9\n", "is still to come"),
            ("What,How\n10 April,9\n", "No column is called"),
        ):
            self.assertContains(self.send(text), said, status_code=422)
        self.assertContains(
            self.send("Date,Soil\n10 April,9\n", hour="late"), "Say the hour of the day", status_code=422
        )
        self.assertFalse(SoilReading.objects.exists())
