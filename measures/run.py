"""`make measure`: each measure against its floor, alternating, median of nine or more runs after a warm-up."""

from __future__ import annotations

import gc
import gzip
import itertools
import os
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from hashlib import sha256
from typing import Any

RUNS = 11


def compare(measured: Callable[[], Any], floor: Callable[[], Any]) -> tuple[float, float]:
    """Median milliseconds of both, run in turn after a warm-up of each."""
    times: tuple[list[float], list[float]] = ([], [])
    for run in range(RUNS + 1):
        for which, work in enumerate((measured, floor)):
            began = time.perf_counter()
            work()
            if run:
                times[which].append((time.perf_counter() - began) * 1000)
    return statistics.median(times[0]), statistics.median(times[1])


def report(name: str, ratio: float, limit: float, note: str) -> bool:
    good = ratio <= limit
    print(f"MEASURE {name} {ratio:.2f} {limit:g} {'ok' if good else 'over'}  # {note}", flush=True)
    return good


def forget() -> None:
    """Drop what is kept between requests; the library's own files stay read, as in a running server."""
    from aestiva.place import queries
    from growing import daylight, minima, sowing, watch

    for kept in (
        queries._joined,
        queries.computed_frost,
        queries.computed_warmth,
        minima._grid,
        daylight.reaches,
        sowing.cells_to_sow,
        sowing.seeds_for,
        watch.at_plant,
        daylight.day_length_h,
        daylight.ten_hour_autumn,
    ):
        kept.cache_clear()


def dating_500() -> bool:
    """500 plantings dated with all their working, against rebuilding the same result trees field by field."""
    from datetime import date

    from growing.crops import library
    from growing.frost import TypedDate, TypedFrost
    from growing.place import PlaceYear
    from growing.season import Choice, date_planting
    from growing.working import Value, Working
    from measures.floors import rebuild_trees

    crops = sorted(library().values(), key=lambda c: c.key)

    def work() -> list[Any]:
        place = PlaceYear(
            2026, TypedFrost(False, TypedDate(5, 9, "average"), TypedDate(10, 4, "average")), latitude=52.0
        )
        choices = [Choice(sow_on=None if n % 3 else date(2026, 3, 1 + n % 28)) for n in range(500)]
        return [date_planting(crops[n % len(crops)], place, choices[n]) for n in range(500)]

    trees = [dict(one.workings) for one in work()]
    ms, floor = compare(work, lambda: rebuild_trees(trees, Working, Value))
    return report("dating_500", ms / floor, 5, f"{ms:.0f} ms, floor {floor:.0f} ms")


def _climates() -> Any:
    """A hundred years of daily minima, as the simulated station makes them."""
    from datetime import date

    from growing.minima import DailySeries
    from growing.station import Climate, generate

    weather = generate(Climate(9.0, 9.8, 2.6, range_c=14.0), False, 7, date(1925, 7, 16), 36525)
    return DailySeries(weather.start, weather.tmin)


def frost_100y() -> bool:
    """Seasons of a hundred years at three thresholds, cut and searched, against the search alone on the ready grid."""
    from growing import minima
    from measures.floors import search_frosts

    record = _climates()
    grid = record.grid(False).values.copy()

    def work() -> Any:
        minima._grid.cache_clear()
        climate = minima.ComputedFrost(False, record)
        return [climate.seasons(t) for t in (2.2, 0.0, -2.2)]

    ms, floor = compare(work, lambda: search_frosts(grid, (2.2, 0.0, -2.2)))
    return report("frost_100y", ms / floor, 60, f"{ms:.2f} ms, floor {floor:.2f} ms")


def bootstrap_1000() -> bool:
    """How sure thirty years make both dates at three thresholds, against drawing and sorting as many integers."""
    from growing.minima import ComputedFrost
    from growing.sureness import how_sure
    from measures.floors import draw_and_sort

    climate = ComputedFrost(False, _climates())
    dates = [d for t in (2.2, 0.0, -2.2) for d in (climate.last(2030, t), climate.first(2030, t))]

    def work() -> Any:
        return [how_sure(d, 30, 0.1) for d in dates]

    ms, floor = compare(work, lambda: draw_and_sort(30, len(dates)))
    return report("bootstrap_1000", ms / floor, 6, f"{ms:.1f} ms, floor {floor:.1f} ms")


def sow_counts_300() -> bool:
    """Counts for 300 plantings of uncertain seed, one to three a cell, against one call of the binomial tail."""
    import numpy as np

    from growing.sowing import nodes, smallest_counts
    from measures.floors import binomial_tails

    random = np.random.default_rng(5)
    wanted = np.repeat(random.integers(4, 60, 300), 3)
    g = np.array([nodes(a, b) for a, b in zip(random.uniform(3, 20, 300), random.uniform(1, 6, 300), strict=True)])
    per_cell = np.tile([1, 2, 3], 300)[:, None]
    chances = (1 - (1 - np.repeat(g, 3, axis=0)) ** per_cell) * 0.9
    ms, floor = compare(lambda: smallest_counts(wanted, chances), lambda: binomial_tails(wanted, chances, 10))
    return report("sow_counts_300", ms / floor, 5, f"{ms:.1f} ms, floor {floor:.1f} ms")


def bed_600() -> bool:
    """A bed of 600 plants against the same page of an empty bed."""
    from django.test import Client

    from aestiva.season.models import BedArea, Planting, Spot
    from demo.kanuka import build

    garden = build(8)
    client = Client()
    client.force_login(garden.members.get().user, backend="django.contrib.auth.backends.ModelBackend")
    beds = [
        Spot.objects.create(garden=garden, kind="bed", code=c, length_cm=1200, width_cm=150) for c in ("Full", "Empty")
    ]
    plantings = list(Planting.objects.filter(season__garden=garden).order_by("pk")[:6])
    for k, planting in enumerate(plantings):
        BedArea.objects.create(
            planting=planting, spot=beds[0], x_cm=200 * k, y_cm=0, length_cm=200, width_cm=150, spacing_cm=15.8
        )
    full, empty = (f"/g/{garden.pk}/beds/{b.pk}/?week=2026-12-21" for b in beds)
    page = client.get(full)
    plants = sum(one.plants for one, _ in page.context["areas"])
    size = len(page.content)
    with _without_instrumentation():
        ms, least = compare(lambda: client.get(full), lambda: client.get(empty))
    packed = len(gzip.compress(page.content))
    note = (
        f"{ms:.0f} ms, empty {least:.0f} ms, {plants} plants, {size / 1000:.0f} kB, {packed / 1000:.0f} kB compressed"
    )
    return report("bed_600", ms / least, 4, note)


def place_page() -> bool:
    """Place with thirty years: warm against the near-empty Place, cold against that, the series and its bare climate."""
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    from aestiva.place.models import StationYear
    from demo.kanuka import build as build_empty
    from demo.scenario import build
    from measures.floors import place_answers

    garden, empty = build(until=None), build_empty(0)
    full_client, client = Client(), Client()
    for who, one in ((full_client, garden), (client, empty)):
        who.force_login(one.members.get().user, backend="django.contrib.auth.backends.ModelBackend")
    address, bare = f"/g/{garden.pk}/place/", f"/g/{empty.pk}/place/"

    def rows(variable: str) -> list[tuple[int, bytes]]:
        found = StationYear.objects.filter(station__owner=garden, variable=variable).order_by("year")
        return list(found.values_list("year", "tenths"))

    def floor_of_cold() -> None:
        client.get(bare)
        place_answers(rows("tmin"), rows("tmax"), 30, 12)

    from django.db import connection

    with CaptureQueriesContext(connection) as seen:
        size = len(gzip.compress(full_client.get(address).content)) / 1000
        queries = len(seen)
    with _without_instrumentation():
        ms, least = compare(lambda: full_client.get(address), lambda: client.get(bare))
        cold, floor = compare(lambda: _fresh_get(full_client, address), floor_of_cold)
    note = f"{ms:.0f} ms, near-empty {least:.0f} ms, {size:.0f} kB compressed, {queries} queries"
    warm = report("place_page_warm", ms / least, 3, note)
    return report("place_page_cold", cold / floor, 2, f"{cold:.0f} ms, floor {floor:.0f} ms") and warm


def _pages(path: str, template: str) -> Any:
    """Both gardens, a request that renders a page of the large one, its ready context, and the queries of each."""
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext, ContextList

    from demo.kanuka import build

    if not hasattr(_pages, "ready"):
        _pages.ready = (build(400), build(2))  # type: ignore[attr-defined]
    large, small = _pages.ready  # type: ignore[attr-defined]
    client = Client()
    client.force_login(large.members.get().user, backend="django.contrib.auth.backends.ModelBackend")
    found: dict[str, Any] = {}
    for name, garden in (("large", large), ("small", small)):
        client.get(f"/g/{garden.pk}/{path}")
        with CaptureQueriesContext(connection) as seen:
            found[name] = client.get(f"/g/{garden.pk}/{path}")
        found[f"{name} queries"] = len(seen)
        found[f"{name} address"] = f"/g/{garden.pk}/{path}"
    assert isinstance(found["large"].context, ContextList)
    return client, found


def _fresh_get(client: Any, address: str) -> Any:
    """One request with nothing kept from the one before."""
    forget()
    return client.get(address)


def today_400() -> bool:
    """Today with 400 plantings, nothing cached, against the same templates from constants."""
    from django.template.loader import get_template

    from aestiva.today import views
    from measures.floors import render

    client, found = _pages("today/", "today/today.html")
    kept: dict[str, Any] = {}
    real: Any = views.render

    def catch(request: Any, template: str, context: dict[str, Any], **more: Any) -> Any:
        kept.update(request=request, template=get_template(template), context=context)
        return real(request, template, context, **more)

    setattr(views, "render", catch)  # noqa: B010
    try:
        client.get(found["large address"])
    finally:
        views.render = real
    with _without_instrumentation():
        ms, floor = compare(
            lambda: _fresh_get(client, found["large address"]),
            lambda: render(kept["template"], kept["context"], kept["request"]),
        )
    rows = found["large"].content.count(b"<article")
    same = found["large queries"] == found["small queries"]
    note = (
        f"{ms:.0f} ms, floor {floor:.0f} ms, {rows} rows, queries {found['large queries']} and {found['small queries']}"
    )
    return report("today_400", ms / floor if same else 99, 4, note)


def plan_400() -> bool:
    """Plan with 400 plantings, against dating them and the near-empty page; at most 150 kB compressed."""
    from aestiva.place.dating import Dating
    from aestiva.place.queries import place_year
    from aestiva.season.crops import Crops
    from aestiva.season.models import Planting
    from growing.season import date_planting

    client, found = _pages("plan/", "plan/season.html")
    large, _ = _pages.ready  # type: ignore[attr-defined]
    plantings = list(Planting.objects.filter(season__garden=large))

    def floor() -> None:
        dating = Dating(place_year(large), Crops(large))
        for planting in plantings:
            crop = dating.crop(planting)
            date_planting(crop, dating.place)
        _fresh_get(client, found["small address"])

    with _without_instrumentation():
        ms, least = compare(lambda: _fresh_get(client, found["large address"]), floor)
    size = len(gzip.compress(found["large"].content)) / 1000
    same = found["large queries"] == found["small queries"]
    note = f"{ms:.0f} ms, floor {least:.0f} ms, {size:.0f} kB compressed, queries {found['large queries']} and {found['small queries']}"
    return report("plan_400", ms / least if same and size <= 150 else 99, 3, note)


def weather_import_30y() -> bool:
    """Thirty years read, checked and stored, against csv, parsing and the same storage; and once more unchanged."""
    import numpy as np
    from django.db import transaction

    from aestiva.place import actions
    from aestiva.place.models import Station
    from demo.kanuka import build
    from demo.scenario import read, weather_of
    from measures.floors import parse_weather

    garden = build(2)
    user = garden.members.get().user
    weather = weather_of(read("quarry_lane"))
    from datetime import timedelta

    from growing.weatherfile import read_weather

    rows = (f"{weather.start + timedelta(days=i)},{weather.tmin[i]},{weather.tmax[i]}" for i in range(365 * 30))
    data = ("date,tmin,tmax\n" + "\n".join(rows) + "\n").encode()

    def work() -> None:
        actions.bring_in(garden, user, f"Weir {next(number)}", read_weather(data), sha256(data).hexdigest())

    number = itertools.count()

    def again() -> None:
        actions.bring_in(garden, user, "Weir 0", read_weather(data), sha256(data).hexdigest())

    def floor() -> None:
        days, low, high = parse_weather(data)
        with transaction.atomic():
            station = Station.objects.create(name="Floor", owner=garden)
            actions.merge(station, days, np.array(low), np.array(high))

    ms, least = compare(work, floor)
    first = report("weather_import_30y", ms / least, 3, f"{ms:.0f} ms, floor {least:.0f} ms, {len(data) / 1e6:.1f} MB")
    ms, least = compare(again, floor)
    return report("weather_import_again", ms / least, 2, f"{ms:.0f} ms, floor {least:.0f} ms") and first


def json_roundtrip_400() -> bool:
    """Kanuka Flat out and in, against dumping, loading and creating the same rows."""
    import json

    from django.db import transaction

    from aestiva.gardens import portable
    from demo.kanuka import build
    from measures.floors import roundtrip

    garden = build(400)
    user = garden.members.get().user

    class Back(Exception):
        """Leaves the database as it was."""

    def undone(work: Callable[[], Any]) -> None:
        try:
            with transaction.atomic():
                work()
                raise Back
        except Back:
            pass

    def work() -> None:
        text = json.dumps(portable.export(garden), ensure_ascii=False).encode()
        portable.bring_in(portable.read(text), user)

    document = portable.export(garden)
    tables = []
    for part in portable.parts():
        columns = [f.attname for f in part.model._meta.concrete_fields if f.attname != "id"]
        if part.name in ("crop_values", "seasons", "spots", "frost", "nights", "marks", "warmth"):
            continue  # a row a garden or code: creating them twice is not allowed, and they are few
        tables.append((part.model, list(part.model._base_manager.filter(**{part.garden: garden}).values(*columns))))
    ms, floor = compare(lambda: undone(work), lambda: undone(lambda: roundtrip(document, tables)))
    rows = sum(len(r) for _, r in tables)
    return report("json_roundtrip_400", ms / floor, 4, f"{ms:.0f} ms, floor {floor:.0f} ms, {rows} rows")


def library_load() -> bool:
    """The crop library read, inherited and checked, against tomllib on the same files."""
    from pathlib import Path

    from growing import crops
    from measures.floors import load_toml

    paths = sorted(Path(crops.__file__).parent.glob("*.toml"))

    def work() -> None:
        crops.library.cache_clear()
        crops._classes.cache_clear()
        crops.library()

    ms, floor = compare(work, lambda: load_toml(paths))
    return report("library_load", ms / floor, 3, f"{ms:.0f} ms, floor {floor:.0f} ms, {len(crops.library())} crops")


class _without_instrumentation:
    """Templates render as on a server, without the test signals."""

    def __enter__(self) -> None:
        from django.test.utils import teardown_test_environment

        teardown_test_environment()

    def __exit__(self, *args: object) -> None:
        from django.test.utils import setup_test_environment

        setup_test_environment()


MEASURES = (
    frost_100y,
    bootstrap_1000,
    place_page,
    sow_counts_300,
    bed_600,
    dating_500,
    today_400,
    plan_400,
    weather_import_30y,
    json_roundtrip_400,
    library_load,
)


def main(wanted: list[str]) -> int:
    with tempfile.TemporaryDirectory() as data:
        os.environ["AESTIVA_DATA"] = data
        os.environ["AESTIVA_DEBUG"] = "0"
        os.environ.setdefault("DJANGO_SETTINGS_MODULE", "aestiva.settings")
        import django
        from django.core.management import call_command
        from django.test.utils import setup_test_environment

        django.setup()
        setup_test_environment()
        call_command("migrate", verbosity=0)
        gc.collect()
        gc.freeze()  # as the server does once it has started
        results = [m() for m in MEASURES if not wanted or m.__name__ in wanted]
    return 0 if all(results) else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
