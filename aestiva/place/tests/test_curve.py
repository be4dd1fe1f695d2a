"""The frost curve: what is drawn, what a moved line would mean, what two stations and two hollows say."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any
from xml.etree import ElementTree

import numpy as np

from aestiva.frame.tests.garden import TODAY, GardenCase, plant
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.place.actions import merge
from aestiva.place.models import Frost, GardenNight, SoilReading, Station
from aestiva.place.picture import PHONE, WIDE, FrostCurve, frost_svg, span_of
from aestiva.place.queries import place_year
from growing.place.computedwarmth import ComputedWarmth
from growing.place.frost import EventDates, TypedDate, TypedFrost, frost_dates
from growing.place.minima import ColdSeason
from growing.place.station import Climate, generate

START = date(2025, 7, 16)


def drawn(dates: EventDates, seasons: list[ColdSeason], typed: date | None = None, **more: Any) -> FrostCurve:
    first, last = span_of(dates, more.get("other"), typed)
    return FrostCurve(dates, 0.1, seasons, first, last, typed, **more)


class Picture(GardenCase):
    def seasons(self) -> list[ColdSeason]:
        return [ColdSeason(1996 + k, 280 + k, -0.5 - k / 10, 90 - k, -1.0, 0, "") for k in range(30)]

    def test_an_icicle_a_year_and_the_line_where_the_risk_is(self) -> None:
        seasons = self.seasons()
        spring = frost_dates(START, "last", 0.0, [float(s.last or 0) for s in seasons], 30, "station")
        for size in (WIDE, PHONE):
            svg = frost_svg(drawn(spring, seasons, date(2026, 5, 10)), size)
            self.assertEqual(svg.count('class="icicle"'), 30)
            line = spring.date_for(0.1).day
            assert line is not None
            self.assertIn(f"Your line: {line:%a} {line.day}", svg)
            self.assertIn("you typed 10 May", svg)
            self.assertIn("<title>2025: 21 May, −3.4°</title>", svg)
            ElementTree.fromstring(svg)

    def test_the_handle_stands_on_the_curve_it_can_be_moved_along(self) -> None:
        seasons = self.seasons()
        autumn = frost_dates(START, "first", 0.0, [float(s.first or 0) for s in seasons], 30, "station")
        for dates in (autumn, frost_dates(START, "last", 0.0, [float(s.last or 0) for s in seasons], 30, "station")):
            root = ElementTree.fromstring(frost_svg(drawn(dates, seasons)))
            handle = next(e for e in root.iter() if e.get("role") == "slider")
            at = int(handle.get("aria-valuenow", ""))
            day = date.fromisoformat(root.get("data-first", "")) + timedelta(days=at)
            self.assertEqual(day, dates.date_for(0.1).day)
            ys = root.get("data-ys", "").split()
            self.assertEqual(len(ys), int(root.get("data-days", "")))
            grip = next(e for e in root.iter() if e.get("class") == "grip")
            self.assertEqual(grip.get("cy"), ys[at])

    def test_a_frost_free_season_has_no_icicle(self) -> None:
        seasons = [s._replace(last=None, last_c=None) if s.year % 2 else s for s in self.seasons()]
        days = [float(s.last) for s in seasons if s.last is not None]
        svg = frost_svg(drawn(frost_dates(START, "last", 0.0, days, 30, "station"), seasons))
        self.assertEqual(svg.count('class="icicle"'), 15)

    def test_a_typed_curve_says_that_it_is_assumed(self) -> None:
        typed = TypedFrost(False, TypedDate(5, 9, "average")).last(2026)
        self.assertIn("assumed spread", frost_svg(drawn(typed, [])))
        empty = frost_dates(START, "last", 0.0, [], 30, "station")
        self.assertEqual(frost_svg(drawn(empty, [])), "")

    def test_a_second_curve_carries_its_name_unharmed(self) -> None:
        seasons = self.seasons()
        spring = frost_dates(START, "last", 0.0, [float(s.last or 0) for s in seasons], 30, "station")
        svg = frost_svg(drawn(spring, seasons, other=spring, other_name="<b>Hill & vale"))
        self.assertIn("&lt;b&gt;Hill &amp; vale", svg)
        self.assertIn("othercurve", svg)


class StationCase(GardenCase):
    """A garden with twenty years of a station's weather."""

    climate = Climate(9.0, 9.5, 2.6, range_c=12.0)
    garden_values = {"longitude": -3.0, "elevation_m": 200}

    def lay_out(self) -> None:
        super().lay_out()
        self.station = self.made("The Weir", 9, self.climate)
        Frost.objects.filter(garden=self.garden).update(station=self.station)

    def made(self, name: str, seed: int, climate: Climate, **more: Any) -> Station:
        start = date(2005, 7, 16)
        self.weather = generate(climate, False, seed, start, (TODAY - start).days)
        station = Station.objects.create(name=name, owner=self.garden, **more)
        days = [start + timedelta(days=k) for k in range(len(self.weather.tmin))]
        merge(station, days, self.weather.tmin, self.weather.tmax)
        return station

    def garden_now(self) -> Garden:
        return Garden.objects.get(pk=self.garden.pk)


class Line(StationCase):
    def test_a_tried_line_says_what_would_move_and_writes_nothing(self) -> None:
        plant(self.garden, self.owner, "cosmos", 12)
        entries = JournalEntry.objects.count()
        spring = place_year(self.garden_now()).spring
        on = spring.date_for(0.4).day
        page = self.client.get(self.url("place/line/"), {"on": on.isoformat() if on else ""})
        self.assertContains(page, "Keep")
        light = self.client.get(self.url("place/line/"), {"on": on.isoformat() if on else "", "light": "1"})
        self.assertNotContains(light, "Keep")
        whole = self.client.get(self.url("place/"), {"risk": "1"})
        self.assertContains(whole, "Keep 1 %")
        self.assertEqual(JournalEntry.objects.count(), entries)
        self.assertEqual(self.garden_now().accepted_risk, 0.1)

    def test_what_would_move_is_what_moves(self) -> None:
        from aestiva.gardens.providers import effects

        crop = "sweet_pea"  # hardy enough that frost, not soil, may hold it
        plant(self.garden, self.owner, crop, 12)
        plant(self.garden, self.owner, "cosmos", 12)
        before = {i.name: i.raised.dates.out_on for i in self.now().items}
        garden = self.garden_now()
        garden.accepted_risk = 0.02
        said = {
            e.name: (e.before, e.after)
            for e in effects(self.garden, TODAY, place_year(self.garden_now()), place_year(garden))
            if e.step == "plant out"
        }
        self.post("place/line/", risk="2")
        self.garden = self.garden_now()
        self.assertEqual(self.garden.accepted_risk, 0.02)
        after = {i.name: i.raised.dates.out_on for i in self.now().items}
        moved = {n: (before[n], after[n]) for n in before if before[n] != after[n]}
        self.assertEqual(said, moved)
        self.post(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/")
        self.assertEqual(self.garden_now().accepted_risk, 0.1)

    def test_risks_that_cannot_be_are_refused_with_the_mend(self) -> None:
        for risk, said in (
            ("0.2", "give 1 to 50 %"),
            ("80", "give 1 to 50 %"),
            ("many", "This is no number"),
            ("", "Give a risk"),
        ):
            self.assertContains(self.client.get(self.url("place/line/"), {"risk": risk}), said, status_code=422)
        self.post("place/line/", risk="80")
        self.assertEqual(self.garden_now().accepted_risk, 0.1)
        far = self.client.get(self.url("place/line/"), {"on": "2026-07-01"})
        self.assertContains(far, "kept between 1 and 50 %")

    def test_settings_still_open_with_a_kept_risk(self) -> None:
        self.post("place/line/", risk="12.5")
        self.assertContains(self.client.get(self.url("settings/")), "as kept on the frost curve")

    def test_every_depth_and_season_with_its_table(self) -> None:
        for season in ("spring", "autumn"):
            for threshold in ("0.0", "2.2", "-2.2", "nonsense"):
                page = self.client.get(self.url("place/"), {"season": season, "threshold": threshold})
                self.assertContains(page, "icicle")
                self.assertContains(page, "± ")
        table = self.client.get(self.url("place/frost.csv")).content.decode().splitlines()
        self.assertEqual(len(table), 1 + 3 * 21)  # a header, three depths, the cold seasons 2006 to 2026
        self.assertIn("edge", table[21])


class Beside(StationCase):
    def test_a_colder_hollow_and_another_station(self) -> None:
        hill = self.made("Hill", 4, Climate(6.0, 9.5, 2.6, range_c=12.0))
        page = self.client.get(self.url("place/"), {"with": str(hill.pk), "shift": "−1,5"})
        self.assertContains(page, "Hill, −1.5 °C")
        self.assertContains(page, "othercurve")
        for shift, said in (("cold", "is not a number"), ("40", "too much for one valley")):
            self.assertContains(self.client.get(self.url("place/"), {"shift": shift}), said)

    def test_a_colder_shift_makes_later_dates(self) -> None:
        day = place_year(self.garden_now()).last_frost[0]
        self.post("place/reckoning/", station=str(self.station.pk), shift_c="-1.5", basis="all", cover="bare")
        self.assertGreater(place_year(self.garden_now()).last_frost[0], day)

    def test_far_and_high_stations_are_named(self) -> None:
        Station.objects.filter(pk=self.station.pk).update(latitude=52.9, longitude=-3.0, elevation_m=20)
        page = self.client.get(self.url("place/"))
        self.assertContains(page, "100.1 km away")
        self.assertContains(page, "higher by 180 m")
        Station.objects.filter(pk=self.station.pk).update(latitude=52.05)
        self.assertContains(self.client.get(self.url("place/")), "higher by 180 m")
        Station.objects.filter(pk=self.station.pk).update(elevation_m=180)
        self.assertNotContains(self.client.get(self.url("place/")), "km away")


class Reckoning(StationCase):
    def test_the_shift_is_taken_from_the_nights_read_at_both(self) -> None:
        start = self.weather.start
        GardenNight.objects.bulk_create(
            GardenNight(garden=self.garden, day=start + timedelta(days=k), tmin_c=float(self.weather.tmin[k]) - 1.2)
            for k in range(1, 21)
        )
        page = self.client.get(self.url("place/reckoning/"))
        self.assertContains(page, "20 nights read at both: your garden is 1.2 °C colder")
        self.post("place/reckoning/", station=str(self.station.pk), shift_read="on", basis="all", cover="bare")
        frost = Frost.objects.get(garden=self.garden)
        self.assertEqual((frost.shift_c, frost.shift_nights), (-1.2, 20))
        self.assertContains(self.client.get(self.url("place/")), "20 nights compared")

    def test_soil_gates_the_plan_by_bed_and_probe(self) -> None:
        planting = plant(self.garden, self.owner, "tomato", 6)
        place = place_year(self.garden_now())
        self.assertIsInstance(place.warmth, ComputedWarmth)
        out = self.now().items[0].raised.dates.out
        need = place.warmth.soil_from(2026, 13).day
        assert need is not None
        self.assertEqual(out.start, need)
        self.assertContains(self.client.get(self.url(f"plan/{planting.pk}/")), "Morning soil of 13 °C")
        self.post("place/reckoning/", station=str(self.station.pk), basis="all", cover="tunnel")
        warmer = self.now().items[0].raised.dates.out
        self.assertLess(warmer.start, out.start)
        for k in range(6):
            day = date(2025, 5, 1) + timedelta(days=k)
            SoilReading.objects.create(garden=self.garden, day=day, hour=8, celsius=3.0)
        self.assertGreater(self.now().items[0].raised.dates.out.start, warmer.start)

    def test_typed_days_of_warmth_can_go_before_the_stations(self) -> None:
        self.post("place/warmth/", kind="soil", celsius="13", on="2026-06-25")
        plant(self.garden, self.owner, "tomato", 6)
        self.assertLess(self.now().items[0].raised.dates.out.start, date(2026, 6, 25))
        self.assertContains(self.client.get(self.url("place/warmth/")), "Just now these days come from The Weir")
        self.post("place/reckoning/", station=str(self.station.pk), basis="all", cover="bare", warmth_typed="on")
        self.assertEqual(self.now().items[0].raised.dates.out.start, date(2026, 6, 25))

    def test_looking_ahead_writes_nothing_and_says_what_moves(self) -> None:
        plant(self.garden, self.owner, "cosmos", 6)
        page = self.client.get(
            self.url("place/reckoning/"),
            {"station": self.station.pk, "shift_c": "-3", "basis": "recent", "cover": "bare"},
        )
        self.assertContains(page, "of the plan would move")
        self.assertContains(page, "Cosmos")
        frost = Frost.objects.get(garden=self.garden)
        self.assertEqual((frost.shift_c, frost.basis), (0.0, "all"))
        bad = self.client.get(self.url("place/reckoning/"), {"shift_c": "40", "basis": "all", "cover": "bare"})
        self.assertContains(bad, "cannot be", status_code=422)

    def test_a_warming_climate_is_offered_its_recent_years(self) -> None:
        rows = np.arange(len(self.weather.tmin))
        warmer = self.made("Warming", 31, self.climate)
        from aestiva.place.models import StationYear

        StationYear.objects.filter(station=warmer).delete()
        days = [self.weather.start + timedelta(days=int(k)) for k in rows]
        merge(warmer, days, self.weather.tmin + 0.35 * rows / 365, self.weather.tmax)
        self.post("place/station/", station=str(warmer.pk))
        page = self.client.get(self.url("place/"))
        self.assertContains(page, "earlier a decade")
        self.assertContains(page, "the recent years")
        self.post("place/reckoning/", station=str(warmer.pk), basis="adjusted", cover="bare")
        self.assertContains(self.client.get(self.url("place/")), "each moved along the trend")


class FewYears(GardenCase):
    def test_seven_years_show_wide_limits_and_no_tenth(self) -> None:
        start = date(2018, 7, 16)
        weather = generate(Climate(8.0, 9.0, 2.6, range_c=12.0), False, 9, start, 365 * 7)
        station = Station.objects.create(name="Young", owner=self.garden)
        days = [start + timedelta(days=k) for k in range(len(weather.tmin))]
        merge(station, days, weather.tmin, weather.tmax)
        Frost.objects.filter(garden=self.garden).update(station=station)
        page = self.client.get(self.url("place/"))
        self.assertContains(page, "Young has 7 usable cold seasons; ten are needed")
        self.assertContains(page, "give or take")
        self.assertContains(page, "As typed")
        Frost.objects.filter(garden=self.garden).update(last_on=None)
        empty = self.client.get(self.url("place/"))
        self.assertContains(empty, "7 usable cold seasons")
        self.assertContains(empty, "Type both frosts")

    def test_polar_and_tropical_gardens_have_a_page(self) -> None:
        for latitude, said in ((78.0, "The sun does not set at midsummer"), (1.0, "Days never fall under ten hours")):
            Garden.objects.filter(pk=self.garden.pk).update(latitude=latitude)
            self.assertContains(self.client.get(self.url("place/")), said)
