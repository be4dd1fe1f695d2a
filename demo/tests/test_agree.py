"""Does every place that shows a fact show the same?  Asked of both demos and of gardens nobody planned; a difference names both places."""

from __future__ import annotations

import re
from datetime import timedelta

from django.test import TestCase

from aestiva.course.state import load
from aestiva.frame.tests.garden import client_for
from aestiva.gardens.models import Garden
from demo import kanuka
from demo.agree import between, differences
from demo.generated import garden_of
from demo.tests.lived import quarry_lane

SEEDS = (1, 2, 3, 4)


class Agree(TestCase):
    maxDiff = None

    def look(self, garden: Garden) -> None:
        assert garden.simulated_on is not None
        client = client_for(garden.members.get(role="owner").user)
        now = load(garden, garden.simulated_on)
        self.assertEqual(differences(garden, now, client), [], garden.name)
        for rest in ("plan/", "plan/season.svg"):  # of room the plan says nothing by itself: the bench has drawn it
            page = client.get(f"/g/{garden.pk}/{rest}").content.decode()
            self.assertIsNone(re.search(r"most [\d.]+ trays", page), rest)

    def test_quarry_lane(self) -> None:
        self.look(Garden.objects.get(pk=quarry_lane().pk))

    def test_kanuka_flat(self) -> None:
        self.look(Garden.objects.get(pk=kanuka.build(80).pk))

    def test_gardens_nobody_planned_on_two_days(self) -> None:
        for seed in SEEDS:
            garden = garden_of(seed)
            assert garden.simulated_on is not None
            self.look(garden)
            before = load(garden, garden.simulated_on)
            garden.simulated_on += timedelta(days=1)
            garden.save()
            self.look(garden)
            self.assertEqual(between(before, load(garden, garden.simulated_on)), [], garden.name)
