"""A person's way through the program, counted: taps, fields and the program's own seconds, printed when it is walked."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any

from aestiva.frame.tests.garden import garden, user
from aestiva.gardens.models import Garden, Member
from e2e.browser import BrowserCase


class Journey(BrowserCase):
    """Counts what a person does.  A tap is a button, link or key that acts; a field is one that was typed or chosen in."""

    name = ""

    def setUp(self) -> None:
        super().setUp()
        self.taps = self.fields = 0
        self.began = time.monotonic()

    def press(self, css: str) -> None:
        self.taps += 1
        super().press(css)

    def tap(self, css: str) -> None:
        self.taps += 1
        super().tap(css)

    def fill(self, css: str, value: str) -> None:
        self.fields += 1
        super().fill(css, value)

    def touch(self, css: str) -> None:
        """A tap that does not leave the page."""
        self.taps += 1
        element = self.one(css)
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", element)
        element.click()

    def walked(self, most_actions: int | None = None, most_seconds: float | None = None) -> None:
        """Print the figures, and hold them to what was promised."""
        seconds = time.monotonic() - self.began
        print(f"JOURNEY {self.name} taps={self.taps} fields={self.fields} seconds={seconds:.1f}")
        if most_actions is not None:
            self.assertLessEqual(self.taps + self.fields, most_actions)
        if most_seconds is not None:
            self.assertLess(seconds, most_seconds)

    def sign_up(self, address: str = "wren@garden.example", name: str = "Wren") -> None:
        """An account of one's own, and in: the address is kept from the one page to the next."""
        for field, value in (("name", name), ("email", address), ("password", "a long pass phrase")):
            self.fill(f"#id_{field}", value)
        self.press("form button.btn")
        self.fill("#id_password", "a long pass phrase")
        self.press("form button.btn")

    def mine(self, role: str = "owner", **values: Any) -> Garden:
        """A garden with a frost date, and its owner, or a member of that role, logged in."""
        owner = user("wren")
        where = garden(owner, **values)
        me = owner
        if role != "owner":
            me = user("moss")
            Member.objects.create(garden=where, user=me, role=role)
        self.log_in(me)
        return where

    def when(self, what: Callable[[], Any]) -> None:
        """Wait for the program, not the person."""
        self.until(what)
