"""The bench in the browser: every page read by axe; trays by keys and by touch; a sowing day that another goes on with; labels."""

from __future__ import annotations

import io

import pypdfium2
import requests
import zxingcpp
from selenium.webdriver import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from aestiva.accounts.models import User
from aestiva.bench.models import BenchDay, Recipe, StageDone
from aestiva.gardens.models import Member
from aestiva.season.contents import contents_of, open_runs
from aestiva.season.models import Batch, Container, Spot, Tray, TrayStand
from e2e.browser import PHONE, DemoCase, resize
from growing.bench.cells import STRONG, UP
from growing.bench.codes import code


class Bench(DemoCase):
    def tray_of(self, crop: str) -> Tray:
        return Tray.objects.filter(runs__batch__planting__crop_key=crop, runs__until=None, garden=self.garden).order_by(
            "pk"
        )[0]

    def held(self, tray: Tray) -> dict[int, tuple[int, str]]:
        return contents_of(open_runs(tray))

    def test_every_page_is_accessible_and_fits(self) -> None:
        tray, shelf = self.tray_of("broccoli"), Spot.objects.get(garden=self.garden, code="R1·1")
        container, mix = Container.objects.filter(garden=self.garden)[0], Recipe.objects.filter(garden=self.garden)[0]
        planting = Batch.objects.filter(runs__tray=tray)[0].planting_id
        self.go("bench/days/")
        self.press(".dayahead form button")
        day = BenchDay.objects.get()
        self.assert_pages((
            "bench/", f"bench/at/{shelf.pk}/", f"bench/tray/{tray.pk}/?cells=A1-B2", "bench/tray/new/", "bench/find/?q=kale", "bench/stock/",
            f"bench/stock/container/{container.pk}/edit/", "bench/mixes/", f"bench/mixes/{mix.pk}/", f"bench/mixes/{mix.pk}/edit/", "bench/labels/",
            f"bench/path/{planting}/", "bench/received/", "bench/days/", f"bench/day/{day.pk}/", "spots/", f"spots/{shelf.pk}/edit/",
        ))  # fmt: skip

    def test_a_tray_is_put_elsewhere_by_keys_and_by_pointer(self) -> None:
        tray = self.tray_of("calendula")
        self.go("bench/")
        self.assertEqual(TrayStand.objects.get(tray=tray, until=None).spot.code, "R1·1")
        thing = self.one(f".thing[data-tray='{tray.pk}']")
        self.driver.execute_script("arguments[0].focus()", thing)
        keys = ActionChains(self.driver)
        keys.send_keys(" ").perform()
        for _ in range(40):
            if "held over R2·2" in self.text("#benchnote"):
                break
            ActionChains(self.driver).send_keys(Keys.ARROW_DOWN).perform()
        self.assertIn("held over R2·2", self.text("#benchnote"))
        ActionChains(self.driver).send_keys(Keys.ARROW_RIGHT).perform()
        ActionChains(self.driver).send_keys(Keys.ENTER).perform()
        moved = lambda: TrayStand.objects.get(tray=tray, until=None).spot.code == "R2·2"  # noqa: E731
        self.until(lambda: moved() or self.all("[name=sure]"))  # asked where it suits those that stand there badly
        if self.all("[name=sure]"):
            self.press("form:has([name=sure]) button")
        self.until(moved)
        self.assertIn("stands on R2·2", self.text(".notice"))
        self.press(".notice form button")
        self.assertEqual(TrayStand.objects.get(tray=tray, until=None).spot.code, "R1·1")

        thing = self.one(f".thing[data-tray='{tray.pk}'] .hit")
        sill = self.one(".drop[data-code='Sill']")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", thing)
        ActionChains(self.driver).click_and_hold(thing).move_by_offset(20, 0).move_to_element(sill).release().perform()
        self.until(lambda: TrayStand.objects.get(tray=tray, until=None).spot.code == "Sill")
        self.press(f".thing[data-tray='{tray.pk}']")
        self.assertIn(f"/bench/tray/{tray.pk}/", self.driver.current_url)

    def test_cells_are_picked_by_keys_and_by_touch(self) -> None:
        tray = self.tray_of("calendula")
        self.go(f"bench/tray/{tray.pk}/")
        cells = self.all(".cell[data-cell]")
        self.assertEqual([c.get_attribute("tabindex") for c in cells].count("0"), 1, "one tab stop")
        self.driver.execute_script("arguments[0].focus()", cells[0])
        ActionChains(self.driver).send_keys(" ", Keys.ARROW_RIGHT, " ").perform()
        self.assertEqual(self.one("#cells").get_attribute("value"), "A1–A2")
        ActionChains(self.driver).key_down(Keys.SHIFT).send_keys(Keys.ARROW_DOWN).key_up(Keys.SHIFT).perform()
        self.assertEqual(self.one("#cells").get_attribute("value"), "A1–A2, B2")
        self.assertEqual(self.text("#pickedcount"), "3")
        self.assertIn("Calendula", self.text("#pickedwords"))
        self.press("button[value='marks']")
        self.assertEqual([self.held(tray)[n][1] for n in (1, 2)], [STRONG, STRONG])

        resize(self.driver, PHONE)
        self.go(f"bench/tray/{tray.pk}/")
        for name in ("A3", "A4"):
            spot = self.one(f".cell[data-name='{name}']")
            self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", spot)
            box = spot.rect
            point = {
                "x": box["x"] + box["width"] / 2,
                "y": box["y"] + box["height"] / 2 - self.driver.execute_script("return window.scrollY"),
            }
            for kind in ("touchStart", "touchEnd"):
                self.driver.execute_cdp_cmd(
                    "Input.dispatchTouchEvent", {"type": kind, "touchPoints": [point] if kind == "touchStart" else []}
                )
        self.until(lambda: self.one("#cells").get_attribute("value") == "A3–A4")
        self.press("button[value='markw']")
        self.assertEqual([self.held(tray)[n][1] for n in (3, 4)], ["w", "w"])
        self.fill("#cells", "A1-A4")
        self.assertEqual(self.text("#pickedcount"), "4")
        self.press("button[value='marku']")
        self.assertEqual({self.held(tray)[n][1] for n in range(1, 5)}, {UP})

    def test_a_sowing_day_interrupted_and_gone_on_with_by_another(self) -> None:
        resize(self.driver, PHONE)
        self.go("bench/days/")
        self.press(".dayahead form button")
        day = BenchDay.objects.get()
        for stage in ("Label", "Label", "Label"):
            self.assertEqual(self.text("#act"), stage)
            self.press(".nowcard .btn.big")
        self.assertEqual(self.text("#act"), "Fill")
        small = [b.size["height"] for b in self.all(".nowcard .btn")]
        self.assertTrue(all(h >= 44 for h in small), small)
        self.press("a.btn.wide")
        self.assertIn("/bench/days/", self.driver.current_url)

        second = User.objects.create_user("finch@garden.example", "Finch", "a long pass phrase")
        Member.objects.create(garden=self.garden, user=second, role="grower")
        self.driver.execute_cdp_cmd("Network.clearBrowserCookies", {})
        self.log_in(second)
        self.go("bench/days/")
        self.press(".dayahead a.btn")
        self.assertEqual(self.text("#act"), "Fill", "where the first stopped")
        for _ in range(40):
            if not self.all(".nowcard .btn.big"):
                break
            self.press(".nowcard .btn.big")
        self.assertIn("all done", self.text("h1"))
        lines = list(day.lines.select_related("batch", "tray"))
        self.assertEqual(len(lines), 3)
        for line in lines:
            assert line.batch is not None and line.tray is not None
            self.assertEqual(sum(b == line.batch.pk for b, _ in self.held(line.tray).values()), line.places)
            self.assertTrue(line.tray.stands.filter(until=None).exists())
        self.assertEqual(len(set(StageDone.objects.filter(day=day).values_list("by", flat=True))), 2)
        self.assert_accessible("a day done")

    def test_labels_are_printed_and_their_codes_read(self) -> None:
        batches = list(
            Batch.objects.filter(
                planting__crop_key__in=("kale", "cabbage"), runs__until=None, runs__isnull=False
            ).distinct()[:2]
        )
        self.go("bench/labels/?" + "&".join(f"of=B{b.pk}" for b in batches))
        self.assertEqual(len([c for c in self.all("input[name=of]") if c.is_selected()]), len(batches))
        form = self.one(".labelform")
        asked = self.driver.execute_script("return new URLSearchParams(new FormData(arguments[0])).toString()", form)
        cookies = {c["name"]: c["value"] for c in self.driver.get_cookies()}
        answer = requests.get(f"{form.get_attribute('action')}?{asked}", cookies=cookies, timeout=30)
        self.assertEqual(answer.headers["Content-Type"], "application/pdf")
        found = [
            one.text
            for page in pypdfium2.PdfDocument(io.BytesIO(answer.content))
            for one in zxingcpp.read_barcodes(page.render(scale=4, grayscale=True).to_numpy())
        ]
        self.assertEqual(sorted(found), sorted(f"{self.live_server_url}/l/{code('B', b.pk)}/" for b in batches))
        self.driver.get(found[0])
        self.assertIn("/batch/", self.driver.current_url)
        self.open("/l/")
        self.fill("#code", code("B", batches[0].pk).lower())
        self.press("main form button")
        self.assertTrue(self.driver.current_url.endswith(f"/batch/{batches[0].pk}/"))

    def test_a_mix_is_weighed_out(self) -> None:
        mix = Recipe.objects.get(garden=self.garden, name="Seed mix")
        self.go("bench/mixes/")
        self.driver.find_element(By.LINK_TEXT, "Seed mix").click()
        self.until(lambda: self.driver.current_url.endswith(f"/mixes/{mix.pk}/"))
        self.fill("#litres", "12,5")
        self.press("main .lineform button")
        rows = [row.text for row in self.all(".measures li")]
        self.assertEqual(rows, ["5 l fine bark", "5 l coir", "2.5 l sharp sand", "18.8 g lime", "2.8 l water"])
