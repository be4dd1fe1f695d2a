"""Files on their way in: small ones read at once, large ones apart; limits, turns, and nobody else's."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile

from aestiva import apart
from aestiva.frame.tests.garden import TODAY, GardenCase, client_for, garden, user
from aestiva.gardens import clock, jobs
from aestiva.gardens.models import Job, Member
from aestiva.gardens.outcomes import Refused
from aestiva.place.models import ForecastNight, GardenNight, SoilReading, Station
from aestiva.season.models import Planting, WarmReading
from growing.tests import hostile

LONG = hostile.list_of(1_900, ("crop", "wanted", "variety", "note"), ("tomato", 12, "Old Ferry", "-"))


def upload(data: bytes, name: str = "list.xlsx") -> SimpleUploadedFile:
    return SimpleUploadedFile(name, data)


class Apart(GardenCase):
    def send(self, rest: str, data: bytes, **more: Any) -> Any:
        """What one sees once the worker has read it."""
        with mock.patch("aestiva.gardens.jobs.run_job"):
            waits = self.client.post(self.url(rest), {"file": upload(data), **more})
        job = Job.objects.latest("pk")
        self.assertEqual(waits["Location"], f"/jobs/{job.key}/")
        jobs.run(job.pk)
        return self.client.get(waits["Location"], follow=True)

    def test_a_large_list_is_read_apart_and_kept_by_ones_own_post(self) -> None:
        page = self.send("plan/import/", LONG)
        self.assertTrue(Job.objects.get().options["apart"])
        self.assertContains(page, "1900 plantings")
        self.assertFalse(Planting.objects.exists())
        kept = {"kept": page.context["sealed"], "what": "keep", "key": "once"}
        for _ in range(2):
            self.post("plan/import/", **kept)
        self.assertEqual(Planting.objects.count(), 1_900)

    def test_readings_of_each_kind_wait_to_be_kept(self) -> None:
        self.shelf.code = "M1"
        self.shelf.save()
        rows = [[TODAY - timedelta(days=k // 20), f"{k % 20}:30", 12.5] for k in range(4_500)]
        probe = hostile.workbook([["date", "hour", "temp"], *rows])
        cases: tuple[tuple[str, bytes, dict[str, Any], type[Any], int], ...] = (
            ("place/readings/", hostile.weather(3_900), {"which": "file"}, GardenNight, 3_900),
            ("place/readings/", probe, {"which": "soilfile", "hour": "8"}, SoilReading, 4_500),
            ("emergence/log/keep/", probe, {"spot": self.shelf.pk, "hour": "8"}, WarmReading, 4_500),
        )
        for rest, data, more, model, count in cases:
            with self.subTest(model.__name__):
                page = self.send(rest, data, **more)
                self.assertContains(page, "nothing kept yet")
                self.assertFalse(model.objects.exists())
                self.client.post(page.context["address"], {**page.context["hidden"], "key": model.__name__})
                self.assertEqual(model.objects.count(), count)

    def test_weather_of_a_century_says_its_unit_and_is_kept(self) -> None:
        first = date(1926, 1, 1)
        rows = [f"{first + timedelta(days=k)},{30 + k % 13},{45 + k % 20}" for k in range(36_000)]
        page = self.send("place/weather/", "\n".join(["date,tmin,tmax", *rows]).encode(), name="The Weir")
        self.assertContains(page, "36000 days from The Weir, nothing kept yet")
        kept = str(page.context["stored"])
        page = self.client.post(self.url("place/weather/"), {"kept": kept, "again": "yes", "unit": "F"}, follow=True)
        self.assertContains(page, "degrees Fahrenheit")
        self.post("place/weather/", kept=str(page.context["stored"]), name="The Weir", unit="F", key="k")
        self.assertEqual(Station.objects.get().name, "The Weir")

    def test_what_takes_too_much_is_said_where_the_file_is_chosen(self) -> None:
        with mock.patch("aestiva.gardens.reading.read_apart", side_effect=apart.TooHard):
            page = self.send("plan/import/", LONG)
        self.assertContains(page, "takes more memory or time than one file may", status_code=422)

    def test_the_child_has_bounds(self) -> None:
        for name in ("aestiva.gardens.tests.test_reading:greedy", "aestiva.gardens.tests.test_reading:no_such"):
            with self.subTest(name), self.assertRaises(apart.TooHard):
                apart.read_apart(name, b"", {}, lambda: None)
        found = apart.read_apart(
            "growing.files.sheet:sheet_apart", b"a,b\n1,2\n", {"most_bytes": 99, "most_rows": 9}, int
        )
        self.assertEqual(found["lines"][1], [2, ["1", "2"]])

    def test_a_forecast_too_large_to_be_one_is_refused(self) -> None:
        page = self.send("place/forecast/", hostile.weather(3_000))
        answer = self.client.post(page.context["address"], page.context["hidden"])
        self.assertContains(answer, "None of its days lies in the next two weeks", status_code=422)
        self.assertFalse(ForecastNight.objects.exists())


def greedy(data: bytes, options: Any) -> dict[str, Any]:
    """Wants more memory than there is for one file."""
    return {"much": len(bytearray(apart.MOST_MEMORY))}


class NobodyElse(GardenCase):
    def test_what_was_read_is_for_one_person_one_garden_and_one_kind(self) -> None:
        page = self.client.post(self.url("seeds/import/"), {"pasted": "crop\tvariety\nTomato\tOld Ferry"})
        key = page.context["sealed"]
        other = user("moss")
        Member.objects.create(garden=self.garden, user=other, role="grower")
        elsewhere = garden(self.owner, name="Elsewhere")
        for client, address in (
            (client_for(other), self.url("seeds/import/")),
            (self.client, f"/g/{elsewhere.pk}/seeds/import/"),
            (self.client, self.url("plan/import/")),
        ):
            with self.subTest(address):
                answer = client.post(address, {"kept": key, "what": "keep"})
                self.assertContains(answer, "choose the file again", status_code=422)
        for rest in ("place/file/", "emergence/log/", "place/weather/", "plan/import/"):
            self.assertEqual(self.client.get(self.url(f"{rest}?job={key}")).status_code, 422)
            self.assertEqual(self.client.get(self.url(f"{rest}?job=forged")).status_code, 422)


class Turns(GardenCase):
    """Nobody keeps another waiting."""

    def setUp(self) -> None:
        super().setUp()
        self.done: list[str] = []
        jobs.register_work("slow", lambda job, tell: self.done.append(str(job.user)) or {})  # type: ignore[func-returns-value]
        self.turn = jobs.run_job.func
        handed = mock.patch("aestiva.gardens.jobs.run_job")
        handed.start()
        self.addCleanup(handed.stop)

    def begin(self, who: Any, count: int, **more: Any) -> None:
        for n in range(count):
            jobs.start("slow", who, b"%d" % n, long=True, **more)

    def test_a_person_and_a_garden_have_so_many_at_once(self) -> None:
        self.begin(self.owner, jobs.MOST_OF_ONE, garden=self.garden)
        with self.assertRaises(Refused):
            self.begin(self.owner, 1)
        page = self.client.post(self.url("plan/import/"), {"file": upload(LONG)})
        self.assertContains(page, "4 long jobs of yours wait", status_code=422)
        page = self.client.post("/gardens/import/", {"file": upload(b"x" * (jobs.AT_ONCE_BYTES + 1), "g.json")})
        self.assertContains(page, "4 long jobs of yours wait", status_code=422)
        people = [user(f"helper{n}") for n in range(3)]
        for who in people:
            Member.objects.create(garden=self.garden, user=who, role="grower")
        self.begin(people[0], 4, garden=self.garden)
        with self.assertRaises(Refused):
            self.begin(people[1], 1, garden=self.garden)
        self.begin(people[1], 1)

    def test_turns_go_round(self) -> None:
        other, third = user("moss"), user("fern")
        self.begin(self.owner, 4)
        self.begin(other, 2)
        self.begin(third, 1)
        for _ in range(9):
            self.turn(0)
        self.assertEqual(self.done, ["Wren", "Moss", "Fern", "Wren", "Moss", "Wren", "Wren"])

    def test_the_work_of_one_who_has_left_ends(self) -> None:
        helper = user("moss")
        mine = Member.objects.create(garden=self.garden, user=helper, role="grower")
        self.begin(helper, 2, garden=self.garden)
        running = Job.objects.filter(user=helper).latest("pk")
        Job.objects.filter(pk=running.pk).update(state="running", beat_at=clock.instant())
        self.post("members/", what="remove", member=mine.pk, sure="yes")
        self.assertEqual(list(Job.objects.filter(user=helper)), [running])
        with self.assertRaises(jobs.Cancelled):
            jobs._tell(running.pk, 0.5, "still at it")

    def test_only_the_newest_ended_ones_are_kept(self) -> None:
        for n in range(jobs.MOST_ENDED + 5):
            jobs.start("slow", self.owner, b"%d" % n)
        self.assertEqual(Job.objects.count(), jobs.MOST_ENDED + 1)
