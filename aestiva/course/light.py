"""The light that batches really had: by their lamps as they hung and burnt, by windows and by the sky; and how they grew by it.

What is up and stands indoors or under a cover is followed from the day half of it were up.  A lamp's age and dust are those of today;
light of the hours carried out while hardening off is not counted.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from datetime import date, timedelta
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from aestiva.course.facts import SeasonFacts
from aestiva.course.item import Item, Lit
from aestiva.season.lamps import Rig, rigs_of
from aestiva.season.models import Spot
from growing.chain.leaves import LeafStage, LeavesSeen, behind
from growing.chain.roomwarmth import factor
from growing.crops import Crop
from growing.light.had import FURTHEST_CM, STEP_CM, Places, Stays, live, ways
from growing.light.plane import Hung, Sides, cells, ppfd
from growing.light.shelf import LampAsSet
from growing.light.window import sill, under
from growing.shelves.shelf import LEAF_DAYS, TALLEST, Grown, growth

DEPTH_CM = 6.0  # of what they stand in: estimate
LONGEST_DAYS = 150  # that a batch is followed
NOWHERE, DARK = -1, 0
DISTANCES = np.array([0.5, 1, 1.5, 2, 3, 4, 5, 6, 8, 10, 12, 15, 18, 22, 26, 30, 36, 44, 54, 66, 80, 100, FURTHEST_CM])
SAMPLED_CM = 8.0
WEEK = 7


@lru_cache(maxsize=1024)
def falloff(
    length_cm: float, width_cm: float, x_cm: float, y_cm: float, wide_cm: float, deep_cm: float, sides: Sides
) -> NDArray[np.float64]:
    """Mean light over a board by the distance of the leaves, of a lamp of 1 µmol s⁻¹, every STEP_CM [µmol m⁻² s⁻¹]."""
    xs, ys = cells(wide_cm, SAMPLED_CM), cells(deep_cm, SAMPLED_CM)
    lamp = Hung(1.0, length_cm, width_cm, x_cm, y_cm, 0.0, 0.0)
    means = [float(ppfd([lamp.at(d)], xs, ys, 0.0, wide_cm, deep_cm, sides).mean()) for d in DISTANCES]
    grid = np.arange(0, FURTHEST_CM + STEP_CM, STEP_CM)
    return np.interp(grid, DISTANCES, means)


def table_of(rig: Rig, day: date) -> NDArray[np.float64]:
    """Mean light over the place by distance, of all its lamps as old and dusty as they are that day."""
    board = rig.board(day)
    found = np.zeros(int(FURTHEST_CM / STEP_CM) + 1)
    for lamp in board.lamps:
        shape = (lamp.length_cm, lamp.width_cm, lamp.x_cm, lamp.y_cm)
        found += lamp.umol * falloff(*shape, board.wide_cm, board.deep_cm, board.sides)
    return found


def range_c(now: SeasonFacts, day: date) -> float | None:
    """How far the day's temperatures lie apart at this time of the year [°C]; None where nobody knows."""
    normals = now.place.normals
    if normals is None:
        return None
    k = (day - now.place.span_start).days
    if not 0 <= k < len(normals.day_c) or np.isnan(normals.day_c[k]) or np.isnan(normals.night_c[k]):
        return None
    return float(2 * (normals.day_c[k] - normals.night_c[k]))


def daylight(now: SeasonFacts, spot: Spot, day: date) -> float | None:
    """DLI in a place without a lamp on a usual day; None where nobody knows how light it is there."""
    latitude = now.garden.latitude
    outside = under(spot.kind, latitude, day, range_c(now, day))
    if outside is not None:
        return outside
    if spot.kind == "sill" or spot.lit == "window":
        if not spot.facing and spot.sun_h is None:
            return None
        return sill(latitude, day, spot.facing, spot.sun_h, range_c(now, day), spot.card).dli
    return None


def light_of(now: SeasonFacts, items: Iterable[Item] | None = None) -> dict[int, Lit]:
    """Every batch that is up and not in the ground, by its key; nothing where no place has light that is known and nobody looked."""
    assert now.shared is not None
    here = [
        i
        for i in (now.items if items is None else items)
        if i.batch is not None and up_since(i) is not None and i.raised.growing
    ]
    if not here:
        return {}
    dating, today = now.shared.dating, now.today
    used = {s.spot for i in here for s in now.rows.stood.get(i.batch_pk, ())}
    spots = {pk: spot for pk in used if (spot := dating.spot_at(pk)) is not None}
    lit = _lit_spots(now, spots)
    rigs = rigs_of(now.garden, {spot.pk: spot for spot in lit.values() if spot.lit == "lamp"}.values())
    ups = [max(up_since(i) or today, today - timedelta(days=LONGEST_DAYS)) for i in here]
    start = min(ups)
    days = (today - start).days + 1
    index, places = _places(now, lit, rigs, start, days)
    looks = looks_of(now, here)
    if not index and not looks:
        return {}
    place = np.full((len(here), days), NOWHERE, np.int16)
    slow, warm, dark = np.ones((len(here), 1), np.float32), np.zeros((len(here), 1), np.float32), []
    for n, item in enumerate(here):
        stood = now.rows.stood.get(item.batch_pk, ())
        for s in stood:
            a, b = (s.since - start).days, days if s.until is None else (s.until - start).days
            place[n, max(0, a) : max(0, b)] = index.get(s.spot, NOWHERE)
        dark.append(_in_the_dark(item, ups[n], today))
        first = (ups[n] - start).days
        place[n, first : first + dark[-1]] = DARK
        room = None if not stood else dating.room_at(stood[-1].spot)
        mean = None if room is None else room.air_c(today)
        if mean is not None:
            slow[n, 0], warm[n, 0] = factor(item.crop, mean), mean - likes_c(item.crop)
    k = ways([i.crop for i in here])
    depth = np.full(len(here), DEPTH_CM, np.float32)
    up = np.array([(day - start).days for day in ups])
    lived = live(k, places, Stays(place, up, depth, slow, warm), _seen(looks, here, start, days))
    return {
        item.batch_pk: Lit(
            Grown(float(lived.height_cm[n]), float(lived.cm_a_day[n]), float(lived.leaves[n])),
            float(lived.want_days[n]),
            ups[n],
            lived.dli[n, up[n] :],
            dark[n],
            float(warm[n, 0]),
            float(lived.leaves_a_day[n]),
        )
        for n, item in enumerate(here)
    }


def up_since(item: Item) -> date | None:
    """From when it grows: half were up, else the first, else it was fetched."""
    facts = item.raised.facts
    return facts.half_up or facts.first_up or facts.first("received")


def likes_c(crop: Crop) -> float:
    """The mean warmth that the crop likes once up [°C]."""
    return (2 * crop.number("day_c") + crop.number("grow_night_c")) / 3


def _in_the_dark(item: Item, up: date, today: date) -> int:
    """Days from coming up until somebody put the lamp on over it, where that was written down."""
    lamp = item.raised.facts.first("lamp")
    return 0 if lamp is None else max(0, (min(lamp, today) - up).days)


def _lit_spots(now: SeasonFacts, spots: Mapping[int, Spot]) -> dict[int, Spot]:
    """By place the one that lights it: itself, or what carries it."""
    assert now.shared is not None
    found = {}
    for pk, spot in spots.items():
        carrier = spot if spot.lit or spot.parent_id is None else now.shared.dating.spot_at(spot.parent_id)
        found[pk] = carrier if carrier is not None else spot
    return found


def _places(
    now: SeasonFacts, lit: Mapping[int, Spot], rigs: Mapping[int, Rig], start: date, days: int
) -> tuple[dict[int, int], Places]:
    """What the places give day by day; the first of them is the dark.  By place its number; what nobody knows is none of them."""
    index: dict[int, int] = {}
    zeros = np.zeros(days)
    tables, (lamp, hours, power, sky) = [np.zeros(int(FURTHEST_CM / STEP_CM) + 1)], ([zeros] for _ in range(4))
    numbers: dict[int, int] = {}
    for pk, spot in lit.items():
        if spot.pk not in numbers:
            rig = rigs.get(spot.pk)
            if rig is not None and rig.known:
                set_to = _by_day(rig, start, days)
                tables.append(table_of(rig, now.today))
                for rows, values in zip((lamp, hours, power), set_to, strict=True):
                    rows.append(values)
                sky.append(zeros)
            else:
                by_week = (
                    [daylight(now, spot, start + timedelta(days=k)) for k in range(0, days, WEEK)]
                    if rig is None
                    else [None]
                )
                if by_week[0] is None:
                    continue
                tables.append(tables[0])
                for rows in (lamp, hours, power):
                    rows.append(zeros)
                sky.append(np.repeat(np.array(by_week, float), WEEK)[:days])
            numbers[spot.pk] = len(tables) - 1
        index[pk] = numbers[spot.pk]
    as32 = [np.array(rows, np.float32) for rows in (tables, lamp, hours, power, sky)]
    return index, Places(*as32)


def _by_day(rig: Rig, start: date, days: int) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """Height of the lamp's middle, hours and share of its power day by day."""
    first = rig.setting(start)
    found = [np.full(days, value) for value in _of(first)]
    for row in rig.settings:
        k = (row.since - start).days
        if k >= 0:
            for values, value in zip(found, _of(rig.setting(row.since)), strict=True):
                values[k:] = value
    return found[0], found[1], found[2]


def _of(setting: LampAsSet) -> tuple[float, float, float]:
    """Height of its middle, hours, share of its power."""
    return (setting.left_cm + setting.right_cm) / 2, setting.timer.hours, setting.per_cent / 100


def looks_of(now: SeasonFacts, items: Iterable[Item]) -> dict[int, list[LeavesSeen]]:
    """What was seen of the leaves of batches, in order; of plants that came from another batch also what was seen of it until then."""
    own = now.rows.looks
    if not own:
        return {}
    above = {link.child: link for link in now.rows.links if link.count}  # what is sown again begins anew
    found = {}
    for item in items:
        seen, at, until = list(own.get(item.batch_pk, ())), item.batch_pk, date.max
        while at in above:
            link = above[at]
            at, until = link.parent, min(until, link.on)
            seen = [s for s in own.get(at, ()) if s.on <= until] + seen
        if seen:
            found[item.batch_pk] = sorted(seen, key=lambda s: s.on)
    return found


def _seen(
    looks: Mapping[int, list[LeavesSeen]], here: list[Item], start: date, days: int
) -> dict[int, list[tuple[int, float, float | None]]]:
    """The same, by day."""
    found: dict[int, list[tuple[int, float, float | None]]] = defaultdict(list)
    for n, item in enumerate(here):
        for seen in looks.get(item.batch_pk, ()):
            t = (seen.on - start).days
            if 0 <= t < days:
                found[t].append((n, float(seen.leaves), seen.cm))
    return found


def stages_of(now: SeasonFacts, items: Iterable[Item]) -> dict[int, LeafStage]:
    """How far those are of which somebody saw the leaves, and are not planted out: by the light and warmth that they had since."""
    here = [i for i in items if i.batch is not None and i.raised.facts.planted_on is None]
    looks = looks_of(now, here)
    looked = [i for i in here if i.batch_pk in looks]
    if not looked or now.shared is None:
        return {}
    lit, found = light_of(now, looked), {}
    for item in looked:
        mine, up = lit.get(item.batch_pk), up_since(item)
        if mine is None or up is None:
            continue
        stood = now.rows.here(item.batch_pk)
        room = None if stood is None else now.shared.dating.room_at(stood.spot)
        late = behind(item.crop, up, now.today, mine.growth.leaves, None if room is None else room.air_c(now.today))
        grown = mine.growth
        last = looks[item.batch_pk][-1]
        found[item.batch_pk] = LeafStage(
            last, now.today, grown.leaves, mine.leaves_a_day, grown.height_cm, grown.cm_a_day, late
        )
    return found


def growth_of(item: Item | None, day: date, lit: Mapping[int, Lit] | None = None) -> Grown:
    """How high a batch is: by the light and warmth it had, on a later day as it goes on growing so; else by its leaves alone."""
    if item is None:
        return Grown(0.0, 0.0, 0.0)
    found = None if lit is None or item.batch is None else lit.get(item.batch_pk)
    if found is None:
        return growth(item.crop, up_since(item), day)
    days, now = (day - found.start).days + 1 - len(found.dli), found.growth
    if days <= 0:
        return now
    each = 1 / found.leaves_a_day if found.leaves_a_day > 0 else item.crop.maybe("leaf_days") or LEAF_DAYS
    most = max(now.height_cm, TALLEST * item.crop.number("ready_height_cm"))
    return Grown(min(most, now.height_cm + days * now.cm_a_day), now.cm_a_day, now.leaves + days / each)


def lights(now: SeasonFacts) -> dict[int, Lit]:
    """The light of all its batches, reckoned once."""
    if now.lit is None:
        now.lit = light_of(now)
    return now.lit
