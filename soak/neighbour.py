"""Who goes on gardening while a server is attacked, and what the attack costs the machine."""

from __future__ import annotations

import http.client
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from soak.ground import Browser, Server, peak_mb, session_of

LONGEST_PAGE_S = 1.0
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
