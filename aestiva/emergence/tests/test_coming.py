"""Is it coming?  The page, counts, what was lifted, readings typed and posted, and what each makes of the verdict."""

from __future__ import annotations

import html
import json
from datetime import timedelta
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from aestiva.emergence.coming import SowingComing, coming
from aestiva.emergence.words import PRESSING, headline
from aestiva.frame.tests.garden import TODAY, GardenCase, client_for, user
from aestiva.gardens.models import JournalEntry, Member
from aestiva.place.commands import make_key
from aestiva.season.models import Batch, BatchEvent, Spot, WarmReading


class ComingCase(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        Spot.objects.filter(pk=self.shelf.pk).update(heated="room", lit="lamp")
        self.batch = self.sown("tomato", 20)
        self.post(f"batch/{self.batch.pk}/change/", what="move", spot=str(self.shelf.pk))

    def one(self) -> SowingComing:
        return next(c for c in coming(self.now()) if c.batch == self.batch.pk)

    def page(self, rest: str = "emergence/") -> str:
        answer = self.client.get(self.url(rest))
        self.assertEqual(answer.status_code, 200)
        return answer.content.decode()

    def count(self, number: Any, **more: Any) -> Any:
        return self.post(f"emergence/{self.batch.pk}/count/keep/", count=str(number), **more)

    def days_on(self, days: int) -> None:
        self.day(TODAY + timedelta(days=days))


class ThePage(ComingCase):
    def test_from_too_soon_to_enough(self) -> None:
        self.assertEqual(self.one().verdict.kind, "soon")
        self.assertIn("Too soon to tell", self.page())
        self.days_on(9)
        self.assertEqual(self.one().verdict.kind, "count")
        self.assertEqual(self.count(3).status_code, 302)
        self.assertIn(self.one().verdict.kind, ("wait", "check"))
        before = self.one().verdict.enough
        self.days_on(10)
        self.count(self.one().seeds - 1)
        self.assertGreater(self.one().verdict.enough, before)
        self.assertEqual(self.one().verdict.kind, "enough")
        self.count(self.one().seeds)
        self.assertEqual([c.verdict.kind for c in coming(self.now())], ["enough"])  # they want light and air
        self.post(f"emergence/{self.batch.pk}/trigger/keep/", all="1")
        self.assertEqual(coming(self.now()), [])  # they are seedlings now

    def test_taken_back_the_verdict_is_as_it_was(self) -> None:
        self.days_on(9)
        before = self.one().verdict
        self.count(4)
        entry = JournalEntry.objects.filter(garden=self.garden).latest("pk")
        self.post(f"journal/{entry.pk}/undo/")
        self.assertEqual(self.one().verdict.kind, before.kind)
        self.assertEqual(self.one().up, 0)

    def test_what_cannot_be_counted(self) -> None:
        for bad in ("many", "-1", "", "99999"):
            self.assertEqual(self.count(bad).status_code, 422, bad)
        self.assertEqual(self.count(self.one().seeds + 9).status_code, 422)  # more up than sown
        self.days_on(9)
        self.count(6)
        self.assertEqual(self.count(4).status_code in (302, 422), True)  # a count that falls breaks nothing
        self.page()

    def test_what_cannot_have_been_lifted(self) -> None:
        for bad in ("-1", "some", "501", "9" * 400):
            answer = self.post(f"emergence/{self.batch.pk}/lifted/keep/", root=bad)
            self.assertEqual(answer.status_code, 422, bad[:9])
        self.assertFalse(BatchEvent.objects.filter(kind="lifted").exists())

    def test_nothing_up_is_looked_at_before_it_is_given_up(self) -> None:
        for day in (9, 12, 15):
            self.days_on(day)
            self.count(0)
        silent = self.one().verdict
        self.assertIn(silent.kind, ("check", "keep_again"))
        answer = self.post(f"emergence/{self.batch.pk}/lifted/keep/")
        self.assertEqual(answer.status_code, 422)
        self.post(f"emergence/{self.batch.pk}/lifted/keep/", root="4")
        self.assertEqual(BatchEvent.objects.filter(kind="lifted").latest("pk").data, {"root": 4})
        self.assertGreater(self.one().verdict.enough, silent.enough)

    def test_another_garden_and_a_reader(self) -> None:
        reader = user("reader")
        Member.objects.create(garden=self.garden, user=reader, role="reader")
        self.assertEqual(client_for(reader).get(self.url("emergence/")).status_code, 200)
        answer = client_for(reader).post(self.url(f"emergence/{self.batch.pk}/count/keep/"), {"count": "1"})
        self.assertIn(answer.status_code, (403, 405))
        self.assertEqual(client_for(user("finch")).get(self.url("emergence/")).status_code, 404)

    def test_today_says_what_does_not_come(self) -> None:
        address = self.url(f"emergence/?batch={self.batch.pk}#one")
        self.assertNotIn(address, self.page("today/"))
        for day in (9, 12, 15, 18):
            self.days_on(day)
            self.count(0)
        said = self.page("today/")
        self.assertIn(self.one().verdict.kind, PRESSING)
        self.assertIn(headline([self.one()], self.now().today), html.unescape(said))
        self.assertIn(address, said)
        self.count(self.one().seeds)
        self.assertNotIn(address, self.page("today/"))

    def test_nothing_under_the_mix(self) -> None:
        Batch.objects.update(failed_on=TODAY)
        self.assertIn("Nothing is under the mix", self.page())


class Readings(ComingCase):
    def send(self, token: str, **message: Any) -> Any:
        return Client().post(
            "/feed/", json.dumps(message), content_type="application/json", headers={"Authorization": f"Bearer {token}"}
        )

    def test_the_clock_runs_by_what_the_mix_had(self) -> None:
        self.days_on(8)
        assumed = self.one().case.x
        for k in range(8):
            for hour in (2, 8, 14, 20):
                WarmReading.objects.create(
                    garden=self.garden, spot=self.shelf, day=TODAY + timedelta(days=k), hour=hour, celsius=13.0
                )
        cold = self.one()
        self.assertLess(cold.case.x, assumed * 0.7)
        self.assertTrue(cold.had.of.measured)
        self.assertEqual(cold.had.by, 3)

    def test_typed_now_or_off_a_dial(self) -> None:
        at = {"spot": str(self.shelf.pk)}
        for bad in ({**at}, {**at, "celsius": "warm"}, {**at, "celsius": "99"}, {**at, "celsius": "20", "most": "12"}):
            self.assertEqual(self.post("emergence/reading/keep/", **bad).status_code, 422, bad)
        self.assertEqual(self.post("emergence/reading/keep/", **at, celsius="15", most="24").status_code, 302)
        self.assertEqual(self.post("emergence/reading/keep/", **at, celsius="14", most="24").status_code, 302)
        row = WarmReading.objects.get()
        self.assertEqual((row.celsius, row.most_c), (14.0, 24.0))
        self.post("emergence/reading/keep/", **at, celsius="18")
        self.assertEqual(WarmReading.objects.count(), 2)

    def log(self, text: str, **more: Any) -> Any:
        file = SimpleUploadedFile("probe.csv", text.encode())
        return self.post("emergence/log/keep/", spot=str(self.shelf.pk), file=file, **more)

    def test_a_log_comes_in_whole_or_not_at_all(self) -> None:
        rows = [f"{TODAY + timedelta(days=k)} {h:02}:00,{13 + h / 10}" for k in range(3) for h in (2, 8, 14, 20)]
        self.days_on(3)
        assumed = self.one().case.x
        bad = [*rows[:3], f"{TODAY},warm", f"{TODAY + timedelta(days=30)},20", f"{TODAY},200"]
        for text, said in (
            ("", "empty"),
            ("a,b\n1,2", "No column"),
            ("date,mix\n" + "\n".join(bad), "Row 5: “warm” is not a number. And 2 more rows"),
        ):
            answer = self.log(text)
            self.assertEqual(answer.status_code, 422, text)
            self.assertIn(said, answer.content.decode())
        self.assertEqual(self.log("date,mix\n" + rows[0], hour="late").status_code, 422)
        self.assertEqual(self.post("emergence/log/keep/", spot=str(self.shelf.pk)).status_code, 422)
        self.assertEqual(self.log("date,mix\n" + rows[0], hour="24.5").status_code, 422)
        self.assertEqual(WarmReading.objects.count(), 0)
        self.assertEqual(self.log("date,mix\n" + "\n".join(rows)).status_code, 302)
        self.assertEqual(WarmReading.objects.filter(spot=self.shelf, source="probe.csv").count(), 12)
        self.assertEqual(self.one().had.by, 3)
        self.assertLess(self.one().case.x, assumed)
        self.log("date,mix\n" + "\n".join(rows))  # the same again: nothing twice
        self.assertEqual(WarmReading.objects.count(), 12)
        entry = JournalEntry.objects.filter(garden=self.garden, summary__contains="of the mix").earliest("pk")
        self.assertIn("12 readings", entry.summary)

    def test_a_log_taken_back_leaves_nothing(self) -> None:
        self.days_on(1)
        self.log(f"date,time,temperature [°F]\n{TODAY},8:30,68", batch=str(self.batch.pk))
        self.assertEqual(WarmReading.objects.get().celsius, 20.0)
        entry = JournalEntry.objects.filter(garden=self.garden).latest("pk")
        self.post(f"journal/{entry.pk}/undo/")
        self.assertEqual(WarmReading.objects.count(), 0)

    def test_a_log_goes_before_a_dial(self) -> None:
        at = {"spot": str(self.shelf.pk)}
        self.post("emergence/reading/keep/", **at, celsius="10", most="40")
        self.days_on(1)
        self.assertEqual(self.one().had.by, 2)
        self.log("date,mix\n" + "\n".join(f"{TODAY} {h}:00,21" for h in (9, 13, 17, 21)))
        self.assertEqual(self.one().had.by, 3)
        self.assertAlmostEqual(self.one().had.hourly_c[:12].mean(), 21.0)

    def test_a_probe_posts_and_the_same_again_changes_nothing(self) -> None:
        token = make_key(self.garden, self.owner, "bench probe")
        readings = [{"at": f"{TODAY}T{h:02}:00", "celsius": 20 + h / 10} for h in (2, 8, 11)]
        first = self.send(token, kind="mix", place="R1·1", readings=readings)
        self.assertEqual(first.json(), {"taken": 3, "repeated": False})
        self.assertEqual(
            self.send(token, kind="mix", place="R1·1", readings=readings).json(), {"taken": 0, "repeated": True}
        )
        more = [*readings, {"at": f"{TODAY}T12:00", "celsius": 21}]
        self.assertEqual(self.send(token, kind="mix", place="R1·1", readings=more).json()["taken"], 1)
        self.assertEqual(WarmReading.objects.count(), 4)
        self.assertEqual(self.send(token, kind="mix", place="R9", readings=readings).status_code, 422)
        self.assertEqual(self.send(token, kind="mix", readings=readings).status_code, 422)
        self.assertEqual(self.send("wrong", kind="mix", place="R1·1", readings=readings).status_code, 401)
        hot = [{"at": f"{TODAY}T02:00", "celsius": 700}]
        self.assertEqual(self.send(token, kind="mix", place="R1·1", readings=hot).status_code, 422)

    def test_a_spike_and_a_gap_are_left_aside(self) -> None:
        self.days_on(3)
        for hour, celsius in ((2, 20.0), (6, 20.2), (10, 49.0), (14, 20.4), (20, 20.1)):
            WarmReading.objects.create(
                garden=self.garden, spot=self.shelf, day=TODAY + timedelta(days=1), hour=hour, celsius=celsius
            )
        had = self.one().had
        self.assertLess(float(had.hourly_c.max()), 26)
        self.assertFalse(had.of.measured)  # one day of three


class Lost(ComingCase):
    """A dozen came up on a sill, and most of them fell over."""

    def test_what_died_is_to_come_again_on_every_page(self) -> None:
        self.days_on(16)
        self.count(self.one().seeds // 2)
        before = next((t.task.count or 0 for t in self.now().todos(self.now().today, ("again",))), 0)
        self.post(f"batch/{self.batch.pk}/record/", kind="died", count=str(self.one().seeds // 2))
        (again,) = self.now().todos(self.now().today, ("again",))
        self.assertGreater(again.task.count or 0, before)
        self.assertIn(f"sow {again.task.count} more", self.page())
        self.assertIn("; sow Tomato again", self.page("plan/"))
