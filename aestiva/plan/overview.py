"""The season's plantings as lines: for the picture, the list and the CSV alike."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any, NamedTuple

from django.urls import reverse

from aestiva.course.state import Item, SeasonState
from aestiva.frame import say
from aestiva.plan.picture import FurrowRow
from aestiva.season.crops import Crops
from growing.batch.planned import case_of
from growing.bench.steps import AGAIN
from growing.calendar import Window
from growing.chain.choice import Choice
from growing.chain.dates import PlantingDates, date_planting
from growing.chain.kinds import AFTER_SOWING
from growing.crops import Crop
from growing.place.year import PlaceYear
from growing.seeds.sowing import SowingCount, count_all, to_prick
from growing.shelves.room import trays_in_cells, trays_in_pots

FOLD_ABOVE = 40
SAMPLE = ("lettuce", "broccoli", "leek", "tomato", "pepper", "squash", "zinnia", "sweet_pea")


@dataclass(slots=True)
class PlanLine:
    """One planting of the season with the days of its steps."""

    item: Item
    name: str
    plants: int
    days: dict[str, date | None]
    state: str
    places: int
    unit: str
    href: str = ""
    follows: str = ""  # what stands on its ground before it

    @property
    def dates(self) -> PlantingDates:
        return self.item.raised.dates

    @property
    def next_day(self) -> date:
        """The day of the next work that its stage asks for; in the garden its first harvest or bloom."""
        steps = self.item.raised.course.steps
        open_ = [steps[k].due for k in NEXT_WORK[self.state] if k in steps and steps[k].happened is None]
        return min(open_, default=self.dates.first.start)

    @property
    def waits(self) -> str:
        """What moved its planting out from the day it was planned for, in words; empty where nothing did."""
        dates = self.dates
        return {
            "waits": "waits for hardening",
            "small": "waits for its leaves",
            "due": "its day has passed",
            "held": f"held by {next(iter(dates.held_by), '')}",
        }.get(dates.out_because, "")

    @property
    def movable(self) -> bool:
        """Can its sowing day still be chosen?"""
        return self.state == "planned" and self.days["sow"] is not None

    @property
    def planting_id(self) -> int:
        return self.item.planting.pk

    @property
    def cells(self) -> int:
        """Cells or blocks it fills; out of a box once it is pricked out."""
        if self.unit != "seeds":
            return self.places
        return self.item.raised.cells or to_prick(self.plants, self.item.crop.number("survival"))


class CropFold(NamedTuple):
    """Plantings of one crop and sowing week shown as one row."""

    key: str
    lines: list[PlanLine]
    laid_open: bool = False


NEXT_WORK = {
    "planned": ("sow", "out"),
    "sown": ("look", "up"),
    "up": AFTER_SOWING,
    "hardening": ("out",),
    "out": (),
}
STATES = {"planned": "to sow", "sown": "under the mix", "up": "up", "hardening": "hardening", "out": "in the garden"}


def _links(garden_id: int) -> tuple[str, str]:
    """The addresses of a batch and a planting with {} for the number: reversed once, not per row."""
    names = ("batch", "planting")
    return tuple(reverse(n, args=[garden_id, 0]).replace("/0/", "/{}/") for n in names)  # type: ignore[return-value]


def lines(now: SeasonState) -> list[PlanLine]:
    """A line per planting, earliest sowing first; a planting with several batches is shown by its first."""
    first: dict[int, Item] = {}
    for item in now.items:
        first.setdefault(item.planting.pk, item)
    found = some_lines(now, list(first.values()))
    return sorted(found, key=lambda one: (one.days["sow"] or date.max, one.name))


def some_lines(now: SeasonState, items: Sequence[Item]) -> list[PlanLine]:
    """Lines of some items, as they are or as they might be."""
    counts = _counts_of(items)
    batch, planting = _links(now.garden.pk)
    found = []
    for item in items:
        one = _line(item, now.today, counts)
        one.href = planting.format(one.planting_id) if item.batch is None else batch.format(item.batch.pk)
        one.follows = _before_it(now, item)
        found.append(one)
    return found


def _before_it(now: SeasonState, item: Item) -> str:
    """The name of what it follows on its ground; empty where nothing stands there before it."""
    free = None if now.shared is None else now.shared.dating.on_ground(item.planting)
    if free is None:
        return ""
    return next((now.name_of(other) for other in now.rows.plantings if other.pk == free.after), "")


def _counts_of(items: Iterable[Item]) -> dict[str, SowingCount | None]:
    """What is to be sown, or was in a box, for every item that has no cells yet: in one go."""
    open_ = [
        i.raised for i in items if i.raised.dates.method == "raised" and (not i.raised.cells or i.raised.how.together)
    ]
    return {one.ref: found for one, found in zip(open_, count_all([case_of(one) for one in open_]), strict=True)}


def _line(item: Item, today: date, counts: Mapping[str, SowingCount | None]) -> PlanLine:
    raised, planting = item.raised, item.planting
    course, dates = raised.course, raised.dates
    raised_indoors = dates.method == "raised"
    places, unit = raised.cells or 0, raised.how.sown_in
    if raised_indoors and (not places or unit == "box"):
        sown = raised.accounts.sown if raised.accounts else None
        places, unit = _to_sow(item, sown, counts.get(raised.ref))
    days = {
        "sow_from": dates.sow.start if raised_indoors else None,
        "sow_to": dates.sow.end if raised_indoors else None,
        "sow": course.day("sow") if dates.method != "bought" else None,
        "up": course.day("up"),
        "prick": course.day("prick"),
        "pot": course.day("pot"),
        "harden": course.day("harden"),
        "out": course.day("out") or dates.out_on,
        "first": dates.first.start,
        "last": dates.last,
    }
    return PlanLine(
        item, f"{item.crop.name} {planting.variety}".strip(), planting.wanted, days, state(item), places, unit
    )


def _to_sow(item: Item, sown: int | None, count: SowingCount | None) -> tuple[int, str]:
    """Places and their unit of what is sown or to be sown; none where the seed gives no count."""
    how = item.raised.how
    if count is None:
        return sown or 0, how.sown_in
    return sown if sown and how.sown_in == "box" else count.places, count.unit


def state(item: Item) -> str:
    facts = item.raised.facts
    if facts.planted_on:
        return "out"
    if facts.outings:
        return "hardening"
    if facts.first_up:
        return "up"
    return "sown" if facts.sown_on else "planned"


def sample(place: PlaceYear, crops: Crops, today: date) -> list[tuple[Crop, PlantingDates]]:
    """What a place's dates would mean for a handful of common crops, those still to be sown first."""
    dated = [(crops[key], date_planting(crops[key], place, Choice(not_before=today))) for key in SAMPLE]
    return sorted(dated, key=lambda one: (any(p.code == "too_late" for p in one[1].problems), one[1].sow_on))


def headline(found: Sequence[PlanLine], now: SeasonState) -> str:
    """What the season asks next, in a sentence."""
    if not found:
        return "The season is still empty"
    waiting = [one for one in found if one.state == "planned" and one.days["sow"] is not None]
    if not waiting:
        again = list(dict.fromkeys(todo.item.name for todo in now.todos(now.today, (AGAIN.kind,))))
        return "Everything of this season is sown" + (f"; sow {say.listed(again, 2)} again" if again else "")
    first = min(one.days["sow"] for one in waiting if one.days["sow"] is not None)
    names = list(dict.fromkeys(one.item.crop.name for one in waiting if one.days["sow"] == first))
    when = say.away(first, now.today) if first >= now.today else f"waiting since {say.day(first)}"
    left = sum(one.days["sow"] != first for one in waiting)
    return f"Next to sow: {say.listed(names, 2)}, {when}" + (
        f"; {say.plural(left, 'planting')} after that" if left > 0 else ""
    )


def fold_key(one: PlanLine) -> str:
    """The crop, and the week of its work: what is sown or set out together."""
    week = (one.days["sow"] or one.days["out"] or date.min).isocalendar()
    return f"{one.item.crop.key}-{week.year}-{week.week}"


def folds(found: Sequence[PlanLine], opened: Collection[str] = ()) -> list[CropFold]:
    """Above 40 plantings those of one crop and sowing week become one; those `opened` are laid open under their head."""
    if len(found) <= FOLD_ABOVE:
        return [CropFold("", [one]) for one in found]
    groups: dict[str, list[PlanLine]] = defaultdict(list)
    for one in found:
        groups[fold_key(one)].append(one)
    result: list[CropFold] = []
    for key, group in groups.items():
        if len(group) == 1:
            result.append(CropFold("", group))
            continue
        result.append(CropFold(key, group, key in opened))
        if key in opened:
            result.extend(CropFold("", [one]) for one in group)
    return result


def rows(
    groups: Iterable[CropFold], today: date, made: Mapping[int, Mapping[str, str]] | None = None, may_write: bool = True
) -> list[FurrowRow]:
    """Rows of the picture; made: what was first planned, by planting, to be shown over them."""
    found = [head(fold, today) if fold.key else row(fold.lines[0], today, may_write) for fold in groups]
    if made is None:
        return found
    return [one if one.fold else one._replace(made=first_made(made.get(int(one.key), {}))) for one in found]


def head(fold: CropFold, today: date) -> FurrowRow:
    """A group as one row."""
    one = fold.lines[0]
    first = row(one, today)
    plants, cells = sum(x.plants for x in fold.lines), sum(x.cells for x in fold.lines)
    flag = first.flag and first.flag.split(":")[0]
    if first.flag and len(units := {x.unit for x in fold.lines}) == 1:
        flag += f": {sum(x.places for x in fold.lines)} {units.pop()}"
    return first._replace(
        name=f"{one.item.crop.name} ×{len(fold.lines)}",
        note=f"{plants} plants · sown {say.short_day(first.sow)}",
        href=f"#{fold.key}",
        flag="" if fold.laid_open else flag,
        indoors=trays_in_cells(one.item.crop, cells),
        potted=trays_in_pots(one.item.crop, plants),
        bad=tuple(w for x in fold.lines for w in bad_stretches(x)),
        planting=0,
        key=fold.key,
        fold=fold.key,
        laid_open=fold.laid_open,
    )


def row(one: PlanLine, today: date, may_write: bool = True) -> FurrowRow:
    days, crop, planting = one.days, one.item.crop, one.item.planting
    out, first, last = days["out"], days["first"], days["last"]
    assert out is not None and first is not None and last is not None
    sow = days["sow"] or out
    flag = ""
    if one.state == "planned" and sow <= today and one.dates.method == "raised":
        flag = f"sow {'today' if sow == today else 'now'}: {one.places} {one.unit}"
    return FurrowRow(
        name=one.name,
        note=f"{one.plants} plants"
        + (f" · {one.waits}" if one.waits else f" · {one.item.grows_at}" if one.item.grows_at else "")
        + (f" after {one.follows}" if one.follows and not one.waits else ""),
        window=Window(days["sow_from"] or sow, days["sow_to"] or sow),
        sow=sow,
        up=days["up"],
        pot=days["pot"],
        harden=days["harden"],
        out=out,
        first=first,
        last=last,
        sown=one.state != "planned",
        indoors=trays_in_cells(crop, one.cells),
        potted=trays_in_pots(crop, one.plants),
        flag=flag,
        href=one.href,
        label=f"; sow {say.day(sow)}, plant out {say.day(out)}, first {say.day(first)}",
        bad=bad_stretches(one),
        follows=one.follows,
        planting=one.planting_id if one.movable and may_write else 0,
        revision=planting.revision,
        key=str(one.planting_id),
    )


def first_made(days: Mapping[str, str]) -> tuple[date, date] | None:
    """Sowing and planting out as they were when it was planned; None where nobody kept them."""
    if "sow_on" not in days or "out_on" not in days:
        return None
    return date.fromisoformat(days["sow_on"]), date.fromisoformat(days["out_on"])


def bad_stretches(one: PlanLine) -> tuple[Window, ...]:
    """Stretches of its row that cannot be: too young, too old in the pot, out before or after its window."""
    found, dates = [], one.dates
    for problem in dates.problems:
        if problem.code == "short" and problem.day is not None:
            found.append(Window(dates.out_on, dates.out_on + timedelta(days=problem.days - 1)))
        elif problem.code == "over_hold":
            found.append(Window(dates.hold_until, dates.out_on))
        elif problem.code == "before_window":
            found.append(Window(dates.out_on, dates.out.start - timedelta(days=1)))
        elif problem.code == "after_window":
            found.append(Window(dates.out.end, dates.out_on))
        elif problem.code in ("too_early", "too_late", "away") and one.movable:
            found.append(Window(min(dates.sow_on, dates.sow.end), max(dates.sow_on, dates.sow.start)))
    return tuple(found)


COLUMNS = (
    "crop",
    "variety",
    "wanted",
    "method",
    "term",
    "place",
    "state",
    "sow from",
    "sow until",
    "sow",
    "half up",
    "pot up",
    "harden from",
    "plant out",
    "first",
    "last",
)


def table(found: Iterable[PlanLine]) -> list[list[Any]]:
    """The season as rows of plain values under `COLUMNS`."""
    result = []
    for one in found:
        planting, days = one.item.planting, one.days
        head = [
            one.item.crop.name,
            planting.variety,
            planting.wanted,
            planting.method,
            planting.term,
            one.item.grows_at,
        ]
        steps = [days[k] for k in ("sow_from", "sow_to", "sow", "up", "pot", "harden", "out", "first", "last")]
        if not one.item.raised.dates.last_known:
            steps[-1] = None  # no autumn frost is known, so nobody knows
        result.append([*head, STATES[one.state], *(d.isoformat() if d else "" for d in steps)])
    return result
