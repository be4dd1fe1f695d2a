"""The way in: a first garden without any file, settings, the journal page."""

from __future__ import annotations

from django.core import mail
from django.test import Client, TestCase, override_settings

from aestiva.accounts.models import User
from aestiva.frame.tests.garden import GardenCase, plant, user
from aestiva.gardens.models import Garden, JournalEntry

PLACE = {"name": "Back Row", "latitude": "48.2", "timezone": "Europe/London", "units": "metric", "sowing_days": ["5"],
         "accepted_risk": "0.1", "ladder": "seven", "week_starts": "0", "clock": "24"}  # fmt: skip


class Accounts(TestCase):
    def test_sign_up_leads_to_the_first_garden_and_dates(self) -> None:
        client = Client()
        signed = client.post(
            "/account/sign-up/", {"name": "Wren", "email": "Wren@Garden.example", "password": "a long pass phrase"}
        )
        self.assertRedirects(signed, "/account/log-in/?address=wren%40garden.example&next=%2F")
        entered = client.post("/account/log-in/", {"username": "wren@garden.example", "password": "a long pass phrase"})
        self.assertRedirects(entered, "/", target_status_code=302)
        made = client.post("/new/", PLACE, follow=True)
        self.assertContains(made, "When does frost end here in spring?")
        garden = Garden.objects.get()
        client.post(
            f"/g/{garden.pk}/place/typed/",
            {"last_on": "2026-05-09", "last_meaning": "average", "first_meaning": "unknown"},
        )
        sample = client.get(f"/g/{garden.pk}/today/")
        for said in ("What would you like to raise first?", "What that date means", "Tomato", "Plan some"):
            self.assertContains(sample, said)
        answer = client.get(
            f"/g/{garden.pk}/plan/preview/", {"crop": "tomato", "wanted": 6, "method": "raised", "term": "spring"}
        )
        self.assertContains(answer, "cells")

    def test_bad_sign_ups_keep_what_was_typed(self) -> None:
        user("wren")
        for data, said in (
            ({"name": "W", "email": "w@garden.example", "password": "short"}, "too short"),
            ({"name": "W", "email": "not-an-address", "password": "a long pass phrase"}, "valid email"),
        ):
            answer = Client().post("/account/sign-up/", data)
            self.assertContains(answer, said, status_code=422)
            self.assertContains(answer, f'value="{data["email"]}"', status_code=422)
        self.assertEqual(User.objects.count(), 1)

    def test_log_in_rests_after_six_wrong_tries(self) -> None:
        user("wren")
        client = Client()
        for _ in range(6):
            answer = client.post("/account/log-in/", {"username": "wren@garden.example", "password": "wrong"})
        self.assertEqual(answer.status_code, 429)
        right = client.post("/account/log-in/", {"username": "wren@garden.example", "password": "a long pass phrase"})
        self.assertEqual(right.status_code, 429)

    def test_log_in_ignores_capitals_in_the_address(self) -> None:
        user("wren")
        answer = Client().post(
            "/account/log-in/", {"username": "Wren@garden.example", "password": "a long pass phrase"}
        )
        self.assertEqual(answer.status_code, 302)

    def test_password_is_reset_by_mail(self) -> None:
        user("wren")
        Client().post("/account/password/forgotten/", {"email": "wren@garden.example"})
        link = next(line for line in mail.outbox[0].body.splitlines() if line.startswith("http"))
        client = Client()
        page = client.get("/" + link.split("/", 3)[3], follow=True)
        self.assertContains(page, "Choose a new password")
        client.post(
            page.request["PATH_INFO"], {"new_password1": "another long one", "new_password2": "another long one"}
        )
        self.assertTrue(User.objects.get().check_password("another long one"))

    def test_the_demo_door_is_shut_on_a_real_server(self) -> None:
        self.assertEqual(Client().post("/demo/").status_code, 404)


class Settings(GardenCase):
    def test_impossible_places_name_field_and_mend(self) -> None:
        for change, said in (
            ({"latitude": "97"}, "less than or equal to 90"),
            ({"latitude": "north"}, "number"),
            ({"timezone": "Mars/Base"}, "is not a time zone"),
            ({"sowing_days": []}, "required"),
            ({"accepted_risk": "3"}, "valid choice"),
            ({"year": "26"}, "greater than or equal to 1990"),
        ):
            answer = self.client.post(self.url("settings/"), PLACE | {"year": "2026"} | change)
            self.assertContains(answer, said, status_code=422)
        self.garden.refresh_from_db()
        self.assertEqual(self.garden.latitude, 52.0)

    def test_settings_are_one_entry_and_can_be_taken_back(self) -> None:
        self.client.post(self.url("settings/"), PLACE | {"year": "2026"})
        entry = JournalEntry.objects.get(garden=self.garden)
        self.garden.refresh_from_db()
        self.assertEqual(self.garden.name, "Back Row")
        self.post(f"journal/{entry.pk}/undo/")
        self.garden.refresh_from_db()
        self.assertEqual((self.garden.name, self.garden.latitude), ("Test Row", 52.0))

    def test_journal_finds_and_pages(self) -> None:
        for n in range(45):
            plant(self.garden, self.owner, "tomato", n + 1)
        page = self.client.get(self.url("journal/"))
        self.assertContains(page, "Planned 45 Tomato")
        self.assertNotContains(page, "Planned 3 Tomato,")
        self.assertContains(self.client.get(self.url("journal/?page=2")), "Planned 3 Tomato")
        self.assertContains(self.client.get(self.url("journal/?find=nothing")), "Nothing yet with")


class Errors(TestCase):
    def test_pages_of_our_own(self) -> None:
        self.assertContains(Client().get("/nowhere/"), "There is nothing here", status_code=404)
        strict = Client(enforce_csrf_checks=True)
        self.assertContains(strict.post("/account/log-in/", {}), "open too long", status_code=403)

    @override_settings(UPLOAD_LIMIT=1000)
    def test_large_uploads_are_refused_before_reading(self) -> None:
        answer = Client().post("/account/log-in/", b"x" * 2000, content_type="text/csv")
        self.assertContains(answer, "The file is too large", status_code=413)

    def test_policy_is_strict_on_every_page(self) -> None:
        policy = Client().get("/")["Content-Security-Policy"]
        self.assertIn("default-src 'self'", policy)
        self.assertNotIn("unsafe", policy)
