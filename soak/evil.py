"""What somebody may send: hostile files, chatty devices, a full disk, a held database, work cut off; the others notice nothing."""

from __future__ import annotations

import http.client
import json
import random
import shutil
import sqlite3
import subprocess
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import datetime, timedelta
from itertools import pairwise
from pathlib import Path
from typing import Any

from soak.ground import Browser, Server, begin, peak_mb, report, session_of

ATTACKERS = 4
LONGEST_S, LONGEST_PAGE_S, MOST_MB = 2.0, 1.0, 300.0
JOB_S = 60.0
HELD_S = 15.0
DISK_MB = 48
PAGES = ("today/", "plan/", "seeds/", "beds/", "place/", "calendar/")


class Neighbour:
    """Another garden's owner, who opens pages all the while; `slowest` of what he waited, `failed` answers."""

    def __init__(self, server: Server, garden: Any, owner: Any) -> None:
        self.browser, self.pages = Browser(server.port, session_of(owner)), [f"/g/{garden.pk}/{p}" for p in PAGES]
        self.pages.append("/account/log-in/")
        self.slowest, self.where, self.failed, self.asked = 0.0, "", 0, 0
        self._over = threading.Event()
        for page in self.pages:  # what is kept between requests is there before anybody attacks
            self.browser.ask("GET", page)
        self._thread = threading.Thread(target=self._look)

    def _look(self) -> None:
        n = 0
        while not self._over.is_set():
            page, began = self.pages[n % len(self.pages)], time.monotonic()
            n += 1
            try:
                self.failed += self.browser.ask("GET", page) not in (200, 302)
            except (OSError, http.client.HTTPException):
                self.failed += 1
            waited = time.monotonic() - began
            if waited > self.slowest:
                self.slowest, self.where = waited, page
            self.asked += 1
            self._over.wait(0.05)

    def __enter__(self) -> Neighbour:
        self._thread.start()
        return self

    def __exit__(self, *error: object) -> None:
        self._over.set()
        self._thread.join()

    @property
    def said(self) -> str:
        return f"the neighbour waited {self.slowest:.2f} s at most ({self.where}), {self.failed} of {self.asked} failed"

    @property
    def well(self) -> bool:
        return not self.failed and self.slowest <= LONGEST_PAGE_S


@contextmanager
def watched(server: Server) -> Iterator[dict[str, float]]:
    """The most memory [MB] of the server, the worker and what reads apart, as long as they run."""
    most: dict[str, float] = {"server": 0.0, "worker": 0.0, "apart": 0.0}
    over = threading.Event()

    def look() -> None:
        while not over.is_set():
            for pid, command in server.processes().items():
                what = next((w for w in ("apart", "worker") if f"aestiva.{w}" in command), "server")
                most[what] = max(most[what], peak_mb(pid))
            over.wait(0.02)

    thread = threading.Thread(target=look)
    thread.start()
    try:
        yield most
    finally:
        over.set()
        thread.join()


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
    from aestiva.place.actions import make_feed
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

    floods = [(kind, make_feed(garden, owner, kind), n) for n, kind in enumerate(("scale", "mix", "soil", "garden"))]
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


def disk() -> bool:
    """The disk full to the last byte, to four and to sixty kilobytes: one reads, logs in, exports; a change is refused in words."""
    from django.conf import settings
    from django.contrib.auth.hashers import PBKDF2PasswordHasher
    from django.db import connection

    garden, owner = begin("full")
    hasher = PBKDF2PasswordHasher()  # as the server reads them
    owner.password = hasher.encode("a long pass phrase", hasher.salt())
    owner.save()
    session = session_of(owner)
    connection.close()
    with tempfile.TemporaryDirectory() as where:
        if subprocess.run(["mount", "-t", "tmpfs", "-o", f"size={DISK_MB}m", "tmpfs", where], check=False).returncode:
            return report("evil disk", False, "no disk of a size of its own can be mounted here: run as root")
        try:
            data = Path(where, "data")
            data.mkdir()
            shutil.copy(Path(settings.DATA_DIR, "secret.key"), data)
            with sqlite3.connect(data / "aestiva.sqlite3") as copy:
                sqlite3.connect(settings.DATABASES["default"]["NAME"]).backup(copy)
            return _full(data, garden, owner, session)
        finally:
            subprocess.run(["umount", "-l", where], check=False)


def _full(data: Path, garden: Any, owner: Any, session: str) -> bool:
    server = Server(AESTIVA_DATA=str(data))
    server.start()
    browser = Browser(server.port, session)
    url, good, said = f"/g/{garden.pk}/", True, []
    reads = [
        *(f"{url}{p}" for p in PAGES),
        f"{url}garden.json",
        f"{url}tasks.csv",
        f"{url}calendar/tasks.ics",
        f"{url}journal/",
        "/",
        "/account/log-in/",
    ]
    login = {"username": owner.email, "password": "a long pass phrase"}
    try:
        for left in (60 * 1024, 4 * 1024, 0):
            ballast = data / "ballast"
            room = shutil.disk_usage(data).free - left
            with ballast.open("wb") as file:
                file.write(b"\0" * max(0, room))
            shutil.rmtree(data / "cache", ignore_errors=True)  # nothing kept helps
            if left == 0:
                with ballast.open("ab", buffering=0) as file:
                    try:
                        while file.write(b"\0" * 4096):
                            pass
                    except OSError:
                        pass
            found = Counter(browser.ask("GET", page) for page in reads * 3)
            entered = Browser(server.port, "").ask("POST", "/account/log-in/", login)
            wrote = [browser.send("POST", f"{url}spots/new/", _form(f"d{left}n{k}"), _head(browser)) for k in range(6)]
            raw = sum(status >= 500 and "Free some space" not in text for status, text, _ in wrote)
            ok = found == {200: 3 * len(reads) - 3, 302: 3} and entered == 302 and not raw  # the way in leads on
            good = good and ok
            said.append(
                f"{left} bytes left: reads {dict(found)}, log-in {entered}, writes {dict(Counter(s for s, _, _ in wrote))}, {raw} raw"
            )
            ballast.unlink()
        after = Counter(
            browser.ask("POST", f"{url}spots/new/", {"code": f"after{k}", "kind": "shelf"}) for k in range(16)
        )
        good = good and set(after) == {302}
        said.append(f"with room again {dict(after)}")
    finally:
        server.kill()
    return report("evil disk", good, "; ".join(said))


def _form(code: str) -> bytes:
    from soak.ground import TOKEN

    return f"code={code}&kind=shelf&key={code}&csrfmiddlewaretoken={TOKEN}".encode()


def _head(browser: Browser) -> dict[str, str]:
    return {**browser.headers, "Content-Type": "application/x-www-form-urlencoded"}


def held() -> bool:
    """Something else holds the database for fifteen seconds: reading goes on, a change is told to come again, nothing is lost."""
    from django.conf import settings

    from aestiva.season.models import Spot

    garden, owner = begin("held")
    server = Server()
    server.start()
    browser, url = Browser(server.port, session_of(owner)), f"/g/{garden.pk}/"
    for page in PAGES:
        browser.ask("GET", f"{url}{page}")
    other = sqlite3.connect(settings.DATABASES["default"]["NAME"], isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    written: list[tuple[int, str, str]] = []

    def write(n: int) -> None:
        written.append(browser.send("POST", f"{url}spots/new/", _form(f"h{n}"), _head(browser)))

    writers = [threading.Thread(target=write, args=(n,)) for n in range(2)]
    for writer in writers:
        writer.start()
    began, slowest, found = time.monotonic(), 0.0, Counter[int]()
    while time.monotonic() - began < HELD_S:
        at = time.monotonic()
        found[browser.ask("GET", f"{url}{PAGES[sum(found.values()) % len(PAGES)]}")] += 1
        slowest = max(slowest, time.monotonic() - at)
    other.execute("ROLLBACK")
    other.close()
    for writer in writers:
        writer.join()
    again = [
        browser.ask("POST", f"{url}spots/new/", {"code": f"h{n}", "kind": "shelf", "key": f"h{n}"}) for n in range(2)
    ]
    server.kill()
    rows = Spot.objects.filter(garden=garden, code__startswith="h").count()
    raw = sum(status >= 500 and "very busy" not in text for status, text, _ in written)
    good = set(found) == {200} and slowest <= LONGEST_PAGE_S and not raw and again == [302, 302] and rows == 2
    figures = f"{sum(found.values())} reads {dict(found)}, slowest {slowest:.2f} s; writes meanwhile {[s for s, _, _ in written]}, {raw} raw; "
    return report("evil held", good, f"{figures}sent again {again}, {rows} of 2 rows")


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
