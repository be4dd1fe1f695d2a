"""Measures of a season of 400 plantings beyond its two pages: a tap, the calendar, letting go of the line; many gardens."""

from __future__ import annotations

import itertools
from datetime import date
from typing import Any

from measures.pages import _fresh_get, _get, _pages
from measures.timing import compare, forget, report, without_instrumentation


def tap_400() -> bool:
    """A sowing done with one tap, the page open in front of it and answered in place, against a post that writes one entry and renders one row."""
    from django.db import connection
    from django.test import override_settings
    from django.test.utils import CaptureQueriesContext

    from aestiva.course.state import load

    client, _ = _pages("today/", "today/today.html")
    large, small = _pages.ready  # type: ignore[attr-defined]
    at = f"/g/{large.pk}"

    due = load(large, large.simulated_on).todos(large.simulated_on)
    keys = iter([todo.task.key for todo in due if todo.task.kind == "sow"])

    def tap() -> Any:
        answer = client.post(f"{at}/task/{next(keys)}/", {"what": "done"}, headers={"HX-Request": "true"})
        if answer.status_code == 204:  # a fold began or ended with it: the page is fetched anew, once
            client.get(f"{at}/today/")
            return tap()
        assert answer.status_code == 200 and b"hx-swap-oob" in answer.content, answer.status_code
        return answer

    with CaptureQueriesContext(connection) as seen:
        tap()
        queries = len(seen)
    number = itertools.count()

    def floor() -> None:
        answer = client.post(f"/g/{small.pk}/one/", {"text": f"number {next(number)}"})
        assert answer.status_code == 200 and b"<article" in answer.content

    with (
        without_instrumentation(),
        override_settings(ROOT_URLCONF="measures.urls"),
    ):  # for both, or each reads all addresses anew
        floor()
        size = len(tap().content) / 1000
        ms, least = compare(tap, floor)
    note = f"{ms:.0f} ms, floor {least:.1f} ms, {queries} queries, {size:.1f} kB"
    return report("tap_400", ms / least, 6, note, ms)


def season_loaded_400() -> bool:
    """The state of the season and the tasks of the day, each planting known, against reading the same rows through the
    ORM and doing nothing with them."""
    from aestiva.course.state import load
    from aestiva.season.rows import season_rows

    _pages("today/", "today/today.html")
    large, _ = _pages.ready  # type: ignore[attr-defined]
    today = large.simulated_on

    def loaded() -> None:
        load(large, today).todos(today)

    with without_instrumentation():
        loaded()
        ms, least = compare(loaded, lambda: season_rows(large))
    return report("season_loaded_400", ms / least, 5, f"{ms:.0f} ms, floor {least:.0f} ms", ms)


def calendar_page_400() -> bool:
    """The calendar page of 400 plantings, its list kept since the last change, against the page of a garden with two."""
    client, found = _pages("calendar/", "today/calendar.html")
    with without_instrumentation():
        ms, least = compare(lambda: _get(client, found["large address"]), lambda: _get(client, found["small address"]))
        cold, bare = compare(
            lambda: _fresh_get(client, found["large address"]), lambda: _fresh_get(client, found["small address"])
        )
    same = found["large queries"] == found["small queries"]
    note = f"{ms:.0f} ms, small {least:.0f} ms, {len(found['large'].content) / 1000:.0f} kB; nothing kept {cold:.0f} and {bare:.0f} ms"
    return report("calendar_page_400", ms / least if same else 99, 3, note, ms)


def line_let_go_400() -> bool:
    """What would move when the frost line is let go, against one load of the season and dating all of it twice."""
    from aestiva.course.state import load
    from aestiva.place.dating import Dating, lots_of
    from aestiva.place.queries import place_year
    from aestiva.season.crops import Crops

    client, _ = _pages("today/", "today/today.html")
    large, _ = _pages.ready  # type: ignore[attr-defined]
    address = f"/g/{large.pk}/place/line/?risk=22"
    today = large.simulated_on

    def floor() -> None:
        now = load(large, today)
        lots = lots_of(large)
        for place in (now.place, place_year(large).accepting(0.22)):
            dating = Dating(place, Crops(large), {}, lots)
            for item in now.items:
                dating.dates(item.planting, item.crop)

    with without_instrumentation():
        answer = client.get(address, headers={"HX-Request": "true"})
        assert answer.status_code == 200, answer.status_code
        ms, least = compare(lambda: _fresh_get(client, address), floor)
    return report("line_let_go_400", ms / least, 1.5, f"{ms:.0f} ms, floor {least:.0f} ms", ms)


def gardens_20() -> bool:
    """Today of twenty gardens with a station each, one after another in the second round, against one of them twenty times."""
    from django.test import Client

    from aestiva.gardens.models import Member
    from demo.scenario import anew

    gardens = [anew(until=date(2026, 1, 1))]
    client, user = Client(), gardens[0].members.get(role="owner").user
    for _ in range(19):
        gardens.append(anew(until=date(2026, 1, 1)))
    for one in gardens[1:]:
        Member.objects.get_or_create(garden=one, user=user, defaults={"role": "owner"})
    client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    addresses = [f"/g/{one.pk}/today/" for one in gardens]
    for address in addresses:
        _get(client, address)  # the first round
    with without_instrumentation():
        ms, least = compare(
            lambda: [_get(client, address) for address in addresses],
            lambda: [_get(client, addresses[0]) for _ in addresses],
        )
    return report("gardens_20", ms / least, 1.3, f"{ms / 20:.0f} ms a page, one garden {least / 20:.0f} ms", ms)


def import_2000() -> bool:
    """A sheet of 2,000 plantings to its preview with dates, against csv and dating in memory of the same plantings."""
    import csv
    import io

    from django.core.files.uploadedfile import SimpleUploadedFile

    from growing.chain.choice import Choice
    from growing.chain.dates import date_planting
    from growing.crops import library

    client, _ = _pages("today/", "today/today.html")
    large, _ = _pages.ready  # type: ignore[attr-defined]
    from aestiva.place.queries import place_year

    place, crops = place_year(large), library()
    keys = [key for key, crop in crops.items() if crop.method == "raised"][:50]
    first = large.simulated_on.toordinal()
    rows = [
        (crops[keys[n % len(keys)]].name, f"Kind {n}", 6 + n % 30, date.fromordinal(first + n // len(keys)))
        for n in range(2000)
    ]
    text = "Plan\n\nCrop,Variety,# plants,Sow on\n" + "\n".join(",".join(map(str, row)) for row in rows)
    by_name = {crop.name: crop for crop in crops.values()}

    def look() -> None:
        answer = client.post(f"/g/{large.pk}/plan/import/", {"file": SimpleUploadedFile("plan.csv", text.encode())})
        assert answer.status_code == 200 and b"2000 plantings" in answer.content, answer.status_code

    def floor() -> None:
        found = csv.reader(io.StringIO(text))
        for row in list(found)[3:]:
            date_planting(by_name[row[0]], place, Choice("raised", "spring", date.fromisoformat(row[3])))

    with without_instrumentation():
        ms, least = compare(look, floor)
    return report("import_2000", ms / least, 3, f"{ms:.0f} ms, floor {least:.0f} ms, {len(text) / 1000:.0f} kB", ms)


def redating_400() -> bool:
    """An accepted proposal that moves 400 pinned days, as one entry, against the same 400 dated in memory, one read and one
    executemany."""
    from datetime import timedelta

    from django.db import connection, transaction

    from aestiva.course.state import load
    from aestiva.place.dating import Dating
    from aestiva.place.queries import place_year
    from aestiva.plan import actions
    from aestiva.plan.replan import Proposal
    from aestiva.season.crops import Crops
    from aestiva.season.models import Planting, Season
    from growing.chain.choice import Choice
    from growing.chain.dates import date_planting

    _pages("plan/", "plan/season.html")
    large, _ = _pages.ready  # type: ignore[attr-defined]
    season = Season.objects.create(garden=large, year=large.year + 40)
    keys = ("lettuce", "zinnia", "cosmos", "leek", "kale", "snapdragon", "tomato", "basil")
    day = large.simulated_on
    rows = [
        Planting(season=season, crop_key=keys[n % 8], wanted=12, chosen_sow=day - timedelta(days=3), planned_on=day)
        for n in range(400)
    ]
    Planting.objects.bulk_create(rows)
    now = load(large, day)
    user = large.members.get(role="owner").user
    place, crops = place_year(large), Crops(large)
    item = next(i for i in now.items if i.batch is None)
    turn = iter(range(10**6))

    def found(step: int) -> list[Proposal]:
        read = Planting.objects.filter(season=season).order_by("pk")
        return [
            Proposal("overdue", item._replace(planting=row), "sow", day, day + timedelta(days=step % 5 + 1), None)
            for row in read
        ]

    def accepted() -> None:
        chosen = found(next(turn))
        dating = Dating(place, crops)
        for one in chosen:  # the proposal is dated before it is kept
            crop = dating.crop(one.item.planting)
            date_planting(crop, place, Choice(sow_on=one.after))
        actions.accept(large, user, chosen)

    def floor() -> None:
        step = next(turn)
        read = list(Planting.objects.filter(season=season).order_by("pk"))
        dating = Dating(place, crops)
        for row in read:
            date_planting(dating.crop(row), place, Choice(sow_on=day + timedelta(days=step % 5 + 1)))
        with transaction.atomic(), connection.cursor() as cursor:
            values = [(day + timedelta(days=step % 5 + 1), row.pk) for row in read]
            cursor.executemany("UPDATE season_planting SET chosen_sow = %s WHERE id = %s", values)

    with without_instrumentation():
        ms, least = compare(accepted, floor)
    Planting.objects.filter(season=season).delete()
    season.delete()
    return report("redating_400", ms / least, 3, f"{ms:.0f} ms, floor {least:.0f} ms", ms)


def handle_move() -> bool:
    """A handle of the season picture let go on another day, 400 plantings: the answer against one load of the season; at most
    40 kB, of changed rows only."""
    from datetime import timedelta

    from aestiva.course.state import load

    client, _ = _pages("plan/", "plan/season.html")
    large, _ = _pages.ready  # type: ignore[attr-defined]
    day = large.simulated_on
    item = next(i for i in load(large, day).items if i.batch is None)
    moves = f"{item.planting.pk}.{item.raised.dates.sow_on + timedelta(days=4)}"
    address = (
        f"/g/{large.pk}/plan/moves/tried/?moves={moves}&draw={item.planting.pk}&scale=2026-05-01.2027-06-30.beside"
    )
    size = len(client.get(address).content) / 1000
    rows = len(client.get(address).json()["rows"])

    def once() -> None:
        forget()
        load(large, day)

    with without_instrumentation():
        ms, least = compare(lambda: _fresh_get(client, address), once)
    note = f"{ms:.0f} ms, load {least:.0f} ms, {size:.0f} kB, {rows} rows"
    return report("handle_move", ms / least if size <= 40 else 99, 1.5, note, ms)
