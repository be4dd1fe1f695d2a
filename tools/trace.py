"""What one request passes through: `make trace`, for those that a grower makes most.

Prints for each the queries, the files and functions of the project that ran, and the crossings: calls from one app or
package into another.  Counted in a demo garden of 160 plantings, the request made once before so that what is kept is
kept.  It counts calls of Python functions only; templates count as the tags they call.
"""

from __future__ import annotations

import os
import sys
import tempfile
from collections import Counter
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from types import FrameType
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))


class Passed:
    """The project's functions that ran while it was open."""

    def __init__(self) -> None:
        self.functions: set[tuple[str, str]] = set()
        self.crossings = 0
        self.rooms: Counter[tuple[str, str]] = Counter()

    def __enter__(self) -> Passed:
        sys.setprofile(self._note)
        return self

    def __exit__(self, *args: object) -> None:
        sys.setprofile(None)

    def _note(self, frame: FrameType, event: str, arg: object) -> None:
        if event != "call":
            return
        file = _ours(frame)
        if file is None:
            return
        self.functions.add((file, frame.f_code.co_qualname))
        caller, steps = frame.f_back, 0
        while caller is not None and _ours(caller) is None and steps < 60:
            caller, steps = caller.f_back, steps + 1
        above = _ours(caller) if caller is not None else None
        if above is not None and _room(above) != _room(file):
            self.crossings += 1
            self.rooms[_room(above), _room(file)] += 1

    @property
    def files(self) -> set[str]:
        return {file for file, _ in self.functions}


def _ours(frame: FrameType) -> str | None:
    name = frame.f_code.co_filename
    if not name.startswith((f"{ROOT}/aestiva", f"{ROOT}/growing")):
        return None
    return name[len(str(ROOT)) + 1 :]


def _room(file: str) -> str:
    """The app, or the rules: "aestiva/plan", "growing"."""
    top, inner = file.split("/")[:2]
    return top if top == "growing" or inner.endswith(".py") else f"{top}/{inner}"


def show(name: str, request: Callable[[], Any], again: bool = True) -> None:
    """One line a request."""
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    if again:
        request()
    with CaptureQueriesContext(connection) as seen, Passed() as passed:
        answer = request()
    assert answer.status_code in (200, 204, 302), answer.status_code
    pairs = len(passed.rooms)
    print(
        f"TRACE {name}: {len(seen)} queries, {len(passed.files)} files, {len(passed.functions)} functions,"
        f" {passed.crossings} crossings ({pairs} kinds)"
    )
    if os.environ.get("ROOMS"):
        for (a, b), n in passed.rooms.most_common(30):
            print(f"    {a} -> {b}: {n}")


def moved(garden: Any) -> dict[str, str]:
    """The form that moves one planting, which nothing was sown for yet, by a day."""
    from datetime import timedelta

    from aestiva.course.state import load

    now = load(garden, garden.simulated_on)
    item = next(i for i in now.items if i.batch is None and i.raised.dates.sow_on > now.today + timedelta(days=9))
    pk, day = item.planting.pk, item.raised.dates.sow_on + timedelta(days=1)
    return {"moves": f"{pk}.{day:%Y-%m-%d}", "seen": f"{pk}.{item.planting.revision}", "look": "?by=out"}


def tap(client: Any, addresses: Iterator[str]) -> Any:
    head = {"HX-Request": "true"} if "--tap" in sys.argv else {}
    return client.post(next(addresses), {"what": "done"}, headers=head, follow=True)


def main() -> None:
    """Build the garden, and make the requests."""
    with tempfile.TemporaryDirectory() as data:
        os.environ.update(AESTIVA_DATA=data, AESTIVA_DEBUG="0", AESTIVA_HOSTS="testserver")
        os.environ.setdefault("DJANGO_SETTINGS_MODULE", "aestiva.settings")
        import django
        from django.core.management import call_command
        from django.test import Client
        from django.test.utils import setup_test_environment

        django.setup()
        setup_test_environment()
        call_command("migrate", verbosity=0)
        from aestiva.course.state import load
        from demo.kanuka import build

        garden = build(160)
        client = Client()
        client.force_login(garden.members.get(role="owner").user, backend="django.contrib.auth.backends.ModelBackend")
        at = f"/g/{garden.pk}"
        client.get(f"{at}/today/")
        tasks = [todo.task for todo in load(garden, garden.simulated_on).todos(garden.simulated_on)]
        for name, kinds in (("done-tap", ("thin", "lamp", "lid", "seed")), ("outing", ("harden",))):
            addresses = iter([f"{at}/task/{task.key}/" for task in tasks if task.kind in kinds])
            show(name, partial(tap, client, addresses))
        show("moved planting", lambda: client.post(f"{at}/plan/moves/keep/", moved(garden), follow=True))
        hours, today = iter(range(24)), f"{garden.simulated_on:%Y-%m-%d}"
        read = {"which": "soil", "day": today, "celsius": "11"}
        show(
            "probe reading",
            lambda: client.post(f"{at}/place/readings/", read | {"hour": str(next(hours))}, follow=True),
        )
        typed = {"crop": "Tomato", "wanted": "24", "method": "raised", "term": "spring"}
        show(
            "live answer of Add a planting",
            lambda: client.get(f"{at}/plan/preview/", typed, headers={"HX-Request": "true"}),
        )
        show(
            "letting go of the frost line",
            lambda: client.get(f"{at}/place/line/", {"risk": "20", "effects": "1"}, headers={"HX-Request": "true"}),
        )


main()
