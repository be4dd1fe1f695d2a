"""What the machine may withhold: the disk is full, something else holds the database; one reads on, and nothing is lost."""

from __future__ import annotations

import shutil
import sqlite3
import subprocess
import tempfile
import threading
import time
from collections import Counter
from pathlib import Path
from typing import Any

from soak.ground import TOKEN, Browser, Server, begin, report, session_of
from soak.neighbour import LONGEST_PAGE_S, PAGES

HELD_S = 15.0
DISK_MB = 48


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
