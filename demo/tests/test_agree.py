"""Does every place that shows a fact show the same?  Asked of both demos, row by row; a difference names both places."""

from __future__ import annotations

import re
from collections import Counter

from django.test import TestCase

from aestiva.care.round import the_round
from aestiva.course.outlook import look_over
from aestiva.course.state import SeasonState, load
from aestiva.frame.tests.garden import client_for
from aestiva.gardens.models import Garden
from aestiva.hardening.tonight import pots_tonight
from aestiva.plantingout.tonight import tonight
from aestiva.today.listing import outside
from demo import kanuka
from demo.tests.lived import quarry_lane
from demo.walk import ghosts


def first_looks(now: SeasonState) -> list[str]:
    """Emergence, the course and the task of the first look: one day."""
    found = []
    asked = {
        t.item.batch_pk: t.due for t in now.todos(now.horizon, ("look",)) if t.item.batch is not None and not t.moved
    }
    for batch, outlook in look_over(now).items():
        verdict, step = outlook.verdict, outlook.item.raised.course.steps["look"].due
        if verdict.kind not in ("soon", "warm") or batch not in asked:
            continue
        days = {"Emergence": verdict.by, "the course": max(step, now.today), "Today": max(asked[batch], now.today)}
        if len(set(days.values())) > 1:
            found.append(f"first look at b{batch} {outlook.item.full_name}: {days}")
    return found


def nothing_dead_is_tended(now: SeasonState) -> list[str]:
    """The round and the pots of tonight count what is alive, and nothing dead stands anywhere."""
    alive = {
        i.batch.pk
        for i in now.items
        if i.batch is not None and not (i.raised.accounts is not None and i.raised.accounts.spent)
    }
    found = [
        f"the round: {stop.code} {stop.who} holds nothing" for stop in the_round(now).stops if not stop.batches & alive
    ]
    found += [f"tonight: {one.item.full_name}" for one in pots_tonight(now).lines if one.item.batch_pk not in alive]
    return found + ghosts(now.garden, now)


def plants_outdoors(now: SeasonState) -> list[str]:
    """Today's headline and the lines of Tonight: the same plants, batch by batch."""
    lines: Counter[int] = Counter()
    for bed in tonight(now).lines:
        lines[bed.item.batch_pk] += bed.plants
    for pot in pots_tonight(now).lines:
        lines[pot.item.batch_pk] += pot.plants
    found = []
    for item in now.items:
        if item.batch is None or item.raised.facts.out is not None:  # out for the day: it comes in before the night
            continue
        here = outside(item.raised)
        if now.nights and here != lines[item.batch.pk]:
            found.append(f"{item.full_name}: {here} outdoors on Today, {lines[item.batch.pk]} on Tonight")
    return found


class Agree(TestCase):
    def look(self, garden: Garden) -> None:
        assert garden.simulated_on is not None
        now = load(garden, garden.simulated_on)
        self.assertEqual(first_looks(now), [])
        self.assertEqual(nothing_dead_is_tended(now), [])
        self.assertEqual(plants_outdoors(now), [])
        self.one_room(garden)

    def one_room(self, garden: Garden) -> None:
        """The plan says nothing of room by itself: what it shows, the bench has drawn."""
        client = client_for(garden.members.get(role="owner").user)
        for rest in ("plan/", "plan/season.svg"):
            page = client.get(f"/g/{garden.pk}/{rest}").content.decode()
            self.assertIsNone(re.search(r"most [\d.]+ trays", page), rest)

    def test_quarry_lane(self) -> None:
        self.look(Garden.objects.get(pk=quarry_lane().pk))

    def test_kanuka_flat(self) -> None:
        self.look(Garden.objects.get(pk=kanuka.build(80).pk))
