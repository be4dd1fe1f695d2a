"""It does not go as planned: what holds it, by how much, and which other way would do, in days, plants and money?

Three ways to begin a crop are put side by side: raised, sown in place, bought as plants.
"""

from __future__ import annotations

from datetime import date
from typing import NamedTuple

from growing.assumptions import real
from growing.chain.choice import Choice, Problem
from growing.chain.course import emergence_speed
from growing.chain.dates import HALF_OF_YEARS, PlantingDates, date_planting
from growing.chain.late import STOPS
from growing.crops import Crop
from growing.place.year import PlaceYear
from growing.seeds.sowing import How, NoCount, Seed, count_for
from growing.seeds.ways import way
from growing.shelves.room import MAT_WATTS, trays_in_cells, trays_in_pots
from growing.working import Value, Working

TRAY_WATTS = real("plan.options.TRAY_WATTS")
METHODS = ("raised", "direct", "bought")
# What holds it, the firmest first: of several the first is the one to mend.
FIRMNESS = (
    *("never_soil", "never_nights", "never_chill", "never_ripe", "hopeless", "winter_kills", "no_autumn"),
    *(
        "too_late",
        "bed_late",
        "short",
        "over_hold",
        "frost_first",
        "away",
        "away_sow",
        "away_out",
        "heat",
        "before_window",
    ),
    *("after_window", "too_early", "late_unknown", "later_bulbs", "later_rosettes", "later_slow", "later_years"),
    *("no_sowing_day", "hot_nights", "later_fast"),
)


class Prices(NamedTuple):
    """What the grower typed: mix [a litre], current [a kWh], a bought plant, seed [a seed]; None: not known."""

    mix: float | None = None
    kwh: float | None = None
    plant: float | None = None
    seed: float | None = None


class Cost(NamedTuple):
    """What a plant of it costs; None: a price is missing.  minutes: of work a plant until it is set out."""

    money: float | None
    minutes: float
    working: Working


class WayToBegin(NamedTuple):
    """One way to begin it from today on: its dates, what holds it, seeds to sow, what a plant costs.

    days: first harvest against the way that was asked for, later is more.
    """

    method: str
    dates: PlantingDates
    holds: Problem | None
    seeds: int | None
    cost: Cost | None
    days: int

    @property
    def works(self) -> bool:
        chance = self.dates.chance
        return not any(p.code in STOPS for p in self.dates.problems) and (chance is None or chance >= HALF_OF_YEARS)


def binding(problems: tuple[Problem, ...]) -> Problem | None:
    """What holds it: the firmest of its problems; None where it has none."""
    ranked = [p for p in problems if p.code in FIRMNESS]
    return min(ranked, key=lambda p: FIRMNESS.index(p.code), default=None)


def options(
    crop: Crop, place: PlaceYear, choice: Choice, today: date, wanted: int, seed: Seed, prices: Prices = Prices()
) -> list[WayToBegin]:
    """The three ways from today on, those that work first, then the earlier harvest.

    seed: what is known of the packet.  Ways nobody takes (raising a crop without raising time) are left out.
    """
    found, asked = [], date_planting(crop, place, choice).first.start
    for method in METHODS:
        if method == "raised" and "raise_max" not in crop.values:
            continue
        other = Choice(method, choice.term, None, None, choice.packet, today, choice.bed_free)
        dates = date_planting(crop, place, other)
        if method == "bought" and dates.out_on < today:
            dates = date_planting(crop, place, other._replace(out_on=today))
        seeds, cost = _cost(crop, dates, method, wanted, seed, prices)
        found.append(WayToBegin(method, dates, binding(dates.problems), seeds, cost, (dates.first.start - asked).days))
    return sorted(found, key=lambda o: (not o.works, o.dates.first.start, METHODS.index(o.method)))


def _cost(
    crop: Crop, dates: PlantingDates, method: str, wanted: int, seed: Seed, prices: Prices
) -> tuple[int | None, Cost | None]:
    """Seeds for so many plants, and what a plant costs."""
    if method == "bought":
        why = Working(
            "plan.cost_bought", (Value("a plant", prices.plant, "money", "setting"),), (), _money(prices.plant)
        )
        return None, Cost(prices.plant, 1.0, why)
    how = How("place", "thin", 1) if method == "direct" else How()
    try:
        count = count_for(crop, wanted, how, seed)
    except NoCount:
        return None, None
    each = count.seeds / wanted
    if method == "direct":
        money = None if prices.seed is None else each * prices.seed
        said = (Value("seeds a plant", each, "seeds", "working"), Value("a seed", prices.seed, "money", "lot"))
        return count.seeds, Cost(
            money, count.seeds * 0.05 / wanted, Working("plan.cost_direct", said, (), _money(money))
        )
    care = way(crop, wanted, how, seed, count).care
    litres, kwh = care.litres / wanted, kwh_each(crop, dates, count.places, wanted)
    parts = (
        (prices.seed, each),
        (prices.mix, litres),
        (prices.kwh, kwh),
    )
    known = [price * amount for price, amount in parts if price is not None]
    money = sum(known) if len(known) == len(parts) else None
    inputs = (
        Value("seeds a plant", each, "seeds", "working"),
        Value("a seed", prices.seed, "money", "lot"),
        Value("mix a plant", litres, "l", "working"),
        Value("a litre", prices.mix, "money", "setting"),
        Value("current a plant", kwh, "kWh", "estimate"),
        Value("a kWh", prices.kwh, "money", "setting"),
    )
    return count.seeds, Cost(money, care.minutes / wanted, Working("plan.cost_raised", inputs, (), _money(money)))


def _money(value: float | None) -> Value:
    return Value("cost", value, "money")


def kwh_each(crop: Crop, dates: PlantingDates, cells: int, wanted: int) -> float:
    """Current a plant takes until it is set out [kWh]: a mat until it is up, then a lamp over the room it takes (estimate)."""
    up = min(emergence_speed(crop, None)[0], (dates.out_on - dates.sow_on).days)
    raised = max(0.0, (dates.out_on - dates.sow_on).days - up)
    trays = trays_in_cells(crop, cells)
    potted = max(0.0, raised - 7 * crop.number("pot_weeks")) if crop.number("pot_weeks") else 0.0
    lamp = (raised - potted) * trays + potted * trays_in_pots(crop, wanted)
    return (up * 24 * MAT_WATTS * trays + lamp * crop.number("hours") * TRAY_WATTS) / 1000 / wanted
