"""Every command, from the list of them: once, twice, stale, of another garden, with a key that may not, taken back; the same by form and by JSON."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from datetime import timedelta
from itertools import product
from typing import Any, NamedTuple

from django.db import transaction
from django.test import Client, SimpleTestCase

from aestiva.accounts import limits
from aestiva.bench.models import Recipe, Turn
from aestiva.care.models import Ailment, Feed, TrayLook, TrayWeight
from aestiva.care.tests.test_moving import MovingCase
from aestiva.frame.fields import Row, Rows
from aestiva.frame.say import METRIC, US
from aestiva.frame.tests.garden import TODAY, GardenCase, garden, plant, user
from aestiva.gardens import portable
from aestiva.gardens.commands import Actor, Command, commands, run, sentence
from aestiva.gardens.models import Garden, JournalEntry, Member
from aestiva.gardens.outcomes import Refused, Repeated, Stale
from aestiva.gardens.undo import undo
from aestiva.place.commands import make_key
from aestiva.place.models import Feed as Key
from aestiva.place.models import GardenNight, SoilReading, Station, Warmth
from aestiva.plantingout.models import CoverAtHand
from aestiva.plantingout.tests.test_gates import GateCase
from aestiva.season.commands import OfBatch
from aestiva.season.models import (
    Absence,
    Batch,
    BatchEvent,
    Container,
    Lamp,
    Lot,
    OwnLadder,
    Spot,
    Tariff,
    Tray,
    WarmReading,
)
from aestiva.seeds.models import SeedTest
from aestiva.today.scripts import as_posted

Sends = Callable[[Any], dict[str, Any]]


class Answer(NamedTuple):
    """As a script would be answered, where no key may do it."""

    said: dict[str, Any]
    status_code: int = 200

    @property
    def content(self) -> str:
        return str(self.said)

    def json(self) -> dict[str, Any]:
        return self.said


BOX = {"cells": 6, "length_cm": 20, "width_cm": 20, "depth_cm": 5, "cell_ml": 50}
FINER = re.compile(r"(?<=\.\d{3})\d{3}(?=\+)")  # than the journal keeps a moment


class Scripts(GardenCase):
    """Keys of every scope, and another garden with rows of its own."""

    def lay_out(self) -> None:
        super().lay_out()
        self.keys = {scope: make_key(self.garden, self.owner, scope, scope) for scope, _ in Key.SCOPES}
        other = user("moss")
        self.other = garden(other, name="Elsewhere")
        Batch.objects.create(planting=plant(self.other, other))
        theirs = Spot.objects.create(garden=self.other, kind="shelf", code="X1")
        Lamp.objects.create(spot=theirs, kind="strip")
        Tariff.objects.create(garden=self.other, price=1)
        Tray.objects.create(garden=self.other, code="X9", cells=6)
        Container.objects.create(garden=self.other, name="Theirs", **BOX)
        Recipe.objects.create(garden=self.other, name="Theirs", parts=[["coir", 1]])
        Spot.objects.create(garden=self.other, kind="rack", code="X2")
        Feed.objects.create(garden=self.other, name="Theirs", n=20)
        Ailment.objects.create(batch=Batch.objects.get(planting__season__garden=self.other), day=TODAY, cause="wet")
        Key.objects.create(garden=self.other, name="Theirs", digest="1")
        Absence.objects.create(garden=self.other, since=TODAY, until=TODAY)
        Station.objects.create(name="Theirs", owner=self.other)
        Warmth.objects.create(garden=self.other, kind="soil", celsius=8, month=4, day=20)
        SoilReading.objects.create(garden=self.other, day=TODAY, hour=8, celsius=9)
        GardenNight.objects.create(garden=self.other, day=TODAY, tmin_c=1)
        lot = Lot.objects.create(garden=self.other, crop_key="kale")
        SeedTest.objects.create(lot=lot, on=TODAY, sown=20, up=9)
        OwnLadder.objects.create(garden=self.other, number=1, name="Theirs", rungs=[[2, 0, 0]])
        CoverAtHand.objects.create(garden=self.other, kind="cloche", pieces=3)

    def send(self, code: str, data: dict[str, Any], scope: str = "everything", where: Garden | None = None) -> Any:
        """What a script sends, and what it is answered."""
        if code in commands() and not commands()[code].scope and scope == "everything" and where is None:
            return self.done_by_the_owner(code, data)
        return self.knock(code, data, scope, where)

    def knock(self, code: str, data: dict[str, Any], scope: str, where: Garden | None = None) -> Any:
        address = f"/g/{(where or self.garden).pk}/do/{code}/"
        head = {"Authorization": f"Bearer {self.keys[scope]}"}
        return Client().post(address, json.dumps(data), content_type="application/json", headers=head)

    def done_by_the_owner(self, code: str, data: dict[str, Any]) -> Any:
        """What no key may do: the same command, and an answer of the same shape."""
        key, actor = data.get("key", ""), Actor(self.garden, self.owner, "owner", by="everything")
        sent = {name: value for name, value in data.items() if name != "key"}
        try:
            done = run(commands()[code], actor, as_posted(commands()[code], sent), key)
        except Repeated:
            return Answer({"done": False, "repeated": True})
        except Stale:
            return Answer({"now": {"revision": 1}}, 409)
        except Refused as refused:
            return Answer({"problem": str(refused), "errors": refused.errors}, 422)
        return Answer({"done": done.entry is not None})

    def written(self) -> dict[str, Any]:
        """All rows of the garden; not how often they were written, nor the journal."""
        parts = {name: part for name, part in portable.export(self.garden).items() if isinstance(part, list)}
        found: dict[str, Any] = {
            name: [{k: v for k, v in row.items() if k != "revision"} for row in rows]
            for name, rows in parts.items()
            if name != "journal"
        }
        members = Member.objects.filter(garden=self.garden).values("pk", "at_home", "minutes")
        here = Garden.objects.filter(pk=self.garden.pk).values("shelter", "ladder", "accepted_risk").get()
        turns = list(Turn.objects.filter(garden=self.garden).values("on", "where", "member"))
        here_now = found | {"members": list(members), "garden": here, "turns": turns}
        kept: dict[str, Any] = json.loads(FINER.sub("", json.dumps(here_now, default=str)))
        return kept


class CommandCase(Scripts, MovingCase):
    """A garden in which every command of the bench finds something to do."""

    def lay_out(self) -> None:
        super().lay_out()
        Spot.objects.create(garden=self.garden, kind="mat", code="M1", parent=self.shelf)
        self.rack = Spot.objects.create(garden=self.garden, kind="rack", code="Rack 9")
        self.container = Container.objects.create(garden=self.garden, name="Flat", **BOX)
        self.mix = Recipe.objects.create(garden=self.garden, name="Mix", parts=[["coir", 1]])
        self.lying = self.sown("pepper", 6)
        self.feed = Feed.objects.create(garden=self.garden, name="Salts", n=20)
        Spot.objects.filter(pk=self.shelf.pk).update(lit="lamp", lamp_cm=30, length_cm=120, width_cm=40, clear_cm=60)
        self.lamp = Lamp.objects.create(spot=self.shelf, kind="strip", number=2, watts=20)
        self.lot = Lot.objects.create(garden=self.garden, crop_key="tomato", variety="Old Ferry", packed_year=2024)
        self.ailment = Ailment.objects.create(batch=self.batch, day=TODAY, signs="yellow", cause="wet")

    def sown_late(self) -> dict[str, Any]:
        """A batch of which nothing came in eighteen warm days, so that it may be sown again."""
        batch = self.up("tomato", 10)  # sown eighteen days ago
        BatchEvent.objects.filter(batch=batch, kind="up").delete()
        for days in (9, 7, 5, 1):
            BatchEvent.objects.create(batch=batch, kind="up", on=TODAY - timedelta(days=days), count=0)
        for days, hour in product(range(19), (2, 8, 14, 20)):
            day = TODAY - timedelta(days=days)
            WarmReading.objects.create(garden=self.garden, spot=self.shelf, day=day, hour=hour, celsius=22)
        return {"batch": batch.pk}

    def weighed(self) -> dict[str, Any]:
        TrayWeight.objects.create(tray=self.tray, drained_g=3000, dry_g=2000)
        return {"stop": self.key, "grams": 2500}

    def watered(self) -> dict[str, Any]:
        TrayLook.objects.create(tray=self.tray, day=TODAY, hour=7, found="pale", watered=True, given_ml=300)
        return {"stop": self.key, "over": "some"}

    def me(self) -> Member:
        return Member.objects.get(garden=self.garden, user=self.owner)

    def away(self) -> Absence:
        return Absence.objects.create(garden=self.garden, since=TODAY, until=TODAY + timedelta(days=3))

    def with_a_fact(self) -> dict[str, Any]:
        Lot.objects.filter(pk=self.lot.pk).update(facts={"spacing_cm": [80, "sprawling kind"]})
        return {"row": self.lot.pk, "drop": "spacing_cm"}

    def due(self) -> dict[str, Any]:
        todo = next(t for t in self.now().todos(self.now().horizon) if t.batch == self.tomato and t.task.kind == "pot")
        return {"batch": self.tomato.pk, "kind": todo.task.kind}

    def a_task(self) -> str:
        return next(t.task.key for t in self.now().todos(self.now().horizon) if t.task.kind == "pot")

    def sow_task(self) -> str:
        return f"p{plant(self.garden, self.owner, 'leek', 10, sow_on=TODAY).pk}.sow.0"


EXAMPLES: dict[str, Sends] = {
    "bench.container.keep": lambda c: {
        "name": "Yoghurt pots",
        "cells": 1,
        "length_cm": 6,
        "width_cm": 6,
        "depth_cm": 7,
        "cell_ml": 150,
    },
    "bench.container.remove": lambda c: {"row": c.container.pk},
    "bench.count": lambda c: {"thing": "lid", "owned": 4, "to_wash": 1},
    "bench.mix.keep": lambda c: {"name": "For seed", "use": "seed", "parts": "2 coir, 1 sand", "water_ml": 200},
    "bench.mix.remove": lambda c: {"row": c.mix.pk},
    "bench.place.keep": lambda c: {"code": "Z9", "kind": "shelf", "parent": c.rack.pk, "length_cm": 90, "m0": 15.5},
    "bench.place.remove": lambda c: {"row": c.rack.pk},
    "bench.received": lambda c: {"crop": "tomato", "count": 6, "price": 2.4, "spot": c.shelf.pk},
    "bench.comes_up": lambda c: {"planting": c.lying.planting_id, "spot": c.shelf.pk},
    "bench.month": lambda c: {"spot": c.shelf.pk, "reading": 19.5},
    "care.look": lambda c: {"stop": c.key, "found": "pale", "watered": True},
    "care.fine": lambda c: {"stop": [c.key]},
    "care.weigh": CommandCase.weighed,
    "care.poured": CommandCase.watered,
    "care.sprayer": lambda c: {"ml": 60, "seconds": 30},
    "care.weights": lambda c: {"tray": c.tray.pk, "drained": 3000, "dry": 2000},
    "care.air": lambda c: {"what": "humidity", "spot": str(c.shelf.pk), "number": 55},
    "care.fed": lambda c: {"batch": [c.batch.pk, c.tomato.pk], "n": 75},
    "care.feed.keep": lambda c: {"name": "Nettle water", "analysis": False},
    "care.feed.remove": lambda c: {"row": c.feed.pk},
    "care.roots": lambda c: {"batch": c.tomato.pk, "roots": "circling", "crowded": True},
    "care.done": CommandCase.due,
    "care.separate": lambda c: {"batch": c.tomato.pk},
    "care.over": lambda c: {"batch": c.tomato.pk, "way": "give", "count": 2},
    "care.trouble": lambda c: {"batch": c.tomato.pk, "s": ["yellow"], "cause": "wet", "act": "nothing", "taken": 1},
    "care.trouble.ended": lambda c: {"ailment": c.ailment.pk, "outcome": "better"},
    "emergence.count": lambda c: {"batch": c.lying.pk, "count": 2},
    "emergence.around": lambda c: {"batch": c.lying.pk, "kind": ["lid"]},
    "emergence.again": CommandCase.sown_late,
    "emergence.lifted": lambda c: {"batch": c.lying.pk, "root": 2, "soft": 1},
    "emergence.stage": lambda c: {"batch": c.tomato.pk, "leaves": 3, "cm": 6.5},
    "emergence.grade": lambda c: {"batch": c.tomato.pk, "small": 5},
    "emergence.reading": lambda c: {"spot": c.shelf.pk, "celsius": 21.5},
    "key.make": lambda c: {"name": "Shed", "may": "read"},
    "key.revoke": lambda c: {"row": Key.objects.get(garden=c.garden, name="read").pk},
    "light.set": lambda c: {"spot": c.shelf.pk, "left": 25, "hours": 14},
    "light.care": lambda c: {"spot": c.shelf.pk, "what": "wiped"},
    "light.reading": lambda c: {"spot": c.shelf.pk, "what": "ppfd", "number": 150, "gap_cm": 20},
    "light.hangs": lambda c: {"spot": c.shelf.pk, "hangs_by": "cord", "step_cm": 2, "white": ["l"]},
    "light.lamp.keep": lambda c: {"spot": c.shelf.pk, "kind": "strip", "number": 2, "watts": 20},
    "light.lamp.down": lambda c: {"row": c.lamp.pk},
    "light.current": lambda c: {"price": 0.3, "cheap_price": 0.2, "spans": "22–6"},
    "batch.record": lambda c: {"batch": c.tomato.pk, "kind": "died", "count": 2, "note": "slugs"},
    "batch.move": lambda c: {"batch": c.tomato.pk, "spot": c.frame.pk},
    "batch.split": lambda c: {"batch": c.tomato.pk, "count": 5, "spot": c.frame.pk},
    "batch.fail": lambda c: {"batch": c.lying.pk, "note": "mice"},
    "hands.minutes": lambda c: {"member": c.me().pk, "days": [{"minutes": 20}, {}, {"minutes": 40}]},
    "hands.turn": lambda c: {"member": c.me().pk, "where": "bench", "on": TODAY.isoformat()},
    "hands.address": lambda c: {"absence": c.away().pk},
    "plan.prices": lambda c: {"mix": 0.25, "kwh": 0.3, "crop": "tomato", "own": 2.5},
    "plan.away": lambda c: {"since": "2026-05-01", "until": "2026-05-09", "note": "the coast"},
    "plan.home": lambda c: {"absence": c.away().pk},
    "place.frost": lambda c: {
        "last_on": "2026-05-02",
        "last_meaning": "safe",
        "guess_first": True,
        "source": "the almanac",
    },
    "place.line": lambda c: {"risk": 20},
    "place.station": lambda c: {"station": Station.objects.create(name="The Weir", owner=c.garden).pk},
    "place.warmth": lambda c: {"kind": "soil", "celsius": 10, "on": "2026-05-01"},
    "place.warmth.remove": lambda c: {
        "row": Warmth.objects.create(garden=c.garden, kind="nights", celsius=7, month=5, day=9).pk
    },
    "place.soil": lambda c: {"day": TODAY.isoformat(), "celsius": 8.5, "hour": "8:30"},
    "place.night": lambda c: {"day": TODAY.isoformat(), "celsius": -1.5},
    "place.soil.remove": lambda c: {"pk": SoilReading.objects.create(garden=c.garden, day=TODAY, hour=8, celsius=9).pk},
    "place.night.remove": lambda c: {"pk": GardenNight.objects.create(garden=c.garden, day=TODAY, tmin_c=1).pk},
    "seeds.put": lambda c: {"crop": "Tomato", "variety": "Old Ferry", "packed": 25, "seeds": 30},
    "seeds.packet": lambda c: {
        "row": c.lot.pk,
        "variety": "Lintel",
        "seeds": 20,
        "storage": "cool",
        "printed": 85,
        "price": 2.5,
    },
    "seeds.packet.value": lambda c: {"row": c.lot.pk, "field": "spacing_cm", "value": "80", "why": "sprawling kind"},
    "seeds.packet.drop": lambda c: c.with_a_fact(),
    "seeds.test": lambda c: {"row": c.lot.pk, "sown": 20, "up": 15},
    "seeds.test.remove": lambda c: {"row": SeedTest.objects.create(lot=c.lot, on=TODAY, sown=20, up=9).pk},
    "place.readings": lambda c: {"kind": "soil", "readings": [{"at": f"{TODAY}T08:00", "celsius": 9.1}]},
    "task.done": lambda c: {"task": c.sow_task()},
    "tasks.done": lambda c: {"task": [c.sow_task(), c.sow_task()]},
    "task.skip": lambda c: {"task": c.sow_task()},
    "task.later": lambda c: {"task": c.sow_task(), "to": "2026-04-20"},
    "tasks.later": lambda c: {"task": [c.sow_task()], "to": "2026-04-20"},
    "task.note": lambda c: {"task": c.sow_task(), "text": "wait for the rain"},
}
HEARD = ("place.readings",)  # writes in bursts of its own, which know a message by its text


OUTDOORS: dict[str, Sends] = {
    "door.out": lambda c: {"task": c.of("harden")},
    "door.in": lambda c: c.carried() | {"task": c.of("bring_in"), "reason": "cold", "hours": 1},
    "door.looked": lambda c: c.brought() | {"look": "looked_limp", "batch": [str(c.chard.pk)]},
    "door.done": lambda c: c.weather(wind_kmh=60.0) | {"task": c.of("stay_in")},
    "home.hours": lambda c: {"member": c.member().pk, "days": [{"begin": "7:00", "end": "21:00"}, {}]},
    "home.shelter": lambda c: {"shelter": "none"},
    "ladder.keep": lambda c: {
        "name": "Three",
        "spare_days": 2,
        "rungs": [{"hours": 3, "sun": 0.25}, {"hours": 6, "sun": 1.0}, {"night": True}],
    },
    "ladder.remove": lambda c: {"row": c.ladder().pk},
    "ladder.garden": lambda c: {"ladder": c.ladder().key},
    "ladder.batch": lambda c: {"batch": c.chard.pk, "ladder": c.ladder().key},
    "out.planted": lambda c: {"batch": c.kale.pk, "count": 4, "dipped": True, "litres": 2, "hours": 1},
    "out.bed": lambda c: {"spot": c.bed.pk, "state": "wet"},
    "tonight.done": lambda c: c.planted() | c.weather(tmin_c=-4.0, cloud=0.0, wind_kmh=1.0) | {"task": c.of("cover")},
    "tonight.lost": lambda c: c.planted() | {"batch": c.kale.pk, "count": 2},
    "cover.keep": lambda c: {"kind": "fleece30", "length": 20, "width": 2.1},
    "cover.remove": lambda c: {"row": c.cover().pk},
}


class OutdoorCase(Scripts, GateCase):
    """Kale that is hardened off, and more of it that is due on its ladder."""

    def lay_out(self) -> None:
        super().lay_out()
        self.chard = self.sown("kale", 8, TODAY - timedelta(days=45), spot=self.bed)
        self.record(self.chard, kind="up", count="9", on=(TODAY - timedelta(days=38)).isoformat())

    def of(self, kind: str) -> list[str]:
        found = [t.task.key for t in self.now().todos(TODAY) if t.task.kind == kind]
        self.assertTrue(found, f"nothing of {kind} is due")
        return found

    def weather(self, **more: Any) -> Any:
        """Of the garden's past where nothing is said; of the coming week otherwise."""
        if not more:
            return super().weather()
        self.week(**more)
        return {}

    def carried(self) -> dict[str, Any]:
        self.post("door/out/keep/", task=self.of("harden"))
        return {}

    def brought(self) -> dict[str, Any]:
        self.carried()
        self.post("door/in/keep/", task=self.of("bring_in"))
        return {}

    def planted(self) -> dict[str, Any]:
        self.post(f"plantingout/{self.kale.pk}/planted/keep/", revision=Batch.objects.get(pk=self.kale.pk).revision)
        return {}

    def member(self) -> Member:
        return Member.objects.get(garden=self.garden, user=self.owner)

    def ladder(self) -> OwnLadder:
        return OwnLadder.objects.create(garden=self.garden, number=1, name="Mine", rungs=[[2, 0, 0]])

    def cover(self) -> CoverAtHand:
        return CoverAtHand.objects.create(garden=self.garden, kind="cloche", pieces=3)


WITH_REVISION = (
    "care.trouble.ended",
    "care.feed.remove",
    "seeds.packet",
    "place.frost",
    "plan.home",
    "bench.container.remove",
    "bench.mix.remove",
    "bench.place.remove",
    "light.care",
    "light.hangs",
    "light.lamp.down",
    "ladder.remove",
    "cover.remove",
)


class Tried(SimpleTestCase):
    def test_no_command_is_without_its_walk(self) -> None:
        self.assertEqual(set(commands()) ^ (set(EXAMPLES) | set(OUTDOORS)), set())


class Walking(Scripts):
    """The walk itself: what every command must bear."""

    examples: dict[str, Sends] = {}

    def each(self, look: Callable[[str, type[Command], dict[str, Any]], None]) -> None:
        """Look at every command with what it is sent, each in a garden as it was before the others."""
        for code, sends in self.examples.items():
            with self.subTest(code), transaction.atomic():
                look(code, commands()[code], sends(self))
                transaction.set_rollback(True)

    def entries(self) -> int:
        return JournalEntry.objects.filter(garden=self.garden).count()

    def test_done_twice_and_taken_back(self) -> None:
        def look(code: str, command: type[Command], sends: dict[str, Any]) -> None:
            before, entries = self.written(), self.entries()
            once = {} if code in HEARD else {"key": "one"}
            first = self.send(code, sends | once)
            self.assertEqual(first.status_code, 200, first.content)
            self.assertTrue(first.json()["done"])
            self.assertEqual(self.entries(), entries + 1)
            entry = JournalEntry.objects.filter(garden=self.garden).latest("pk")
            self.assertEqual(entry.action, "" if code in HEARD else code)
            self.assertEqual(entry.by, "everything" if command.scope else self.owner.name)
            self.assertTrue(sentence(entry, METRIC) and sentence(entry, US))
            again = self.send(code, sends | once)
            self.assertEqual((again.status_code, again.json()["done"]), (200, False), again.content)
            self.assertEqual(self.entries(), entries + 1)
            if not command.undo:
                return
            self.assertNotEqual(self.written(), before)
            undo(entry, self.owner)
            self.assertEqual(self.written(), before)
            taken = JournalEntry.objects.filter(garden=self.garden).latest("pk")
            self.assertIn("Took back: ", sentence(taken, METRIC))

        self.each(look)

    def test_with_another_key_it_is_done_again_or_says_why_not(self) -> None:
        def look(code: str, command: type[Command], sends: dict[str, Any]) -> None:
            self.send(code, sends | ({} if code in HEARD else {"key": "one"}))
            again = self.send(code, sends | ({} if code in HEARD else {"key": "two"}))
            self.assertIn(again.status_code, (200, 409, 422), again.content)
            if again.status_code == 422:
                self.assertTrue(again.json()["problem"])

        self.each(look)

    def test_overtaken(self) -> None:
        def look(code: str, command: type[Command], sends: dict[str, Any]) -> None:
            if not issubclass(command, OfBatch) and code not in WITH_REVISION:
                return
            entries, before = self.entries(), self.written()
            answer = self.send(code, sends | {"revision": 999})
            self.assertEqual(answer.status_code, 409, answer.content)
            self.assertIn("revision", answer.json()["now"])
            self.assertEqual((self.entries(), self.written()), (entries, before))

        self.each(look)

    def test_what_is_of_another_garden_is_nobody_s(self) -> None:
        tried = 0

        def look(code: str, command: type[Command], sends: dict[str, Any]) -> None:
            nonlocal tried
            entries = self.entries()
            for name, field in command.base_fields.items():
                if not isinstance(field, Row | Rows):
                    continue
                theirs = field.model._default_manager.filter(**{field.path: self.other}).order_by("pk").first()
                assert theirs is not None, f"{code}: the other garden has no {field.model.__name__}"
                foreign = [theirs.pk] if isinstance(field, Rows) else theirs.pk
                answer = self.send(code, sends | {name: foreign})
                self.assertEqual(answer.status_code, 422, answer.content)
                self.assertIn(name, answer.json()["errors"])
                tried += 1
            self.assertEqual(self.send(code, sends, where=self.other).status_code, 404)
            self.assertEqual(self.entries(), entries)

        self.each(look)
        self.assertGreater(tried, 5 if self.examples else -1)

    def test_a_key_may_what_it_may_and_no_more(self) -> None:
        may = {"read": (), "readings": ("readings",), "tasks": ("tasks",)}

        def look(code: str, command: type[Command], sends: dict[str, Any]) -> None:
            entries = self.entries()
            for scope, of in (may if command.scope else may | {"everything": ()}).items():
                if command.scope not in of:
                    self.assertEqual(self.knock(code, sends, scope).status_code, 403, scope)
            self.assertEqual(self.entries(), entries)

        self.each(look)

    def test_what_is_no_field_or_no_json_is_named(self) -> None:
        def look(code: str, command: type[Command], sends: dict[str, Any]) -> None:
            answer = self.send(code, sends | {"sparkle": "blue"})
            self.assertEqual((answer.status_code, list(answer.json()["errors"])), (422, ["sparkle"]), answer.content)

        self.each(look)
        self.assertEqual(self.send("care.look", {"stop": {"x": 1}}).status_code, 422)
        self.assertEqual(self.send("care.dance", {}).status_code, 404)
        Key.objects.filter(name="everything").update(revoked=True)
        self.assertEqual(self.send("care.look", {}).status_code, 401)


class Walk(Walking, CommandCase):
    examples = EXAMPLES


class WalkOutdoors(Walking, OutdoorCase):
    examples = OUTDOORS


BAD: tuple[tuple[str, str, dict[str, str], str], ...] = (
    ("emergence.count", "emergence/{lying}/count/keep/", {"count": "twelve"}, "“twelve” is not a whole number"),
    ("emergence.count", "emergence/{lying}/count/keep/", {"count": "-4"}, "-4 cannot be: give 0 to 20,000"),
    ("emergence.reading", "emergence/reading/keep/", {"spot": "{shelf}", "celsius": "hot"}, "“hot” is no number"),
    ("emergence.reading", "emergence/reading/keep/", {"spot": "{shelf}", "celsius": "99"}, "99 °C cannot be: give -10 to 55 °C"),
    ("care.weights", "care/tools/weights/keep/", {"tray": "{tray}", "drained": "much", "dry": "1"}, "“much” is no number"),
    ("care.over", "care/moving/{tomato}/over/keep/", {"way": "eat", "count": "1"}, "choose what becomes of them"),
    ("task.later", "task/{task}/", {"what": "move", "to": "2026-04-31"}, "“2026-04-31” is not a day"),
    ("task.later", "task/{task}/", {"what": "move", "to": "2026-04-01"}, "1 April is not after today"),
)  # fmt: skip
ABOUT = {"lying": "batch", "tomato": "batch", "task": "task"}


class SameWords(CommandCase):
    def test_a_fault_is_said_alike_by_form_and_by_json(self) -> None:
        rows = {name: str(getattr(self, name).pk) for name in ("lying", "tomato", "shelf", "tray")}
        rows["task"] = self.sow_task()
        for code, path, typed, said in BAD:
            with self.subTest(code, typed=typed):
                typed = {name: value.format(**rows) for name, value in typed.items()}
                page = self.client.post(self.url(path.format(**rows)), typed)
                about = {field: rows[name] for name, field in ABOUT.items() if f"{{{name}}}" in path}
                sent = {name: value for name, value in (typed | about).items() if name != "what"}
                answer = self.send(code, sent)
                self.assertEqual((page.status_code, answer.status_code), (422, 422))
                self.assertIn(said, json.dumps(answer.json()["errors"], ensure_ascii=False))
                self.assertIn(said[1:], page.content.decode().replace("&#x27;", "'"))


class AsItStands(CommandCase):
    def asked(self, path: str, scope: str = "read") -> Any:
        return Client().get(self.url(path), headers={"Authorization": f"Bearer {self.keys[scope]}"})

    def test_the_season_is_what_the_pages_say(self) -> None:
        state, now = self.asked("state.json").json(), self.now()
        self.assertEqual(state["day"], TODAY.isoformat())
        due = [t.task.key for t in now.todos(TODAY)]
        self.assertEqual([t["task"] for t in state["tasks"] if t["due"] <= TODAY.isoformat()], due)
        outs = {b["batch"]: b["plant_out_on"] for b in state["batches"]}
        self.assertEqual(
            outs, {i.batch_pk: i.raised.dates.out_on.isoformat() for i in now.items if i.batch is not None}
        )
        self.assertIn(
            {"tray": self.tray.code, "place": "R1·1"},
            [{k: s.get(k) for k in ("tray", "place")} for s in state["stands"]],
        )
        self.assertEqual(self.asked("state.json", "readings").status_code, 403)
        self.assertEqual(self.client.get(self.url("state.json")).json(), state)

    def test_what_is_offered_is_what_the_forms_take(self) -> None:
        offered = self.asked("openapi.json").json()
        self.assertEqual(offered["openapi"][:3], "3.1")
        for code, command in commands().items():
            if not command.scope:
                self.assertNotIn(f"/do/{code}/", offered["paths"])
                continue
            takes = offered["paths"][f"/do/{code}/"]["post"]["requestBody"]["content"]["application/json"]["schema"]
            self.assertEqual(set(takes["properties"]), {*command.base_fields, "key"}, code)
            self.assertEqual(
                set(takes.get("required", ())), {n for n, f in command.base_fields.items() if f.required}, code
            )
        leaves = offered["paths"]["/do/emergence.stage/"]["post"]["requestBody"]["content"]["application/json"][
            "schema"
        ]
        self.assertEqual(
            leaves["properties"]["cm"],
            {"type": "number", "minimum": 0.1, "maximum": 200, "description": "cm", "title": "Height"},
        )

    def test_whoever_knocks_too_often_waits(self) -> None:
        with self.settings():
            most, limits.MESSAGES = limits.MESSAGES, 2
            self.addCleanup(setattr, limits, "MESSAGES", most)
            answers = [self.asked("state.json").status_code for _ in range(3)]
        self.assertEqual(answers, [200, 200, 429])

    def test_a_member_reads_and_a_stranger_does_not(self) -> None:
        self.assertEqual(self.client.get(self.url("openapi.json")).status_code, 200)
        self.assertEqual(Client().get(self.url("state.json")).status_code, 302)
        self.assertEqual(self.client.get(f"/g/{self.other.pk}/state.json").status_code, 404)
