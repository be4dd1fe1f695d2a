"""Fewer sowing days, and the week in hand: what can be sown together, what opens and closes."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from datetime import date, timedelta
from typing import Any, NamedTuple

from django.http import HttpResponse
from django.shortcuts import render

from aestiva.course.state import Item, SeasonState, load
from aestiva.frame import say
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.place.dating import Dating, packet_of
from aestiva.plan.look import asked_day
from aestiva.season.models import Lot
from growing.batch.planned import sowing_of
from growing.calendar import Window
from growing.chain.choice import Choice
from growing.chain.dates import date_planting
from growing.chain.days import Span
from growing.crops import CropError
from growing.place.year import PlaceYear
from growing.plan.align import Wish, fewest_days
from growing.seeds.sowing import CELL_MINUTES, SEED_MINUTES, NoCount

AHEAD_DAYS = 400
MOST_DAYS = 10  # sowing days side by side
FARTHEST = {"3": 3, "7": 7, "14": 14, "any": 400}  # days from its best that a sowing may be moved
USUAL_FARTHEST = 7


class Cell(NamedTuple):
    """A sowing on a day: can it be, is it so now, is it proposed, and how far from its best day."""

    day: date
    possible: bool
    now: bool
    proposed: bool
    off: int


class AlignedSowing(NamedTuple):
    """A sowing still to come, on the days side by side."""

    item: Item
    name: str
    now: date
    ideal: date
    proposed: date | None
    cells: list[Cell]

    @property
    def move(self) -> str:
        """As the list of moves has it; empty where it stays."""
        same = self.proposed is None or self.proposed == self.now
        return "" if same or self.proposed is None else f"{self.item.planting.pk}.{self.proposed.isoformat()}"

    @property
    def off(self) -> int:
        """Days from its best day, if moved as proposed."""
        return ((self.proposed or self.now) - self.ideal).days


def sowing_days(place: PlaceYear, start: date, days: int) -> list[int]:
    """The days from `start` on with time to sow and somebody there (ordinals)."""
    ahead = place.sowing_tables[0]
    return [o for o in range(start.toordinal(), start.toordinal() + days) if not ahead[o % len(ahead)]]


def to_sow(now: SeasonState) -> list[Item]:
    """Plantings of which nothing is sown yet."""
    return [i for i in now.items if i.batch is None and i.raised.dates.method != "bought"]


def wish_of(item: Item, place: PlaceYear, today: date, farthest: int) -> Wish:
    """The days it may have from today on, no farther than so many days from its best one of them."""
    dates = item.raised.dates
    plain = date_planting(item.crop, place, Choice(dates.method, dates.term, not_before=today))
    ideal = plain.sow_on.toordinal()
    start = max(today.toordinal(), dates.sow.start.toordinal(), ideal - farthest)
    end = max(dates.sow.end, dates.sow_closes).toordinal()  # sown again and again: until it is no longer worth while
    return Wish(item.planting.pk, Span(start, min(end, ideal + farthest)), ideal)


def apart(wishes: list[Wish], items: Mapping[int, Item]) -> list[Wish]:
    """Sowings of one crop and variety follow each other for a reason: each keeps nearer to its own day than to the next's."""
    kinds: dict[tuple[str, str], list[int]] = defaultdict(list)
    for pk, item in items.items():
        kinds[item.crop.key, item.variety].append(pk)
    day = {pk: item.raised.dates.sow_on.toordinal() for pk, item in items.items()}
    found = []
    for wish in wishes:
        kind = sorted(kinds[items[wish.key].crop.key, items[wish.key].variety], key=lambda pk: (day[pk], pk))
        if len(kind) == 1:
            found.append(wish)
            continue
        at, own = kind.index(wish.key), day[wish.key]
        start, end = wish.window
        if at:
            start = max(start, own - (own - day[kind[at - 1]] - 1) // 2)
        if at + 1 < len(kind):
            end = min(end, own + (day[kind[at + 1]] - own - 1) // 2)
        found.append(Wish(wish.key, Span(min(start, own), end), own))
    return found


@garden_view(no_frost="plan")
def align(request: Any) -> HttpResponse:
    """The fewest days for all that is to be sown, and who could come along on each."""
    today = clock.today(request.garden)
    now = load(request.garden, today)
    items = {i.planting.pk: i for i in to_sow(now)}
    free = sowing_days(now.place, today, AHEAD_DAYS)
    dating = now.shared.dating if now.shared else None
    assert dating is not None
    farthest = FARTHEST.get(request.GET.get("far", ""), USUAL_FARTHEST)
    wishes = apart([wish_of(i, dating.place_of(i.planting), today, farthest) for i in items.values()], items)
    open_ = [w for w in wishes if w.window.end >= w.window.start]
    found = fewest_days(open_, free)
    kept = {pk: i.raised.dates.sow_on for pk, i in items.items()}
    columns = sorted({date.fromordinal(d) for d in found.distinct} | {d for d in kept.values() if d >= today})
    shown = columns[:MOST_DAYS]
    sowings = [
        _sowing(items[w.key], w, kept[w.key], found.days.get(w.key), shown)
        for w in sorted(open_, key=lambda w: (w.window.end, w.key))
    ]
    before, after = len({kept[pk] for pk in found.days}), len(found.distinct)
    context = {
        "view": "plan",
        "sowings": sowings,
        "days": [(d, sum(s.proposed == d for s in sowings)) for d in shown],
        "before": before,
        "after": after,
        "far": farthest,
        "choices": FARTHEST,
        "left_out": len(columns) - len(shown),
        "without": [items[pk].name for pk in found.without],
        "closed": say.listed([items[w.key].name for w in wishes if w.window.end < w.window.start], 4),
        "later": sum(1 for s in sowings if s.move and s.off > 0),
        "sooner": sum(1 for s in sowings if s.move and s.off < 0),
        "farthest": max((abs(s.off) for s in sowings), default=0),
    }
    return render(request, "plan/align.html", context)


def _sowing(item: Item, wish: Wish, kept: date, proposed: int | None, shown: list[date]) -> AlignedSowing:
    day = None if proposed is None else date.fromordinal(proposed)
    cells = [
        Cell(
            d,
            wish.window.start <= d.toordinal() <= wish.window.end,
            d == kept,
            d == day,
            d.toordinal() - wish.ideal,
        )
        for d in shown
    ]
    name = item.full_name
    return AlignedSowing(item, name, kept, date.fromordinal(wish.ideal), day, cells)


class Open(NamedTuple):
    """Something whose sowing window touches the week: of the plan, or a packet that nobody has planned."""

    name: str
    window: Window
    day: date | None
    minutes: int | None
    planting: int = 0
    lot: Lot | None = None
    term: str = "spring"
    places: str = ""


@garden_view(no_frost="plan")
def this_week(request: Any) -> HttpResponse:
    """Windows that open, are open and close in a week, of the plan and of the seed box."""
    today = clock.today(request.garden)
    now = load(request.garden, today)
    at = asked_day(request.GET.get("at", "")) or today
    monday = at - timedelta(days=(at.weekday() - request.garden.week_starts) % 7)
    week = Window(monday, monday + timedelta(days=6))
    dating = now.shared.dating if now.shared else None
    assert dating is not None
    found = [*_planned(now), *_in_the_box(now, dating)]
    groups = {
        "closing": [o for o in found if o.window.end in week],
        "opening": [o for o in found if o.window.start in week and o.window.end not in week],
        "open": [o for o in found if o.window.start < week.start and o.window.end > week.end],
    }
    for several in groups.values():
        several.sort(key=lambda o: (not o.planting, o.window.end, o.name))
    base = now.place.last_frost[0]
    here = [o for o in found if o.day is not None and o.day in week and o.day >= today]
    minutes = [o.minutes for o in here if o.minutes is not None]
    context = {
        "view": "plan",
        "week": week,
        "weeks": round((base - (monday + timedelta(days=3))).days / 7),
        "groups": groups,
        "due": here,
        "minutes": sum(minutes) if minutes else None,
        "before": monday - timedelta(days=7),
        "after": monday + timedelta(days=7),
        "last_frost": base,
        "is_now": today in week,
    }
    return render(request, "plan/week.html", context)


def _planned(now: SeasonState) -> list[Open]:
    found = []
    for item in to_sow(now):
        dates = item.raised.dates
        minutes, places = None, ""
        try:
            count = sowing_of(item.raised)
            each = CELL_MINUTES if count.unit != "seeds" else SEED_MINUTES
            minutes, places = max(1, round(count.places * each)), f"{count.places} {count.unit}"
        except NoCount:
            pass  # the planting's own page says that there is no count
        name = item.full_name
        found.append(Open(name, dates.sow, dates.sow_on, minutes, item.planting.pk, None, dates.term, places))
    return found


def _in_the_box(now: SeasonState, dating: Dating) -> list[Open]:
    """Packets that no planting of this season is sown from, with the window each would have."""
    used = {lot.pk for i in now.items if (lot := dating.lot(i.planting)) is not None}
    found = []
    for lot in dating.lots.values():
        if lot.used_up or lot.pk in used or lot.crop_key not in dating.crops:
            continue
        try:
            crop = dating.crop_of_lot(lot.crop_key, lot.pk)
            terms = ["spring"] + (["autumn"] if crop.word("autumn_ok") == "yes" else [])
            for term in terms:
                dates = date_planting(crop, dating.place, Choice(crop.method, term, packet=packet_of(lot)))
                found.append(Open(f"{crop.name} {lot.variety}".strip(), dates.sow, None, None, 0, lot, term))
        except CropError:
            continue
    return found
