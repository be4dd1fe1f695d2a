"""The page of Light: what it says of a shelf, what is written there and taken back, what cannot be, whom it asks on Today."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import numpy as np
from django.db import connection
from django.test.utils import CaptureQueriesContext

from aestiva.course.light import lights
from aestiva.frame.tests.garden import TODAY, GardenCase, client_for, user
from aestiva.gardens.models import JournalEntry, Member
from aestiva.light.shelves import Shelf, shelves
from aestiva.season.lamps import rigs_of
from aestiva.season.models import (
    Absence,
    Batch,
    BatchEvent,
    CellRun,
    Lamp,
    LampSetting,
    LightReading,
    Planting,
    Spot,
    Tariff,
    Tray,
    TrayStand,
)
from aestiva.season.places import where


class LightCase(GardenCase):
    """A shelf under four strips, lettuce on it that came up twelve days ago."""

    crop = "lettuce"

    def lay_out(self) -> None:
        super().lay_out()
        Spot.objects.filter(pk=self.shelf.pk).update(
            length_cm=122, width_cm=56, clear_cm=52, lit="lamp", lamp_cm=24, hangs_by="chain", heated="room"
        )
        self.shelf.refresh_from_db()
        self.lamp = Lamp.objects.create(
            spot=self.shelf, kind="strip", number=4, watts=20, lumen=2300, kelvin=4000, new_on=date(2026, 1, 1)
        )
        self.batch = self.grown(self.crop, 12)

    def grown(self, crop: str, days: int, spot: Spot | None = None, wanted: int = 20) -> Batch:
        batch = self.sown(crop, wanted, on=TODAY)
        Batch.objects.filter(pk=batch.pk).update(sown_on=TODAY - timedelta(days=days + 8))
        up = TODAY - timedelta(days=days)
        BatchEvent.objects.filter(batch=batch).update(on=TODAY - timedelta(days=days + 8))
        BatchEvent.objects.create(batch=batch, kind="up", on=up, count=wanted)
        self.post(f"batch/{batch.pk}/change/", what="move", spot=str((spot or self.shelf).pk))
        TrayStand.objects.filter(until=None).update(since=TODAY - timedelta(days=days + 8))
        CellRun.objects.filter(until=None).update(since=TODAY - timedelta(days=days + 8))
        batch.refresh_from_db()
        return batch

    def one(self) -> Shelf:
        return next(s for s in shelves(self.now()) if s.spot.pk == self.shelf.pk)

    def page(self, **query: Any) -> str:
        answer = self.client.get(self.url("light/"), query)
        self.assertEqual(answer.status_code, 200)
        return str(answer.content.decode())

    def set_to(self, **data: Any) -> Any:
        return self.post(f"light/{self.shelf.pk}/set/keep/", **data)

    def take_back(self) -> None:
        entry = JournalEntry.objects.filter(garden=self.garden, undoes=None, undone_by=None).latest("pk")
        self.post(f"journal/{entry.pk}/undo/")


class WhatItSays(LightCase):
    def test_its_headline_is_the_change_and_the_numbers_are_there_as_a_table(self) -> None:
        one, text = self.one(), self.page()
        self.assertIn(f"The light over {one.code}" if one.advice.first.kind in ("none", "turn") else one.code, text)
        self.assertIn("one grain a mol", text)
        self.assertIn("The map as a table", text)
        self.assertIn("data-handle", text)
        for got in one.advice.got:
            self.assertIn(got.stand.name.split(" ‘")[0], text)

    def test_the_light_it_had_stands_on_the_page_of_the_batch(self) -> None:
        self.assertIn(
            f"light/batch/{self.batch.pk}/", self.client.get(self.url(f"batch/{self.batch.pk}/")).content.decode()
        )
        text = self.client.get(self.url(f"light/batch/{self.batch.pk}/")).content.decode()
        lit = lights(self.now())[self.batch.pk]
        assert lit.mean is not None
        self.assertIn(f"{lit.mean:.1f}".rstrip("0").rstrip("."), text)
        rows = self.client.get(self.url("light/had.csv")).content.decode().splitlines()
        self.assertEqual(len(rows), 1 + len(lit.dli))

    def test_no_lamp_no_shelf_and_a_lamp_of_which_nobody_said_anything(self) -> None:
        Lamp.objects.all().delete()
        self.assertIn("Which lamp hangs over", self.page())
        self.assertEqual([k for k in self.kinds() if k in ("hang", "turn", "timer")], [])
        Spot.objects.filter(pk=self.shelf.pk).update(lit="")
        self.assertIn("Where do lamps hang?", self.page())

    def test_a_garden_without_a_frost_date_is_led_to_the_place(self) -> None:
        from aestiva.place.models import Frost

        Frost.objects.filter(garden=self.garden).delete()
        answer = self.client.get(self.url("light/"))
        self.assertIn(answer.status_code, (200, 302))

    def test_queries_are_as_many_for_many_batches(self) -> None:
        with CaptureQueriesContext(connection) as few:
            self.page()
        for n in range(4):
            self.grown("cabbage", 10 + n)
        self.garden.refresh_from_db()
        with CaptureQueriesContext(connection) as many:
            self.page()
        self.assertLessEqual(len(many), len(few) + 2)


class WhatIsSet(LightCase):
    def test_a_height_is_kept_from_today_on_and_the_bench_knows_it(self) -> None:
        self.assertEqual(self.set_to(left="29", revision=self.shelf.revision).status_code, 302)
        before, row = LampSetting.objects.filter(spot=self.shelf)
        self.assertEqual((row.since, row.left_cm, row.right_cm, row.hours), (TODAY, 29.0, 29.0, None))
        self.assertEqual(before.left_cm, 24.0)
        self.shelf.refresh_from_db()
        self.assertEqual(self.shelf.lamp_cm, 29.0)
        self.take_back()
        self.shelf.refresh_from_db()
        self.assertEqual((self.shelf.lamp_cm, LampSetting.objects.count()), (24.0, 0))

    def test_what_was_before_stays_true(self) -> None:
        before = lights(self.now())[self.batch.pk].dli[:-1]
        self.set_to(left="45")
        after = lights(self.now())[self.batch.pk].dli
        self.assertTrue(abs(after[:-1] - before).max() < 1e-4)
        self.assertLess(after[-1], before[-1] * 0.8)

    def test_the_proposal_in_one_tap_and_gone_from_today(self) -> None:
        self.set_to(left="45")
        option = self.one().advice.first
        self.assertEqual(option.kind, "lower")
        self.assertIn("hang", self.kinds())
        self.assertEqual(self.set_to(option="lower").status_code, 302)
        self.assertEqual(self.one().setting.left_cm, option.setting.left_cm)
        self.assertNotIn("hang", self.kinds())
        self.assertEqual(self.set_to(option="lower").status_code, 422)

    def test_the_same_from_today_and_taken_back(self) -> None:
        self.set_to(left="45")
        todo = self.todo("hang", TODAY)
        self.assertIn(self.shelf.code, self.client.get(self.url("today/")).content.decode())
        self.assertEqual(self.client.get(self.url(f"task/{todo.task.key}/why/")).status_code, 200)
        self.assertEqual(self.post(f"task/{todo.task.key}/").status_code, 302)
        self.assertLess(self.one().setting.left_cm, 45)
        self.take_back()
        self.assertEqual(self.one().setting.left_cm, 45)
        self.assertIn("hang", self.kinds())
        self.post(f"task/{self.todo('hang', TODAY).task.key}/", what="move", to=(TODAY + timedelta(days=3)).isoformat())
        self.assertNotIn("hang", self.kinds())
        self.post(f"light/{self.shelf.pk}/set/keep/", left="47")
        self.assertIn("hang", self.kinds())  # set anew, asked anew

    def test_twice_at_once_and_overtaken(self) -> None:
        revision = Spot.objects.get(pk=self.shelf.pk).revision
        first = self.set_to(left="30", key="one", revision=revision)
        again = self.set_to(left="30", key="one", revision=revision)
        self.assertEqual((first.status_code, again.status_code, LampSetting.objects.count()), (302, 302, 2))
        self.assertEqual(self.set_to(left="35", revision=revision).status_code, 409)
        self.assertEqual(LampSetting.objects.get(since=TODAY).left_cm, 30)

    def test_what_cannot_be(self) -> None:
        for data, word in (
            ({"left": "0"}, "cannot be"), ({"left": "x"}, "no number"), ({"left": "90"}, "higher than it can hang"),
            ({"hours": "25"}, "not of one day"),
            ({"per_cent": "0"}, "give 1 to 100"), ({"on": "26:00"}, "it goes from 0:00 to 24:00"), ({"option": "fly"}, "any more"),
            ({"left": "nan"}, "cannot be"), ({"left": "1e309"}, "cannot be"), ({"since": "2026-05-01", "left": "30"}, "still to come"),
        ):  # fmt: skip
            answer = self.set_to(**data)
            self.assertEqual(answer.status_code, 422, data)
            self.assertIn(word, answer.content.decode(), data)
        self.assertEqual(LampSetting.objects.count(), 0)
        self.assertIn('value="90"', self.set_to(left="90").content.decode())

    def test_hours_across_midnight_and_in_the_cheap_hours(self) -> None:
        self.post("light/current/", price="0.30", cheap_price="0.10", spans="22–6")
        self.assertEqual(Tariff.objects.get(garden=self.garden).spans, [[22.0, 6.0]])
        self.set_to(on="20:00", hours="8")
        self.assertEqual(self.one().setting.timer.off_h, 4.0)
        self.assertIn("over midnight", self.page())
        self.set_to(cheapest="1")
        self.assertEqual(self.one().setting.timer.on_h, 22.0)
        refused = self.post("light/current/", price="0.30", cheap_price="0.10", spans="22–6, 5–7")
        self.assertEqual(refused.status_code, 422)
        self.assertIn("overlaps", refused.content.decode())
        self.assertEqual(self.post("light/current/", price="0.3", spans="nine-ish").status_code, 422)

    def test_trying_writes_nothing(self) -> None:
        entries = JournalEntry.objects.count()
        near = self.client.get(self.url(f"light/{self.shelf.pk}/try/"), {"left": "18"}).content.decode()
        far = self.client.get(self.url(f"light/{self.shelf.pk}/try/"), {"left": "48"}).content.decode()
        self.assertGreater(near.count("h0"), far.count("h0"))
        self.assertEqual(self.client.get(self.url(f"light/{self.shelf.pk}/try/"), {"left": "-4"}).status_code, 422)
        self.assertEqual((JournalEntry.objects.count(), LampSetting.objects.count()), (entries, 0))

    def test_the_place_says_another_height_and_the_history_knows_it(self) -> None:
        self.set_to(left="30")
        self.day(TODAY + timedelta(days=2))
        self.shelf.refresh_from_db()
        form = {
            "code": "R1·1",
            "kind": "shelf",
            "lit": "lamp",
            "lamp_cm": "36",
            "clear_cm": "52",
            "length_cm": "122",
            "width_cm": "56",
        }
        self.post(f"spots/{self.shelf.pk}/edit/", revision=self.shelf.revision, **form)
        found = rigs_of(self.garden)[self.shelf.pk]
        self.assertEqual(
            [(s.since, s.left_cm) for s in found.settings][1:], [(TODAY, 30.0), (TODAY + timedelta(days=2), 36.0)]
        )

    def test_work_of_a_place_stands_wherever_tasks_do(self) -> None:
        self.set_to(left="45")
        self.garden.refresh_from_db()
        Member.objects.filter(garden=self.garden).update(minutes=[1] * 7)  # far too few
        away = Absence.objects.create(
            garden=self.garden, since=TODAY + timedelta(days=1), until=TODAY + timedelta(days=9)
        )
        tray = Tray.objects.get(runs__batch=self.batch)
        for page in (
            "hands/", f"away/{away.pk}/sheet/", "calendar/", "today/", "today/minutes/?m=20", "tasks.csv", "bench/days/", f"bench/tray/{tray.pk}/",
            f"batch/{self.batch.pk}/", f"plan/{self.batch.planting_id}/", "journal/",
        ):  # fmt: skip
            answer = self.client.get(self.url(page))
            self.assertIn(answer.status_code, (200, 302), page)


class Lamps(LightCase):
    def test_a_lamp_is_kept_changed_taken_down_and_taken_back(self) -> None:
        self.post(f"light/lamp/{self.shelf.pk}/new/", kind="panel", number="1", umol="240", watts="100")
        panel = Lamp.objects.get(kind="panel")
        more = self.one().board.watts
        self.post(
            f"light/lamp/{panel.pk}/edit/", kind="panel", number="2", umol="240", watts="100", revision=panel.revision
        )
        self.assertEqual(self.one().board.watts, more + 100)
        panel.refresh_from_db()
        self.post(f"light/lamp/{panel.pk}/remove/", revision=panel.revision)
        self.assertEqual(self.one().board.watts, more - 100)
        for _ in range(3):
            self.take_back()
        self.assertFalse(Lamp.objects.filter(kind="panel").exists())

    def test_what_cannot_be_says_which_number_and_how_to_mend_it(self) -> None:
        for data, word in (
            ({"kind": "filament", "watts": "60"}, "mostly heats"), ({"kind": "strip", "lumen": "0"}, "0 lm"),
            ({"kind": "strip", "lumen": "40000"}, "30000"),
            ({"kind": "strip", "length_cm": "200"}, "longer than R1·1"), ({"kind": "strip", "umol": "200", "watts": "10"}, "more than any lamp"),
            ({"kind": "strip", "watts": "nan"}, ""), ({"kind": "moon"}, ""),
            ({"kind": "strip", "new_on": "2026-03-01", "wiped_on": "2026-02-01"}, "before it was new"),
        ):  # fmt: skip
            answer = self.post(f"light/lamp/{self.shelf.pk}/new/", **({"number": "1"} | data))
            self.assertEqual(answer.status_code, 422, data)
            self.assertIn(word, answer.content.decode(), data)
        self.assertEqual(Lamp.objects.count(), 1)

    def test_without_numbers_it_is_typical_and_marked(self) -> None:
        Lamp.objects.all().delete()
        self.post(f"light/lamp/{self.shelf.pk}/new/", kind="thin", number="2")
        self.assertIn("typical for its kind", self.page())

    def test_old_and_dusty_is_asked_for_and_mended(self) -> None:
        Lamp.objects.all().delete()
        old = Lamp.objects.create(
            spot=self.shelf, kind="thin", number=2, watts=54, new_on=date(2022, 1, 1), wiped_on=date(2026, 1, 1)
        )
        self.assertLessEqual({"clean", "tubes"}, set(self.kinds()))
        empty = Spot.objects.create(garden=self.garden, kind="shelf", code="R9·9", lit="lamp")
        Lamp.objects.create(
            spot=empty, kind="thin", number=2, watts=54, new_on=date(2022, 1, 1), wiped_on=date(2026, 1, 1)
        )
        self.assertFalse([k for k in (t.task.key for t in self.now().todos(TODAY)) if k.startswith(f"s{empty.pk}.")])
        Lamp.objects.filter(spot=empty).delete()
        umol = sum(h.umol for h in self.one().board.lamps)
        self.post(f"task/{self.todo('clean', TODAY).task.key}/")
        self.assertGreater(sum(h.umol for h in self.one().board.lamps), umol)
        self.post(f"task/{self.todo('tubes', TODAY).task.key}/")
        old.refresh_from_db()
        self.assertEqual((old.until, Lamp.objects.filter(until=None).count()), (TODAY, 1))
        self.assertFalse({"clean", "tubes"} & set(self.kinds()))
        self.take_back()
        self.assertEqual(Lamp.objects.count(), 1)

    def test_a_reading_makes_it_true(self) -> None:
        one = self.one()
        middle = np.array([61.0]), np.array([28.0]), 14.0
        light = one.board.at(one.setting, *middle)[0, 0]
        ppfd = light / 16 / 0.0036
        self.post(f"light/{self.shelf.pk}/read/keep/", what="lux", number=f"{ppfd / 0.0145 / 2:.0f}", gap_cm="10")
        half = self.one().board.at(one.setting, *middle)[0, 0]
        self.assertAlmostEqual(half / light, 0.5, delta=0.02)
        self.post(f"light/{self.shelf.pk}/read/keep/", what="warm", gap_cm="6")
        self.assertEqual(self.one().board.limits.warm_cm, 6.0)
        Lamp.objects.update(kind="coloured")
        answer = self.client.post(
            self.url(f"light/{self.shelf.pk}/read/keep/"),
            {"what": "lux", "number": "9000", "gap_cm": "10"},
            follow=True,
        )
        self.assertIn("a lux meter says little under coloured light", answer.content.decode())
        self.assertIsNone(self.one().rig.times(TODAY))
        for bad in (
            {"what": "lux", "number": "", "gap_cm": "10"},
            {"what": "lux", "number": "9000", "gap_cm": ""},
            {"what": "sun"},
            {"what": "ppfd", "number": "9000", "gap_cm": "10"},
        ):
            self.assertEqual(self.post(f"light/{self.shelf.pk}/read/keep/", **bad).status_code, 422, bad)
        self.assertEqual(LightReading.objects.count(), 3)


class ByDaylight(LightCase):
    def test_a_sill_says_what_it_gives_and_what_to_do(self) -> None:
        sill = Spot.objects.create(garden=self.garden, kind="sill", code="Sill", length_cm=100, width_cm=30)
        tomato = self.grown("tomato", 14, sill)
        self.assertIn("Say under Places where it looks to", self.page())
        self.assertFalse(lights(self.now())[tomato.pk].known)
        form = {
            "code": "Sill",
            "kind": "sill",
            "facing": "north",
            "length_cm": "100",
            "width_cm": "30",
            "lit": "window",
        }
        self.post(f"spots/{sill.pk}/edit/", revision=sill.revision, **form)
        north = lights(self.now())[tomato.pk].last
        assert north is not None
        self.assertIn("a white card behind", self.page())
        sill.refresh_from_db()
        self.assertEqual(sill.facing, "north")
        self.post(f"spots/{sill.pk}/edit/", revision=sill.revision, card="on", **(form | {"facing": "south"}))
        sill.refresh_from_db()
        self.assertTrue(sill.card)
        south = lights(self.now())[tomato.pk].last
        assert south is not None
        self.assertGreater(south, 1.6 * north)

    def test_a_way_that_shortens_the_days_is_asked_for(self) -> None:
        self.set_to(on="5", hours="16")
        self.assertNotIn("timer", self.kinds())
        self.garden.schools = {"hours_way": "taper"}
        self.garden.save()
        self.grown("cabbage", 40)
        BatchEvent.objects.filter(batch=self.batch, kind="up").update(on=TODAY - timedelta(days=32))
        Lamp.objects.update(number=8)
        best = self.one().advice.first
        if best.kind in ("raise", "lower"):
            self.set_to(option=best.kind)
        todo = self.todo("timer", TODAY)
        self.assertEqual(todo.task.detail, 12.0)
        self.post(f"task/{todo.task.key}/")
        self.assertEqual(self.one().setting.timer.hours, 12.0)
        self.assertNotIn("timer", self.kinds())

    def test_round_the_clock_for_three_days_and_back(self) -> None:
        self.set_to(on="5", hours="16")
        self.garden.schools = {"first_light_way": "round"}
        self.garden.save()
        BatchEvent.objects.filter(batch=self.batch, kind="up").update(on=TODAY)
        todo = self.todo("timer", TODAY)
        self.assertEqual((todo.task.detail, todo.task.why.rule), (24.0, "light.hours_round"))
        self.post(f"task/{todo.task.key}/")
        self.assertEqual(self.one().setting.timer.hours, 24.0)
        self.day(TODAY + timedelta(days=3))
        back = self.todo("timer", TODAY + timedelta(days=3))
        self.assertEqual(back.task.detail, 16.0)
        self.assertIn("too long for Lettuce", self.page())


class OneTimer(LightCase):
    crop = "onion"

    def test_onions_beside_cosmos_are_warned_and_the_hours_proposed(self) -> None:
        self.grown("cosmos", 8)
        self.set_to(on="5", hours="16")
        text = self.page()
        self.assertIn("may make Onion bulb early", text)
        self.assertIn("timer", self.kinds())
        self.post(f"task/{self.todo('timer', TODAY).task.key}/")
        self.assertEqual(self.one().setting.timer.hours, 13.0)
        self.assertIn("is short for Cosmos", self.page())
        self.assertNotIn("timer", self.kinds())
        card = self.client.get(self.url(f"light/{self.shelf.pk}/card/")).content.decode()
        self.assertIn("13 hours", card)
        self.assertIn("residual-current", card)

    def test_what_is_done_to_trays(self) -> None:
        self.post(f"light/{self.shelf.pk}/care/keep/", what="turned")
        tray = Tray.objects.get(runs__batch=self.batch)
        self.assertEqual((tray.turns, tray.turned_on), (2, TODAY))
        self.take_back()
        self.assertEqual(self.post(f"light/{self.shelf.pk}/care/keep/", what="tubes").status_code, 422)
        self.assertEqual(self.post(f"light/{self.shelf.pk}/care/keep/", what="x").status_code, 422)
        self.assertEqual(where(self.batch), self.shelf)

    def test_how_it_hangs(self) -> None:
        self.post(f"light/{self.shelf.pk}/hang/keep/", hangs_by="ratchet", step_cm="1.5", white=["l", "b"])
        self.shelf.refresh_from_db()
        self.assertEqual((self.shelf.hangs_by, self.shelf.step_cm, self.shelf.white), ("ratchet", 1.5, "lb"))
        self.assertEqual(self.one().board.limits.step_cm, 1.5)
        for bad in ({"hangs_by": "wire"}, {"hangs_by": "cord", "step_cm": "-1"}, {"hangs_by": "cord", "facing": "up"}):
            self.assertEqual(self.post(f"light/{self.shelf.pk}/hang/keep/", **bad).status_code, 422)

    def test_a_reader_looks_and_writes_nothing(self) -> None:
        reader = user("reader")
        Member.objects.create(garden=self.garden, user=reader, role="reader")
        client = client_for(reader)
        text = client.get(self.url("light/")).content.decode()
        self.assertNotIn("data-handle", text)
        self.assertNotIn("data-keep", text)
        self.assertEqual(client.post(self.url(f"light/{self.shelf.pk}/set/keep/"), {"left": "30"}).status_code, 403)
        elsewhere = client_for(user("outsider"))
        self.assertEqual(elsewhere.get(self.url("light/")).status_code, 404)

    def test_light_and_lamps_travel_with_the_garden(self) -> None:
        import json

        from aestiva.gardens import portable
        from aestiva.gardens.bring_in import bring_in
        from aestiva.gardens.document import read_document

        self.set_to(left="40")
        key = self.todo("hang", TODAY).task.key
        self.post(f"task/{key}/", what="move", to=(TODAY + timedelta(days=2)).isoformat())
        self.post("light/current/", price="0.3")
        document = portable.export(self.garden)
        made = bring_in(read_document(json.dumps(document).encode()), self.owner)
        self.assertEqual(portable.export(made), document)
        self.assertEqual(rigs_of(made)[Spot.objects.get(garden=made, code="R1·1").pk].setting(TODAY).left_cm, 40.0)
        self.assertTrue(any(m["key"].startswith("s") for m in document["marks"]))
        self.assertEqual(Planting.objects.filter(season__garden=made).count(), 1)
