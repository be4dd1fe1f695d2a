"""The demo lived for some days by what Today says: nothing harmed, nothing contradicted, nothing lost from sight."""

from __future__ import annotations

from django.test import TestCase

from aestiva.frame.tests.garden import client_for
from aestiva.gardens.models import Garden
from demo.scenario import build
from demo.simulation import do_tasks, step
from demo.walk import faults


class Walks(TestCase):
    def walk(self, garden: Garden, days: int) -> None:
        owner = garden.members.get(role="owner").user
        client, found = client_for(owner), []
        for _ in range(days):
            found += faults(Garden.objects.get(pk=garden.pk), client, evening=False)
            do_tasks(Garden.objects.get(pk=garden.pk), owner)
            found += faults(Garden.objects.get(pk=garden.pk), client, evening=True)
            step(Garden.objects.get(pk=garden.pk), 1)
        self.assertEqual(found[:12], [])

    def test_quarry_lane_for_ten_days(self) -> None:
        self.walk(build(), 10)
