"""Who may try how often, and what nobody is told: log-in, signing up, a new password, device keys, mail."""

from __future__ import annotations

import re

from django.conf import settings
from django.core import mail
from django.core.cache import cache
from django.test import Client, TestCase, override_settings

from aestiva.accounts import limits
from aestiva.accounts.models import User
from aestiva.frame.tests.garden import user

PERSON = {"name": "Tarn", "email": "tarn@garden.example", "password": "a long pass phrase"}
WITH_MAIL = override_settings(SENDS_MAIL=True)


class Doors(TestCase):
    def setUp(self) -> None:
        cache.clear()
        self.wren = user("wren")

    def test_tries_are_counted_by_account_whatever_its_spelling(self) -> None:
        client = Client()
        spellings = (
            "wren@garden.example",
            "WREN@garden.example",
            " Wren@Garden.Example",
            "ｗren@garden.example",
            "wren@GARDEN.example ",
        )
        for k in range(6):
            answer = client.post("/account/log-in/", {"username": spellings[k % 5], "password": f"wrong {k}"})
        self.assertEqual(answer.status_code, 429)
        right = {"username": "wReN@garden.example", "password": "a long pass phrase"}
        self.assertEqual(client.post("/account/log-in/", right).status_code, 429)

    def test_signing_up_says_the_same_for_every_address(self) -> None:
        answers = []
        for address in ("tarn@garden.example", "wren@garden.example"):
            answer = Client().post("/account/sign-up/", {**PERSON, "email": address}, follow=True)
            self.assertNotContains(answer, "already an account for this")
            said = re.sub(r"csrfmiddlewaretoken\" value=\"\w+", "", answer.content.decode()).replace(address, "…")
            answers.append((answer.redirect_chain[0][1], said.replace(address.replace("@", "%40"), "…")))
        self.assertEqual(answers[0], answers[1])
        entered = Client().post("/account/log-in/", {"username": PERSON["email"], "password": PERSON["password"]})
        self.assertEqual(entered.status_code, 302)
        self.wren.refresh_from_db()
        self.assertTrue(self.wren.check_password("a long pass phrase"))

    @WITH_MAIL
    def test_with_mail_the_owner_of_the_address_opens_the_account(self) -> None:
        client = Client()
        pages = [
            client.post("/account/sign-up/", {**PERSON, "email": e}).content
            for e in ("tarn@garden.example", "wren@garden.example")
        ]
        strip = [re.sub(rb"csrf\w+\" value=\"\w+", b"", p) for p in pages]
        self.assertEqual(strip[0], strip[1])
        welcome, known = mail.outbox
        self.assertIn("has an account already", known.body)
        tarn = User.objects.get(email="tarn@garden.example")
        self.assertFalse(tarn.is_active)
        link = re.search(r"http://testserver(\S+)", welcome.body)
        assert link is not None
        self.assertRedirects(client.get(link[1]), "/new/")
        tarn.refresh_from_db()
        self.assertTrue(tarn.is_active)
        self.assertEqual(Client().get("/account/sign-up/zz/nonsense/").status_code, 410)

    def test_everything_that_knocks_has_a_limit(self) -> None:
        def knocks(address: str, most: int, **data: object) -> list[int]:
            return [Client().post(address, data).status_code for _ in range(most + 1)]

        for k, (address, most, data) in enumerate(
            (
                ("/account/sign-up/", limits.SIGN_UPS, PERSON),
                ("/account/password/forgotten/", limits.RESETS_OF_ONE, {"email": "wren@garden.example"}),
                ("/feed/", limits.WRONG_KEYS, {}),
            )
        ):
            with self.subTest(address):
                statuses = knocks(address, most, **data)
                self.assertEqual(statuses[-1], 429)
                self.assertNotIn(429, statuses[:-1], k)
        self.assertLessEqual(len(mail.outbox), limits.RESETS_OF_ONE)

    def test_where_no_mail_can_be_sent_the_page_says_so_and_what_to_do(self) -> None:
        for address in ("/account/password/forgotten/", "/account/password/sent/"):
            self.assertContains(Client().get(address), "cannot send mail")
            self.assertContains(Client().get(address), "make password")
        with WITH_MAIL:
            self.assertNotContains(Client().get("/account/password/forgotten/"), "cannot send mail")

    def test_mail_is_read_from_the_environment(self) -> None:
        import environ

        found = environ.Env().email_url_config("smtp+tls://post@garden.example:secret@mail.example:587")
        self.assertEqual(
            (found["EMAIL_HOST"], found["EMAIL_PORT"], found["EMAIL_USE_TLS"]), ("mail.example", 587, True)
        )
        self.assertNotIn("testserver", settings.ALLOWED_HOSTS[:-1])
