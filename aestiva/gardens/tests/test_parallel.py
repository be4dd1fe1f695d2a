"""Whoever writes twice, or at the same time as another: real threads on a database with several writers.

Tagged "several": run on a file database (`make test` does), since in memory all threads share one connection.
"""

from __future__ import annotations

import threading
from collections import Counter
from datetime import date
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection, connections
from django.test import Client, TransactionTestCase, tag

from aestiva.accounts.models import User
from aestiva.frame.tests.garden import TODAY, client_for, garden, plant, user
from aestiva.gardens.commands import Actor, run
from aestiva.gardens.models import Garden, JournalEntry, Member
from aestiva.place.models import Frost, GardenNight
from aestiva.season.ledgers import accounts_of
from aestiva.season.models import Batch, BatchEvent, BedArea, Lot, Planting, Spot
from aestiva.today.commands import Finish

ROUNDS = 4
Post = tuple[Client, str, dict[str, Any]]


def at_once(posts: list[Post]) -> list[int]:
    """Send every post at the same moment, each from a thread of its own; the statuses in their order."""
    barrier, statuses = threading.Barrier(len(posts)), [0] * len(posts)

    def send(k: int, client: Client, address: str, data: dict[str, Any]) -> None:
        try:
            barrier.wait()
            statuses[k] = client.post(address, data).status_code
        except Exception as error:  # told as what a browser would see
            statuses[k] = 500
            print(f"{address}: {error!r}")
        finally:
            connections.close_all()

    threads = [threading.Thread(target=send, args=(k, *one)) for k, one in enumerate(posts)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return statuses


@tag("several")
class AtOnce(TransactionTestCase):
    def setUp(self) -> None:
        if connection.vendor == "sqlite" and connection.is_in_memory_db():
            self.skipTest("in memory all threads share one connection")
        self.wren, self.moss = user("wren"), user("moss")
        self.garden = garden(self.wren)
        Member.objects.create(garden=self.garden, user=self.moss, role="owner")
        self.bed = Spot.objects.create(garden=self.garden, kind="bed", code="Bed A", length_cm=300, width_cm=120)
        self.people = [client_for(self.wren), client_for(self.moss)]

    def url(self, rest: str) -> str:
        return f"/g/{self.garden.pk}/{rest}"

    def both(self, rest: str, *datas: dict[str, Any]) -> Counter[int]:
        """Each of the posts from another person by turns, all at once."""
        return Counter(at_once([(self.people[k % 2], self.url(rest), data) for k, data in enumerate(datas)]))

    def sown(self, wanted: int = 10) -> Batch:
        planting = plant(self.garden, self.wren, "tomato", wanted, sow_on=TODAY)
        run(Finish, Actor(self.garden, self.wren), {"task": f"p{planting.pk}.sow.0"})
        return Batch.objects.get(planting=planting)

    # ---------------------------------------------------------------- a task

    def test_one_task_done_four_times_at_once_is_done_once(self) -> None:
        for _ in range(ROUNDS):
            planting = plant(self.garden, self.wren, "tomato", 10, sow_on=TODAY)
            statuses = self.both(f"task/p{planting.pk}.sow.0/", *({"key": f"k{planting.pk}{n}"} for n in range(4)))
            self.assertEqual(statuses, {302: 4})
            self.assertEqual(planting.batches.count(), 1)

    def test_one_outing_done_by_two_and_together_is_one(self) -> None:
        batch = self.sown()
        Batch.objects.filter(pk=batch.pk).update(sown_on=date(2026, 2, 1))
        BatchEvent.objects.filter(batch=batch).update(on=date(2026, 2, 1))
        for kind, count in (("up", 15), ("potted", None), ("lamp", None), ("lid", None)):
            BatchEvent.objects.create(batch=batch, kind=kind, on=date(2026, 2, 20), count=count)
        Garden.objects.filter(pk=self.garden.pk).update(simulated_on=date(2026, 6, 1))
        key = f"b{batch.pk}.harden.1"
        posts = [(self.people[0], self.url(f"task/{key}/"), {}), (self.people[1], self.url("tasks/"), {"task": key})]
        self.assertEqual(Counter(at_once(posts * 2)), {302: 4})
        self.assertEqual(BatchEvent.objects.filter(batch=batch, kind="out").count(), 1)

    # ---------------------------------------------------------------- edits

    def planting_form(self, planting: Planting, **more: Any) -> dict[str, Any]:
        same = {
            "crop": "Tomato",
            "method": "raised",
            "term": "spring",
            "sown_in": "cells",
            "revision": planting.revision,
        }
        return same | {"wanted": planting.wanted} | more

    def test_of_two_edits_of_one_planting_one_is_kept_and_one_is_told(self) -> None:
        planting = plant(self.garden, self.wren, "tomato", 10)
        for n in range(ROUNDS):
            planting.refresh_from_db()
            forms = [self.planting_form(planting, wanted=w) for w in (20 + n, 60 + n)]
            self.assertEqual(self.both(f"plan/{planting.pk}/", *forms), {302: 1, 409: 1})

    def test_of_two_hands_at_one_handle_one_is_kept_and_one_is_told(self) -> None:
        planting = plant(self.garden, self.wren, "tomato", 10)
        for n in range(ROUNDS):
            planting.refresh_from_db()
            seen = f"{planting.pk}.{planting.revision}"
            forms = [{"moves": f"{planting.pk}.2026-04-{day + n}", "seen": seen} for day in (14, 24)]
            self.assertEqual(self.both("plan/moves/keep/", *forms), {302: 1, 409: 1})

    def test_next_season_made_by_two_at_once_is_made_once(self) -> None:
        for crop in ("tomato", "leek"):
            plant(self.garden, self.wren, crop, 10)
        keys = [str(p.pk) for p in Planting.objects.all()]
        self.both("plan/next/", *[{"year": "2027", "again": keys}] * 2)
        self.assertEqual(Planting.objects.filter(season__year=2027).count(), 2)

    def test_edit_against_cancel_loses_neither(self) -> None:
        for n in range(ROUNDS):
            planting = plant(self.garden, self.wren, "tomato", 10)
            form = self.planting_form(planting, wanted=20 + n)
            edit, cancel = (self.url(f"plan/{planting.pk}/"), self.url(f"plan/{planting.pk}/cancel/"))
            statuses = at_once(
                [(self.people[0], edit, form), (self.people[1], cancel, {"revision": planting.revision, "sure": "yes"})]
            )
            self.assertEqual(Counter(statuses), {302: 1, 409: 1})
            planting.refresh_from_db()
            self.assertEqual(
                (planting.wanted == 20 + n, planting.cancelled_on is not None), (statuses[0] == 302, statuses[1] == 302)
            )

    def test_of_four_records_with_one_revision_one_is_kept(self) -> None:
        batch = self.sown()
        for _ in range(ROUNDS):
            batch.refresh_from_db()
            posts = [{"kind": "up", "count": n, "revision": batch.revision} for n in (1, 2, 3, 4)]
            self.assertEqual(self.both(f"batch/{batch.pk}/record/", *posts), {302: 1, 409: 3})
        self.assertEqual(batch.events.filter(kind="up").count(), ROUNDS)

    def test_ten_deaths_each_of_twelve_plants(self) -> None:
        for _ in range(ROUNDS):
            batch = self.sown()
            self.people[0].post(self.url(f"batch/{batch.pk}/record/"), {"kind": "up", "count": 12})
            died = {"kind": "died", "count": 10}
            self.assertEqual(self.both(f"batch/{batch.pk}/record/", died, died), {302: 1, 422: 1})
            self.assertEqual(accounts_of(batch).indoors, 2)

    def test_packets_beds_areas_frost_and_settings(self) -> None:
        lot = Lot.objects.create(garden=self.garden, crop_key="tomato", variety="Old Ferry", packed_year=2025)
        planting = plant(self.garden, self.wren, "tomato", 10)
        area = BedArea.objects.create(planting=planting, spot=self.bed, x_cm=0, y_cm=0, length_cm=90, width_cm=60)
        for n in range(ROUNDS):
            for row in (lot, area, self.bed):
                row.refresh_from_db()
            frost, settings = Frost.objects.get(), Garden.objects.get(pk=self.garden.pk).settings_revision
            facts = {"variety": "Old Ferry", "packed_year": 2025, "revision": lot.revision}
            bed = {"code": "Bed A", "kind": "bed", "width_cm": 120, "revision": self.bed.revision}
            put = {"y": 0, "l": 90, "w": 60, "revision": area.revision}
            typed = {"last_meaning": "average", "first_meaning": "unknown", "revision": frost.revision}
            for rest, first, second in (
                (f"seeds/{lot.pk}/facts/", {**facts, "seeds": 20 + n}, {**facts, "seeds": 60 + n}),
                (f"beds/{self.bed.pk}/measure/", {**bed, "length_cm": 310 + n}, {**bed, "length_cm": 350 + n}),
                (f"beds/area/{area.pk}/", {**put, "x": 10 + n}, {**put, "x": 60 + n}),
                ("place/typed/", {**typed, "last_on": f"2026-05-0{n + 1}"}, {**typed, "last_on": f"2026-05-1{n + 1}"}),
                ("place/line/", {"risk": 11 + n, "revision": settings}, {"risk": 30 + n, "revision": settings}),
            ):
                with self.subTest(rest):
                    self.assertEqual(self.both(rest, first, second), {302: 1, 409: 1})

    # ---------------------------------------------------------------- the same thing twice

    def test_the_same_new_thing_twice_is_there_once_and_nobody_sees_an_error(self) -> None:
        for n in range(ROUNDS):
            self.assertEqual(self.both("spots/new/", *[{"code": f"S{n}", "kind": "shelf"}] * 2), {302: 1, 422: 1})
            drawn = {"code": f"D{n}", "kind": "bed", "length_cm": 200, "width_cm": 100}
            self.assertEqual(self.both("beds/draw/", drawn, drawn), {302: 1, 422: 1})
            warm = {"kind": "soil", "celsius": 6 + n, "on": f"2026-04-{10 + n}"}
            self.assertEqual(self.both("place/warmth/", warm, warm), {302: 1, 422: 1})
            value = {"value": 9 + n, "reason": "own"}
            self.assertEqual(set(self.both("crops/tomato/raise_max/", value, value)) - {302, 422}, set())
            night = {"which": "night", "day": f"2026-04-0{n + 1}", "celsius": 3}
            self.assertEqual(self.both("place/readings/", night, night), {302: 2})
            packet = {"crop": "Tomato", "variety": f"Weir {n}", "packed_year": 2025, "seeds": 30}
            self.assertEqual(self.both("seeds/", packet, packet), {302: 1, 200: 1})  # one is in, one is asked
            self.assertEqual(self.both("seeds/", *[{**packet, "variety": f"Lane {n}", "key": f"tap{n}"}] * 2), {302: 2})
            key = {"code": f"K{n}", "kind": "shelf", "key": f"one{n}"}
            self.assertEqual(self.both("spots/new/", key, key), {302: 2})
        self.assertEqual(Spot.objects.filter(garden=self.garden, kind="shelf").count(), 2 * ROUNDS)
        self.assertEqual(GardenNight.objects.count(), ROUNDS)
        self.assertEqual(Lot.objects.count(), 2 * ROUNDS)

    def test_lay_it_here_twice_lays_it_once(self) -> None:
        for _ in range(ROUNDS):
            planting = plant(self.garden, self.wren, "kale", 2)
            self.assertEqual(self.both(f"beds/{self.bed.pk}/lay/", *[{"planting": planting.pk}] * 2), {302: 2})
            self.assertEqual(planting.areas.count(), 1)

    def test_one_entry_taken_back_by_two_is_taken_back_once(self) -> None:
        for n in range(ROUNDS):
            self.people[0].post(self.url("spots/new/"), {"code": f"U{n}", "kind": "shelf"})
            entry = JournalEntry.objects.latest("pk")
            self.assertEqual(self.both(f"journal/{entry.pk}/undo/", {}, {}), {302: 2})
            self.assertEqual(JournalEntry.objects.filter(undoes=entry).count(), 1)
            self.assertFalse(Spot.objects.filter(code=f"U{n}").exists())

    def test_a_new_garden_an_import_and_an_account_are_made_once(self) -> None:
        place = {"name": "Back Row", "latitude": "48", "timezone": "Europe/London", "units": "metric", "sowing_days": ["5"],
                 "accepted_risk": "0.1", "ladder": "seven", "key": "begin"}  # fmt: skip
        self.assertEqual(Counter(at_once([(self.people[0], "/new/", place)] * 3)), {302: 3})
        self.assertEqual(Garden.objects.filter(name="Back Row").count(), 1)
        whole = self.people[0].get(self.url("garden.json")).content
        shown = self.people[0].post("/gardens/import/", {"file": SimpleUploadedFile("g.json", whole)})
        keep = {"kept": shown.context["sealed"], "key": "once"}
        self.assertEqual(Counter(at_once([(self.people[0], "/gardens/import/", keep)] * 2)), {302: 2})
        self.assertEqual(Garden.objects.filter(name=self.garden.name).count(), 2)
        person = {"name": "Tarn", "email": "tarn@garden.example", "password": "a long pass phrase"}
        self.assertEqual(Counter(at_once([(Client(), "/account/sign-up/", person) for _ in range(3)])), {302: 3})
        self.assertEqual(User.objects.filter(email="tarn@garden.example").count(), 1)

    def test_two_owners_who_step_down_at_once_leave_one(self) -> None:
        for _ in range(ROUNDS):
            Member.objects.filter(garden=self.garden).update(role="owner")
            posts = [
                (
                    client,
                    self.url("members/"),
                    {"what": "role", "member": Member.objects.get(user=who).pk, "role": "reader"},
                )
                for client, who in zip(self.people, (self.wren, self.moss), strict=True)
            ]
            at_once(posts)
            self.assertEqual(Member.objects.filter(garden=self.garden, role="owner").count(), 1)
