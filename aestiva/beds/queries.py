"""The ground as the rules see it: beds, what is laid out in them, when it stands, what still looks for a place."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from math import ceil
from typing import NamedTuple

from aestiva.beds.models import Plot, Use
from aestiva.course.state import SeasonState, load
from aestiva.gardens import clock
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import NoFrostDate
from aestiva.place.dating import Dating, dating_of, packet_of
from aestiva.season.crops import how_of
from aestiva.season.models import BedArea, Lot, Planting, Spot
from aestiva.season.trouble import Trouble
from growing.beds.bedplan import Area, Household, Rect, Slot, free_ground, household, slots, too_dark
from growing.beds.packing import Fit, clump_cm, fit, places
from growing.chain.dates import PlantingDates
from growing.crops import Crop
from growing.place.kinds import SOIL
from growing.plan.follow import Follower, follower

BEGINS_DAYS = 56  # days before last frost on which the plan of the ground begins
SEASON_WEEKS = 40
MOST_SHOWN = 14  # of the plantings looking for a place: for these ground is looked for


def plot_of(garden: Garden) -> Plot:
    """The garden's plot, unsaved and usual when it has none yet."""
    return Plot.objects.filter(garden=garden).first() or Plot(garden=garden)


def ground(garden: Garden) -> list[Spot]:
    """Everything drawn on the plot: beds and the like, and paths."""
    return list(Spot.objects.filter(garden=garden, kind__in=(*SOIL, "path")).order_by("order", "code"))


def rect_of(spot: Spot) -> Rect:
    """A bed in its own measure, from its upper left corner; a usual one where nobody measured."""
    return Rect(0.0, 0.0, spot.length_cm or 300.0, spot.width_cm or 120.0)


@dataclass(slots=True)
class Laid:
    """One area with its planting: ground, plants that fit, days it stands."""

    row: BedArea
    planting: Planting
    crop: Crop
    dates: PlantingDates
    rect: Rect
    spacing: float
    clump: int
    fit: Fit
    standing: Area
    letter: str
    flower: str = ""  # colour of its flowers, as its packet says
    there: int | None = None  # plants that were set out and stand; None: none were set out yet

    @property
    def name(self) -> str:
        return f"{self.crop.name} {self.planting.variety}".strip()

    @property
    def plants(self) -> int:
        return self.fit.plants * self.clump

    @property
    def crop_height(self) -> float:
        return self.crop.number("height_cm")

    @property
    def places(self) -> list[list[float]]:
        """Where its plants stand [cm], from the area's upper left corner."""
        found: list[list[float]] = places(
            self.rect.length, self.rect.width, self.spacing, self.row.pattern, self.row.edge
        ).tolist()
        return found

    def spread(self, day: date) -> float:
        """How wide a plant is drawn on that day [cm]: three tenths of its mature spread when set out, then as it grows."""
        return clump_cm(self.crop.number("spacing_cm"), self.clump) * (
            0.3 + 0.7 * self.standing.height(day) / self.crop_height
        )


class AreaRoom(NamedTuple):
    """How an area stands against what is wanted, in words; short: too few have a place."""

    text: str
    short: bool = False


def room_said(one: Laid, laid: dict[int, list[Laid]]) -> AreaRoom:
    """Whether the planting has its places, here and in other beds together."""
    total = sum(other.plants for areas in laid.values() for other in areas if other.planting.pk == one.planting.pk)
    wanted, elsewhere = one.planting.wanted, total - one.plants
    also = f", {elsewhere} more stand elsewhere" if elsewhere else ""
    if one.planting.as_fits:
        return AreaRoom(f"as many as fit{also}")
    if total < wanted:
        return AreaRoom(f"{one.plants} fit here{also}: {wanted - total} of the {wanted} wanted have no place yet", True)
    if total > wanted:
        return AreaRoom(f"room for {total - wanted} more than wanted{also}")
    return AreaRoom(f"the other {elsewhere} stand elsewhere" if elsewhere else "")


def clump_of(planting: Planting, crop: Crop) -> int:
    """Plants that stand together in a place of the bed."""
    return how_of(planting, crop).clump if planting.method == "raised" else 1


def apart_of(planting: Planting, crop: Crop) -> float:
    """The usual distance of its places [cm]: that of its plants, or of clumps of them."""
    return clump_cm(crop.number("spacing_cm"), clump_of(planting, crop))


def spacing_of(row: BedArea, planting: Planting, crop: Crop) -> float:
    """The area's own distance, otherwise the crop's as packet, planting and garden have it."""
    return row.spacing_cm or apart_of(planting, crop)


def fit_of(row: BedArea, planting: Planting, crop: Crop) -> Fit:
    return fit(row.length_cm, row.width_cm, spacing_of(row, planting, crop), row.pattern, row.edge)


class BedStanding(NamedTuple):
    """Plantings of the season as they stand today: their dates, and how many of those set out there are; None there: none were yet.

    In a garden with nothing planned and no frost date nothing has dates.
    """

    dating: Dating
    dates: Mapping[int, PlantingDates]
    there: Mapping[int, int | None]
    season: SeasonState | None

    def troubles(self, garden: Garden) -> list[Trouble]:
        return self.dating.troubles(garden) if self.season is None else self.season.troubles


def standing(garden: Garden) -> BedStanding:
    """What the season says of its plantings today.  Raises NoFrostDate where plantings wait for one; ground can be drawn without."""
    try:
        now = load(garden, clock.today(garden))
    except NoFrostDate:
        if Planting.objects.filter(season__garden=garden, season__year=garden.year, cancelled_on=None).exists():
            raise
        return BedStanding(dating_of(garden, waits=False), {}, {}, None)
    assert now.shared is not None
    return BedStanding(now.shared.dating, now.dates(), now.set_out(), now)


def laid_out(garden: Garden, on: BedStanding) -> dict[int, list[Laid]]:
    """What lies in each bed this season, by spot; a constant number of queries."""
    rows = BedArea.objects.filter(
        planting__season__garden=garden, planting__season__year=garden.year, planting__cancelled_on=None
    ).select_related("planting")
    found: dict[int, list[Laid]] = defaultdict(list)
    for row in rows.order_by("pk"):
        with on.dating.noting(row.planting, garden):
            if row.planting_id in on.dates:
                found[row.spot_id].append(_laid(row, on))
    for laid in found.values():
        _letters(laid)
    return found


def _laid(row: BedArea, on: BedStanding) -> Laid:
    planting, dating = row.planting, on.dating
    crop = dating.crop(planting)
    dates = on.dates[planting.pk]
    rect = Rect(row.x_cm, row.y_cm, row.length_cm, row.width_cm)
    spacing, lot = spacing_of(row, planting, crop), dating.lot(planting)
    standing = Area(
        str(row.pk), crop.name, rect, crop.number("height_cm"), apart_of(planting, crop), dates.out_on, dates.last,
        dates.first.start, crop.word("sun"),
    )  # fmt: skip
    flower, clump = "" if lot is None else lot.colour, clump_of(planting, crop)
    return Laid(
        row,
        planting,
        crop,
        dates,
        rect,
        spacing,
        clump,
        fit_of(row, planting, crop),
        standing,
        "",
        flower,
        on.there.get(planting.pk),
    )


def _letters(laid: list[Laid]) -> None:
    """A sign a planting, as on squared paper: the first letter of its name; two where others begin alike, so that no sign
    can be taken for another crop’s."""
    names = {one.planting.pk: one.crop.name for one in laid}
    signs = signs_of(names)
    for one in laid:
        one.letter = signs[one.planting.pk]


def signs_of(names: Mapping[int, str]) -> dict[int, str]:
    """A sign for each name by its key, no two alike, each beginning as its name does."""
    alike: dict[str, list[int]] = {}
    for key, name in names.items():
        alike.setdefault(next((c for c in name.upper() if c.isalpha()), "?"), []).append(key)
    signs: dict[int, str] = {}
    for first, keys in alike.items():
        if len(keys) == 1:
            signs[keys[0]] = first
            continue
        taken: set[str] = set()
        for number, key in enumerate(keys, 1):
            letters = [c for c in names[key].lower()[1:] if c.isalpha()]
            numbered = (f"{n}" for n in range(number, number + len(keys)))
            again = names[key] in [names[other] for other in keys if other != key]
            second = next(c for c in ([] if again else letters) + list(numbered) if c not in taken)
            taken.add(second)
            signs[key] = first + second
    return signs


class Looking(NamedTuple):
    """A planting whose plants have no place yet, and where they would fit."""

    planting: Planting
    crop: Crop
    wanted: int
    placed: int
    room: tuple[Spot, Rect, int] | None

    @property
    def left(self) -> int:
        return self.wanted - self.placed

    @property
    def spacing(self) -> float:
        return apart_of(self.planting, self.crop)


def plants_placed(laid: dict[int, list[Laid]]) -> Counter[int]:
    """Places in all beds, by planting."""
    found: Counter[int] = Counter()
    for areas in laid.values():
        for one in areas:
            found[one.planting.pk] += one.plants
    return found


def looking(
    garden: Garden, on: BedStanding, laid: dict[int, list[Laid]], beds: Iterable[Spot], grid: float
) -> list[Looking]:
    """This season's plantings with plants still to place, the largest ground first."""
    placed = plants_placed(laid)
    wanted = Planting.objects.filter(season__garden=garden, season__year=garden.year, cancelled_on=None)
    open_ = [p for p in wanted.order_by("pk") if not p.as_fits and placed[p.pk] < p.wanted]
    open_ += [p for p in wanted.order_by("pk") if p.as_fits and not placed[p.pk]]
    beds = [b for b in beds if b.kind in SOIL and b.length_cm]
    own = {b.pk for b in beds}
    crops = []
    for planting in open_:
        with on.dating.noting(planting, garden):
            crops.append((planting, on.dating.crop(planting)))
    ordered = sorted(
        crops,
        key=lambda pair: (pair[0].spot_id not in own, -_ground_of(pair[0].wanted - placed[pair[0].pk], *pair)),
    )
    found = []
    for k, (planting, crop) in enumerate(ordered):
        left, room = planting.wanted - placed[planting.pk], None
        if k < MOST_SHOWN and planting.pk in on.dates:
            room = _room(crop, left, planting, on.dates[planting.pk], beds, laid, grid)
        found.append(Looking(planting, crop, planting.wanted, placed[planting.pk], room))
    return found


def _ground_of(plants: int, planting: Planting, crop: Crop) -> float:
    """The ground so many plants want [cm²]."""
    return ceil(plants / clump_of(planting, crop)) * apart_of(planting, crop) ** 2


def _room(
    crop: Crop,
    plants: int,
    planting: Planting,
    dates: PlantingDates,
    beds: list[Spot],
    laid: dict[int, list[Laid]],
    grid: float,
) -> tuple[Spot, Rect, int] | None:
    """The first bed with free ground for them: its own first, then those light enough; hardy crops leave the tunnel free."""
    hardy = crop.hardiness == "hardy"
    for spot in sorted(
        beds,
        key=lambda b: (b.pk != planting.spot_id, too_dark(crop.word("sun"), b.sun), hardy and b.kind == "tunnel"),
    ):
        found = free_in(crop, plants, planting, dates, spot, laid.get(spot.pk, []), grid)
        if found is not None:
            fits = fit(found.length, found.width, apart_of(planting, crop)).plants
            return spot, found, fits * clump_of(planting, crop)
    return None


def free_in(
    crop: Crop, plants: int, planting: Planting, dates: PlantingDates, spot: Spot, laid: list[Laid], grid: float
) -> Rect | None:
    """Ground of one bed that is free while they stand."""
    taken = [o.rect for o in laid if o.standing.since <= dates.last and dates.out_on <= o.standing.until]
    wanted = ceil(plants / clump_of(planting, crop))
    return free_ground(rect_of(spot), taken, wanted, apart_of(planting, crop), grid)


class BedPage(NamedTuple):
    """One bed as its page shows it."""

    spot: Spot
    bed: Rect
    laid: list[Laid]
    slots: list[Slot]
    again: list[tuple[Laid, str]]


def board(garden: Garden, spot: Spot, dating: Dating, laid: dict[int, list[Laid]]) -> BedPage:
    """What lies in one bed, what comes free in it, and families that stood there last year."""
    here = laid.get(spot.pk, [])
    return BedPage(
        spot,
        rect_of(spot),
        here,
        slots([one.standing for one in here], season_end(dating)) if here else [],
        _again(garden, spot, dating, here),
    )


def followers(
    dating: Dating, spot: Spot, slot: Slot, today: date, packets_only: bool
) -> list[tuple[Follower, Lot | None]]:
    """What could stand in the freed ground: of the packets in the box, or of all crops; the soonest sown first."""
    place = dating.place.under("tunnel") if spot.kind == "tunnel" else dating.place
    tried: list[tuple[Crop, Lot | None]]
    if packets_only:
        lots = [lot for lot in dating.lots.values() if not lot.used_up and lot.crop_key in dating.crops]
        tried = [(dating.crop_of_lot(lot.crop_key, lot.pk), lot) for lot in lots]
    else:
        tried = [(crop, None) for crop in dating.crops]
    found = []
    for crop, lot in tried:
        one = follower(crop, place, slot, today, packet_of(lot))
        if one is not None:
            found.append((one, lot))
    return sorted(found, key=lambda f: (f[0].dates.sow_on, f[0].crop.name))


def season_end(dating: Dating) -> date:
    """The day until which a free bed is worth planting: the middle first frost, or eight months after the last."""
    autumn = dating.place.autumn
    day = autumn.date_for(0.5).day if autumn is not None else None
    return day or dating.place.last_frost[0] + timedelta(days=200)


def _again(garden: Garden, spot: Spot, dating: Dating, laid: list[Laid]) -> list[tuple[Laid, str]]:
    """Areas whose family stood in this bed last season, with the crop that did."""
    before = Planting.objects.filter(season__garden=garden, season__year=garden.year - 1, cancelled_on=None)
    keys = set(before.filter(spot=spot).values_list("crop_key", flat=True))
    keys |= set(before.filter(areas__spot=spot).values_list("crop_key", flat=True))
    families = {dating.crops[k].family: dating.crops[k].name for k in keys if k in dating.crops}
    return [(one, families[one.crop.family]) for one in laid if one.crop.family in families]


def weeks(dating: Dating) -> list[date]:
    """The Mondays of the season, for the slider; none without a frost date."""
    if not dating.knows_frost:
        return []
    first = dating.place.last_frost[0] - timedelta(days=BEGINS_DAYS)
    monday = first - timedelta(days=first.weekday())
    return [monday + timedelta(days=7 * k) for k in range(SEASON_WEEKS)]


def household_of(garden: Garden, dating: Dating) -> list[tuple[str, Household, Use | None]]:
    """Plants of each crop this season against what is used of it in a week; those with a word said first."""
    uses = {u.crop_key: u for u in Use.objects.filter(garden=garden)}
    plants: dict[str, int] = defaultdict(int)
    planted = Planting.objects.filter(season__garden=garden, season__year=garden.year, cancelled_on=None, term="spring")
    for key, wanted in planted.values_list("crop_key", "wanted"):
        plants[key] += wanted
    found = []
    for key, count in plants.items():
        if key not in dating.crops:
            continue
        crop, use = dating.crops[key], uses.get(key)
        checked = household(
            crop.name, count, crop.number("yield_days"), use.per_week if use else 0.0, use.per_plant if use else None
        )
        found.append((key, checked, use))
    return sorted(found, key=lambda f: (f[2] is None, f[1].crop))
