"""A day of the demo's grower by the simulation, through pages and as JSON: the same rows."""

from __future__ import annotations

import json
from collections.abc import Callable
from datetime import UTC, datetime
from types import SimpleNamespace
from typing import Any
from unittest import mock

from django.core.cache import cache
from django.db import transaction
from django.test import Client, TestCase

from aestiva.frame.tests.garden import client_for
from aestiva.gardens import portable
from aestiva.gardens.outcomes import Refused
from aestiva.place.commands import make_key
from demo import hands
from demo.tests.lived import quarry_lane

MORNING = datetime(2026, 4, 18, 8, tzinfo=UTC)
Run = Callable[..., Any]


class ThreeWays(TestCase):
    def setUp(self) -> None:
        self.garden = quarry_lane()
        self.owner = self.garden.members.get(role="owner").user
        self.token = make_key(self.garden, self.owner, "Script", "everything")

    def by_page(self, command: Any, actor: Any, typed: dict[str, Any], key: str = "") -> Any:
        sent = {name: value for name, value in typed.items() if value is not None}
        before = self.garden.journal.count()
        answer = client_for(self.owner).post(f"/g/{self.garden.pk}/task/{sent.pop('task')}/", sent)
        if answer.status_code == 422:
            raise Refused("", "the page said no")
        self.assertEqual(answer.status_code, 302)
        return SimpleNamespace(written=self.garden.journal.count() > before)

    def by_json(self, command: Any, actor: Any, typed: dict[str, Any], key: str = "") -> Any:
        sent = {name: str(value) if name == "on" else value for name, value in typed.items()}
        answer = Client().post(
            f"/g/{self.garden.pk}/do/{command.known_as}/",
            json.dumps(sent),
            content_type="application/json",
            headers={"Authorization": f"Bearer {self.token}"},
        )
        if answer.status_code == 422:
            raise Refused("", "the address said no")
        return SimpleNamespace(written=answer.json()["done"])

    def rows(self, run: Run) -> tuple[int, dict[str, Any]]:
        """What she did, and what stands in the garden after it; then it is as it was, and so is what is kept by its revisions."""
        cache.clear()
        with (
            transaction.atomic(),
            mock.patch.object(hands, "run", run),
            mock.patch("aestiva.gardens.clock.instant", lambda: MORNING),
        ):
            done = hands.do_tasks(self.garden, self.owner)
            found = {
                name: part for name, part in portable.export(self.garden).items() if name not in ("journal", "garden")
            }
            transaction.set_rollback(True)
        return done, found

    def test_the_same_rows(self) -> None:
        done, rows = self.rows(hands.run)
        self.assertGreater(done, 5)
        for way in (self.by_page, self.by_json):
            also, found = self.rows(way)
            self.assertEqual(also, done)
            for part, expected in rows.items():
                self.assertEqual(found[part], expected, f"{way.__name__}: {part}")
