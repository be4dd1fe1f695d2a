"""What have I, will it come?  Ageing of seed, tests, and how sure they make its emergence.

A date is not a death: viability falls along a probit line from that of fresh seed to half of it at the scaled life, and
goes on falling.  A test updates a prior worth eight seeds.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from functools import lru_cache
from statistics import NormalDist
from typing import NamedTuple

from scipy.special import betaincinv, ndtr

from growing.working import Value, Working

PRIOR_SEEDS = 8.0
MIX_OF_TEST = 0.875  # emergence in mix against a warm moist towel: 0.85–0.9
TREATED_YEARS = 1.0  # pelleted or primed seed: one season
DOUBLING_C = 5.6
REFERENCE_C, REFERENCE_RH = 16.0, 40.0  # favourable unsealed storage: °F + %RH = 100
COOLEST_C, WARMEST_C = 0.0, 50.0
DRIEST, WETTEST = 5.0, 14.0  # seed moisture between which life doubles per one per cent less
INSIDE = 0.8
_NORMAL = NormalDist()
_MOST = 0.9999
LEAST = 1e-6  # never nothing: one seed in a million, below every use
OLDEST_YEARS = 300.0

STORAGES = {  # °C, % relative humidity: estimates of usual places
    "cool": (16.0, 40.0),
    "room": (20.0, 50.0),
    "fridge": (5.0, 35.0),
    "shed": (18.0, 70.0),
    "kitchen": (24.0, 60.0),
}


class Storage(NamedTuple):
    """Where seed is kept: °C and % relative humidity of the air around it."""

    celsius: float = REFERENCE_C
    humidity: float = REFERENCE_RH


class Test(NamedTuple):
    """A germination test: day, seeds laid out, seeds that came; in_mix: sown in mix, not on a towel."""

    on: date
    sown: int
    up: int
    in_mix: bool = False


class Germination(NamedTuple):
    """Share of seeds that will emerge in mix at their best warmth, as a Beta(a, b) with its middle four fifths.

    life_years: the life that its ageing is reckoned with.
    """

    mean: float
    low: float
    high: float
    a: float
    b: float
    tested: int
    life_years: float
    working: Working


def seed_moisture(humidity: float) -> float:
    """Moisture of seed [% of fresh weight] in balance with air of that relative humidity [%]; an estimate, linear."""
    return 3.4 + 0.115 * humidity


def life_factor(storage: Storage) -> float:
    """How many times longer (or shorter) seed lives than in favourable storage (Harrington's rules of thumb).

    Doubles per 5.6 °C cooler and per one per cent less seed moisture, within 0–50 °C and 5–14 % moisture.
    """
    warmth = min(max(storage.celsius, COOLEST_C), WARMEST_C)
    moisture = min(max(seed_moisture(storage.humidity), DRIEST), WETTEST)
    return float(2 ** ((REFERENCE_C - warmth) / DOUBLING_C) * 2 ** (seed_moisture(REFERENCE_RH) - moisture))


@lru_cache(maxsize=4096)
def viability(fresh: float, life_years: float, age_years: float) -> float:
    """Share that germinates after so many years: z(t) = z₀ − t (z₀ − z_half) / L, half of fresh at t = L.

    fresh: share in (0, 1].  life_years L > 0, scaled by storage.  age_years ≥ 0.  Never rises with age, never under 10⁻⁶.
    """
    if not 0 < fresh <= 1 or life_years <= 0 or age_years < 0:
        raise ValueError("fresh is a share above 0, life is above 0, age is not below 0")
    z0 = _NORMAL.inv_cdf(min(fresh, _MOST))
    z_half = _NORMAL.inv_cdf(min(fresh, _MOST) / 2)
    return max(LEAST, float(ndtr(z0 - min(age_years, OLDEST_YEARS) * (z0 - z_half) / life_years)))


def germination(
    fresh: Value, life_years: Value, age_years: float | None, storage: Storage, tests: Sequence[Test] = (),
    treated: bool = False, today: date | None = None,
) -> Germination:  # fmt: skip
    """What a lot will do: the prior from species, age and storage, updated by its tests.

    age_years None: not known, taken as one year.  treated: pelleted or primed, which live one season.  A test counts
    in mix as 0.875 of what came on the towel, and an old one by what the seed has lost since (today needed).
    """
    assert isinstance(fresh.number, int | float) and isinstance(life_years.number, int | float)
    factor = life_factor(storage)
    life = min(life_years.number, TREATED_YEARS) if treated else life_years.number * factor
    age = 1.0 if age_years is None else max(0.0, age_years)
    now = viability(fresh.number, life, age)
    a, b, steps, tested = PRIOR_SEEDS * now, PRIOR_SEEDS * (1 - now), [], 0
    for test in tests:
        since = 0.0 if today is None else max(0.0, (today - test.on).days / 365.25)
        then = viability(fresh.number, life, max(0.0, age - since))
        kept = min(1.0, now / then) * (1.0 if test.in_mix else MIX_OF_TEST)
        came = min(test.up, test.sown) * kept
        a, b, tested = a + came, b + test.sown - came, tested + test.sown
        counted = (
            Value("tested", test.sown, "seeds", "test"),
            Value("came", test.up, "seeds", "test"),
            Value("on", test.on),
            Value("counts as", kept, "share", "working"),
        )
        steps.append(Working("seeds.test", counted, (), Value("counted", came, "seeds")))
    mean = a / (a + b)
    low, high = (float(betaincinv(a, b, p)) for p in ((1 - INSIDE) / 2, (1 + INSIDE) / 2))
    inputs = (
        fresh,
        life_years,
        Value("storage", factor, "×", "assumed" if storage == Storage() else "lot"),
        Value("life here", life, "years", "treated seed" if treated else "working"),
        Value("age", age, "years", "assumed" if age_years is None else "packet"),
        Value("by age", now, "share", "working"),
        Value("low", low, "share"),
        Value("high", high, "share"),
    )
    working = Working("seeds.germination", inputs, tuple(steps), Value("emergence", mean, "share"))
    return Germination(mean, low, high, a, b, tested, life, working)


class TestPlan(NamedTuple):
    """seeds to test (0: not worth it), by when, and why."""

    seeds: int
    by: date | None
    working: Working


TEST_DAYS = 7  # to lay out, read and, if need be, order anew within the post's time
ORDER_DAYS = 14
NARROW = 0.15  # a middle four fifths within so much either way is sure enough
MOST_TESTED = 0.1  # of the seed there is


def plan_test(found: Germination, sow_on: date, days_up: float, needed: int, had: int | None) -> TestPlan:
    """Is a test worth it, with how many seeds, and when, for a sowing that needs so many seeds?

    days_up: days to emergence at best warmth.  had: seeds there, None where nobody counted.
    """
    by = date.fromordinal(sow_on.toordinal() - round(days_up * 1.5) - TEST_DAYS - ORDER_DAYS)
    spread = (found.high - found.low) / 2
    seeds = 0
    if spread > NARROW:
        seeds = next((n for n in (10, 20, 25, 50) if _spread_after(found, n) <= NARROW), 50)
        if had is not None:
            spare = max(0, had - needed)
            seeds = min(seeds, max(10, round(had * MOST_TESTED)), spare) if spare >= 5 else 0
    inputs = (
        Value("give or take", spread, "share", "working"),
        Value("sure enough", NARROW, "share", "working"),
        Value("sow", sow_on),
        Value("needed", needed, "seeds"),
        Value("had", had, "seeds", "lot"),
    )
    working = Working("seeds.test_plan", inputs, (), Value("test" if seeds else "no test", seeds, "seeds"))
    return TestPlan(seeds, by if seeds else None, working)


def _spread_after(found: Germination, seeds: int) -> float:
    """Half of the middle four fifths to expect once so many have been tested."""
    a, b = found.a + found.mean * seeds, found.b + (1 - found.mean) * seeds
    return float(betaincinv(a, b, (1 + INSIDE) / 2) - betaincinv(a, b, (1 - INSIDE) / 2)) / 2
