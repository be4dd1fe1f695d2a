"""What somebody may send: hostile files, chatty devices, work cut off in the middle; the others notice nothing."""

from __future__ import annotations

import json
import random
import subprocess
import threading
import time
from collections import Counter
from collections.abc import Callable
from datetime import datetime, timedelta
from itertools import pairwise
from typing import Any

from soak.ground import Browser, Server, begin, peak_mb, report, session_of
from soak.neighbour import Neighbour, watched
from soak.withheld import disk, held

ATTACKERS = 4
LONGEST_S, MOST_MB = 2.0, 300.0
JOB_S = 60.0


def _readers(garden: Any, spot: Any) -> list[tuple[str, dict[str, Any]]]:
    """Every address that takes a file."""
    url = f"/g/{garden.pk}/"
    return [
        (f"{url}plan/import/", {}),
        (f"{url}seeds/import/", {}),
        (f"{url}place/weather/", {"name": "Weir"}),
        (f"{url}place/readings/", {"which": "file"}),
        (f"{url}place/readings/", {"which": "soilfile", "hour": "8"}),
        (f"{url}place/forecast/", {}),
        (f"{url}emergence/log/keep/", {"spot": spot.pk, "hour": "8"}),
        (f"{url}crops/import/", {}),
        ("/gardens/import/", {}),
    ]


def files() -> bool:
    """Every hostile file at every reader, by four people at once: answered in two seconds or by a job, in bounds."""
    from aestiva.season.models import Spot
    from growing.tests import hostile

    sent = [(f"{name}.xlsx", data) for name, data in hostile.workbooks()]
    sent += [(f"{name}.{'xlsx' if n % 2 else 'csv'}", data) for n, (name, data) in enumerate(hostile.others())]
    gardens = [begin(f"evil{n}") for n in range(ATTACKERS)]
    server = Server()
    server.start()
    neighbour = Neighbour(server, *begin("neighbour"))
    statuses: Counter[int] = Counter()
    slow: list[str] = []
    jobs: Counter[str] = Counter()
    longest = {"answer": 0.0, "job": 0.0}
    lock = threading.Lock()

    def attack(who: int) -> None:
        garden, owner = gardens[who]
        browser = Browser(server.port, session_of(owner))
        spot = Spot.objects.filter(garden=garden, kind="shelf").get()
        for k, (address, more) in enumerate(_readers(garden, spot)):
            for n, (name, data) in enumerate(sent):
                if (n + k) % ATTACKERS != who:
                    continue
                began = time.monotonic()
                status, leads = browser.upload(address, {**more, "key": f"{who}{k}{n}"}, data, name)
                waited = time.monotonic() - began
                ended = _await(browser, leads) if leads.startswith("/jobs/") else ("", 0.0)
                with lock:
                    statuses[status] += 1
                    longest["answer"] = max(longest["answer"], waited)
                    longest["job"] = max(longest["job"], ended[1])
                    if ended[0]:
                        jobs[ended[0]] += 1
                    if waited > LONGEST_S or ended[1] > JOB_S:
                        slow.append(f"{name} at {address}: {waited:.1f} s, job {ended[1]:.1f} s")

    before = peak_mb(server.process.pid) if server.process else 0.0
    with watched(server) as most, neighbour:
        threads = [threading.Thread(target=attack, args=(who,)) for who in range(ATTACKERS)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    server.kill()
    broken = sum(n for status, n in statuses.items() if status >= 500)
    memory = ", ".join(f"{what} {mb:.0f} MB" for what, mb in most.items())
    grew = most["server"] - before
    good = not (broken or slow) and neighbour.well and max(grew, most["worker"], most["apart"]) <= MOST_MB
    figures = f"{len(sent)} files, {sum(statuses.values())} posts, {sum(jobs.values())} by a job ({dict(jobs)}), {broken} errors, "
    figures += f"slowest answer {longest['answer']:.2f} s, slowest job {longest['job']:.1f} s, {memory} (the server grew by {grew:.0f}), "
    figures += neighbour.said
    return report("evil files", good, figures + (f"; slow: {slow[:3]}" if slow else ""))


def _await(browser: Browser, address: str) -> tuple[str, float]:
    """How a job ended, and after how long [s]."""
    began = time.monotonic()
    while time.monotonic() - began < 2 * JOB_S:
        status, text, leads = browser.send("GET", address)
        if status == 302 and not leads.startswith("/jobs/"):
            return "done", time.monotonic() - began
        if "Called off" in text or "Interrupted" in text:
            return "ended", time.monotonic() - began
        time.sleep(0.2)
    return "lost", time.monotonic() - began


def devices() -> bool:
    """A scale and a probe that post as fast as they can, in any order, two thousand readings at a time."""
    from aestiva.care.models import TrayLook, TrayWeight
    from aestiva.gardens.models import Garden, JournalEntry
    from aestiva.place.commands import make_key
    from aestiva.season.models import Spot, Tray

    garden, owner = begin("chatty")
    Spot.objects.create(garden=garden, kind="shelf", code="M1")
    tray = Tray.objects.create(garden=garden, code="T1", cells=24)
    TrayWeight.objects.create(tray=tray, drained_g=3000, dry_g=2000)
    server = Server()
    server.start()
    neighbour = Neighbour(server, *begin("quiet"))
    revision = Garden.objects.get(pk=garden.pk).revision
    statuses: Counter[int] = Counter()
    slowest, lock = [0.0], threading.Lock()

    def flood(kind: str, token: str, seed: int) -> None:
        browser, chance = Browser(server.port, ""), random.Random(seed)
        for _ in range(25):
            begin_at = datetime.fromisoformat("2025-01-01") + timedelta(days=chance.randrange(400))
            rows = [
                {"at": (begin_at + timedelta(minutes=7 * k)).isoformat(), "celsius": 20.0, "grams": 2300.0 + k % 600}
                for k in range(2000)
            ]
            chance.shuffle(rows)
            message = {"kind": kind, "readings": rows, "place": "M1", "tray": "T1"}
            head = {"Authorization": f"Bearer {token}", "Content-Type": "application/json", "Host": "127.0.0.1"}
            began = time.monotonic()
            status, _, _ = browser.send("POST", "/feed/", json.dumps(message).encode(), head)
            with lock:
                statuses[status] += 1
                slowest[0] = max(slowest[0], time.monotonic() - began)

    floods = [(kind, make_key(garden, owner, kind), n) for n, kind in enumerate(("scale", "mix", "soil", "garden"))]
    revision = Garden.objects.get(pk=garden.pk).revision
    with neighbour:
        threads = [threading.Thread(target=flood, args=one) for one in floods]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    server.kill()
    told = _in_order(tray)
    entries = JournalEntry.objects.filter(garden=garden, user=None).count()
    raised = Garden.objects.get(pk=garden.pk).revision - revision
    good = set(statuses) <= {200, 429} and neighbour.well and not told
    figures = (
        f"{dict(statuses)} answers, slowest {slowest[0]:.2f} s, {TrayLook.objects.filter(tray=tray).count()} looks, "
    )
    figures += f"{entries} entries, revision raised by {raised} (by the probe in the soil alone), {told} waterings out of order, {neighbour.said}"
    return report("evil devices", good, figures)


def _in_order(tray: Any) -> int:
    """Looks whose watering is another than the look before them says."""
    from aestiva.care.models import TrayLook
    from aestiva.care.weigh import HEAVIER

    rows = list(TrayLook.objects.filter(tray=tray).order_by("day", "hour"))
    return sum(b.watered != ((b.left or 0) > (a.left or 0) + HEAVIER) for a, b in pairwise(rows))


def cut() -> bool:
    """Worker and server killed while files are read: the worker is begun again, the work is done or told to be interrupted."""
    from aestiva.gardens import jobs as jobs_
    from aestiva.gardens.models import Job
    from growing.tests import hostile

    garden, owner = begin("cut")
    server = Server()
    server.start()
    browser, address = Browser(server.port, session_of(owner)), f"/g/{garden.pk}/place/weather/"
    data, chance, killed = hostile.weather(9_000), random.Random(2), Counter[str]()
    begun, lost = 0, 0
    for n in range(12):
        status, leads = browser.upload(address, {"name": f"Weir {n}", "key": f"k{n}"}, data, "w.xlsx")
        if not leads.startswith("/jobs/"):
            lost += status >= 500
            continue
        begun += 1
        _until(lambda: Job.objects.filter(state="running").exists())
        time.sleep(chance.uniform(0.0, 1.0))
        what = ("worker", "apart", "server")[n % 3]
        if what == "server":
            server.kill()
            server.start()
        else:
            for pid, command in server.processes().items():
                if f"aestiva.{what}" in command:
                    subprocess.run(["kill", "-9", str(pid)], check=False)
        killed[what] += 1
        Job.objects.filter(state="running").update(beat_at=datetime(2026, 1, 1).astimezone())  # a minute goes by
    _until(lambda: not Job.objects.filter(garden=garden, state="waiting").exists())
    status, leads = browser.upload(address, {"name": "Last", "key": "last"}, data, "w.xlsx")
    ended = _await(browser, leads) if leads.startswith("/jobs/") else ("refused", 0.0)
    server.kill()
    states = Counter(jobs_.state_of(job) for job in Job.objects.filter(garden=garden))
    good = not lost and ended[0] == "done" and not states["waiting"] and not states["running"]
    return report(
        "evil cut",
        good,
        f"{begun} begun, killed {dict(killed)}, they stand {dict(states)}, the next one {ended[0]} after {ended[1]:.1f} s",
    )


def _until(there: Callable[[], bool]) -> None:
    """Wait for it, a minute at most."""
    end = time.monotonic() + JOB_S
    while time.monotonic() < end and not there():
        time.sleep(0.05)


PARTS: dict[str, Callable[[], bool]] = {"files": files, "devices": devices, "disk": disk, "held": held, "cut": cut}


def evil() -> bool:
    """All of them, one after the other, whatever becomes of one."""
    results = [attack() for attack in PARTS.values()]
    return all(results)
