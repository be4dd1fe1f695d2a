"""The plug pulled in the middle of writing, and thirty people at once: nothing acknowledged is lost, nothing is doubled."""

from __future__ import annotations

import http.client
import random
import threading
import time
from collections import Counter
from typing import Any

from soak.ground import Browser, Server, begin, report, session_of

KILLS, WRITES, WRITERS = 20, 500, 4
CLIENTS, SECONDS = 30, 20
PAGES = ("today/", "plan/", "seeds/", "beds/", "place/", "calendar/", "journal/")


def _found(garden: Any) -> Counter[str]:
    """How often each place is written: rows, and entries that name it."""
    from aestiva.gardens.models import JournalEntry
    from aestiva.season.models import Spot

    rows = Counter(Spot.objects.filter(garden=garden).values_list("code", flat=True))
    said = JournalEntry.objects.filter(garden=garden, summary__startswith="Added the place ")
    entries = Counter(s.removeprefix("Added the place ") for s in said.values_list("summary", flat=True))
    return rows + entries


def kills() -> bool:
    """SIGKILL while four people write; what nobody answered is sent again under the same key."""
    garden, owner = begin("plug")
    server, chance = Server(), random.Random(5)
    server.start()
    session, address = session_of(owner), f"/g/{garden.pk}/spots/new/"
    acknowledged: set[str] = set()
    stop, lock = threading.Event(), threading.Lock()

    def write(who: int) -> None:
        browser, n = Browser(server.port, session), 0
        while not stop.is_set():
            code = f"w{who}n{n}"
            try:
                status = browser.ask("POST", address, {"code": code, "kind": "shelf", "key": f"k{code}"})
            except (OSError, http.client.HTTPException):
                time.sleep(0.05)
                continue  # no answer: once more, under the same key
            if status == 302:
                with lock:
                    acknowledged.add(code)
                n += 1

    threads = [threading.Thread(target=write, args=(k,)) for k in range(WRITERS)]
    for thread in threads:
        thread.start()
    killed, began = 0, time.monotonic()
    while killed < KILLS or (len(acknowledged) < WRITES and time.monotonic() - began < 400):
        time.sleep(chance.uniform(0.3, 1.2))
        if killed < KILLS:
            server.kill()
            killed += 1
            server.start()
    stop.set()
    for thread in threads:
        thread.join()
    server.kill()
    found = _found(garden)
    missing = [c for c in acknowledged if found[c] == 0]
    doubled = [c for c, n in found.items() if c.startswith("w") and n != 2]  # one row and one entry
    good = not missing and not doubled and len(acknowledged) >= WRITES
    return report(
        "kills",
        good,
        f"{killed} kills, {len(acknowledged)} acknowledged, {len(missing)} missing, {len(doubled)} doubled or half",
    )


def clients() -> bool:
    """Thirty people read and write for twenty seconds."""
    garden, owner = begin("crowd")
    server = Server()
    server.start()
    session = session_of(owner)
    statuses: Counter[int] = Counter()
    acknowledged: set[str] = set()
    lost_answers, slowest = [0], [0.0]
    lock, end = threading.Lock(), time.monotonic() + SECONDS

    def work(who: int) -> None:
        browser, chance, n = Browser(server.port, session), random.Random(who), 0
        while time.monotonic() < end:
            began = time.monotonic()
            try:
                if chance.random() < 0.3:
                    code = f"c{who}n{n}"
                    n += 1
                    status = browser.ask(
                        "POST", f"/g/{garden.pk}/spots/new/", {"code": code, "kind": "shelf", "key": code}
                    )
                    if status == 302:
                        with lock:
                            acknowledged.add(code)
                else:
                    status = browser.ask("GET", f"/g/{garden.pk}/{chance.choice(PAGES)}")
            except (OSError, http.client.HTTPException):
                with lock:
                    lost_answers[0] += 1
                continue
            with lock:
                statuses[status] += 1
                slowest[0] = max(slowest[0], time.monotonic() - began)

    threads = [threading.Thread(target=work, args=(k,)) for k in range(CLIENTS)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    server.kill()
    found = _found(garden)
    lost = [c for c in acknowledged if found[c] == 0]
    doubled = [c for c, n in found.items() if c.startswith("c") and n != 2]
    failed = sum(n for s, n in statuses.items() if s not in (200, 302)) + lost_answers[0]
    said = f"{sum(statuses.values())} answers in {SECONDS} s, {len(acknowledged)} writes, slowest {slowest[0]:.1f} s"
    return report(
        "clients", not (failed or lost or doubled), f"{said}, {failed} failed, {len(lost)} lost, {len(doubled)} doubled"
    )
