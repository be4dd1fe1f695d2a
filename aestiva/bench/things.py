"""The bench as it stands: places, trays on them, what is in each, how high it is; read in a constant number of queries."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import NamedTuple

from aestiva.course.item import Lit
from aestiva.course.light import growth_of, lights
from aestiva.course.state import Item, SeasonState
from aestiva.gardens.models import Garden
from aestiva.season.contents import contents_of
from aestiva.season.models import Batch, BatchLink, BatchStand, CellRun, Container, Spot, Tray, TrayStand
from growing.beds.bedplan import Rect
from growing.bench.cells import FLAT_LENGTH_CM, FLAT_WIDTH_CM, GROWS, SPENT, Contents, Grid, grid_of
from growing.place.kinds import HOLDS, SOIL
from growing.shelves import shelf
from growing.shelves.room import trays_in_box, trays_in_cells, trays_in_pots
from growing.shelves.shelf import Grown, Headroom

DEPTH_CM = 6.0  # of a thing of which nobody said what it is: estimate
MOST_LISTED = 12


def grid(tray: Tray) -> Grid:
    """Its cells in rows from the marked corner."""
    c = tray.container
    if c is None or c.cells != tray.cells:
        return grid_of(tray.cells)
    return grid_of(tray.cells, c.length_cm, c.width_cm, c.kind)


def footprint(tray: Tray) -> tuple[float, float]:
    """Length and width [cm]; pots stand together on a flat, and a thing of unknown kind is taken as one."""
    c = tray.container
    if c is None:
        return (FLAT_LENGTH_CM, FLAT_WIDTH_CM) if tray.cells > 6 else (18.0, 12.0)
    if c.cells == 1 and tray.cells > 1:
        return _together(c, tray.cells)
    return c.length_cm, c.width_cm


def _together(c: Container, count: int) -> tuple[float, float]:
    """So many pots side by side, in the shape of a flat."""
    deep = max(1, int(FLAT_WIDTH_CM // c.width_cm))
    across = -(-count // deep)
    return max(FLAT_LENGTH_CM, across * c.length_cm), max(c.width_cm, min(count, deep) * c.width_cm)


def depth(tray: Tray) -> float:
    """How high the thing itself is [cm]."""
    return DEPTH_CM if tray.container is None else tray.container.depth_cm


class PartOf(NamedTuple):
    """The share of one batch in a tray: its cells, those of them in which a plant may stand, and how it has grown."""

    item: Item | None
    batch: int
    cells: tuple[int, ...]
    standing: int
    growth: Grown
    called: str = ""  # where the rules know nothing of it any more

    @property
    def name(self) -> str:
        return self.item.name if self.item is not None else self.called or "given up"


@dataclass
class Thing:
    """A tray, or pots of one batch that stand by themselves (tray None), where it stands."""

    tray: Tray | None
    parts: list[PartOf]
    contents: Contents
    length_cm: float
    width_cm: float
    depth_cm: float
    at: tuple[float, float] | None = None  # said
    rect: Rect | None = None  # said, or where it has room; None: it has none
    spot: Spot | None = None
    headroom: Headroom | None = None
    box_cm: float = 0.0  # of what it is set up on
    lying: frozenset[int] = frozenset()  # of its batches, those of which nothing is known to be up
    again: frozenset[int] = frozenset()  # of its batches, those whose cells had failed and were sown again

    @property
    def rim_cm(self) -> float:
        """How high its rim is above what it stands on, boxes under it included."""
        return self.box_cm + self.depth_cm

    @property
    def name(self) -> str:
        return self.tray.code if self.tray is not None else self.parts[0].name if self.parts else "pots"

    @property
    def turns(self) -> int:
        return self.tray.turns if self.tray is not None else 0

    @property
    def pots(self) -> bool:
        """Is it pots beside each other?"""
        c = None if self.tray is None else self.tray.container
        return (
            c is not None
            and c.cells == 1
            and (c.kind.startswith("pot") or (self.tray is not None and self.tray.cells > 1))
        )

    @property
    def lidded(self) -> bool:
        """Is there a lid on it, as far as anybody said, and has nobody taken it off?"""
        if self.tray is None or self.tray.lid != "lid":
            return False
        live = [p for p in self.parts if p.item is not None]
        return not live or any(p.item is not None and p.item.raised.facts.first("lid") is None for p in live)

    @property
    def boxed(self) -> bool:
        """Is all that lives in it in the box outdoors in which it was sown in winter?"""
        live = [p.item.raised.in_box for p in self.parts if p.item is not None]
        return bool(live) and all(live)

    @property
    def growth(self) -> Grown:
        """Of the tallest in it."""
        return max((p.growth for p in self.parts), key=lambda g: g.height_cm, default=Grown(0.0, 0.0, 0.0))

    @property
    def names(self) -> list[str]:
        return list(dict.fromkeys(p.name for p in self.parts))

    @property
    def free(self) -> int:
        """Cells in which nothing is, or nothing is any more."""
        if self.tray is None:
            return 0
        return self.tray.cells - sum(mark not in SPENT for _, mark in self.contents.values())


@dataclass
class PlaceStanding:
    """A place with what stands on it."""

    spot: Spot
    things: list[Thing] = field(default_factory=list)
    mats: list[PlaceStanding] = field(default_factory=list)

    @property
    def wide_cm(self) -> float:
        return self.spot.length_cm or SIZES.get(self.spot.kind, SIZES["frame"])[0]

    @property
    def deep_cm(self) -> float:
        return self.spot.width_cm or SIZES.get(self.spot.kind, SIZES["frame"])[1]

    @property
    def clear_cm(self) -> float:
        return self.spot.clear_cm or SIZES.get(self.spot.kind, SIZES["frame"])[2]

    @property
    def size_said(self) -> bool:
        return bool(self.spot.length_cm and self.spot.width_cm)

    @property
    def here(self) -> list[Thing]:
        """What stands on it, its mats included."""
        return [*self.things, *(t for mat in self.mats for t in mat.things)]

    @property
    def over(self) -> list[Thing]:
        """What has no room where it is said to stand, as far as its size is known."""
        return [t for t in self.things if t.rect is None] if self.size_said else []

    @property
    def first(self) -> list[Thing]:
        """As many as a list of all places has room for; the others are on its own page."""
        return self.things[:MOST_LISTED]

    @property
    def others(self) -> int:
        return max(0, len(self.things) - MOST_LISTED)

    def taken(self, without: Thing | None = None) -> list[tuple[str, Rect]]:
        """What has its ground here, by name: things, but for one that is in the hand, and the mats."""
        found = [(t.name, t.rect) for t in self.things if t.rect is not None and t is not without]
        return found + [(m.spot.code, m.ground) for m in self.mats]

    @property
    def ground(self) -> Rect:
        """Of a mat, where it lies on what carries it."""
        return Rect(self.spot.x_cm or 0.0, 0.0, self.wide_cm, self.deep_cm)

    @property
    def holds(self) -> int:
        """Flats of the usual size that it has room for."""
        short, long_ = FLAT_WIDTH_CM, FLAT_LENGTH_CM
        return max(
            int(self.wide_cm // short) * int(self.deep_cm // long_),
            int(self.wide_cm // long_) * int(self.deep_cm // short),
        )


# length, depth and clear height that a place is drawn with where nobody gave any [cm]
SIZES = {
    "room": (120.0, 60.0, 60.0), "rack": (120.0, 55.0, 60.0), "shelf": (120.0, 55.0, 45.0), "mat": (56.0, 55.0, 40.0),
    "sill": (120.0, 30.0, 60.0), "porch": (120.0, 60.0, 60.0), "frame": (150.0, 60.0, 35.0), "tunnel": (200.0, 60.0, 80.0),
}  # fmt: skip


@dataclass
class Bench:
    """Everything that stands, by place; and what stands nowhere anybody said."""

    places: dict[int, PlaceStanding]
    order: list[int]
    nowhere: list[Thing]

    @property
    def things(self) -> list[Thing]:
        return [*(t for pk in self.order for t in self.places[pk].things), *self.nowhere]

    def thing(self, tray: Tray) -> Thing:
        """The tray as it stands; one that stands nowhere and holds nothing is taken by itself."""
        return next((t for t in self.things if t.tray is not None and t.tray.pk == tray.pk), alone(tray))


def open_trays(garden: Garden) -> tuple[list[Tray], dict[int, TrayStand], dict[int, list[CellRun]]]:
    """The garden's trays that stand somewhere or hold something, where, and their open runs."""
    stands = {s.tray_id: s for s in TrayStand.objects.filter(tray__garden=garden, until=None).select_related("spot")}
    runs: dict[int, list[CellRun]] = defaultdict(list)
    for run in CellRun.objects.filter(tray__garden=garden, until=None).order_by("first"):
        runs[run.tray_id].append(run)
    trays = Tray.objects.filter(garden=garden).select_related("container").order_by("pk")
    return [t for t in trays if t.pk in stands or t.pk in runs], stands, runs


def alone(tray: Tray) -> Thing:
    """A tray that holds nothing, and stands nowhere yet."""
    return Thing(tray, [], {}, *footprint(tray), depth(tray))


def sown_again(garden: Garden) -> frozenset[int]:
    """Batches that were sown into cells of another that had failed there."""
    links = BatchLink.objects.filter(child__planting__season__garden=garden, count=0)
    return frozenset(links.values_list("child_id", flat=True))


def _lies(item: Item) -> bool:
    """Is all of it seed still, as far as anybody wrote down?"""
    facts, accounts = item.raised.facts, item.raised.accounts
    return (
        facts.first_up is None and facts.first("received") is None and not (accounts is not None and accounts.emerged)
    )


def parts_of(contents: Contents, items: Mapping[int, Item], day: date, lit: Mapping[int, Lit]) -> list[PartOf]:
    """The batches of a tray, in the order of their cells."""
    cells: dict[int, list[int]] = defaultdict(list)
    for cell in sorted(contents):
        cells[contents[cell][0]].append(cell)
    found = []
    for batch, here in cells.items():
        item = items.get(batch)
        alive = [c for c in here if contents[c][1] not in SPENT]
        standing = sum(contents[c][1] in GROWS for c in here) or (len(alive) if item is not None else 0)
        found.append(PartOf(item, batch, tuple(here), standing, growth_of(item, day, lit)))
    return found


def _spent(item: Item) -> bool:
    """Is nothing of it in pots or trays any more?"""
    accounts = item.raised.accounts
    return accounts is not None and accounts.spent


def load_bench(now: SeasonState) -> Bench:
    """The bench of a garden on the day of its season."""
    garden, day = now.garden, now.today
    trays, stands, runs = open_trays(garden)
    used = {s.spot_id for s in stands.values()}
    spots = [s for s in Spot.objects.filter(garden=garden) if s.kind in HOLDS or (s.kind not in SOIL and s.pk in used)]
    places = {s.pk: PlaceStanding(s) for s in spots}
    items = {i.batch.pk: i for i in now.items if i.batch is not None}
    nowhere: list[Thing] = []
    again, lit = sown_again(garden), lights(now)
    for tray in trays:
        contents = contents_of(runs.get(tray.pk, []))
        thing = Thing(tray, parts_of(contents, items, day, lit), contents, *footprint(tray), depth(tray))
        held = {b for b, _ in contents.values()}
        thing.again, thing.lying = again & held, frozenset(b for b in held if b in items and _lies(items[b]))
        stand = stands.get(tray.pk)
        if stand is not None and stand.x_cm is not None:
            thing.at = (stand.x_cm, stand.y_cm or 0.0)
        thing.box_cm = 0.0 if stand is None else stand.box_cm or 0.0
        _into(places, nowhere, thing, None if stand is None else stand.spot_id)
    loose = BatchStand.objects.filter(batch__planting__season__garden=garden, until=None)
    stood = dict(loose.values_list("batch_id", "spot_id").order_by("pk"))
    for batch, spot in stood.items():
        # what was planted in the tunnel stands in its ground, and in no pot
        if batch in items and spot in places and not _spent(items[batch]):
            _into(places, nowhere, _loose(items[batch], day, lit), spot)
    held = {run.batch_id for own in runs.values() for run in own} | set(stood)
    for pk, item in items.items():  # growing indoors, and nobody ever said where
        if pk not in held and item.raised.alive and item.raised.dates.method != "direct":
            nowhere.append(_loose(item, day, lit))
    _call(now, [t for one in places.values() for t in one.things] + nowhere)
    lay_out(places)
    return Bench(places, [s.pk for s in spots], nowhere)


def lay_out(places: Mapping[int, PlaceStanding]) -> None:
    """Mats onto what carries them, every thing onto its ground, and what is left above it."""
    for one in places.values():
        parent = places.get(one.spot.parent_id or 0)
        if one.spot.kind == "mat" and parent is not None:
            parent.mats.append(one)
    for one in places.values():
        _lay(one)
        for thing in one.things:
            thing.headroom = _headroom(one, places.get(one.spot.parent_id or 0), thing)


def _call(now: SeasonState, things: Iterable[Thing]) -> None:
    """Names of batches that the season does not speak of any more: given up, or of a year before."""
    gone = [(thing, n) for thing in things for n, part in enumerate(thing.parts) if part.item is None]
    if not gone:
        return
    rows = Batch.objects.filter(pk__in={t.parts[n].batch for t, n in gone}).select_related("planting")
    names = {b.pk: f"{now.name_of(b.planting)}, {'given up' if b.failed_on else 'gone'}" for b in rows}
    for thing, n in gone:
        thing.parts[n] = thing.parts[n]._replace(called=names.get(thing.parts[n].batch, ""))


def _into(places: Mapping[int, PlaceStanding], nowhere: list[Thing], thing: Thing, spot: int | None) -> None:
    if spot is not None and spot in places:
        thing.spot = places[spot].spot
        places[spot].things.append(thing)
    elif thing.parts or spot is None:
        nowhere.append(thing)


def _loose(item: Item, day: date, lit: Mapping[int, Lit]) -> Thing:
    """Pots of a batch that stand in no tray: as many flats as they take."""
    raised = item.raised
    potted, count = raised.facts.first("potted") is not None, raised.plants or raised.wanted
    flats = (
        trays_in_pots(item.crop, count)
        if potted or raised.facts.first("received")
        else trays_in_box(count)
        if raised.how.together
        else trays_in_cells(item.crop, count)
    )
    assert item.batch is not None
    part = PartOf(item, item.batch.pk, (), count, growth_of(item, day, lit))
    wide = max(6.0, min(4.0, max(flats, 0.1)) * FLAT_WIDTH_CM)
    return Thing(None, [part], {}, FLAT_LENGTH_CM, wide, item.crop.number("pot_cm") or DEPTH_CM)


def size_on(thing: Thing, deep_cm: float) -> tuple[float, float]:
    """Along and into the place: its short side to the front where it is deep enough, and as it was turned."""
    wide, deep = shelf.turned(thing.length_cm, thing.width_cm, thing.turns)
    if thing.turns % 2 == 0 and deep > deep_cm >= wide:
        return deep, wide
    return wide, deep


def _lay(one: PlaceStanding) -> None:
    """Where each thing stands: as somebody said, the others where there is room from the left."""
    taken = [m.ground for m in one.mats if m.things]  # what lies on a mat lies there
    for thing in sorted(one.things, key=lambda t: t.at is None):
        wide, deep = size_on(thing, one.deep_cm)
        spot = thing.at or shelf.free_place(wide, deep, one.wide_cm, one.deep_cm, taken)
        if spot is not None:
            thing.rect = Rect(*spot, wide, deep)
            taken.append(thing.rect)


def _headroom(one: PlaceStanding, parent: PlaceStanding | None, thing: Thing) -> Headroom | None:
    """What is above it: its lid, the lamp, else the shelf or the glass; None where nobody said."""
    if not thing.growth.height_cm and not thing.growth.cm_a_day:
        return None
    tallest = max(thing.parts, key=lambda p: p.growth.height_cm, default=None)
    name = tallest.name if tallest is not None else thing.name
    if thing.lidded:
        return shelf.under_lid(name, thing.growth)
    spots = [one.spot, *([] if parent is None or one.spot.kind != "mat" else [parent.spot])]
    for spot in spots:
        if spot.lit == "lamp" and spot.lamp_cm:
            return shelf.headroom(name, thing.growth, thing.rim_cm, spot.lamp_cm, "lamp")
    for spot in spots:
        if spot.clear_cm:
            under = {"frame": "glass", "shelf": "shelf"}.get(spot.kind, "top")
            return shelf.headroom(name, thing.growth, thing.rim_cm, spot.clear_cm, under)
    return None


def has_room(one: PlaceStanding, thing: Thing) -> bool:
    """Is there ground for it, beside what stands there?  Of a place without a size as it is usually drawn."""
    wide, deep = size_on(thing, one.deep_cm)
    taken = [rect for _, rect in one.taken(without=thing)]
    return shelf.free_place(wide, deep, one.wide_cm, one.deep_cm, taken) is not None


def with_room(bench: Bench, thing: Thing, kinds: Iterable[str] = HOLDS) -> Spot | None:
    """A place of those kinds, other than its own, that has room for it; None where none has."""
    wanted = set(kinds)
    for pk in bench.order:
        one = bench.places[pk]
        own = thing.spot is not None and pk == thing.spot.pk
        if one.spot.kind in wanted and not own and one.size_said and has_room(one, thing):
            return one.spot
    return None
