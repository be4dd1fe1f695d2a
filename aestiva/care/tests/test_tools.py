"""Weights typed and posted, what was poured off, the sprayer, fans and air; heat that something minds; two feeds in one can."""

from __future__ import annotations

import json
from datetime import datetime, timedelta
from typing import Any
from unittest import mock

from django.db import connection
from django.test.utils import CaptureQueriesContext

from aestiva.accounts import limits
from aestiva.care.air import airs
from aestiva.care.models import AirLook, Feed, Sprayer, TrayLook, TrayWeight
from aestiva.care.tests.test_round import RoundCase
from aestiva.course.state import load
from aestiva.frame.tests.garden import TODAY
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.place.commands import make_key
from aestiva.place.models import FeedMessage
from aestiva.season.models import BatchEvent, WarmReading


class Scale(RoundCase):
    def weights(self, drained: str = "3000", dry: str = "2000") -> Any:
        return self.client.post(
            self.url("care/tools/weights/keep/"), {"tray": self.tray.pk, "drained": drained, "dry": dry}
        )

    def weigh(self, grams: str) -> Any:
        return self.client.post(self.url("care/weigh/keep/"), {"stop": self.key, "grams": grams})

    def send(self, grams: object = 2400, **more: Any) -> Any:
        token = make_key(self.garden, self.owner, "Scale")
        message = {
            "kind": "scale",
            "tray": self.tray.code,
            "readings": [{"at": f"{TODAY}T06:00", "grams": grams}],
            **more,
        }
        return self.client.post(
            "/feed/", json.dumps(message), content_type="application/json", headers={"Authorization": f"Bearer {token}"}
        )

    def test_a_weight_is_a_look(self) -> None:
        self.assertEqual(self.weigh("2500").status_code, 422)  # nobody said what it weighs drained and dry
        self.assertEqual(self.weights().status_code, 302)
        self.assertEqual(self.weigh("2500").status_code, 302)
        row = TrayLook.objects.get()
        self.assertEqual((row.left, row.found, row.watered), (0.5, "pale", False))
        stop = self.found().stops[0]
        self.assertTrue(stop.due)  # weighed dry, and nobody watered it yet
        assert stop.next.left is not None
        self.assertAlmostEqual(stop.next.left, 0.5, delta=0.05)

    def test_what_a_scale_posts_goes_the_same_way(self) -> None:
        self.weights()
        answer = self.send()
        self.assertEqual((answer.status_code, answer.json()["taken"]), (200, 1))
        self.assertEqual(TrayLook.objects.get().left, 0.4)
        entry = JournalEntry.objects.latest("pk")
        self.assertEqual((entry.kind, entry.user), ("device", None))

    def test_weights_that_cannot_be(self) -> None:
        self.assertEqual(self.weights("2000", "3000").status_code, 422)
        self.assertEqual(self.weights("x").status_code, 422)
        self.weights()
        self.assertEqual(self.weigh("1500").status_code, 422)
        self.assertEqual(self.send(1500).status_code, 422)
        self.assertEqual(self.send(-3).status_code, 422)
        self.assertEqual(self.send(2500, tray="T99").status_code, 422)
        self.assertEqual(self.send(2500, tray="").status_code, 422)
        self.assertFalse(TrayLook.objects.exists())

    def test_heavier_than_before_it_was_watered(self) -> None:
        self.weights()
        TrayLook.objects.create(tray=self.tray, day=TODAY - timedelta(days=1), hour=7, found="pale", left=0.45)
        self.weigh("2950")
        self.assertTrue(TrayLook.objects.latest("pk").watered)


class Chatty(RoundCase):
    """What order messages come in, and how many, is nothing to anybody."""

    def lay_out(self) -> None:
        super().lay_out()
        TrayWeight.objects.create(tray=self.tray, drained_g=3000, dry_g=2000)
        self.token = make_key(self.garden, self.owner, "Scale")

    def say(self, *readings: tuple[str, float]) -> Any:
        rows = [{"at": at, "grams": grams} for at, grams in readings]
        message = {"kind": "scale", "tray": self.tray.code, "readings": rows}
        head = {"Authorization": f"Bearer {self.token}"}
        return self.client.post("/feed/", json.dumps(message), content_type="application/json", headers=head)

    def told(self) -> list[tuple[float, float | None, bool]]:
        return list(TrayLook.objects.order_by("day", "hour").values_list("hour", "left", "watered"))

    def test_every_order_tells_the_same(self) -> None:
        day = [
            (f"{TODAY}T06:00", 2650.0),
            (f"{TODAY}T10:00", 2300.0),
            (f"{TODAY}T14:00", 2900.0),
            (f"{TODAY}T18:00", 2800.0),
        ]
        expected = [(6.0, 0.65, False), (10.0, 0.3, False), (14.0, 0.9, True), (18.0, 0.8, False)]
        for order in ((0, 1, 2, 3), (3, 2, 1, 0), (1, 0, 3, 2), (2, 0, 1, 3)):
            with self.subTest(order):
                TrayLook.objects.all().delete()
                FeedMessage.objects.all().delete()
                for k in order:
                    self.assertEqual(self.say(day[k]).json()["taken"], 1)
                self.assertEqual(self.told(), expected)
        TrayLook.objects.all().delete()
        self.say(*reversed(day))
        self.assertEqual(self.told(), expected)

    def test_times_with_an_offset_are_the_garden_s(self) -> None:
        self.garden.timezone = "Europe/London"
        self.garden.save()
        self.say((f"{TODAY}T05:00Z", 2650.0), (f"{TODAY}T23:30+14:00", 2600.0), (f"{TODAY}T08:00", 2550.0))
        self.assertEqual([hour for hour, _, _ in self.told()], [6.0, 8.0, 10.5])

    def test_a_burst_is_one_entry_and_leaves_the_plan_s_revision(self) -> None:
        before = Garden.objects.get()
        for minute in range(0, 60, 15):
            self.say((f"{TODAY}T07:{minute:02d}", 2600.0 - minute))
        entry = JournalEntry.objects.latest("pk")
        self.assertEqual(JournalEntry.objects.filter(kind="device").count(), 1)
        self.assertEqual(entry.summary, f"Scale weighed {self.tray.code}, 4 times")
        after = Garden.objects.get()
        self.assertEqual(after.revision, before.revision)
        self.assertGreater(after.readings_revision, before.readings_revision)
        self.post(f"journal/{entry.pk}/undo/")
        self.assertFalse(TrayLook.objects.exists())
        self.say((f"{TODAY}T09:00", 2500.0))  # after it was taken back another begins
        self.assertEqual(JournalEntry.objects.filter(kind="device", undoes=None).count(), 2)

    def test_two_thousand_readings_are_as_many_queries_as_two(self) -> None:
        counts = []
        for first, many in (("2026-01-01", 2), ("2026-02-01", 2_000)):
            begin = datetime.fromisoformat(first)
            rows = [((begin + timedelta(minutes=30 * k)).isoformat(), 2500.0 + k % 400) for k in range(many)]
            with CaptureQueriesContext(connection) as seen:
                self.assertEqual(self.say(*rows).json()["taken"], many)
            counts.append(len(seen))
        self.assertLess(counts[1] - counts[0], 40)  # a statement holds a thousand values

    def test_a_key_has_its_limit(self) -> None:
        with mock.patch.object(limits, "MESSAGES", 3):
            found = [self.say((f"{TODAY}T0{k}:00", 2500.0)).status_code for k in range(5)]
        self.assertEqual(found, [200, 200, 200, 429, 429])


class PouredOff(RoundCase):
    def test_the_next_dose_is_less_by_what_was_left_over(self) -> None:
        before = self.found().stops[0].litres
        self.look()
        self.assertIn("some left over", self.page())
        self.assertEqual(
            self.client.post(self.url("care/over/keep/"), {"stop": self.key, "over": "some"}).status_code, 302
        )
        stop = self.found().stops[0]
        self.assertAlmostEqual(stop.tray.dose_ml("pale") / 1000, before * 0.7, delta=0.02)
        self.assertEqual(
            self.client.post(self.url("care/over/keep/"), {"stop": "t999", "over": "some"}).status_code, 422
        )
        self.assertEqual(
            self.client.post(self.url("care/over/keep/"), {"stop": self.key, "over": "a lot"}).status_code, 422
        )


class AirOfPlaces(RoundCase):
    def air(self, what: str, **more: Any) -> Any:
        return self.client.post(self.url("care/tools/air/keep/"), {"spot": self.shelf.pk, "what": what, **more})

    def test_a_fan_dries_and_damp_air_does_not(self) -> None:
        plain = self.found().stops[0].tray.falls
        self.air("fan on")
        self.assertAlmostEqual(self.found().stops[0].tray.falls, plain * 1.2)
        self.air("fan off")
        self.assertAlmostEqual(self.found().stops[0].tray.falls, plain)
        self.air("humidity", number="85")
        self.assertLess(self.found().stops[0].tray.falls, plain / 2)
        self.assertIn("too damp", self.page())
        self.assertEqual(airs(self.garden, TODAY)[self.shelf.pk].humidity, 85.0)

    def test_brushed_all_with_one_tap(self) -> None:
        self.assertEqual(self.air("brushed", spot="all", next="care").status_code, 302)
        self.assertEqual(AirLook.objects.get().what, "brushed")
        self.assertIn("brushed 1×", self.page("care/tools/"))

    def test_what_cannot_be(self) -> None:
        for more in (
            {"what": "sung"},
            {"what": "humidity", "number": "140"},
            {"what": "humidity", "number": ""},
            {"what": "brushed", "spot": "9999"},
        ):
            with self.subTest(**more):
                self.assertEqual(self.air(**{"what": "brushed", **more}).status_code, 422)

    def test_a_sprayer_is_measured_once(self) -> None:
        def post(**more: Any) -> Any:
            return self.client.post(self.url("care/tools/sprayer/keep/"), {"ml": "60", "seconds": "30", **more})

        self.assertEqual(post().status_code, 302)
        self.assertIn("2.5 s", self.page("care/tools/"))  # 5 ml at 2 ml a second
        self.assertEqual(post(revision=Sprayer.objects.get().revision, ml="90").status_code, 302)
        self.assertEqual(Sprayer.objects.get().ml, 90.0)
        for bad in ({"ml": "0"}, {"seconds": "0"}, {"ml": "x"}, {"ml": ""}):
            self.assertEqual(post(**bad).status_code, 422)


class Heat(RoundCase):
    def test_an_alarm_where_a_crop_minds_it(self) -> None:
        self.assertNotIn("Too hot", self.page())
        for n in range(4):
            WarmReading.objects.create(
                garden=self.garden, spot=self.shelf, day=TODAY - timedelta(days=n), hour=14, celsius=17.0, most_c=31.0
            )
        self.assertIn("Too hot for Lettuce", self.page())
        todos = load(self.garden, TODAY).todos(TODAY, ("cool",))
        self.assertEqual([t.task.kind for t in todos], ["cool"])
        self.assertIn("keep cooler", self.page("today/").lower())
        self.assertIn("stalks", self.page("today/"))


class InOneCan(RoundCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.salts = Feed.objects.create(
            garden=self.garden, name="Salts", n=20, p=20, k=20, g_per_ml=1.0, not_with="lime"
        )
        self.lime = Feed.objects.create(garden=self.garden, name="Lime nitrate", n=15, g_per_ml=1.0)
        self.potash = Feed.objects.create(garden=self.garden, name="Potash", n=0, k=50, g_per_ml=1.0)

    def can(self, **more: Any) -> str:
        query = "&".join(
            f"{k}={v}" for k, v in {"feed": self.salts.pk, "spoon": 5, "unit": "ml", "litres": 10, **more}.items()
        )
        return self.page(f"care/feed/?{query}")

    def test_two_add_up_and_the_first_spoon_makes_room(self) -> None:
        page = self.can(**{"with": self.potash.pk, "spoon2": 2})
        self.assertIn("<b>100</b>", page)  # nitrogen of the salts alone
        self.assertIn("<b>166</b>", page)  # 83 of each: 2 g × 50 % × 0.83 ÷ 10 l
        self.assertIn("of that", page)

    def test_what_must_not_be_mixed_is_not_reckoned(self) -> None:
        page = self.can(**{"with": self.lime.pk})
        self.assertIn("must not be in one can with Lime nitrate", page)
        self.assertNotIn("mgl", page)

    def test_granules_put_the_next_feed_off_and_salts_are_washed_out(self) -> None:
        for n in range(5):
            BatchEvent.objects.create(
                batch=self.batch, kind="fed", on=TODAY - timedelta(days=30 - 6 * n), data={"n_mg_l": 120}
            )
        self.assertIn("wash out", self.page("care/feed/"))

        def post(what: str) -> Any:
            return self.client.post(self.url("care/fed/keep/"), {"batch": self.batch.pk, "what": what})

        self.assertEqual(post("flushed").status_code, 302)
        self.assertNotIn("wash out", self.page("care/feed/"))
        self.assertEqual(post("granules").status_code, 302)
        self.assertIn("Nobody is to be fed today", self.page("care/feed/"))
        self.assertEqual(post("champagne").status_code, 422)
        self.assertTrue(TrayWeight.objects.count() == 0)
