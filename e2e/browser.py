"""A real Chromium for the tests: file database, device metrics through the driver, axe-core, no report unread."""

from __future__ import annotations

import atexit
import sqlite3
from collections.abc import Iterable
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.core.cache import cache
from django.db import connection
from django.db.models import F
from django.test import override_settings
from selenium import webdriver
from selenium.common.exceptions import StaleElementReferenceException
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

from aestiva.accounts.models import User
from aestiva.frame.views import REPORTS
from aestiva.gardens.models import Garden
from demo.tests.lived import quarry_lane

AXE = (Path(__file__).parent / "vendor" / "axe.min.js").read_text(encoding="utf-8")
WIDE, PHONE = (1280, 800), (390, 844)
PATIENCE_S, LOOKS_S = 20, 0.05  # two browsers may share two cores


def chromium() -> webdriver.Chrome:
    options = webdriver.ChromeOptions()
    for argument in ("--headless=new", "--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage", "--hide-scrollbars",
                     "--force-device-scale-factor=1", "--lang=en-GB", "--force-prefers-reduced-motion"):  # fmt: skip
        options.add_argument(argument)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    return webdriver.Chrome(options=options, service=webdriver.ChromeService("/usr/bin/chromedriver"))


def resize(driver: webdriver.Chrome, size: tuple[int, int]) -> None:
    """Set the device metrics; a window alone does not get as narrow as a phone."""
    width, height = size
    metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": width < 500}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)


class BrowserCase(StaticLiveServerTestCase):
    """A browser and a server; what a test wrote is gone after it: the database is again as all migrations left it."""

    driver: webdriver.Chrome
    empty: sqlite3.Connection | None = None

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.driver = cls.browser()

    @classmethod
    def browser(cls) -> webdriver.Chrome:
        """A browser of the class's own, which may set its zone and its scale."""
        driver = chromium()
        cls.addClassCleanup(driver.quit)
        return driver

    def setUp(self) -> None:
        self.driver.get("about:blank")  # what a test before it was still asking for is nobody's any more
        self.driver.get_log("browser")
        REPORTS.clear()
        if not isinstance(self, DemoCase):  # whose copies have revisions of their own
            cache.clear()
        resize(self.driver, WIDE)
        self.driver.execute_cdp_cmd("Network.clearBrowserCookies", {})
        if BrowserCase.empty is None:
            connection.ensure_connection()
            BrowserCase.empty = sqlite3.connect(":memory:")
            connection.connection.backup(BrowserCase.empty)

    def _fixture_teardown(self) -> None:
        """As emptying each table would leave it, and in one copy."""
        if BrowserCase.empty is not None:
            connection.ensure_connection()
            BrowserCase.empty.backup(connection.connection)

    def log_in(self, who: User) -> None:
        """The browser as that of somebody who has logged in before."""
        self.client.force_login(who, backend="django.contrib.auth.backends.ModelBackend")
        cookie = self.client.cookies[settings.SESSION_COOKIE_NAME]
        kept = {"name": cookie.key, "value": cookie.value, "url": self.live_server_url}
        self.driver.execute_cdp_cmd("Network.setCookie", kept)

    def tearDown(self) -> None:
        self.assertEqual(REPORTS, [], "a page broke the content-security policy")
        severe = [
            e["message"]
            for e in self.driver.get_log("browser")
            if e["level"] == "SEVERE" and "favicon" not in e["message"]
        ]
        self.assertEqual([m for m in severe if "422" not in m and "409" not in m], [])

    def open(self, path: str) -> None:
        self.driver.get(self.live_server_url + path)

    def one(self, css: str) -> WebElement:
        return WebDriverWait(self.driver, PATIENCE_S, LOOKS_S).until(lambda d: d.find_element(By.CSS_SELECTOR, css))

    def all(self, css: str) -> list[WebElement]:
        return self.driver.find_elements(By.CSS_SELECTOR, css)

    def text(self, css: str = "main") -> str:
        found: tuple[str] = self.until(lambda: (self.driver.find_element(By.CSS_SELECTOR, css).text,))
        return found[0]

    def until(self, what: Any) -> Any:
        """What `what` gives once it gives something; an element replaced while it is read is asked for again."""
        waits = WebDriverWait(self.driver, PATIENCE_S, LOOKS_S, [StaleElementReferenceException])
        return waits.until(lambda _: what())

    def press(self, css: str) -> None:
        """Click and wait until the page that follows is there."""
        button = self.one(css)
        page = self.driver.find_element(By.TAG_NAME, "html")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", button)
        button.click()
        self.until(lambda: _gone(page))
        self.until(lambda: self.driver.execute_script("return document.readyState") == "complete")

    def tap(self, css: str) -> None:
        """Click what changes the page it is on, and wait until it has."""
        button = self.one(css)
        self.driver.execute_script("document.getElementById('said').textContent = ''")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", button)
        button.click()
        self.until(lambda: self.one("#said").get_attribute("textContent"))

    def fill(self, css: str, value: str) -> None:
        field = self.one(css)
        if field.get_attribute("type") == "date":
            self.driver.execute_script("arguments[0].value = arguments[1]", field, value)
            for event in ("input", "change"):
                self.driver.execute_script(
                    "arguments[0].dispatchEvent(new Event(arguments[1], {bubbles: true}))", field, event
                )
            return
        field.clear()
        field.send_keys(value)

    def assert_accessible(self, where: str) -> None:
        """axe-core finds nothing against WCAG 2.2 A and AA."""
        if not self.driver.execute_script("return window.axe !== undefined"):
            self.driver.execute_script(AXE)
        tags = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
        found = self.driver.execute_async_script(
            "const done = arguments[1]; axe.run(document, {runOnly: arguments[0]}).then(r => done(r.violations.map("
            "v => v.id + ': ' + v.nodes.slice(0, 3).map(n => n.html.slice(0, 160) + ' ' + n.failureSummary.slice(0, 160)).join(' | '))))",
            tags,
        )
        self.assertEqual(found, [], where)

    def assert_fits(self, where: str) -> None:
        """Nothing hangs out of the page sideways."""
        wide, inner = self.driver.execute_script("return [document.documentElement.scrollWidth, window.innerWidth]")
        self.assertLessEqual(wide, inner, f"{where} is {wide} px wide in a window of {inner}")


@override_settings(DEMO=True)
class DemoCase(BrowserCase):
    """A browser of who looks after Quarry Lane; the garden is copied for every test."""

    garden: Garden
    lived: sqlite3.Connection | None = None
    shared: webdriver.Chrome | None = None
    copies = 0

    @classmethod
    def browser(cls) -> webdriver.Chrome:
        """One for all such classes of a process."""
        if DemoCase.shared is None:
            DemoCase.shared = chromium()
            atexit.register(DemoCase.shared.quit)
        return DemoCase.shared

    def setUp(self) -> None:
        super().setUp()
        connection.ensure_connection()
        if DemoCase.lived is None:
            quarry_lane()
            DemoCase.lived = sqlite3.connect(":memory:")
            connection.connection.backup(DemoCase.lived)
        else:
            DemoCase.lived.backup(connection.connection)
        DemoCase.copies += 1  # nothing that another copy's pages kept is of this one
        Garden.objects.update(revision=F("revision") + 100_000 * DemoCase.copies)
        self.garden = Garden.objects.get(name="Quarry Lane")
        self.log_in(self.garden.members.get().user)

    def go(self, path: str) -> None:
        self.open(f"/g/{self.garden.pk}/{path}")

    def assert_pages(self, paths: Iterable[str], wide: int = 1) -> None:
        """Each of them, with all that unfolds open, fits wide and on a phone and is accessible there, so many of the first wide, too."""
        for n, path in enumerate(paths):
            resize(self.driver, WIDE)
            self.go(path)
            self.driver.execute_script("document.querySelectorAll('main details').forEach(d => d.open = true)")
            for size in (WIDE, PHONE):
                with self.subTest(path, width=size[0]):
                    resize(self.driver, size)
                    self.assertEqual(self.driver.execute_script("return window.innerWidth"), size[0])
                    if size == PHONE or n < wide:
                        self.assert_accessible(path)
                    self.assert_fits(path)


def _gone(page: WebElement) -> bool:
    try:
        page.is_enabled()
    except Exception:  # the driver says so in several ways
        return True
    return False
