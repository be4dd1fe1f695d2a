"""Every address as stranger, outsider, reader, grower and owner; nobody reaches another garden's objects."""

from __future__ import annotations

import json
import re
from datetime import date, timedelta
from typing import Any

import numpy as np
from django.test import Client
from django.urls import URLPattern, URLResolver, get_resolver

from aestiva.bench.models import BenchDay, Recipe, Timer
from aestiva.care.models import Ailment, Feed
from aestiva.frame.tests.garden import TODAY, GardenCase, client_for, garden, plant, user
from aestiva.gardens import clock, jobs
from aestiva.gardens.models import Garden, JournalEntry, Member
from aestiva.place.actions import merge
from aestiva.place.models import Feed as Device
from aestiva.place.models import Frost, Station, Warmth
from aestiva.plantingout.models import CoverAtHand
from aestiva.season.models import Absence, BedArea, Container, Lamp, Lot, OwnLadder, Spot, Tray
from aestiva.today.models import CalendarLink


def routes(resolver: URLResolver, prefix: str = "") -> list[str]:
    found = []
    for one in resolver.url_patterns:
        path = prefix + str(one.pattern)
        if isinstance(one, URLResolver):
            found += routes(one, path)
        elif isinstance(one, URLPattern):
            found.append(path)
    return found


OWNER_ONLY = ("settings/", "feeds/")
BY_KEY = ("do/<str:command>/",)  # for those who have no session: `today/tests/test_commands.py`
NOTHING_CHOSEN = ("labels.pdf", "place/file/", "emergence/log/")
GROWER_ONLY = ("more/", "import/", "drawer/", "place/file/", "emergence/log/")
POST_ONLY = (
    "undo/", "cancel/", "record/", "change/", "clock/", "station/", "tasks/", "live/", "leave/", "made-up/", "lay/", "draw/",
    "use/", "test/", "follow/", "put-off/", "keep/", "home/", "put/", "together/", "act/", "remove/", "stage/", "timer/", "end/", "revoke/",
)  # fmt: skip
READERS_POST = ("members/", "leave/", "note/")


class Addresses(GardenCase):
    """A garden with a row of everything, and every address of it."""

    def lay_out(self) -> None:
        super().lay_out()
        self.batch = self.sown("tomato")
        self.planting = self.batch.planting
        self.task = self.todo("look").task.key
        self.entry = JournalEntry.objects.filter(garden=self.garden).latest("pk")
        self.station = Station.objects.create(name="The Weir", owner=self.garden)
        merge(self.station, [date(2026, 4, 1), date(2026, 4, 2)], np.array([1.0, -2.0]), np.array([9.0, 7.0]))
        self.lot = Lot.objects.create(garden=self.garden, crop_key="tomato", variety="Old Ferry", packed_year=2025)
        self.area = BedArea.objects.create(
            planting=self.planting, spot=self.bed, x_cm=0, y_cm=0, length_cm=90, width_cm=60
        )
        self.away = Absence.objects.create(garden=self.garden, since=TODAY, until=TODAY)
        self.tray = Tray.objects.create(garden=self.garden, code="T90", cells=6)
        self.container = Container.objects.create(
            garden=self.garden, name="Flat", cells=6, length_cm=20, width_cm=20, depth_cm=5, cell_ml=50
        )
        self.recipe = Recipe.objects.create(garden=self.garden, name="Mix", parts=[["coir", 1]])
        self.sheet = BenchDay.objects.create(garden=self.garden, kind="sow", on=TODAY)
        Spot.objects.filter(pk=self.shelf.pk).update(lit="lamp", lamp_cm=30)
        self.lamp = Lamp.objects.create(spot=self.shelf, kind="strip")
        self.feed = Feed.objects.create(garden=self.garden, name="Salts", n=20)
        self.warmth = Warmth.objects.create(garden=self.garden, kind="soil", celsius=8, month=4, day=20)
        self.device = Device.objects.create(garden=self.garden, name="Probe", digest="0")
        self.ailment = Ailment.objects.create(batch=self.batch, day=TODAY, signs="yellow", cause="wet")
        self.ladder = OwnLadder.objects.create(garden=self.garden, number=1, name="Mine", rungs=[[2, 0, 0]])
        self.cover = CoverAtHand.objects.create(garden=self.garden, kind="cloche", pieces=3)
        at = clock.instant()
        self.timer = Timer.objects.create(garden=self.garden, what="soak", planting=self.planting, started=at, due=at)
        self.search = jobs.start("best_days", self.owner, json.dumps({"garden": self.garden.pk}).encode())
        self.people = {"owner": self.owner}
        for role in ("reader", "grower"):
            self.people[role] = user(role)
            Member.objects.create(garden=self.garden, user=self.people[role], role=role)
        self.people["outsider"] = user("outsider")
        garden(self.people["outsider"], name="Elsewhere")

    def addresses(self) -> list[str]:
        """Every address under a garden, filled in with this garden's objects."""
        fill = {
            "at/<int:spot_id>": f"at/{self.shelf.pk}",
            "spots/<int:spot_id>": f"spots/{self.shelf.pk}",
            "light/<int:spot_id>": f"light/{self.shelf.pk}",
            "lamp/<int:spot_id>": f"lamp/{self.shelf.pk}",
            "<int:lamp_id>": self.lamp.pk,
            "<int:ladder_id>": self.ladder.pk,
            "<int:cover_id>": self.cover.pk,
            "<int:feed_id>": self.feed.pk,
            "<int:device_id>": self.device.pk,
            "<int:warmth_id>": self.warmth.pk,
            "<int:tray_id>": self.tray.pk,
            "<int:ailment_id>": self.ailment.pk,
            "<int:container_id>": self.container.pk,
            "<int:recipe_id>": self.recipe.pk,
            "<int:mix_id>": self.recipe.pk,
            "<int:place_id>": self.shelf.pk,
            "<int:day_id>": self.sheet.pk,
            "<int:timer_id>": self.timer.pk,
            "<uuid:key>": self.search.key,
            "<int:garden_id>": self.garden.pk,
            "<int:batch_id>": self.batch.pk,
            "<int:planting_id>": self.planting.pk,
            "<int:entry_id>": self.entry.pk,
            "<str:key>": self.task,
            "<str:start>": TODAY - timedelta(days=TODAY.weekday()),
            "<slug:key>": "tomato",
            "<slug:field>": "hold",
            "<int:station>": self.station.pk,
            "<int:spot_id>": self.bed.pk,
            "<int:lot_id>": self.lot.pk,
            "<int:area_id>": self.area.pk,
            "<int:absence_id>": self.away.pk,
            "<slug:way>": "lead_way",
        }
        found = []
        for route in routes(get_resolver()):
            if not route.startswith("g/") or route.endswith(BY_KEY):
                continue
            for name, value in fill.items():
                route = route.replace(name, str(value))
            self.assertNotIn("<", route, "an address this walk does not know how to fill")
            found.append("/" + route)
        return found


class Walk(Addresses):
    def setUp(self) -> None:
        super().setUp()
        self.clients = {"stranger": Client(), **{who: client_for(one) for who, one in self.people.items()}}

    def __getstate__(self) -> dict[str, Any]:
        return {name: value for name, value in super().__getstate__().items() if name != "clients"}

    def status(self, who: str, address: str, method: str = "get") -> int:
        return int(getattr(self.clients[who], method)(address, {"sow_on": "2026-04-20"}).status_code)

    def test_reading(self) -> None:
        self.assertGreater(len(self.addresses()), 25)
        for address in self.addresses():
            with self.subTest(address):
                self.assertEqual(self.status("stranger", address), 302)
                self.assertEqual(self.status("outsider", address), 404)
                only_post = address.endswith(
                    (*POST_ONLY, f"task/{self.task}/", f"area/{self.area.pk}/", f"beds/{self.bed.pk}/move/")
                )
                owner_only = address.endswith(OWNER_ONLY)
                # between what a reader and an owner may see, a grower's is asked where the two differ
                same = not (only_post or owner_only or address.endswith(GROWER_ONLY))
                for who in ("reader", "owner") if same else ("reader", "grower", "owner"):
                    expected = {422} if address.endswith(NOTHING_CHOSEN) else {200}  # nothing is chosen
                    if only_post:
                        expected = {405, 403} if who != "owner" else {405}
                    elif (owner_only and who != "owner") or (address.endswith(GROWER_ONLY) and who == "reader"):
                        expected = {403}
                    self.assertIn(self.status(who, address), expected, who)

    def test_without_a_frost_date_every_page_answers(self) -> None:
        Frost.objects.filter(garden=self.garden).delete()
        for address in self.addresses():
            with self.subTest(address):
                self.assertLess(self.status("owner", address), 500)

    def test_posting_needs_a_grower(self) -> None:
        before = JournalEntry.objects.filter(garden=self.garden).count()
        for address in self.addresses():
            with self.subTest(address):
                self.assertEqual(self.status("stranger", address, "post"), 302)
                self.assertEqual(self.status("outsider", address, "post"), 404)
                if not address.endswith(READERS_POST):
                    self.assertEqual(self.status("reader", address, "post"), 403)
        self.assertEqual(JournalEntry.objects.filter(garden=self.garden).count(), before)

    def test_a_reader_sees_no_form_and_no_way_that_would_be_refused(self) -> None:
        client = Client()
        client.force_login(self.people["reader"], backend="django.contrib.auth.backends.ModelBackend")
        free = ("/account/log-out/", "/members/", "/leave/", "/note/")
        looked = 0
        refused: set[str] = set()
        seen: set[str] = set()
        for address in self.addresses():
            page = client.get(address)
            if page.status_code != 200 or "text/html" not in page["Content-Type"]:
                continue
            text = page.content.decode()
            for form in re.findall(r"<form[^>]*method=\"post\"[^>]*>", text):
                where = re.search(r"action=\"([^\"]*)\"", form)
                target = where[1] if where and where[1] else address
                if not target.endswith(free):
                    refused.add(f"{address}: {form}")
            for target in set(re.findall(rf"href=\"(/g/{self.garden.pk}/[^\"#?]*)", text)) - seen:
                seen.add(target)
                if client.get(target).status_code == 403:
                    refused.add(f"{address}: {target}")
            looked += 1
        self.assertEqual(refused, set())
        self.assertGreater(looked, 20)

    def test_objects_are_reached_through_their_own_garden(self) -> None:
        other = Garden.objects.get(name="Elsewhere")
        client = Client()
        client.force_login(self.people["outsider"], backend="django.contrib.auth.backends.ModelBackend")
        for rest in (f"batch/{self.batch.pk}/", f"plan/{self.planting.pk}/", 
                     f"task/{self.task}/why/", f"plan/add/?copy={self.planting.pk}"):  # fmt: skip
            self.assertEqual(client.get(f"/g/{other.pk}/{rest}").status_code, 404, rest)
        for rest in (
            f"batch/{self.batch.pk}/record/",
            f"journal/{self.entry.pk}/undo/",
            f"plan/{self.planting.pk}/cancel/",
        ):
            self.assertEqual(client.post(f"/g/{other.pk}/{rest}", {"kind": "died", "count": 1}).status_code, 404, rest)
        mine = plant(other, self.people["outsider"])
        wrong_bed = client.post(
            f"/g/{other.pk}/plan/{mine.pk}/",
            {"crop": "Tomato", "wanted": 3, "method": "raised", "term": "spring", "spot": self.bed.pk},
        )
        self.assertEqual(wrong_bed.status_code, 422)

    def test_only_owners_take_back_what_others_did(self) -> None:
        grower = Client()
        grower.force_login(self.people["grower"], backend="django.contrib.auth.backends.ModelBackend")
        self.assertEqual(grower.post(self.url(f"journal/{self.entry.pk}/undo/")).status_code, 403)
        self.assertEqual(self.client.post(self.url(f"journal/{self.entry.pk}/undo/")).status_code, 302)

    def test_calendar_address_ends_with_revocation_and_membership(self) -> None:
        link = CalendarLink.objects.create(garden=self.garden, user=self.people["reader"])
        address = f"/calendar/{link.token}.ics"
        self.assertEqual(Client().get(address).status_code, 200)
        self.assertEqual(Client().get("/calendar/nonsense.ics").status_code, 404)
        Member.objects.filter(user=self.people["reader"]).delete()
        self.assertEqual(Client().get(address).status_code, 404)
        mine = CalendarLink.objects.create(garden=self.garden, user=self.owner)
        self.post("calendar/", what="revoke", sure="yes")
        self.assertEqual(Client().get(f"/calendar/{mine.token}.ics").status_code, 404)
