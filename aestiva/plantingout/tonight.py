"""Tonight, in the beds: what to cover, with what, how long, how many pegs; what bears it uncovered; and what the covers at hand come to."""

from __future__ import annotations

from collections import defaultdict
from typing import NamedTuple

from aestiva.course.state import Item, SeasonState
from aestiva.plantingout.models import CoverAtHand
from aestiva.season.models import BedArea
from growing.batch.harm import struck
from growing.place.covers import COVERS, lightest, needed
from growing.place.nights import Night, at_plant
from growing.plantingout.kit import row_cm
from growing.working import Value, Working

CLOCHE = "cloche"


class BedLine(NamedTuple):
    """One planting outdoors tonight: plants, bed, temperature at the plant and where it is warned from [°C]; the lightest cover that is
    enough ("": none is), its length [cm] and pegs; what is lost without, and the arithmetic."""

    item: Item
    plants: int
    code: str
    plant_c: float
    told_c: float
    cover: str
    at_hand: bool
    length_cm: float
    pegs: int
    lost: float
    working: Working

    @property
    def metres(self) -> float:
        return self.length_cm / 100

    @property
    def safe(self) -> bool:
        """Does it bear the night as it is?"""
        return self.plant_c > self.told_c


class CoverStock(NamedTuple):
    """A kind of cover: what the garden has, and what tonight takes [cm, or pieces]."""

    kind: str
    has: float
    takes: float
    by_length: bool

    @property
    def name(self) -> str:
        return COVERS[self.kind].name

    @property
    def left(self) -> float:
        return self.has - self.takes

    @property
    def has_m(self) -> float:
        return self.has / 100

    @property
    def takes_m(self) -> float:
        return self.takes / 100


class Tonight(NamedTuple):
    """The night, its temperature at the plant in the open, every planting outdoors, and the covers."""

    night: Night | None
    plant_c: float | None
    lines: tuple[BedLine, ...]
    stock: tuple[CoverStock, ...]

    @property
    def to_cover(self) -> tuple[BedLine, ...]:
        return tuple(one for one in self.lines if not one.safe)

    @property
    def bear_it(self) -> tuple[BedLine, ...]:
        return tuple(one for one in self.lines if one.safe)

    @property
    def plants(self) -> int:
        return sum(one.plants for one in self.to_cover)

    @property
    def length_cm(self) -> float:
        return sum(one.length_cm for one in self.to_cover)

    @property
    def pegs(self) -> int:
        return sum(one.pegs for one in self.to_cover)


def tonight(now: SeasonState) -> Tonight:
    """Every planting outdoors against this night."""
    night = now.night
    open_air = None if night is None else at_plant(night, now.today, now.shift_c).celsius
    out = [i for i in now.items if i.raised.accounts is not None and i.raised.accounts.outdoors]
    rows = list(CoverAtHand.objects.filter(garden=now.garden)) if out else []
    if night is None or not out:
        return Tonight(night, open_air, (), _stock(rows, ()))
    lengths: dict[int, float] = defaultdict(float)
    for planting, cm in BedArea.objects.filter(planting__in=[i.planting.pk for i in out]).values_list(
        "planting_id", "length_cm"
    ):
        lengths[planting] += cm
    kinds = tuple(dict.fromkeys(row.kind for row in rows))
    lines = sorted(
        (_line(now, i, night, lengths.get(i.planting.pk), kinds) for i in out), key=lambda one: (one.safe, -one.lost)
    )
    return Tonight(night, open_air, tuple(lines), _stock(rows, tuple(lines)))


def _line(now: SeasonState, item: Item, night: Night, length: float | None, kinds: tuple[str, ...]) -> BedLine:
    one = item.raised
    assert one.accounts is not None
    count, found = one.accounts.outdoors or 0, struck(one, night, now.today, one.grows_in or "bed")
    plant, limit, lost = found.plant, found.harm, count * found.share
    cover, cm, pegs = "", 0.0, 0
    if found.cold:
        cover = lightest(plant.celsius, limit.told_c, kinds) or lightest(plant.celsius, limit.told_c) or ""
        if cover != CLOCHE:
            cm, pegs = needed(row_cm(item.crop, count, length))
    inputs = (
        Value("plants", count, "plants"),
        *found.inputs,
        Value("warned from", limit.told_c, "°C", "working"),
        Value("cover", COVERS[cover].name if cover else ""),
        Value("adds", COVERS[cover].adds_c if cover else None, "Δ°C", "estimate"),
        Value("lost", lost, "plants", "estimate"),
    )
    rule = "stands" if not found.cold else "covered" if cover else "beyond"
    why = Working(f"plantingout.tonight_{rule}", inputs, (plant.working,), Value("at the plant", plant.celsius, "°C"))
    code = item.grows_at or item.spot_code
    return BedLine(item, count, code, plant.celsius, limit.told_c, cover, cover in kinds, cm, pegs, lost, why)


def _stock(rows: list[CoverAtHand], lines: tuple[BedLine, ...]) -> tuple[CoverStock, ...]:
    has: dict[str, float] = defaultdict(float)
    for row in rows:
        has[row.kind] += (row.length_cm or 0.0) if row.kind != CLOCHE else float(row.pieces or 0)
    takes: dict[str, float] = defaultdict(float)
    for line in lines:
        if line.cover:
            takes[line.cover] += line.plants if line.cover == CLOCHE else line.length_cm
    kinds = [k for k in COVERS if k in has or takes.get(k)]
    return tuple(CoverStock(k, has.get(k, 0.0), takes.get(k, 0.0), k != CLOCHE) for k in kinds)
