"""The round: what it asks, one tap a tray, what is learned, what is taken back; what cannot be; the line on Today."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.db import connection
from django.test.utils import CaptureQueriesContext

from aestiva.bench.models import Timer
from aestiva.care.models import PotLook, TrayLook
from aestiva.care.round import Looked, Round, learned, the_round
from aestiva.course.state import load
from aestiva.frame.tests.garden import TODAY, GardenCase, client_for, user
from aestiva.gardens.models import JournalEntry, Member
from aestiva.season.models import Batch, BatchEvent, CellRun, Tray, TrayStand


class RoundCase(GardenCase):
    """A tray of lettuce on a shelf that came up twelve days ago."""

    def lay_out(self) -> None:
        super().lay_out()
        self.batch = self.up("lettuce", 12)
        self.tray = Tray.objects.get(runs__batch=self.batch)
        self.key = f"t{self.tray.pk}"

    def up(self, crop: str, days: int) -> Batch:
        batch = self.sown(crop, 20, on=TODAY)
        Batch.objects.filter(pk=batch.pk).update(sown_on=TODAY - timedelta(days=days + 8))
        BatchEvent.objects.filter(batch=batch).update(on=TODAY - timedelta(days=days + 8))
        BatchEvent.objects.create(batch=batch, kind="up", on=TODAY - timedelta(days=days), count=20)
        self.post(f"batch/{batch.pk}/change/", what="move", spot=str(self.shelf.pk))
        TrayStand.objects.filter(until=None).update(since=TODAY - timedelta(days=days + 8))
        CellRun.objects.filter(until=None).update(since=TODAY - timedelta(days=days + 8))
        batch.refresh_from_db()
        return batch

    def found(self) -> Round:
        return the_round(load(self.garden, TODAY))

    def page(self, path: str = "care/") -> str:
        return self.client.get(self.url(path)).content.decode()

    def look(self, found: str = "pale", watered: str = "1", **more: Any) -> Any:
        return self.client.post(
            self.url("care/look/keep/"), {"stop": self.key, "found": found, "watered": watered, **more}
        )


class Pages(RoundCase):
    def test_nobody_has_looked_so_it_asks(self) -> None:
        page = self.page()
        self.assertIn("nobody has looked", page)
        self.assertIn("1 tray, 2 minutes", page)
        self.assertIn("The round</a>", self.page("today/"))
        self.assertIn("1 tray, 2 minutes: nobody has looked at them yet.", self.page("today/round/"))

    def test_one_tap_and_it_is_done_until_its_next_look(self) -> None:
        self.assertEqual(self.look().status_code, 302)
        row = TrayLook.objects.get()
        self.assertEqual((row.tray, row.day, row.found, row.watered), (self.tray, TODAY, "pale", True))
        stop = self.found().stops[0]
        self.assertFalse(stop.due)
        assert stop.next.left is not None
        self.assertGreater(stop.next.left, 0.95)
        page = self.page()
        self.assertIn("The round is done; next", page)
        self.assertIn("watered", page)
        self.assertIn("The round is done; next", self.page("today/round/"))

    def test_watered_from_below_rings_once_for_the_whole_round(self) -> None:
        self.look()
        first = Timer.objects.get()
        self.look("limp")
        self.assertGreaterEqual(Timer.objects.get().due, first.due)
        self.assertIn("Pour off what stands under the trays at", self.page())
        self.assertIn("Pour off what stands under the trays at", self.page("today/"))

    def test_found_fair_rings_nothing(self) -> None:
        self.look("fair", "")
        self.assertFalse(Timer.objects.exists())
        self.assertFalse(TrayLook.objects.get().watered)

    def test_taken_back(self) -> None:
        self.look()
        entry = JournalEntry.objects.latest("pk")
        self.client.post(self.url(f"journal/{entry.pk}/undo/"))
        self.assertFalse(TrayLook.objects.exists())
        self.assertFalse(Timer.objects.exists())
        self.assertTrue(self.found().stops[0].due)

    def test_a_round_in_two_goes_is_no_long_walk(self) -> None:
        def walked(day: int, *hours: float) -> list[Looked]:
            return [Looked(TODAY - timedelta(days=day), hour, "pale", False, None, None) for hour in hours]

        whole = [8.0 + n / 60 for n in range(6)]  # a tray a minute
        parted = [*whole[:3], *(hour + 10 for hour in whole[3:])]  # half of them in the evening
        for rows in ([*walked(1, *whole), *walked(2, *whole)], [*walked(1, *parted), *walked(2, *parted)]):
            self.assertAlmostEqual(learned({"t1": rows}) or 0.0, 1.0, places=2)

    def test_the_same_tap_twice_is_one(self) -> None:
        self.look(key="k1")
        self.look(key="k1")
        self.assertEqual(TrayLook.objects.count(), 1)

    def test_those_likely_fair_in_one_entry(self) -> None:
        self.look("wet", "")
        other = self.up("kale", 9)
        before = JournalEntry.objects.count()
        tray = Tray.objects.get(runs__batch=other)
        self.client.post(self.url("care/fine/keep/"), {"stop": [self.key, f"t{tray.pk}", "t999999"]})
        self.assertEqual(JournalEntry.objects.count(), before + 1)
        self.assertEqual(TrayLook.objects.filter(day=TODAY).count(), 3)

    def test_another_goes_on_where_the_first_left_off(self) -> None:
        self.up("kale", 9)
        self.look()
        helper = user("helper")
        Member.objects.create(garden=self.garden, user=helper, role="grower")
        page = client_for(helper).get(self.url("care/")).content.decode()
        self.assertIn("1 tray, 2 minutes", page)
        self.assertIn("Kale", page)
        self.assertIn("✓", page)

    def test_what_cannot_be(self) -> None:
        for typed in (
            {"found": "purple"},
            {"stop": "t999999"},
            {"stop": "b1"},
            {"stop": "?"},
            {"stop": "t" + "9" * 40},
        ):
            with self.subTest(typed=typed):
                answer = self.client.post(
                    self.url("care/look/keep/"), {"stop": self.key, "found": "pale", "watered": "1", **typed}
                )
                self.assertEqual(answer.status_code, 422)
        self.assertEqual(self.client.post(self.url("care/fine/keep/"), {}).status_code, 422)
        self.assertFalse(TrayLook.objects.exists())

    def test_a_reader_sees_it_and_taps_nothing(self) -> None:
        reader = user("reader")
        Member.objects.create(garden=self.garden, user=reader, role="reader")
        page = client_for(reader).get(self.url("care/")).content.decode()
        self.assertIn("Lettuce", page)
        self.assertNotIn('name="found"', page)

    def test_a_file_of_it(self) -> None:
        self.look()
        lines = self.page("care/water.csv").splitlines()
        self.assertEqual(len(lines), 2)
        self.assertIn("dry_on", lines[0])

    def test_queries_do_not_grow_with_trays(self) -> None:
        def asked() -> int:
            self.page()
            with CaptureQueriesContext(
                connection,
            ) as found:
                self.page()
            return len(found)

        one = asked()
        for crop in ("kale", "leek", "tomato", "pepper"):
            self.up(crop, 9)
        self.assertLessEqual(asked(), one + 2)


class Learned(RoundCase):
    def test_a_tray_that_is_found_dry_every_day_is_looked_at_sooner(self) -> None:
        usual = self.found().stops[0].next.thirst
        for ago in range(12, 0, -1):
            TrayLook.objects.create(tray=self.tray, day=TODAY - timedelta(days=ago), hour=8, found="limp", watered=True)
        stop = self.found().stops[0]
        self.assertEqual(usual, 1.0)
        self.assertGreater(stop.next.thirst, 1.5)

    def test_pots_by_themselves_have_looks_of_their_own(self) -> None:
        PotLook.objects.create(batch=self.batch, day=TODAY, hour=8, found="fair")
        self.assertIsNone(self.found().stops[0].today, "a look at pots is none at a tray")
