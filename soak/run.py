"""`make soak`: each attack bounded and seeded, one line of figures each; ONLY=name … for some of them."""

from __future__ import annotations

import random
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable
from typing import Any

from soak.ground import begin, prepare, report

STEPS, WALKS, DAYS, FORTNIGHT = 300, 5, 60, 14


def walks() -> bool:
    """Five walks of three hundred steps; after every step the pages answer and the ledgers balance; all undone at the end."""
    from aestiva.frame.tests.garden import client_for, plant, user
    from aestiva.gardens.models import Garden, JournalEntry, Member
    from soak.walk import Walk, state

    good = True
    for seed in range(1, WALKS + 1):
        garden, owner = begin(f"walker{seed}")
        helper = user(f"helper{seed}")
        Member.objects.create(garden=garden, user=helper, role="owner")
        plant(garden, owner, "tomato", 8)
        plant(garden, owner, "kale", 8)
        before, since = state(garden), JournalEntry.objects.filter(garden=garden).latest("pk").pk
        walk, began, broken = Walk(garden, [client_for(owner), client_for(helper)], seed), time.monotonic(), ""
        kind = "start"
        try:
            for n in range(STEPS):
                kind = f"step {n}, {walk.step()}"
                walk.check(("today/", "plan/", "seeds/", "beds/", "place/", "calendar/"))
        except Exception as error:
            broken = f"{kind}: {error!r}"
        stuck = 0 if broken else walk.undo_everything(since)
        after = state(Garden.objects.get(pk=garden.pk))
        same = all(after[label] == rows for label, rows in before.items())
        written = sum(walk.done.values())
        figures = f"{STEPS} steps, {written} written, {walk.refused} refused, {stuck} not taken back at the end"
        figures += f", as before: {same}, {time.monotonic() - began:.0f} s"
        good = report(f"walk {seed}", not broken and not stuck and same, f"{broken or figures}") and good
    return good


def sixty_days() -> bool:
    """The demo garden lived for sixty days by what Today says: pages answer, nothing is harmed, contradicted or lost."""
    from aestiva.care.round import the_round
    from aestiva.course.state import load
    from aestiva.frame.tests.garden import client_for
    from aestiva.gardens.models import Garden
    from aestiva.today.demo_views import step
    from demo.hands import do_tasks
    from demo.scenario import build
    from demo.walk import faults

    garden = build()
    owner = garden.members.get().user
    client, done, broken, troubles, wrong = client_for(owner), 0, [], 0, []
    minutes: list[int] = []
    for day in range(DAYS):
        garden = Garden.objects.get(pk=garden.pk)
        wrong += faults(garden, client, evening=False)
        now = load(garden, garden.simulated_on)  # type: ignore[arg-type]
        minutes.append(sum(t.task.minutes for t in now.todos(now.today)) + the_round(now).minutes)
        done += do_tasks(garden, owner)
        wrong += faults(Garden.objects.get(pk=garden.pk), client, evening=True)
        for page in ("today/", "plan/", "beds/", "seeds/", "calendar/", "place/"):
            status = client.get(f"/g/{garden.pk}/{page}").status_code
            if status != 200:
                broken.append(f"day {day}: {page} {status}")
        assert garden.simulated_on is not None
        troubles += len(load(garden, garden.simulated_on).troubles)
        step(garden, 1)
    figures = f"{DAYS} days, {done} tasks done, {len(broken)} pages failed {broken[:2]}, {troubles} troubles, "
    figures += (
        f"{sum(minutes) / len(minutes):.0f} minutes a day, at most {max(minutes)}, {len(wrong)} faults {wrong[:3]}"
    )
    return report("sixty days", not (broken or troubles or wrong), figures)


def southern_fortnight() -> bool:
    """Kanuka Flat's four hundred plantings lived for a fortnight in the same way."""
    from aestiva.frame.tests.garden import client_for
    from aestiva.gardens.models import Garden
    from aestiva.today.demo_views import step
    from demo import kanuka
    from demo.hands import do_tasks
    from demo.walk import faults

    garden = kanuka.build()
    owner = garden.members.get().user
    client, done, wrong = client_for(owner), 0, []
    for _ in range(FORTNIGHT):
        garden = Garden.objects.get(pk=garden.pk)
        wrong += faults(garden, client, evening=False)
        done += do_tasks(garden, owner)
        wrong += faults(Garden.objects.get(pk=garden.pk), client, evening=True)
        step(Garden.objects.get(pk=garden.pk), 1)
    figures = f"{FORTNIGHT} days, {done} tasks done, {len(wrong)} faults {wrong[:3]}"
    return report("southern fortnight", not wrong, figures)


def _timeless(document: dict[str, Any]) -> dict[str, Any]:
    """A garden's document without the hour of the clock at which it was lived."""
    for entry in document["journal"]:
        del entry["at"]
    for event in document["events"]:
        (event["data"] or {}).pop("at", None)
    return document


def demo_data() -> bool:
    """The demo as it is kept and lived on for its last days: the same garden as the one that is lived from its first day."""
    from django.db import transaction

    from aestiva.gardens import portable
    from aestiva.gardens.models import Garden
    from demo import kanuka, kept, scenario

    said, good = [], True
    gardens: dict[str, tuple[Callable[[], Garden], Callable[[], Garden]]] = {
        "quarry_lane": (scenario.build, scenario.anew),
        "kanuka_flat": (lambda: kept.brought_in("kanuka_flat"), kanuka.build),
    }
    for name, ways in gardens.items():
        documents = []
        for way in ways:
            with transaction.atomic():
                documents.append(_timeless(portable.export(way())))
                transaction.set_rollback(True)
        apart = [part for part, rows in documents[0].items() if rows != documents[1][part]]
        said.append(f"{name}: {len(apart)} parts differ {apart[:4]}")
        good = good and not apart
    return report("demo data", good, ", ".join(said))


def long_tests() -> bool:
    """Tests that take so long that `make test` leaves them out (tagged "long")."""
    command = [sys.executable, "-W", "ignore", "manage.py", "test", "--tag", "long", "demo", "aestiva", "growing"]
    ran = subprocess.run(command, capture_output=True, text=True)
    said = next((line for line in ran.stderr.splitlines() if line.startswith("Ran ")), "nothing ran")
    return report("long tests", ran.returncode == 0 and not said.startswith("Ran 0"), said)


def addresses() -> bool:
    """Every address by every person and method: nobody in who does not belong, never an error."""
    from django.test import Client

    from aestiva.frame.tests.garden import client_for
    from aestiva.gardens.tests.test_access import Walk as Access

    Access.setUpTestData()
    case = Access("test_reading")
    case.setUp()
    people = {"stranger": Client(), **{who: client_for(user) for who, user in case.people.items()}}
    statuses: Counter[int] = Counter()
    leaks, errors, chance = [], [], random.Random(3)
    odd = {
        "revision": "9" * 40,
        "count": "nan",
        "on": "9999-12-31",
        "what": "🌱",
        "key": "x" * 400,
        "sow_on": "0001-01-01",
    }
    for who, client in people.items():
        client.raise_request_exception = False
        for address in case.addresses():
            for method, data in (("get", {}), ("head", {}), ("post", odd), ("put", {}), ("delete", {})):
                if who in ("grower", "owner") and method == "post" and chance.random() < 0.5:
                    data = {}
                if (
                    address.endswith(("leave/", "live/", f"journal/{case.entry.pk}/undo/"))
                    and who != "outsider"
                    and method == "post"
                ):
                    continue  # would end the walk
                status = getattr(client, method)(address, data).status_code
                statuses[status] += 1
                if status >= 500:
                    errors.append(f"{who} {method} {address}")
                if (who == "stranger" and status not in (302, 405)) or (who == "outsider" and status not in (404, 405)):
                    leaks.append(f"{who} {method} {address}: {status}")
    figures = f"{sum(statuses.values())} requests, {len(leaks)} leaks {leaks[:2]}, {len(errors)} errors {errors[:2]}"
    return report("addresses", not leaks and not errors, figures)


def columns() -> bool:
    """5,000 batches as arrays and one by one: every day the same; in float32, those that lie on the edge of a day counted."""
    import os
    import unittest

    os.environ["AESTIVA_SEASONS"] = "50x100"
    import numpy as np

    from growing.tests import test_seasons as seasons

    exact, half = seasons.together(np.float64), seasons.together(np.float32)
    apart = int((exact.out.day != half.out.day).sum())
    ran = unittest.TextTestRunner(verbosity=0).run(unittest.defaultTestLoader.loadTestsFromModule(seasons))
    figures = f"{seasons.PLANTINGS} × {seasons.GARDENS} batches, {len(ran.failures)} failures, {apart} apart in float32"
    return report("columns", ran.wasSuccessful(), figures)


def main(wanted: list[str]) -> int:
    from soak.agreement import ATTACKS as AGREEMENT
    from soak.elsewhere import on_postgres
    from soak.evil import PARTS, evil
    from soak.forms import forms, odd
    from soak.mutations import formats
    from soak.server import clients, kills

    attacks: dict[str, Callable[..., bool]] = {
        "evil": evil,
        "forms": forms,
        "odd": odd,
        "addresses": addresses,
        "mutations": formats,
        "clients": clients,
        "kills": kills,
        "days": sixty_days,
        "south": southern_fortnight,
        "walks": walks,
        "columns": columns,
        "demo-data": demo_data,
        "long": long_tests,
        **AGREEMENT,
    }
    with tempfile.TemporaryDirectory() as data:
        prepare(data)
        results = [attack() for name, attack in attacks.items() if not wanted or name in wanted]
        if "forms.pg" in wanted or not wanted:
            results.append(on_postgres())
        results += [attack() for name, attack in PARTS.items() if f"evil.{name}" in wanted]  # one of them alone
    return 0 if all(results) else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
