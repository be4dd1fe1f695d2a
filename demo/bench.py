"""The bench on the scenario's day: every cell looked at, a row sown again, an uneven tray, a shared tray, what is in which mix."""

from __future__ import annotations

from datetime import date
from typing import Any

from aestiva.accounts.models import User
from aestiva.bench import tray_actions
from aestiva.bench.models import Filled, Recipe
from aestiva.course.light import growth_of
from aestiva.course.state import Item, load
from aestiva.gardens import journal
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.season.contents import contents_of, open_runs, put
from aestiva.season.models import Batch, CellRun, Container, Goes, Planting, Spot, Tray
from aestiva.season.places import end_stands, next_code, place_tray
from aestiva.season.places import where as standing
from demo.care import leaves_seen, rounds, scale_under
from growing.bench.cells import DIED, LYING, NEVER, SMALL, STRONG, UNSEEN, UP, CellShift

EVERY_SMALL = 9  # of the cells a small one
STRONG_FROM = 1.6  # true leaves


def scenes(garden: Garden, user: User, today: date) -> None:
    """What the grower did at the bench besides her tasks."""
    _look(garden, user, today)
    _uneven(garden, user, today, "broccoli")
    _sow_again(garden, user, today)
    _share(garden, user, today)
    _bought(garden, user, today)
    _beside_onions(garden, user, today)
    _mixed(garden, user)
    rounds(garden, user, today)
    leaves_seen(garden, user, today)
    scale_under(garden, user, today)


def named_places(garden: Garden, user: User, rows: list[dict[str, Any]]) -> None:
    """What is to stand where from which day on, as she planned it."""
    with journal.change(garden, user, "Named places in the frame for what is hardy") as write:
        for row in rows:
            spot = Spot.objects.get(garden=garden, code=row["to"])
            here = Planting.objects.filter(season__garden=garden, crop_key__in=row["crops"], cancelled_on=None)
            for planting in here.order_by("pk"):
                write.save(Goes(planting=planting, spot=spot, since=row["since"]))


def _trays(garden: Garden) -> list[tuple[Tray, list[CellRun]]]:
    found = []
    for tray in Tray.objects.filter(garden=garden, stands__until=None).distinct().order_by("pk"):
        runs = open_runs(tray)
        if runs and tray.stands.filter(until=None).exists():
            found.append((tray, runs))
    return found


def _items(garden: Garden, today: date) -> dict[int, Item]:
    return {i.batch.pk: i for i in load(garden, today).items if i.batch is not None}


def _marks(item: Item, count: int, today: date) -> list[str]:
    """What is in each of its cells, as her counts have it; unseen where a cell is no single plant."""
    accounts, batch = item.raised.accounts, item.batch
    if accounts is None or batch is None or batch.sown_in == "box" or accounts.moved:
        return []
    if not accounts.emerged:
        return [LYING] * count if accounts.emerged == 0 else []
    plants, dead, never = accounts.indoors or 0, accounts.died, accounts.never_up
    if batch.per_cell > 1:  # thinned to one a cell where there were more
        dead, never = 0, max(0, count - plants) if not accounts.waiting else 0
    strong = growth_of(item, today).leaves >= STRONG_FROM
    if plants > count:
        return []
    marks = [SMALL if k % EVERY_SMALL == 4 else STRONG if strong else UP for k in range(plants)]
    rest = count - plants
    gone = [DIED] * min(dead, rest) + [NEVER] * min(never, max(0, rest - dead))
    spread = marks + [LYING] * (rest - len(gone))
    for n, mark in enumerate(gone):  # failures are not all at the end
        spread.insert(min(len(spread), 3 + 5 * n), mark)
    return spread[:count]


def _look(garden: Garden, user: User, today: date) -> None:
    """She has marked what she saw, cell by cell."""
    items = _items(garden, today)
    with journal.change(garden, user, "Marked every tray, cell by cell") as write:
        for tray, runs in _trays(garden):
            contents = contents_of(runs)
            for batch in dict.fromkeys(r.batch_id for r in runs):
                mine = [c for c, (one, _) in contents.items() if one == batch]
                marks = _marks(items[batch], len(mine), today) if batch in items else []
                contents |= {c: (batch, m) for c, m in zip(mine, marks, strict=False)}
            put(write, write.touch(tray), contents, today)


def _of(garden: Garden, crop: str) -> list[tuple[Tray, list[CellRun]]]:
    return [(t, r) for t, r in _trays(garden) if any(one.batch.planting.crop_key == crop for one in r)]


def _uneven(garden: Garden, user: User, today: date, crop: str) -> None:
    """Tall and short in one tray: every third has stayed small."""
    for tray, runs in _of(garden, crop)[:1]:
        contents = contents_of(runs)
        plants = [c for c, (_, m) in contents.items() if m in (UP, STRONG, SMALL)]
        with journal.change(garden, user, f"{tray.code}: some stay small") as write:
            after = contents | {c: (contents[c][0], SMALL if n % 3 == 1 else STRONG) for n, c in enumerate(plants)}
            put(write, write.touch(tray), after, today)


def _sow_again(garden: Garden, user: User, today: date) -> None:
    """Cells that never came get new seed: a row of the tray with most of them."""
    best: Tray | None = None
    cells: list[int] = []
    for tray, runs in _trays(garden):
        never = [c for c, (_, m) in contents_of(runs).items() if m == NEVER]
        if len(never) > len(cells) and len({r.batch_id for r in runs}) == 1:
            best, cells = tray, never
    if best is not None:
        revision = str(Tray.objects.get(pk=best.pk).revision)
        tray_actions.sow_again(garden, user, best, cells[:6], 1, today, "", revision)


def _share(garden: Garden, user: User, today: date) -> None:
    """Two sowings of warm seed moved together into one flat."""
    warm = [(t, r) for t, r in _trays(garden) if {one.batch.planting.crop_key for one in r} <= {"tomato", "pepper"}]
    warm = [(t, r) for t, r in warm if len({one.batch_id for one in r}) == 1 and t.cells > 1]
    if len(warm) < 2:
        return
    (into, kept), (other, moved) = sorted(warm, key=lambda one: -one[0].cells)[:2]
    free = [c for c in range(1, into.cells + 1) if c not in contents_of(kept)]
    cells = [c for c, (_, m) in contents_of(moved).items() if m in (LYING, UP, STRONG, SMALL, UNSEEN)]
    if len(free) >= len(cells):
        moves = [CellShift(other.pk, c, into.pk, to) for c, to in zip(cells, free, strict=False)]
        try:
            tray_actions.shift(garden, user, moves, today, "", {}, f"Set {other.code} and {into.code} together")
        except Refused:
            return


def _beside_onions(garden: Garden, user: User, today: date) -> None:
    """The cosmos went under the lamp of the onions, where the kale had stood: one timer for both."""
    cosmos, onions, kale = (_of(garden, crop) for crop in ("cosmos", "onion", "kale"))
    if not cosmos or not onions or not kale:
        return
    to, free = onions[0][0].stands.get(until=None).spot, Spot.objects.get(garden=garden, code="R1·3")
    with journal.change(garden, user, "Moved the cosmos to the onions, the kale down to R1·3") as write:
        for tray, _ in kale:
            if tray.stands.filter(until=None, spot=to).exists():
                place_tray(write, write.touch(tray), free, today)
        for tray, _ in cosmos:
            place_tray(write, write.touch(tray), to, today)


def _bought(garden: Garden, user: User, today: date) -> None:
    """What was fetched stands in the tray it came in."""
    strip = Container.objects.filter(garden=garden, kind="strip_6").first()
    for item in _items(garden, today).values():
        batch, there = item.batch, item.raised.plants or 0
        if (
            batch is None
            or item.raised.facts.first("received") is None
            or item.raised.facts.planted_on is not None
            or not there
        ):
            continue
        spot = standing(batch)
        with journal.change(garden, user, f"{item.name} stand in the tray they came in") as write:
            batch = write.touch(batch)
            cells = max(there, strip.cells if strip is not None and there <= strip.cells else there)
            tray = write.save(
                Tray(
                    garden=garden,
                    code=next_code(garden.pk),
                    cells=cells,
                    container=strip if strip and cells == strip.cells else None,
                )
            )
            end_stands(write, batch, today)
            put(write, tray, dict.fromkeys(range(1, there + 1), (batch.pk, STRONG)), today)
            if spot is not None:
                place_tray(write, tray, spot, today)


def _mixed(garden: Garden, user: User) -> None:
    """The last sowings are in the mix she wrote down."""
    mix = Recipe.objects.filter(garden=garden, use="seed").first()
    if mix is None:
        return
    sown = Batch.objects.filter(planting__season__garden=garden, sown_on__isnull=False).order_by("-sown_on", "-pk")[:6]
    with journal.change(garden, user, f"The last sowings are in {mix.name}") as write:
        for batch in sown:
            assert batch.sown_on is not None
            write.save(Filled(batch=batch, recipe=mix, on=batch.sown_on))
