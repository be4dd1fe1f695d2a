"""Things of the garden: each is added, changed and taken away from the one page of all."""

from __future__ import annotations

from django.urls import reverse

from aestiva.bench.garden_things import CONTAINER, MIX, PLACE
from aestiva.care.things import FEED
from aestiva.gardens.tests.test_access import Addresses
from aestiva.light.things import LAMP, TARIFF


class OnePage(Addresses):
    def test_a_thing_that_is_there_can_be_kept_left_and_taken_away(self) -> None:
        mine = (
            (CONTAINER, self.container),
            (MIX, self.recipe),
            (PLACE, self.frame),
            (FEED, self.feed),
            (LAMP, self.lamp),
        )
        for thing, row in mine:
            with self.subTest(thing.name):
                page = self.client.get(reverse(f"{thing.name}_change", args=[self.garden.pk, row.pk]))
                self.assertTemplateUsed(page, "gardens/thing.html")
                for said in (
                    "Keep",
                    "Leave it",
                    str(thing.verb),
                    reverse(thing.remove_name, args=[self.garden.pk, row.pk]),
                ):
                    self.assertContains(page, said)
        self.assertNotContains(self.client.get(reverse(TARIFF.name, args=[self.garden.pk])), "Remove")

    def test_what_is_wrong_stands_at_its_field_and_what_was_typed_stays(self) -> None:
        for thing, address, typed, said in (
            (FEED, reverse("feed_new", args=[self.garden.pk]), {"name": "Nettle", "n": "much"}, "“much” is no number"),
            (
                CONTAINER,
                reverse("container_new", args=[self.garden.pk]),
                {"name": "Pots", "cells": "0"},
                "0 cannot be: give 1 to",
            ),
            (
                LAMP,
                reverse("lamp_new", args=[self.garden.pk, self.shelf.pk]),
                {"name": "Old", "number": "99"},
                "99 cannot be: give 1 to 40",
            ),
        ):
            with self.subTest(thing.name):
                page = self.client.post(address, typed)
                self.assertContains(page, said, status_code=422)
                self.assertContains(page, f'value="{typed["name"]}"', status_code=422)

    def test_a_name_that_another_has_is_said_at_the_name(self) -> None:
        page = self.client.post(reverse("feed_new", args=[self.garden.pk]), {"name": "Salts", "analysis": ""})
        self.assertContains(page, "There is a feed of that name already", status_code=422)
