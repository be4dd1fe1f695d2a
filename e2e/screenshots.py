"""`make screenshots`: one current picture of each main view from the demo data, into docs/screenshots."""

from __future__ import annotations

import os
import tempfile
import threading
import time
from pathlib import Path

OUT = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
WELCOME = Path(__file__).resolve().parent.parent / "aestiva" / "frame" / "static" / "aestiva" / "season.svg"
WIDE, PHONE = (1280, 800), (390, 844)


def main() -> None:
    with tempfile.TemporaryDirectory() as data:
        os.environ |= {"AESTIVA_DATA": data, "AESTIVA_DEMO": "1", "DJANGO_SETTINGS_MODULE": "aestiva.settings"}
        import django
        from django.core.management import call_command

        django.setup()
        call_command("migrate", verbosity=0)
        call_command("demo")
        from django.db.models import Count
        from waitress.server import create_server

        from aestiva.course.state import load
        from aestiva.gardens.models import Garden
        from aestiva.plan import overview
        from aestiva.plan.picture import season_svg
        from aestiva.season.models import Batch, Tray

        batch = Batch.objects.get(planting__crop_key="snapdragon", planting__season__garden__name="Quarry Lane").pk
        garden = Garden.objects.get(name="Quarry Lane")
        bed = garden.spots.get(code="Bed D").pk
        trays = Tray.objects.filter(garden=garden, runs__until=None, runs__batch__isnull=False)
        tray = trays.annotate(batches=Count("runs__batch", distinct=True)).order_by("-batches", "pk")[0].pk
        gated = Batch.objects.get(planting__crop_key="onion", planting__season__garden=garden).pk
        assert garden.simulated_on is not None
        now = load(garden, garden.simulated_on)
        chosen = [
            one
            for one in overview.lines(now)
            if one.item.crop.key in ("leek", "snapdragon", "celery", "tomato", "cosmos", "strawflower")
        ]
        rows = overview.rows([overview.CropFold("", [one]) for one in chosen[:6]], now.today)
        WELCOME.write_text(season_svg(rows, now.place, now.today, export=True), encoding="utf-8")
        from aestiva.wsgi import application  # only now: it looks at its files once

        server = create_server(application, host="127.0.0.1", port=0)
        threading.Thread(target=server.run, daemon=True).start()
        shoot(f"http://127.0.0.1:{server.effective_port}", (batch, bed, tray, gated))


def shoot(base: str, rows: tuple[int, ...]) -> None:
    batch, bed, tray, gated = rows
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
        ("room", "bench/room/?at=2026-04-18", WIDE),
        ("emergence", "emergence/?batch=20", WIDE),
        ("bench", "bench/", WIDE),
        ("tray", f"bench/tray/{tray}/", WIDE),
        ("light", "light/", WIDE),
        ("hardening", "hardening/", WIDE),
        ("planting-out", "plantingout/", WIDE),
        ("gate", f"plantingout/{gated}/", WIDE),
        ("tonight", "tonight/", WIDE),
        ("door-phone", "door/", PHONE),
        ("care-phone", "care/", PHONE),
        ("moving", "care/moving/", WIDE),
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
            time.sleep(1)  # what a page fetches once it is there
            driver.save_screenshot(str(OUT / f"{name}.png"))
    finally:
        driver.quit()


if __name__ == "__main__":
    main()
