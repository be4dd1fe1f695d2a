"""The season that pages share: read once, dropped by every change; what is worked out of a place stays while the place is the same."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, timedelta
from unittest import mock

import numpy as np
from django.db import connection, transaction
from django.test.utils import CaptureQueriesContext

from aestiva.course.kept import forget
from aestiva.frame.tests.garden import TODAY, GardenCase, plant, shown
from aestiva.gardens.models import Garden, JournalEntry, Member
from aestiva.place.actions import merge
from aestiva.place.models import Frost, Station
from aestiva.place.queries import place_year
from aestiva.season.crops import Crops
from aestiva.season.models import Batch, CropValue, Spot

PAGES = ("today/", "plan/", "emergence/", "hardening/", "plantingout/", "beds/")


class Taken(Exception):
    """Everything is taken back."""


class Kept(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.batch = self.sown("tomato", 12, on=TODAY)
        self.other = plant(self.garden, self.owner, "kale", 6)

    def page(self, rest: str) -> str:
        return shown(self.client.get(self.url(rest)))

    def revisions(self) -> tuple[int, int]:
        self.garden.refresh_from_db()
        return self.garden.revision, self.garden.readings_revision

    def test_a_second_page_reads_no_season_again(self) -> None:
        asked = []
        for rest in ("today/", "plan/", "today/"):
            with CaptureQueriesContext(connection) as seen:
                self.client.get(self.url(rest))
            asked.append(sum('FROM "season_taskmark"' in one["sql"] for one in seen.captured_queries))
        self.assertGreater(asked[0], 0)
        self.assertEqual(asked[2], 0)

    def test_after_every_kind_of_change_all_pages_are_new(self) -> None:
        """As a server runs, where nobody looks at statements: only revisions say that something was written."""
        batch, member = self.batch.pk, Member.objects.get(garden=self.garden)
        bench = Spot.objects.create(garden=self.garden, kind="sill", code="Sill")
        feed = self.post("place/feeds/", name="Probe").context["token"]
        probe = {"kind": "soil", "readings": [{"at": f"{TODAY}T08:00", "celsius": 9.5}]}
        head = {"Authorization": f"Bearer {feed}"}
        hours = {f"days-{n}-{end}": hour for n in range(1, 8) for end, hour in (("begin", "8:00"), ("end", "18:00"))}
        changes: list[Callable[[], object]] = [
            lambda: self.post(f"batch/{batch}/record/", kind="up", count="9"),
            lambda: self.post(f"batch/{batch}/change/", what="move", spot=str(bench.pk)),
            lambda: self.post(f"task/p{self.other.pk}.sow.0/", on=TODAY.isoformat()),
            lambda: self.post("place/forecast/", one="1", day=TODAY.isoformat(), tmin="-3", cloud="10", wind="4"),
            lambda: self.client.post("/feed/", probe, content_type="application/json", headers=head),
            lambda: self.post(f"journal/{JournalEntry.objects.filter(garden=self.garden).latest('pk').pk}/undo/"),
            lambda: self.post("hardening/people/hours/keep/", member=str(member.pk), **hours),
            lambda: self.post("crops/tomato/raise_max/", value="9", reason="seen"),
        ]
        with mock.patch("aestiva.course.kept.forget"):
            for n, change in enumerate(changes):
                before = self.revisions()
                for rest in PAGES:
                    self.page(rest)
                change()
                self.assertNotEqual(self.revisions(), before, f"change {n} is none")
                self.page("journal/")  # where what it said is read
                kept = {rest: self.page(rest) for rest in PAGES}
                forget()
                self.assertEqual(kept, {rest: self.page(rest) for rest in PAGES}, f"change {n}")

    def test_a_place_is_known_by_what_it_follows_from(self) -> None:
        place = place_year(self.garden)
        self.assertIs(place_year(Garden.objects.get(pk=self.garden.pk)), place)
        for change in ({"last_on": date(2026, 5, 2)}, {"last_meaning": "90"}):
            Frost.objects.filter(garden=self.garden).update(**change)
            other = place_year(self.garden)
            self.assertIsNot(other, place)
            place = other
        self.garden.accepted_risk = 0.05
        self.assertIsNot(place_year(self.garden), place)

    def test_another_day_of_weather_is_another_record_also_where_the_first_was_taken_back(self) -> None:
        station = Station.objects.create(name="The Weir", owner=self.garden)
        days = [TODAY - timedelta(days=n) for n in (2, 1)]

        def merged(*tmin: float) -> int:
            station.refresh_from_db()
            merge(station, days, np.array(tmin), np.array([9.0, 9.0]))
            return int(station.series_revision)

        tried = []
        for tmin in ((1.0, 2.0), (1.0, 3.0), (1.0, 2.0)):
            try:
                with transaction.atomic():
                    tried.append(merged(*tmin))
                    raise Taken
            except Taken:
                pass
        self.assertEqual(tried[0], tried[2])
        self.assertNotEqual(tried[0], tried[1])

    def test_crops_are_the_same_where_they_are_made_of_the_same(self) -> None:
        plain = Crops(self.garden)["tomato"]
        CropValue.objects.create(garden=self.garden, crop_key="tomato", field="damage_c", value=-1, reason="seen")
        one, again = Crops(self.garden)["tomato"], Crops(self.garden)["tomato"]
        CropValue.objects.filter(garden=self.garden).update(value=-2)
        other = Crops(self.garden)["tomato"]
        self.assertEqual(len({plain, one, again, other}), 3)
        self.assertEqual(one, again)
        self.assertEqual(Batch.objects.get(pk=self.batch.pk).planting.crop_key, one.key)
