"""What planting is worth: against a slow sum a night at a time; and gates against written situations."""

from __future__ import annotations

import math
from datetime import date, timedelta
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from growing.crops import library
from growing.place.computedwarmth import ComputedWarmth
from growing.place.covers import COVERS, lightest, needed
from growing.place.growth import NEVER, SPAN_DAYS, Growth, standard_days
from growing.place.minima import ComputedFrost, DailySeries
from growing.place.nights import Night
from growing.place.year import PlaceYear
from growing.plantingout.gates import CLOSED, COVERED, EVENING, OPEN, UNKNOWN, Asked, Bed, gates
from growing.plantingout.springs import SpringsAhead, springs, stratified
from growing.plantingout.verdict import judged
from growing.plantingout.worth import DAYS, Sort, verdict, worth
from growing.tests.climates import NORTH, make

TODAY = date(2026, 4, 20)


def computed_place() -> PlaceYear:
    """A place of last frosts about 10 May and warm summers, from thirty years of days."""
    low = make(21, NORTH, 35, 4.5, 7.5, 2.4)
    high = DailySeries(low.start, low.values + 9.0)
    return PlaceYear(2026, ComputedFrost(False, low), 0.1, ComputedWarmth(False, low, high), latitude=52.0)


YEARS, NIGHTS = 7, 320
HALF = {"hardy": (4.0, 0.9), "half-hardy": (2.0, 0.9), "tender": (1.0, 0.45), "very tender": (1.0, 0.45)}
SOFT = {"hardy": 3.0, "half-hardy": 2.0, "tender": 1.0, "very tender": 1.0}


def made(seed: int, warm: float) -> SpringsAhead:
    """Springs that never were: a wave of warmth with noise."""
    chance = np.random.default_rng(seed)
    day = np.arange(NIGHTS)
    plant = warm + 8 * np.sin(2 * np.pi * (day - 20) / 365) + chance.normal(0, 3, (YEARS, NIGHTS))
    soil = plant + 4
    return SpringsAhead(TODAY, plant, soil, plant[:, :60] + 1, plant[:, :60] - 2, 62, 200, 0)


def sort(seed: int, hardiness: str, **more: object) -> Sort:
    chance = np.random.default_rng(seed)
    mean = 10 + 8 * np.sin(2 * np.pi * (np.arange(SPAN_DAYS) - 220) / 365) + chance.normal(0, 3, (YEARS, SPAN_DAYS))
    given_ = {
        "harm_c": float(chance.uniform(-5, 1)), "hardened": float(chance.choice([0, 2 / 7, 5 / 7, 1.0])),
        "chill_c": 3.0 if "tender" in hardiness else None, "soil_c": 9.0, "growth": Growth(standard_days(mean, 5.0, 18.0)),
        "mature": float(chance.integers(20, 110)), "ahead": float(chance.integers(-15, 15)), "limit": int(chance.integers(-6, 20)),
        "over": 0.02, "usual": float(chance.choice([0, 25, 60])), "ends": chance.integers(380, 440, YEARS).astype(np.int32), "equinox": 430,
        "spring": bool(chance.integers(0, 2)),
    } | more  # fmt: skip
    return Sort(hardiness=hardiness, **given_)  # type: ignore[arg-type]


def slowly(s: Sort, at: SpringsAhead, t: int) -> float:
    """S · C · A · H · L by hand: one year after the other, one night after the other."""
    total = 0.0
    half, spread = HALF[s.hardiness]
    last = max(at.solstice, t + 21) if s.spring else t + 21
    aged = max(0, t - s.limit)
    for year in range(YEARS):
        lives, chilled = 1.0, 0
        for night in range(t, last):
            plant = at.plant_c[year, night] + s.cover_c
            hard = min(1.0, s.hardened + (night - t) / 7)
            harm = s.harm_c + (1 - hard) * SOFT[s.hardiness]
            lost = 1 / (1 + math.exp(min(60, max(-60, -(harm - plant - half) / spread))))
            lives *= 1 - (0.0 if lost < 0.01 else lost)
            chilled += s.chill_c is not None and plant < s.chill_c - 3
        wants = (s.mature - 8) * 10 - 6 * (min(t, max(s.limit, 0)) + s.ahead)
        had, first = 0.0, None
        units = s.growth.units[year]
        for k in range(21):
            day = at.span + t + k
            gained = float(units[day + 1] - units[day])
            soil = min(1.0, max(0.0, (at.soil_c[year, t + k] - (s.soil_c - 5)) / 5))
            cold = s.chill_c is not None and any(
                at.plant_c[year, t + k - back] + s.cover_c < s.chill_c for back in (0, 1) if t + k - back >= 0
            )
            had += 0.0 if k < 8 or cold else gained * soil
            if had >= max(wants, 0.0) and first is None:
                first = day + 1
        if first is None:
            rest = math.ceil(max(wants - had, 0))
            start = int(units[min(at.span + t + 21, SPAN_DAYS)])
            first = next((d for d in range(SPAN_DAYS + 1) if units[d] >= start + rest), None)
        if max(wants, 0.0) == 0.0:
            first = at.span + t + 1
        if first is not None and first > s.equinox:
            first += 14
        if first is None:
            gives = 0.0 if s.usual else 0.02
        else:
            left = s.ends[year] - first - min(14.0, 0.5 * aged)
            gives = (min(max(left, -1), s.usual) + 1) / (s.usual + 1) if s.usual else (1.0 if left >= 0 else 0.02)
        total += lives * (1 - min(0.3, 0.05 * chilled)) * gives
    return total / YEARS * (1 - min(0.5, s.over * aged)) * (1 - min(0.5, s.later * t))


class TheSum(TestCase):
    @settings(max_examples=12, deadline=None)
    @given(st.integers(0, 10**6), st.floats(-4, 8), st.sampled_from(tuple(HALF)), st.integers(0, DAYS - 1))
    def test_as_by_hand_a_night_at_a_time(self, seed: int, warm: float, hardiness: str, t: int) -> None:
        at, one = made(seed, warm), sort(seed, hardiness)
        self.assertAlmostEqual(float(worth([one], at).value[0, t]), slowly(one, at, t), places=9)

    def test_many_at_once_are_each_what_they_are_alone(self) -> None:
        at = made(5, 3.0)
        sorts = [sort(n, tuple(HALF)[n % 4]) for n in range(20)]
        both = worth(sorts, at).value
        for n, one in enumerate(sorts):
            np.testing.assert_allclose(both[n], worth([one], at).value[0])

    def test_the_verdict_is_the_earliest_within_a_hundredth_of_the_best(self) -> None:
        value = np.array([[0.5, 0.895, 0.9, 0.7], [0.9, 0.9, 0.2, 0.1], [0.1, 0.2, 0.3, 0.4]])
        self.assertEqual(verdict(value).tolist(), [1, 0, 3])

    def test_a_cover_and_warmth_never_make_it_worth_less(self) -> None:
        for seed in range(8):
            at, one = made(seed, 2.0), sort(seed, "tender")
            plain, covered = (worth([one._replace(cover_c=c)], at) for c in (0.0, 2.5))
            self.assertTrue((covered.survives >= plain.survives - 1e-12).all())
            self.assertTrue((covered.unchilled >= plain.unchilled - 1e-12).all())

    def test_what_never_ripens_is_worth_next_to_nothing(self) -> None:
        one = sort(3, "hardy", mature=240.0, usual=0.0, limit=20, ends=np.full(YEARS, 300, np.int32))
        self.assertLess(float(worth([one], made(3, 12.0)).value[0, 0]), 0.03)
        endless = one._replace(ends=np.full(YEARS, NEVER - 1, np.int32), mature=60.0)
        self.assertGreater(float(worth([endless], made(3, 20.0)).value[0, 0]), 0.9)

    def test_draws_are_spread_evenly_and_the_same_every_time(self) -> None:
        found = stratified(30)
        self.assertAlmostEqual(float(found.mean()), 0.0, places=9)
        self.assertEqual(len(set(found.round(6))), 30)
        np.testing.assert_array_equal(found, stratified(30))


class ThousandSprings(TestCase):
    """The worth against the same choices lived through a thousand springs drawn from the same years."""

    def test_worth_is_the_mean_of_what_happens(self) -> None:
        at, one = made(11, 1.0), sort(11, "half-hardy", hardened=1.0, usual=40.0)
        found = worth([one], at)
        chance = np.random.default_rng(1)
        half, spread = HALF[one.hardiness]
        for t in (0, 6, 13):
            years = chance.integers(0, YEARS, 1000)
            last = max(at.solstice, t + 21) if one.spring else t + 21
            nights = at.plant_c[years, t:last]
            lost = 1 / (1 + np.exp(np.clip(-(one.harm_c - nights - half) / spread, -60, 60)))
            lost = np.where(lost < 0.01, 0.0, lost)
            plants = np.full(1000, 40)
            for night in range(nights.shape[1]):
                plants = chance.binomial(plants, 1 - lost[:, night])
            gives = found.harvest[0, t, years]
            lived = plants / 40 * gives * found.unaged[0, t, 0] * found.early[0, t, 0]
            error = lived.std() / math.sqrt(1000)
            self.assertLess(abs(lived.mean() - found.value[0, t]), 4 * error + 0.01, t)


def nights(
    first: float, *, high: float = 16.0, wind: float = 6.0, cloud: float = 0.5, days: int = 8
) -> tuple[Night, ...]:
    return tuple(Night(TODAY + timedelta(days=n), first, cloud, wind, high) for n in range(days))


class Situations(TestCase):
    """Thirty situations at planting out as a grower would put them, with the verdict that she would expect."""

    place = computed_place()

    def ask(
        self, key: str, on: date = TODAY, ahead: tuple[Night, ...] = (), **more: object
    ) -> tuple[str, str, tuple[str, ...]]:
        crop = library()[key]
        ready = {
            "climbed": 7, "rungs": 7, "ready": None, "leaves": crop.number("ready_leaves_min") + 1, "seen": True, "mornings": (20.0,) * 3,
            "night": None, "bed": Bed("Bed A"), "risk": self.place.risk_for(crop.hardiness), "frost_opens": None, "soil_opens": None,
            "nights_opens": None, "covers": (),
        }  # fmt: skip
        moved = tuple(n._replace(day=on + (n.day - TODAY)) for n in ahead)
        asked = Asked(crop, on, **(ready | {"night": moved[0] if moved else None} | more))  # type: ignore[arg-type]
        years = springs(self.place, on, moved)
        found = gates(asked, years)
        one = judged([found], [None], years, on, [asked.covers])[0]
        return one.kind, ",".join(g.name for g in found if g.state in (CLOSED, COVERED, EVENING)), one.by

    def test_thirty_of_them(self) -> None:
        may, june, april, march = date(2026, 5, 20), date(2026, 6, 20), date(2026, 4, 20), date(2026, 3, 10)
        early = date(2026, 4, 2)
        mild, cold, frost = nights(12.0, high=20), nights(3.0), nights(-4.0)
        hand = tuple(COVERS)
        cases = (
            ("hardened kale on a mild April day", "kale", april, nights(6.0), {}, "go"),
            ("the same with rungs missing", "kale", april, nights(6.0), {"climbed": 4, "ready": date(2026, 4, 24)}, "wait"),
            ("no rung climbed at all", "tomato", june, mild, {"climbed": 0, "ready": date(2026, 6, 27)}, "wait"),
            ("kale too small, and somebody looked", "kale", april, nights(6.0), {"leaves": 2.0}, "wait"),
            ("kale too small as reckoned, nobody looked", "kale", april, nights(6.0), {"leaves": 2.0, "seen": False}, "go"),
            ("nobody knows its leaves", "kale", april, nights(6.0), {"leaves": None, "seen": False}, "go"),
            ("kale into cold wet soil", "kale", april, nights(6.0), {"mornings": (3.0, 3.5, 3.0)}, "wait"),
            ("kale, one cold morning in three", "kale", april, nights(6.0), {"mornings": (4.0, 6.0, 6.5)}, "go"),
            ("tomato in June after warm nights", "tomato", june, mild, {}, "go"),
            ("tomato on a still June day with cold ahead", "tomato", june, cold, {}, "wait"),
            ("tomato in April, however warm today", "tomato", april, nights(9.0, high=22), {}, "wait"),
            ("tomato in April, frost tonight", "tomato", april, frost, {"covers": hand}, "wait"),
            ("pepper when tomatoes go", "pepper", date(2026, 5, 25), mild, {"mornings": (15.0,) * 3}, "wait"),
            ("pepper at midsummer", "pepper", june, nights(14.0, high=24), {}, "go"),
            ("cabbage with −4 forecast for the week", "cabbage", april, nights(-6.0, cloud=0.1, wind=3), {}, "wait"),
            ("cabbage in March", "cabbage", march, nights(0.0), {"mornings": (4.0,) * 3}, "wait"),
            ("lettuce in a gale", "lettuce", may, nights(8.0, wind=34.0), {}, "wait"),
            ("lettuce the day the wind drops", "lettuce", may, nights(8.0, wind=12.0), {}, "go"),
            ("lettuce on a hot day", "lettuce", may, nights(9.0, high=27.0), {}, "evening"),
            ("tomato on a hot day", "tomato", june, nights(14.0, high=30.0), {}, "evening"),
            ("tomato on a warm day", "tomato", june, nights(13.0, high=26.0), {}, "go"),
            ("its bed still full of leeks", "lettuce", may, nights(8.0), {"bed": Bed("Bed B", may + timedelta(days=3), "Leek")}, "wait"),
            ("its bed was full until yesterday", "lettuce", may, nights(8.0), {"bed": Bed("Bed B", may, "Leek")}, "go"),
            ("the ground smears", "lettuce", may, nights(8.0), {"bed": Bed("Bed B", None, "", "wet")}, "wait"),
            ("the ground is ready", "lettuce", may, nights(8.0), {"bed": Bed("Bed B", None, "", "ready")}, "go"),
            ("no forecast at all in June", "tomato", june, (), {}, "go"),
            ("no forecast at all in April", "tomato", april, (), {}, "wait"),
            ("a forecast that stops tomorrow", "kale", april, nights(6.0, days=1), {}, "go"),
            ("half-hardy with frost about, fleece in the shed", "strawflower", early, nights(1.0, cloud=0.5), {"covers": hand}, "cover"),
            ("the same without a fleece", "strawflower", early, nights(1.0, cloud=0.5), {"covers": ()}, "wait"),
        )  # fmt: skip
        self.assertEqual(len(cases), 30)
        for name, key, on, ahead, more, expected in cases:
            kind, closed, _ = self.ask(key, on, ahead, **more)
            self.assertEqual(kind, expected, f"{name}: {closed}")

    def test_what_is_not_known_is_not_known(self) -> None:
        crop = library()["tomato"]
        asked = Asked(crop, TODAY, 7, 7, None, None, False, (), None, Bed(""), 0.1, None, None, None)
        states = {g.name: g.state for g in gates(asked, None)}
        self.assertEqual({n for n, s in states.items() if s == UNKNOWN}, {"stage", "soil", "nights", "frost", "day"})

    def test_typed_dates_stand_in_for_years(self) -> None:
        crop = library()["tomato"]
        later = TODAY + timedelta(days=9)
        asked = Asked(crop, TODAY, 7, 7, None, None, False, (), None, Bed(""), 0.1, later, TODAY, None)
        found = {g.name: g for g in gates(asked, None)}
        self.assertEqual((found["frost"].state, found["frost"].opens, found["soil"].state), (CLOSED, later, OPEN))


class Covers(TestCase):
    def test_the_lightest_that_is_enough(self) -> None:
        self.assertEqual([lightest(t, 1.0) for t in (0.0, -1.0, -2.0, -3.0)], ["fleece17", "fleece30", "double", None])
        self.assertIsNone(lightest(0.0, 1.0, ()))
        self.assertEqual(lightest(-1.0, 1.0, ("fleece17", "double")), "double")

    def test_length_and_pegs(self) -> None:
        self.assertEqual((needed(700.0).length_cm, needed(700.0).pegs), (800.0, 34))
        with self.assertRaises(ValueError):
            needed(0.0)
