"""What have I, will it come?  Ageing of seed, tests, and how sure they make its emergence.

A date is not a death: viability falls along a probit line from that of fresh seed to 80 % of it at the life of its species
in a living room, scaled by where it is kept, and goes on falling.  A test updates what age alone makes likely.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from functools import cached_property, lru_cache
from statistics import NormalDist
from typing import NamedTuple

from scipy.special import betaincinv, ndtr

from growing.assumptions import real
from growing.crops import Crop
from growing.working import Value, Working

AT_LIFE = 0.8  # of fresh is left at the life of the species
LEAST, MOST = 0.01, 0.99  # what may be believed of a seed by its age
MIX_OF_TEST = 0.875  # emergence in mix against a warm moist towel: 0.85–0.9
MIX_OF_PRINTED = 0.9  # a laboratory's figure in mix
PELLET_LIFE = 0.5  # of its life is left to pelleted or primed seed
HOME_SEEDS, PRINTED_SEEDS, PELLET_SEEDS = 5.0, 50.0, 30.0  # weight of home-saved seed, of a printed figure, of pellets
DOUBLING_C = 5.6
ROOM_C, ROOM_RH = 20.0, 50.0
COOLEST_C, WARMEST_C = 0.0, 50.0
DRIEST, WETTEST = 5.0, 14.0  # seed moisture between which life doubles per one per cent less
LEAST_FACTOR, MOST_FACTOR = 0.2, 6.0
INSIDE = 0.8
OWN_WEIGHT = real("seeds.viability.OWN_WEIGHT")
ASSUMED_YEARS = 1.0  # of a packet without a year
OLDEST_YEARS = 300.0
_NORMAL = NormalDist()

STORAGES = {  # how many times longer than in a room: working defaults after Harrington's rules of thumb
    "room": 1.0,
    "cool": 2.0,
    "fridge": 5.0,
    "opened": 0.3,
    "kitchen": 0.3,
    "shed": 0.25,
}


class Test(NamedTuple):
    """A germination test: day, seeds laid out, seeds that came; in_mix: sown in mix, not on a towel.

    sowing: not a test, but a sowing of the garden's own that was counted to the end; it speaks of the lot half as loud, for nobody knows
    what drought, depth and warmth did.
    """

    on: date
    sown: int
    up: int
    in_mix: bool = False
    sowing: bool = False


class Packet(NamedTuple):
    """What is known of a lot besides its crop.

    age_years: since the season it was packed for, None: not known.  storage: times longer than in a room, None: nobody
    said, taken as a room.  printed: germination on the packet, a share.  pelleted: or primed.  saved: the garden's own.
    """

    age_years: float | None = None
    storage: float | None = None
    pelleted: bool = False
    saved: bool = False
    printed: float | None = None


@dataclass(frozen=True)
class Germination:
    """Share of seeds that will emerge in mix at their best warmth, as a Beta(a, b).

    life_years: the life here that its ageing is reckoned with.  fresh: emergence that it began with.  age_years: as taken.
    given, tests: the values and the tests that it came from.
    """

    a: float
    b: float
    tested: int
    life_years: float
    fresh: float
    age_years: float
    given: tuple[Value, ...]
    tests: tuple[Working, ...]

    @property
    def mean(self) -> float:
        return self.a / (self.a + self.b)

    @cached_property
    def low(self) -> float:
        """The lower end of the middle four fifths."""
        return float(betaincinv(self.a, self.b, (1 - INSIDE) / 2))

    @cached_property
    def high(self) -> float:
        """The upper end of the middle four fifths."""
        return float(betaincinv(self.a, self.b, (1 + INSIDE) / 2))

    @property
    def working(self) -> Working:
        """How it was reckoned; put together only when somebody asks."""
        ends = Value("low", self.low, "share"), Value("high", self.high, "share")
        return Working("seeds.germination", (*self.given, *ends), self.tests, Value("emergence", self.mean, "share"))

    @property
    def old(self) -> bool:
        """Is it past its life here?"""
        return self.age_years > self.life_years


class InHand(NamedTuple):
    """The packet that a planting is sown from: what it will do at its best warmth, and seeds in it (None: nobody counted)."""

    found: Germination
    had: int | None


def seed_moisture(humidity: float) -> float:
    """Moisture of seed [% of fresh weight] in balance with air of that relative humidity [%]; an estimate, linear."""
    return 3.4 + 0.115 * humidity


def life_factor(celsius: float, humidity: float) -> float:
    """How many times longer seed lives there than in a living room of 20 °C and 50 % (Harrington's rules of thumb).

    Doubles per 5.6 °C cooler and per one per cent less seed moisture, within 0–50 °C and 5–14 % moisture; 0.2–6.
    """
    warmth = min(max(celsius, COOLEST_C), WARMEST_C)
    moisture = min(max(seed_moisture(humidity), DRIEST), WETTEST)
    found = 2 ** ((ROOM_C - warmth) / DOUBLING_C) * 2 ** (seed_moisture(ROOM_RH) - moisture)
    return float(min(MOST_FACTOR, max(LEAST_FACTOR, found)))


@lru_cache(maxsize=4096)
def viability(fresh: float, life_years: float, age_years: float) -> float:
    """Share that emerges after so many years: z(t) = z₀ − t (z₀ − z₈₀) / L, 80 % of fresh at t = L.

    fresh: share in (0, 1].  life_years L > 0, scaled by storage.  age_years ≥ 0.  Never rises with age; 0.01–0.99.
    """
    if not 0 < fresh <= 1 or life_years <= 0 or age_years < 0:
        raise ValueError("fresh is a share above 0, life is above 0, age is not below 0")
    start = min(max(fresh, LEAST), MOST)
    z0 = _NORMAL.inv_cdf(start)
    z80 = _NORMAL.inv_cdf(AT_LIFE * start)
    found = float(ndtr(z0 - min(age_years, OLDEST_YEARS) * (z0 - z80) / life_years))
    return min(MOST, max(LEAST, found))


def prior_seeds(crop: Crop, packet: Packet, age_years: float, life_years: float) -> float:
    """How many tested seeds what is known by age is worth: in full to half its life, half to its life, then a quarter."""
    if packet.saved:
        return HOME_SEEDS
    whole = PELLET_SEEDS if packet.pelleted else crop.number("prior_seeds")
    if packet.printed is not None:
        whole = PRINTED_SEEDS
    return whole if age_years <= life_years / 2 else whole / 2 if age_years <= life_years else whole / 4


def germination(
    crop: Crop, packet: Packet = Packet(), tests: Sequence[Test] = (), today: date | None = None
) -> Germination:
    """What a lot will do: what species, age and storage make likely, updated by its tests.

    A test counts in mix as 0.875 of what came on the towel (more where fresh seed does better: a full towel never speaks against
    it), and an old one by what the seed has lost since (today needed).
    """
    fresh, life_room = crop.value("fresh_germination"), crop.value("life_room_years")
    if packet.printed is not None:
        fresh = Value("fresh_germination", max(LEAST, packet.printed * MIX_OF_PRINTED), "share", "packet")
    begun = float(fresh.number)  # type: ignore[arg-type]
    factor = 1.0 if packet.storage is None else packet.storage
    life = float(life_room.number) * factor * (PELLET_LIFE if packet.pelleted else 1.0)  # type: ignore[arg-type]
    age = ASSUMED_YEARS if packet.age_years is None else max(0.0, packet.age_years)
    now, weight = viability(begun, life, age), prior_seeds(crop, packet, age, life)
    a, b, steps, tested = weight * now, weight * (1 - now), [], 0
    for test in tests:
        since = 0.0 if today is None else max(0.0, (today - test.on).days / 365.25)
        then = viability(begun, life, max(0.0, age - since))
        kept = min(1.0, now / then) * (1.0 if test.in_mix else max(MIX_OF_TEST, begun))
        came = min(test.up, test.sown) * kept
        if test.sowing:
            a, b = a + OWN_WEIGHT * came, b + OWN_WEIGHT * (test.sown - came)
            steps.append(_own(test, kept, came))
            continue
        a, b, tested = a + came, b + test.sown - came, tested + test.sown
        counted = (
            Value("tested", test.sown, "seeds", "test"),
            Value("came", test.up, "seeds", "test"),
            Value("on", test.on),
            Value("counts as", kept, "share", "working"),
        )
        steps.append(Working("seeds.test", counted, (), Value("counted", came, "seeds")))
    given = (
        fresh,
        life_room,
        Value("storage", factor, "×", "assumed" if packet.storage is None else "lot"),
        Value("life here", life, "years", "pelleted or primed" if packet.pelleted else "working"),
        Value("age", age, "years", "assumed" if packet.age_years is None else "packet"),
        Value("by age", now, "share", "working"),
        Value("weight", weight, "seeds", "working"),
    )
    return Germination(a, b, tested, life, begun, age, given, tuple(steps))


def _own(sowing: Test, kept: float, came: float) -> Working:
    inputs = (
        Value("sown", sowing.sown, "seeds", "garden"),
        Value("came", sowing.up, "seeds", "garden"),
        Value("on", sowing.on),
        Value("counts as", OWN_WEIGHT * kept, "share", "estimate"),
    )
    return Working("seeds.own_sowing", inputs, (), Value("counted", OWN_WEIGHT * came, "seeds"))
