"""A garden in inches and °F: no page of it says a metric measure, in text, title or picture; a twelve-hour clock, its own money."""

from __future__ import annotations

import html
import itertools
import re
from typing import Any

from django.test import Client
from django.urls import get_resolver

from aestiva.bench.models import Recipe
from aestiva.care.models import Feed
from aestiva.course.state import load
from aestiva.gardens.models import Garden
from aestiva.gardens.tests.test_access import routes
from aestiva.place.models import Station
from aestiva.season.models import Batch, BedArea, Container, Lamp, Lot, Planting, Spot, Tray

METRIC = re.compile(r"\d[\s\u00a0\u202f]?(°C|mm|cm|m|ml|l|g|kg|km/h|km|litres?|metres?)(?![\w²³/°])")
SPOKEN = re.compile(r'(?:title|aria-label|placeholder|alt)="([^"]*)"')
SILENT = re.compile(
    r"<script.*?</script>|<style.*?</style>|<textarea.*?</textarea>|<q\b.*?</q>", re.S
)  # <q>: a packet's own words
STEP = 12  # of many batches, packets and tasks every twelfth is looked at
CROPS, FIELDS = ("tomato", "celery", "onion", "potato"), ("hold", "germinate_c", "spacing_cm", "cell_ml")


def said(page: str) -> str:
    """All that a page says, to eyes and to screen readers, pictures included."""
    page = SILENT.sub("", page)
    return html.unescape(re.sub(r"<[^>]+>", " ", page) + " | " + " | ".join(SPOKEN.findall(page)))


class ImperialPages:
    """What Quarry Lane says to somebody in inches; part of its own tests, for the garden takes a while to live through."""

    garden: Garden

    def addresses(self) -> list[str]:
        """Every address of the garden that can be read, for everything in it."""
        now = load(self.garden, self.garden.simulated_on)  # type: ignore[arg-type]
        mine: dict[str, list[Any]] = {
            "<int:garden_id>": [self.garden.pk],
            "<int:batch_id>": list(
                Batch.objects.filter(planting__season__garden=self.garden).values_list("pk", flat=True)
            ),
            "<int:planting_id>": list(Planting.objects.filter(season__garden=self.garden).values_list("pk", flat=True)),
            "<int:entry_id>": [],
            "<str:key>": [t.task.key for t in now.todos(now.today)],
            "<str:start>": ["2026-04-06"],
            "<slug:key>": [crop for crop in CROPS for _ in range(STEP)],
            "<slug:field>": [field for field in FIELDS for _ in range(STEP)],
            "<int:station>": list(Station.objects.filter(owner=self.garden).values_list("pk", flat=True)),
            "<int:spot_id>": list(Spot.objects.filter(garden=self.garden).values_list("pk", flat=True)),
            "<int:lot_id>": list(Lot.objects.filter(garden=self.garden).values_list("pk", flat=True)),
            "<int:tray_id>": list(Tray.objects.filter(garden=self.garden).values_list("pk", flat=True)),
            "<int:container_id>": list(Container.objects.filter(garden=self.garden).values_list("pk", flat=True)),
            "<int:mix_id>": list(Recipe.objects.filter(garden=self.garden).values_list("pk", flat=True)),
            "<int:place_id>": list(Spot.objects.filter(garden=self.garden).values_list("pk", flat=True)),
            "<int:lamp_id>": list(Lamp.objects.filter(spot__garden=self.garden).values_list("pk", flat=True)),
            "<int:feed_id>": list(Feed.objects.filter(garden=self.garden).values_list("pk", flat=True)),
            "<int:recipe_id>": list(Recipe.objects.filter(garden=self.garden).values_list("pk", flat=True)),
            "<int:area_id>": list(BedArea.objects.filter(spot__garden=self.garden).values_list("pk", flat=True))[:1],
        }
        found = []
        for route in routes(get_resolver()):
            names = [name for name in mine if name in route]
            if not route.startswith("g/") or route.endswith(("record/", "change/", "tasks/", "put-off/")):
                continue
            for values in itertools.product(*(mine[name][::STEP] for name in names)):
                address = route
                for name, value in zip(names, values, strict=True):
                    address = address.replace(name, str(value))
                found.append("/" + address)
        return found

    def test_no_page_says_a_metric_measure(self: Any) -> None:
        addresses = self.addresses()
        for system in ("us", "imperial"):
            Garden.objects.filter(pk=self.garden.pk).update(units=system)
            client, wrong, looked = Client(), set(), 0
            owner = self.garden.members.get(role="owner").user
            client.force_login(owner, backend="django.contrib.auth.backends.ModelBackend")
            for address in addresses if system == "us" else addresses[::8]:
                page = client.get(address)
                if page.status_code != 200 or page["Content-Type"].split(";")[0] not in ("text/html", "image/svg+xml"):
                    continue
                looked += 1
                text = said(page.content.decode())
                for found in METRIC.finditer(text):
                    if system == "us" or found[1] != "°C":  # in the other, degrees are Celsius
                        wrong.add((address, " ".join(text[max(0, found.start() - 40) : found.end() + 10].split())))
            self.assertEqual(wrong, set(), system)
            self.assertGreater(looked, 15)

    def test_the_measures_it_says_are_right(self: Any) -> None:
        Garden.objects.filter(pk=self.garden.pk).update(units="us", clock="12", currency="$")
        client = Client()
        owner = self.garden.members.get(role="owner").user
        client.force_login(owner, backend="django.contrib.auth.backends.ModelBackend")
        today = said(client.get(f"/g/{self.garden.pk}/today/").content.decode())
        self.assertRegex(today, r"Out 10 am, in by 6 pm")
        self.assertIn("in deep, cover with mix", today)
        orders = said(client.get(f"/g/{self.garden.pk}/seeds/orders/").content.decode())
        self.assertRegex(orders, r"\$\d+\.\d\d|Nothing to order|to order")
