"""Measures of pages, files and whole gardens on a file database."""

from __future__ import annotations

import gzip
import itertools
from collections.abc import Callable
from hashlib import sha256
from typing import Any

from measures.timing import compare, forget, report, without_instrumentation


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
    plants = sum(row[0].plants for row in page.context["areas"])
    size = len(page.content)
    with without_instrumentation():
        ms, least = compare(lambda: _get(client, full), lambda: _get(client, empty))
    packed = len(gzip.compress(page.content))
    note = (
        f"{ms:.0f} ms, empty {least:.0f} ms, {plants} plants, {size / 1000:.0f} kB, {packed / 1000:.0f} kB compressed"
    )
    return report("bed_600", ms / least, 4, note, ms)


def place_page() -> bool:
    """Place with thirty years: warm against the near-empty Place, cold against that, the series and its bare climate."""
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    from aestiva.place.models import StationYear
    from demo.kanuka import build as build_empty
    from demo.scenario import build
    from measures.floors import place_answers

    garden, empty = build(), build_empty(0)
    full_client, client = Client(), Client()
    for who, one in ((full_client, garden), (client, empty)):
        who.force_login(one.members.get().user, backend="django.contrib.auth.backends.ModelBackend")
    address, bare = f"/g/{garden.pk}/place/", f"/g/{empty.pk}/place/"

    def rows(variable: str) -> list[tuple[int, bytes]]:
        found = StationYear.objects.filter(station__owner=garden, variable=variable).order_by("year")
        return list(found.values_list("year", "tenths"))

    def floor_of_cold() -> None:
        _get(client, bare)
        place_answers(rows("tmin"), rows("tmax"), 30, 12)

    from django.db import connection

    with CaptureQueriesContext(connection) as seen:
        size = len(gzip.compress(full_client.get(address).content)) / 1000
        queries = len(seen)
    with without_instrumentation():
        ms, least = compare(lambda: _get(full_client, address), lambda: _get(client, bare))
        cold, floor = compare(lambda: _fresh_get(full_client, address), floor_of_cold)
    note = f"{ms:.0f} ms, near-empty {least:.0f} ms, {size:.0f} kB compressed, {queries} queries"
    warm = report("place_page_warm", ms / least, 3, note, ms)
    return report("place_page_cold", cold / floor, 1.8, f"{cold:.0f} ms, floor {floor:.0f} ms", cold) and warm


def _pages(path: str, template: str) -> Any:
    """Both gardens, a request that renders a page of the large one, its ready context, and the queries of each."""
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext, ContextList

    from demo.kanuka import build

    if not hasattr(_pages, "ready"):
        _pages.ready = (build(400), build(8))  # type: ignore[attr-defined]
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
    """One request with no season kept from the one before."""
    forget()
    return _get(client, address)


def _get(client: Any, address: str) -> Any:
    """A page; AssertionError where it is not the page that was to be measured."""
    answer = client.get(address)
    assert answer.status_code == 200, (address, answer.status_code)
    return answer


def today_400() -> bool:
    """Today with 400 plantings, its season read anew and each planting known as after a change elsewhere, its costs reckoned and its
    rows folded, against the same templates from constants with every row of the day in them, as the folds open it."""
    from dataclasses import replace

    from django.template.loader import get_template

    from aestiva.course.state import load
    from aestiva.today import queries, views
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
    large, _ = _pages.ready  # type: ignore[attr-defined]
    now = load(large, large.simulated_on)
    shown = kept["context"]["day"]
    whole = queries.groups(now.todos(now.today), shown.short.lines, fold_many=False)
    kept["context"]["day"] = replace(shown, groups=whole)
    with without_instrumentation():
        ms, floor = compare(
            lambda: _fresh_get(client, found["large address"]),
            lambda: render(kept["template"], kept["context"], kept["request"]),
        )
    first = sum(len(group.rows) for group in shown.groups)
    rows = sum(len(group.rows) for group in whole)
    same = found["large queries"] == found["small queries"]
    note = f"{ms:.0f} ms, floor {floor:.0f} ms, {rows} rows, {first} at first sight, queries {found['large queries']} and {found['small queries']}"
    return report("today_400", ms / floor if same else 99, 3, note, ms)


def plan_400() -> bool:
    """Plan with 400 plantings, against dating them and the near-empty page; at most 150 kB compressed."""
    from aestiva.place.dating import Dating
    from aestiva.place.queries import place_year
    from aestiva.season.crops import Crops
    from aestiva.season.models import Planting
    from growing.chain.dates import date_planting

    client, found = _pages("plan/", "plan/season.html")
    large, _ = _pages.ready  # type: ignore[attr-defined]
    plantings = list(Planting.objects.filter(season__garden=large))

    def floor() -> None:
        dating = Dating(place_year(large), Crops(large))
        for planting in plantings:
            crop = dating.crop(planting)
            date_planting(crop, dating.place)
        _fresh_get(client, found["small address"])

    with without_instrumentation():
        ms, least = compare(lambda: _fresh_get(client, found["large address"]), floor)
    size = len(gzip.compress(found["large"].content)) / 1000
    same = found["large queries"] == found["small queries"]
    note = f"{ms:.0f} ms, floor {least:.0f} ms, {size:.0f} kB compressed, queries {found['large queries']} and {found['small queries']}"
    return report("plan_400", ms / least if same and size <= 150 else 99, 2.5, note, ms)


def ical_400() -> bool:
    """The private calendar of 400 plantings, nothing known, against the library on as many events from constants; and
    asked again when nothing changed, against an empty view behind the log-in."""
    from django.test import Client, override_settings
    from icalendar import Calendar

    from aestiva.today.models import CalendarLink
    from measures.floors import icalendar_of

    client, _ = _pages("today/", "today/today.html")
    large, _ = _pages.ready  # type: ignore[attr-defined]
    link = CalendarLink.objects.create(garden=large, user=large.members.get(role="owner").user)
    address, reader = f"/calendar/{link.token}.ics", Client()
    first = reader.get(address)
    cal = Calendar.from_ical(first.content)
    events = [(_plain(e), [x for c in e.subcomponents for x in _plain(c)]) for e in cal.walk("VEVENT")]

    def known() -> None:
        assert reader.get(address, headers={"if-none-match": first["ETag"]}).status_code == 304

    with without_instrumentation(), override_settings(ROOT_URLCONF="measures.urls"):
        ms, floor = compare(lambda: _fresh_get(reader, address), lambda: icalendar_of(_plain(cal), events))
        again, empty = compare(known, lambda: _get(client, f"/g/{large.pk}/nothing/"))
    note = f"{ms:.0f} ms, floor {floor:.0f} ms, {len(events)} events, {len(first.content) / 1000:.0f} kB"
    good = report("ical_400", ms / floor, 1.5, note, ms)
    return report("ical_400_known", again / empty, 2, f"{again:.1f} ms, floor {empty:.1f} ms", again) and good


def _plain(component: Any) -> list[tuple[str, Any]]:
    """The values of a calendar's part, as Python has them."""
    given = ("UID", "SUMMARY", "DESCRIPTION", "SEQUENCE", "TRANSP", "LOCATION", "ACTION", "PRODID", "VERSION", "METHOD")
    own = [(n, component[n]) for n in given if n in component]
    days = ("DTSTAMP", "DTSTART", "DTEND", "LAST-MODIFIED", "TRIGGER")
    own += [(n, component.decoded(n)) for n in days if n in component]
    return [*own, *[("CATEGORIES", [str(c) for c in v.cats]) for n, v in component.items() if n == "CATEGORIES"]]


def weather_import_30y() -> bool:
    """Thirty years read, checked and stored, against csv, parsing and the same storage; and once more unchanged."""
    import numpy as np
    from django.db import transaction

    from aestiva.place import actions
    from aestiva.place.models import Station
    from demo.kanuka import build
    from demo.story import record
    from measures.floors import parse_weather

    garden = build(2)
    user = garden.members.get().user
    weather = record("quarry_lane")
    from datetime import timedelta

    from growing.place.weatherfile import read_weather

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
    first = report(
        "weather_import_30y", ms / least, 3, f"{ms:.0f} ms, floor {least:.0f} ms, {len(data) / 1e6:.1f} MB", ms
    )
    ms, least = compare(again, floor)
    return report("weather_import_again", ms / least, 2, f"{ms:.0f} ms, floor {least:.0f} ms", ms) and first


def json_roundtrip_400() -> bool:
    """Kanuka Flat out and in, against dumping, loading and creating the same rows."""
    import json

    from django.db import transaction

    from aestiva.gardens import portable
    from aestiva.gardens.bring_in import bring_in
    from aestiva.gardens.document import read_document
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
        bring_in(read_document(text), user)

    document = portable.export(garden)
    tables = []
    for part in portable.parts():
        columns = [f.attname for f in part.model._meta.concrete_fields if f.attname != "id"]
        if part.name in ("crop_values", "seasons", "spots", "frost", "nights", "marks", "warmth", "containers"):
            continue  # a row a garden or code: creating them twice is not allowed, and they are few
        rows_ = list(part.model._base_manager.filter(**{part.garden: garden}).values(*columns))
        if part.name == "trays":
            rows_ = [row | {"code": f"X{n}"} for n, row in enumerate(rows_)]  # a code a tray
        tables.append((part.model, rows_))
    ms, floor = compare(lambda: undone(work), lambda: undone(lambda: roundtrip(document, tables)))
    rows = sum(len(r) for _, r in tables)
    return report("json_roundtrip_400", ms / floor, 4, f"{ms:.0f} ms, floor {floor:.0f} ms, {rows} rows", ms)


def commit_cost() -> bool:
    """Changes of a batch with its event and its task's mark, journalled and guarded, against the same rows saved bare."""
    from aestiva.gardens import journal
    from aestiva.season.models import Batch, BatchEvent, TaskMark
    from demo.kanuka import build
    from measures.floors import save_rows

    garden = build(40)
    user, number, times = garden.members.get().user, itertools.count(), 20
    batches = itertools.cycle(Batch.objects.filter(planting__season__garden=garden))
    today = garden.simulated_on
    assert today is not None

    def rows() -> tuple[Any, Any, Any]:
        batch, n = next(batches), next(number)
        event = BatchEvent(batch=batch, kind="died", on=today, count=0, note=f"number {n}")
        return batch, event, TaskMark(garden=garden, key=f"b{batch.pk}.note.{n}", done_on=today, by=user)

    def work() -> None:
        for _ in range(times):
            batch, event, mark = rows()
            with journal.change(garden, user, "Wrote something down") as write:
                write.touch(batch)
                write.save(event)
                write.save(mark)

    def floor() -> None:
        for _ in range(times):
            save_rows(rows())

    with without_instrumentation():
        ms, least = compare(work, floor)
    return report("commit_cost", ms / least, 4, f"{ms / times:.1f} ms a change, bare {least / times:.1f} ms", ms)


def demo_built() -> bool:
    """Both gardens of the demo from nothing, once: seconds, against the minute that somebody waits for `make demo`."""
    import time

    from demo import kanuka
    from demo.scenario import build

    began = time.perf_counter()
    build()
    lane = time.perf_counter() - began
    kanuka.build()
    seconds = time.perf_counter() - began
    note = f"Quarry Lane lived through 113 days {lane:.0f} s, Kanuka Flat {seconds - lane:.1f} s"
    return report("demo_built", seconds, 60, note, 1000 * seconds)
