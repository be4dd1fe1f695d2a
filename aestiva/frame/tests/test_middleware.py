"""What no page sends is refused before any view; a proxy is believed only where it is named."""

from __future__ import annotations

import json
from typing import Any

from django.core import mail
from django.test import Client, override_settings

from aestiva.accounts import limits
from aestiva.accounts.models import Knocks
from aestiva.frame.tests.garden import GardenCase
from aestiva.gardens.models import Garden
from aestiva.place.commands import make_key
from aestiva.season.models import OwnLadder, Spot

PROXIED = {"PROXIES": ["10.0.0.0/8"], "ALLOWED_HOSTS": ["testserver", "garden.example"]}


class Sound(GardenCase):
    def setUp(self) -> None:
        super().setUp()
        self.client.raise_request_exception = False

    def test_a_nul_is_refused_wherever_it_stands(self) -> None:
        for address in ("/join/%00/", "/help/a%00b/", "/calendar/%00.ics", "/l/%00/", self.url("bench/find/?q=%00"),
                        self.url("journal/?find=a%00b"), self.url("task/%00/"), "/account/log-in/?address=%00"):  # fmt: skip
            with self.subTest(address):
                self.assertContains(self.client.get(address), "Part of it cannot be read", status_code=400)
        for address, data in (
            (self.url("spots/new/"), {"code": "Z\x001", "kind": "shelf"}),
            (self.url("spots/new/"), {"code": "Z1", "ki\x00nd": "shelf"}),
            ("/account/sign-up/", {"name": "a\x00", "email": "a@garden.example", "password": "x" * 12}),
            ("/new/", {"name": "a\x00"}),
        ):
            with self.subTest(address):
                self.assertEqual(self.client.post(address, data).status_code, 400)
        token = make_key(self.garden, self.owner, "Probe")
        head = {"Authorization": f"Bearer {token}"}
        for place in ("M\x001", "T\x00"):
            for kind, name in (("mix", "place"), ("scale", "tray")):
                body = json.dumps(
                    {"kind": kind, name: place, "readings": [{"at": "2026-04-12T08:00", "celsius": 9, "grams": 9}]}
                )
                answer = self.client.post("/feed/", body, content_type="application/json", headers=head)
                self.assertContains(answer, "cannot be kept", status_code=422)
        for kind in ("multipart/form-data; boundary=x", "application/x-www-form-urlencoded"):
            self.assertEqual(self.client.post("/feed/", "a=1", content_type=kind, headers=head).status_code, 422)

    def test_too_much_in_a_form_names_the_limit(self) -> None:
        for address in (self.url("spots/new/"), "/account/log-in/", "/new/"):
            with self.subTest(address):
                long = self.client.post(address, {"code": "x" * 10_000_000})
                self.assertContains(long, "2 MB together", status_code=413)
                many = self.client.post(address, {f"f{n}": "1" for n in range(5_000)})
                self.assertContains(many, "1,000 fields", status_code=413)
        asked = self.client.get(self.url("journal/"), {f"f{n}": "1" for n in range(5_000)})
        self.assertContains(asked, "1,000 fields", status_code=413)


class Proxies(GardenCase):
    def ask(self, remote: str, **said: str) -> Any:
        return self.client.get(self.url("members/"), REMOTE_ADDR=remote, headers=said)

    def invited(self, remote: str, **said: str) -> str:
        self.post("members/", what="invite", role="grower")
        return str(self.ask(remote, **said).context["invitations"][0][1])

    @override_settings(**PROXIED)
    def test_links_given_out_are_as_the_visitor_came(self) -> None:
        said = {"X-Forwarded-Proto": "https", "X-Forwarded-Host": "garden.example"}
        self.assertTrue(self.invited("10.1.2.3", **said).startswith("https://garden.example/join/"))
        self.assertTrue(self.invited("192.0.2.7", **said).startswith("http://testserver/join/"))
        for rest, name in (("place/feeds/", "address"), ("calendar/", "address")):
            self.client.post(self.url("calendar/"), {"what": "new", "key": rest, "sure": "yes"})
            page = self.client.get(self.url(rest), REMOTE_ADDR="10.1.2.3", headers=said)
            self.assertTrue(page.context[name].startswith("https://garden.example/"), rest)
        Client().post("/account/password/forgotten/", {"email": self.owner.email}, REMOTE_ADDR="10.1.2.3", headers=said)
        self.assertIn("https://garden.example/account/password/new/", str(mail.outbox[-1].body))

    @override_settings(SITE_URL="https://garden.example")
    def test_the_address_that_was_set_goes_before_all(self) -> None:
        self.assertTrue(self.invited("192.0.2.7").startswith("https://garden.example/join/"))

    @override_settings(**PROXIED)
    def test_a_host_that_is_not_ours_is_refused_from_a_proxy_too(self) -> None:
        self.client.raise_request_exception = False
        self.assertEqual(self.ask("10.1.2.3", **{"X-Forwarded-Host": "elsewhere.example"}).status_code, 400)

    @override_settings(**PROXIED)
    def test_each_visitor_has_limits_of_their_own(self) -> None:
        def knock(visitor: str, remote: str = "10.1.2.3") -> int:
            head = {"X-Forwarded-For": visitor, "Authorization": "Bearer guess"}
            return int(
                Client()
                .post("/feed/", "{}", content_type="application/json", REMOTE_ADDR=remote, headers=head)
                .status_code
            )

        for n in range(limits.WRONG_KEYS):
            knock(
                f"198.51.100.9, 203.0.113.{n % 3}, 10.9.9.9"
            )  # whoever is first in the list is made up by the visitor
        self.assertEqual(Knocks.objects.count(), 3)
        for _ in range(limits.WRONG_KEYS):
            knock("203.0.113.77")
        self.assertEqual(knock("203.0.113.77"), 429)
        self.assertEqual(knock("203.0.113.78"), 401)
        self.assertEqual(knock("203.0.113.77", "192.0.2.7"), 401)  # no proxy of ours: its own address counts


class OneLine(GardenCase):
    def test_no_name_has_a_line_break(self) -> None:
        self.post("spots/new/", code="Z\r\n1", kind="shelf")
        self.post("hardening/people/ladder/keep/", name="My\nown\u2028one", spare_days="2", **{"rungs-1-hours": "2"})
        place = {"name": "Row\nTwo", "timezone": "Europe/London", "units": "metric", "week_starts": "0", "clock": "24"}
        self.client.post(
            "/new/",
            {
                **place,
                "latitude": "50",
                "longitude": "0",
                "sowing_days": ["5"],
                "accepted_risk": "0.1",
                "ladder": "seven",
            },
        )
        self.assertTrue(Spot.objects.filter(code="Z 1").exists())
        self.assertEqual(OwnLadder.objects.get().name, "My own one")
        self.assertIn("Row Two", Garden.objects.values_list("name", flat=True))
