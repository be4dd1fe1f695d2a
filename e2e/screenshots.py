"""`make screenshots`: one current picture of each main view from the demo data, into docs/screenshots."""

from __future__ import annotations

import os
import tempfile
import threading
from pathlib import Path
from typing import Any

OUT = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
WELCOME = Path(__file__).resolve().parent.parent / "aestiva" / "frame" / "static" / "aestiva" / "season.svg"
WIDE, PHONE = (1280, 800), (390, 844)
AGAIN = "crop=Lettuce&by=need&method=raised&per_week=6&since=2026-06-22&until=2026-09-27"


def main() -> None:
    with tempfile.TemporaryDirectory() as data:
        os.environ |= {"AESTIVA_DATA": data, "AESTIVA_DEMO": "1", "DJANGO_SETTINGS_MODULE": "aestiva.settings"}
        import django
        from django.core.management import call_command

        django.setup()
        call_command("migrate", verbosity=0)
        call_command("demo")
        from waitress.server import create_server

        from aestiva.course.state import load
        from aestiva.gardens.models import Garden
        from aestiva.plan import overview
        from aestiva.plan.picture import season_svg
        from aestiva.season.models import Batch, Planting

        batch = Batch.objects.get(planting__crop_key="snapdragon", planting__season__garden__name="Quarry Lane").pk
        garden = Garden.objects.get(name="Quarry Lane")
        bed = garden.spots.get(code="Bed D").pk
        beet = Planting.objects.get(season__garden=garden, crop_key="beet").pk
        assert garden.simulated_on is not None
        now = load(garden, garden.simulated_on)
        chosen = [
            one
            for one in overview.lines(now)
            if one.item.crop.key in ("leek", "snapdragon", "celery", "tomato", "cosmos", "strawflower")
        ]
        rows = overview.rows([overview.Fold("", [one]) for one in chosen[:6]], now.today)
        WELCOME.write_text(season_svg(rows, now.place, now.today, [], export=True), encoding="utf-8")
        from aestiva.wsgi import application  # only now: it looks at its files once

        server = create_server(application, host="127.0.0.1", port=0)
        threading.Thread(target=server.run, daemon=True).start()
        shoot(f"http://127.0.0.1:{server.effective_port}", batch, bed, beet)


def shoot(base: str, batch: int, bed: int, beet: int) -> None:
    from selenium.webdriver.common.by import By
    from selenium.webdriver.support.ui import WebDriverWait

    from e2e.browser import chromium, resize

    views = (
        ("today", "today/", WIDE),
        ("plan", "plan/", WIDE),
        ("place", "place/", WIDE),
        ("batch", f"batch/{batch}/", WIDE),
        ("bed", f"beds/{bed}/?week=2026-08-10&by=bloom", WIDE),
        ("seeds", "seeds/", WIDE),
        ("count", f"seeds/count/{beet}/", WIDE),
        ("plan-month", "plan/?span=month&at=2026-05-01", WIDE),
        ("align", "plan/align/", WIDE),
        ("weeks", "plan/weeks/", WIDE),
        ("again", f"plan/again/?{AGAIN}", WIDE),
        ("add-planting", "plan/add/?crop=Tomato", WIDE),
        ("today-phone", "today/", PHONE),
        ("batch-phone", f"batch/{batch}/", PHONE),
        ("plan-phone", "plan/", PHONE),
    )
    driver = chromium()
    try:
        resize(driver, WIDE)
        driver.get(base + "/")
        driver.save_screenshot(str(OUT / "welcome.png"))
        driver.find_element(By.CSS_SELECTOR, "form[action='/demo/'] button").click()
        WebDriverWait(driver, 20).until(lambda d: "/g/" in d.current_url)
        garden = driver.current_url.split("/g/")[1].split("/")[0]
        for name, path, size in views:
            resize(driver, size)
            driver.get(f"{base}/g/{garden}/{path}")
            driver.implicitly_wait(3)
            if "add" in path:
                driver.find_element(By.CSS_SELECTOR, "#answer .steps")
            if name == "plan-phone":
                driver.find_element(By.CSS_SELECTOR, "svg.season.narrow")
            driver.save_screenshot(str(OUT / f"{name}.png"))
        resize(driver, WIDE)
        driver.get(f"{base}/g/{garden}/plan/")
        tried(driver)
        driver.save_screenshot(str(OUT / "plan-moved.png"))
        driver.get(base + "/gardens/")
        driver.find_element(By.LINK_TEXT, "Kanuka Flat").click()
        WebDriverWait(driver, 20).until(lambda d: "/g/" in d.current_url)
        driver.get(driver.current_url.replace("/today/", "/plan/"))
        driver.find_element(By.CSS_SELECTOR, "svg.rows")
        driver.save_screenshot(str(OUT / "kanuka-plan.png"))
        driver.delete_all_cookies()
        first_run(driver, base)
    finally:
        driver.quit()


def tried(driver: Any) -> None:
    """Two seeds of the season picture on other days, by keys."""
    from selenium.webdriver.common.by import By
    from selenium.webdriver.common.keys import Keys

    for handle in driver.find_elements(By.CSS_SELECTOR, ".wideonly .handle")[1:3]:
        planting = handle.get_attribute("data-planting")
        driver.execute_script("arguments[0].scrollIntoView({block: 'center'}); arguments[0].focus()", handle)
        driver.switch_to.active_element.send_keys(Keys.SHIFT, Keys.ARROW_RIGHT)
        driver.find_element(By.CSS_SELECTOR, f"#row-{planting}.changed")
    driver.find_element(By.CSS_SELECTOR, "#answer form")


def first_run(driver: Any, base: str) -> None:
    """The third of the newcomer's four steps, with two crops planned."""
    from selenium.webdriver.common.by import By
    from selenium.webdriver.support.ui import WebDriverWait

    driver.get(base + "/account/sign-up/")
    for name, value in (("name", "Wren"), ("email", "wren@garden.example"), ("password", "a long pass phrase")):
        driver.find_element(By.NAME, name).send_keys(value)
    driver.find_element(By.CSS_SELECTOR, "form button.btn").click()
    WebDriverWait(driver, 10).until(lambda d: "sign-up" not in d.current_url)  # the log-in that follows
    driver.find_element(By.ID, "id_password").send_keys("a long pass phrase")
    driver.find_element(By.CSS_SELECTOR, "form button.btn").click()
    driver.implicitly_wait(10)
    zone = driver.find_element(By.ID, "id_timezone")
    zone.clear()
    zone.send_keys("Europe/London")
    driver.find_element(By.ID, "id_name").send_keys("Back Row")
    driver.find_element(By.CSS_SELECTOR, "form.begin button.btn").click()
    driver.execute_script(
        "document.getElementById('id_last_on').value = '2027-05-09'", driver.find_element(By.ID, "id_last_on")
    )
    driver.find_element(By.ID, "id_guess_first").click()
    driver.find_element(By.CSS_SELECTOR, "form button.btn.big").click()
    for number, (crop, wanted) in enumerate((("Celery", "8"), ("Tomato", "6")), 1):
        driver.find_element(By.ID, "id_crop").send_keys(crop)
        driver.find_element(By.ID, "id_wanted").clear()
        driver.find_element(By.ID, "id_wanted").send_keys(wanted)
        driver.find_element(By.CSS_SELECTOR, "button[value=another]").click()
        driver.find_element(By.CSS_SELECTOR, f".sofar li:nth-child({number})")
    driver.save_screenshot(str(OUT / "first-run.png"))


if __name__ == "__main__":
    main()
