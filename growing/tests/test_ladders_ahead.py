"""The days ahead on the ladder: never out at forbidden limits, never stuck, never later for a milder forecast; and who is at home."""

from __future__ import annotations

from datetime import date, timedelta
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from growing.calendar import Window
from growing.ladders import ahead as days_ahead
from growing.ladders.ahead import LONGEST_AHEAD, HardeningSite, LadderAhead, LadderCase, LadderLimits, ahead, ahead_of
from growing.ladders.climbing import (
    COLD,
    DAY_ONLY,
    GUSTY,
    HAIL,
    NIGHT,
    NOBODY,
    OUT,
    RAINY,
    SHELTERED,
    SHORT,
    WINDY,
    Climbers,
    LadderColumns,
    Sky,
    WindShelter,
    after_gap,
    climb,
    shelter,
)
from growing.ladders.hours import Times, longest, there, times
from growing.ladders.ladder import Ladder, Outing, ladders, left_after, own_ladder, progress
from growing.place.nights import Night

DAY = date(2026, 4, 12)
DAYS, NAN = 50, float("nan")
KEYS = tuple(ladders())
HARDY, TENDER = LadderLimits(5, 2, -4, 2, 0.1), LadderLimits(12, 10, 10, 0, 0.1)


def as_arrays(ladder: Ladder, limits: LadderLimits, climbed: int = 0, missed: int = 0, begins: int = -1) -> Climbers:
    whole, real = (lambda n: np.array([n], np.int64)), (lambda n: np.array([n], float))
    return Climbers(
        whole(0), whole(climbed), whole(missed), whole(0), whole(0), whole(0), whole(0), whole(begins), real(limits.day_c), real(limits.night_c),
        real(limits.least_c), real(limits.colder_c), real(1.2815515655446004),
    )  # fmt: skip


def plain(ladder: Ladder) -> np.ndarray:
    """Somebody always there."""
    hours = np.array([[r.hours for r in ladder.rungs], [10.0 if r.night else r.hours for r in ladder.rungs]])
    return np.repeat(hours[:, None, None, :], DAYS, axis=2)


def sky(rows: np.ndarray) -> Sky:
    """(8, days) → one year."""
    return Sky(*(row[None] for row in rows))


def live(
    ladder: Ladder, limits: LadderLimits, rows: np.ndarray, ground: WindShelter = WindShelter()
) -> tuple[list[int], list[int], int]:
    found = climb(LadderColumns.of([ladder]), as_arrays(ladder, limits), sky(rows), ground, plain(ladder))
    return found.code[0, 0].tolist(), found.rung[0, 0].tolist(), int(found.ready[0, 0])


def by_hand(ladder: Ladder, limits: LadderLimits, rows: np.ndarray, ground: WindShelter) -> tuple[list[int], int]:
    """The same, a day at a time in plain words."""
    tmax, plant, error, _, wind, gust, rain, hail = rows
    climbed = missed = only = half = nights = partly = 0
    begun, codes, ready = True, [], DAYS
    count = len(ladder.rungs)
    for d in range(DAYS):
        if climbed >= count:
            codes.append(0)
            continue
        at = (
            min(climbed, 1)
            if missed > 7 or (missed >= 3 + partly and climbed < 2)
            else climbed - (missed >= 3 + partly)
        )
        rung = ladder.rungs[at]
        lost = (at - count / 3) / (count / 3)
        left = ground.wind_left + (1 - ground.wind_left) * min(1.0, max(0.0, lost))
        limit = max(limits.night_c - limits.colder_c * nights, limits.least_c)
        if tmax[d] < limits.day_c:
            code = COLD
        elif wind[d] * ground.wind_left > 20:
            code = WINDY
        elif gust[d] * (1 + ground.wind_left) / 2 > 40:
            code = GUSTY
        elif hail[d] >= 0.3:
            code = HAIL
        elif rain[d] > 8:
            code = SHELTERED if ground.roof else RAINY
        elif wind[d] * left > 20 or gust[d] > 40:
            code = SHELTERED
        elif rung.night:
            code = DAY_ONLY if plant[d] - 1.2815515655446004 * error[d] < limit else NIGHT
        else:
            code = OUT
        codes.append(code)
        if code > DAY_ONLY:
            missed += begun
            if missed in (3, 8):
                only = half = 0
            continue
        nights += code == NIGHT
        only += code == DAY_ONLY
        half += code == SHELTERED and not rung.night
        only += code == SHELTERED and rung.night
        climbed, missed, partly = at, 0, 1
        if code in (OUT, NIGHT) or only >= 3 or half >= 2:
            climbed, only, half, partly = at + 1, 0, 0, 0
        if climbed >= count and ready == DAYS:
            ready = d + 1
    return codes, ready


weather = st.builds(
    lambda seed, warm, windy: _weather(seed, warm, windy), st.integers(0, 10**6), st.floats(0, 22), st.floats(0, 60)
)


def _weather(seed: int, warm: float, windy: float) -> np.ndarray:
    chance = np.random.default_rng(seed)
    high = warm + chance.normal(0, 4, DAYS)
    wind = np.abs(windy + chance.normal(0, 8, DAYS))
    rows = (
        high, high - 9 + chance.normal(0, 2, DAYS), chance.uniform(1.5, 4, DAYS), chance.uniform(0, 1, DAYS), wind,
        wind * chance.uniform(1.1, 1.9, DAYS), np.where(chance.random(DAYS) < 0.1, 12.0, 0.0),
        np.where(chance.random(DAYS) < 0.05, 0.6, 0.0),
    )  # fmt: skip
    return np.array(rows)


class Climbing(TestCase):
    @given(
        st.sampled_from(KEYS),
        st.sampled_from((HARDY, TENDER)),
        weather,
        st.booleans(),
        st.sampled_from((0.25, 0.4, 1.0)),
    )
    def test_as_by_hand_a_day_at_a_time(
        self, key: str, limits: LadderLimits, rows: np.ndarray, roof: bool, left: float
    ) -> None:
        codes, _, ready = live(ladders()[key], limits, rows, WindShelter(left, roof))
        self.assertEqual((codes, ready), by_hand(ladders()[key], limits, rows, WindShelter(left, roof)))

    @given(st.sampled_from(KEYS), st.sampled_from((HARDY, TENDER)), weather)
    def test_never_out_at_forbidden_limits(self, key: str, limits: LadderLimits, rows: np.ndarray) -> None:
        ladder = ladders()[key]
        codes, rungs, _ = live(ladder, limits, rows)
        nights = 0
        for d, (code, rung) in enumerate(zip(codes, rungs, strict=True)):
            if not OUT <= code <= DAY_ONLY:
                continue
            left = 0.4 if code == SHELTERED else float(shelter(rung, len(ladder.rungs), 0.4))
            self.assertGreaterEqual(rows[0, d], limits.day_c)
            self.assertLessEqual(rows[4, d] * left, 20.0 + 1e-9)
            self.assertLessEqual(rows[5, d], 40.0 if code != SHELTERED else 40 / 0.7 + 1e-9)
            self.assertLess(rows[7, d], 0.3)
            if code == NIGHT:
                self.assertGreaterEqual(rows[1, d], max(limits.night_c - limits.colder_c * nights, limits.least_c))
                nights += 1

    @given(st.sampled_from(KEYS), st.sampled_from((HARDY, TENDER)), weather, st.integers(0, 10**6), st.floats(0, 6))
    def test_a_milder_forecast_never_delays(
        self, key: str, limits: LadderLimits, rows: np.ndarray, seed: int, by: float
    ) -> None:
        milder = rows.copy()
        warmer = by * np.random.default_rng(seed).uniform(0, 1, DAYS)
        milder[0] += warmer
        milder[1] += warmer
        before, after = (live(ladders()[key], limits, one)[2] for one in (rows, milder))
        self.assertLessEqual(after, before)

    @given(st.sampled_from(KEYS), st.integers(0, 10**6))
    def test_a_windy_and_cool_place_is_not_stuck(self, key: str, seed: int) -> None:
        """A plain of 30 km/h, nights about freezing: every ladder of a hardy crop ends within seven weeks."""
        rows = _weather(seed, 12.0, 30.0)
        rows[1] = np.random.default_rng(seed).normal(0, 2, DAYS)
        rows[5] = np.minimum(rows[5], 55)
        rows[4] = np.minimum(rows[4], 48)
        self.assertLess(live(ladders()[key], HARDY, rows)[2], DAYS)

    def test_a_cool_summer_is_not_stuck_either(self) -> None:
        """Nights under the limit of a tender crop: whole days stand for the night."""
        rows = np.array([[14.0] * DAYS, [6.0] * DAYS, [1.5] * DAYS, *([[NAN] * DAYS] * 5)])
        self.assertEqual(live(ladders()["seven"], TENDER, rows)[2], 9)

    def test_shelter_is_lost_step_by_step(self) -> None:
        found = [round(float(shelter(n, 9, 0.4)), 2) for n in range(9)]
        self.assertEqual(found, [0.4, 0.4, 0.4, 0.4, 0.6, 0.8, 1.0, 1.0, 1.0])

    def test_a_year_of_its_own_for_each_spring(self) -> None:
        rows = np.stack([_weather(seed, 10, 15) for seed in range(5)], axis=1)
        ladder = ladders()["seven"]
        both = climb(LadderColumns.of([ladder]), as_arrays(ladder, HARDY), Sky(*rows), WindShelter(), plain(ladder))
        for year in range(5):
            self.assertEqual(both.ready[0, year], live(ladder, HARDY, rows[:, year])[2])


class TheForecast(TestCase):
    def case(
        self,
        nights: tuple[Night, ...],
        begins: date | None = DAY,
        door: HardeningSite = HardeningSite(),
        since: date = DAY,
    ) -> LadderCase:
        ladder = ladders()["seven"]
        return LadderCase(ladder, progress(ladder, [], DAY), 0, begins, since, HARDY, nights, DAY, 0.0, "", door)

    def test_the_first_outing_waits_two_days_for_a_grey_one(self) -> None:
        clouds = (0.1, 0.2, 0.9, 0.9)
        nights = tuple(Night(DAY + timedelta(days=n), 8.0, c, 5.0, 14.0) for n, c in enumerate(clouds))
        self.assertEqual(ahead(self.case(nights)).days[0].day, DAY + timedelta(days=2))
        sunny = tuple(n._replace(cloud=0.1) for n in nights)
        self.assertEqual(ahead(self.case(sunny)).days[0].day, DAY)
        late = DAY + timedelta(days=3)  # two days before its plan, where the plan itself is sunny
        early = ahead(self.case(tuple(n._replace(cloud=0.9 if n.day.day == 13 else 0.1) for n in nights), late))
        self.assertEqual(early.days[0].day, DAY + timedelta(days=1))

    def test_overdue_begins_at_once(self) -> None:
        nights = tuple(Night(DAY + timedelta(days=n), 8.0, n / 2, 5.0, 14.0) for n in range(3))
        self.assertEqual(ahead(self.case(nights, None)).days[0].day, DAY)

    def test_without_a_forecast_or_one_that_stops_it_goes_on_by_the_rungs(self) -> None:
        for nights in ((), (Night(DAY, 8.0, 0.1, 5.0, 14.0),)):
            found = ahead(self.case(nights))
            self.assertEqual([d.code for d in found.days], [OUT] * 6 + [NIGHT])
            self.assertEqual(found.ready, DAY + timedelta(days=7))

    def test_a_day_on_which_nobody_is_home_is_missed_and_a_short_one_counts_half(self) -> None:
        week = tuple(None if day == 0 else (7.0, 20.0) for day in range(7))  # not on Mondays; the 12th is a Sunday
        found = ahead(self.case((), None, HardeningSite(weeks=(week,))))
        self.assertEqual([d.code for d in found.days[:3]], [OUT, NOBODY, OUT])
        self.assertEqual(found.ready, DAY + timedelta(days=8))  # one Monday
        noon = ((12.0, 14.0),) * 7
        brief = ahead(self.case((), None, HardeningSite(weeks=(noon,))))
        self.assertEqual([d.code for d in brief.days[:3]], [OUT, SHORT, SHORT])  # two hours of three: half, twice

    def test_out_in_the_morning_and_in_at_night_where_nobody_is_there_by_day(self) -> None:
        week = ((6.0, 8.5), (17.0, 22.0))
        self.assertEqual(times(2, False, week), Times(17.0, 19.0, 2.0, True))
        self.assertEqual(times(8, False, week), Times(8.5, 17.0, 8.5, False))
        self.assertEqual(times(6, False, ((6.0, 8.5),)), None)
        self.assertEqual(longest(6, ((6.0, 8.5), (11.0, 11.5))), 3.5)

    def test_the_hours_of_members_are_joined(self) -> None:
        one = [(7.0, 9.0)] * 7
        other = [None, (8.5, 12.0), *[(18.0, 20.0)] * 5]
        self.assertEqual(there([one, None, other], date(2026, 4, 13)), ((7.0, 9.0),))
        self.assertEqual(there([one, other], date(2026, 4, 14)), ((7.0, 12.0),))
        self.assertEqual(there([one, other], date(2026, 4, 15)), ((7.0, 9.0), (18.0, 20.0)))
        self.assertIsNone(there([None, None], DAY))
        self.assertEqual(there([one], DAY, away=True), ())


class Looks(TestCase):
    def test_a_day_that_stressed_them_is_repeated(self) -> None:
        ladder = ladders()["seven"]
        had = [Outing(DAY + timedelta(days=n), h, h) for n, h in enumerate((2.0, 3.0, 4.0))]
        today = DAY + timedelta(days=3)
        self.assertEqual(progress(ladder, had, today).climbed, 3)
        self.assertEqual(progress(ladder, had, today, {had[1].day}).climbed, 2)

    def test_days_missed_are_counted_once(self) -> None:
        """What was had says how many are lost; the days ahead do not take them away again."""
        ladder = ladders()["seven"]
        had = [Outing(DAY + timedelta(days=n), r.hours, r.hours) for n, r in enumerate(ladder.rungs[:4])]
        nights = tuple(Night(DAY + timedelta(days=n), 9.0, 0.7, 3.0, 18.0) for n in range(40))
        for missed, rung in ((0, 4), (2, 4), (3, 3), (7, 3), (8, 1)):
            today = DAY + timedelta(days=4 + missed)
            stands = progress(ladder, had, today)
            one = LadderCase(ladder, stands, 0, None, today, HARDY, nights, today, 0.0, "", HardeningSite("hedge"))
            found = ahead(one)
            self.assertEqual((stands.climbed, found.days[0].rung), (rung, rung), missed)
            self.assertEqual(found.ready, today + timedelta(days=7 - rung), missed)

    def test_half_an_outing_amid_a_gap_costs_no_more_than_staying_in(self) -> None:
        """Three missed, half a rung behind the shelter, three missed: no further back than seven missed."""
        ladder = ladders()["seven"]
        had = [Outing(DAY + timedelta(days=n), r.hours, r.hours) for n, r in enumerate(ladder.rungs[:4])]
        half = Outing(DAY + timedelta(days=7), 6.0, 6.0)
        today = DAY + timedelta(days=11)
        self.assertEqual(progress(ladder, had, today).climbed, 3)
        self.assertEqual(progress(ladder, [*had, half], today, (), {half.day}).climbed, 3)
        self.assertEqual(progress(ladder, had[:1], today + timedelta(days=30)).climbed, 1)

    def test_two_behind_the_shelter_are_one(self) -> None:
        ladder = ladders()["seven"]
        had = [Outing(DAY + timedelta(days=n), 2.0, 2.0) for n in range(3)]
        for sheltered, climbed in (((), 3), ((0,), 2), ((0, 1), 2), ((0, 1, 2), 1)):
            days = {DAY + timedelta(days=n) for n in sheltered}
            self.assertEqual(progress(ladder, had, DAY + timedelta(days=3), (), days).climbed, climbed, sheltered)


class OneRule(TestCase):
    """What was had, and what is ahead, go by one rule, written once for one batch and once for many."""

    def test_a_gap_leaves_the_same_of_one_and_of_many(self) -> None:
        climbed, missed, partly = (a.ravel() for a in np.meshgrid(np.arange(15), np.arange(20), np.arange(2)))
        many = after_gap(climbed, missed, partly)
        one = [left_after(int(c), int(m), bool(p)) for c, m, p in zip(climbed, missed, partly, strict=True)]
        self.assertEqual(many.tolist(), one)

    def test_a_longer_gap_never_leaves_more(self) -> None:
        for climbed in range(15):
            for partly in (False, True):
                left = [left_after(climbed, missed, partly) for missed in range(20)]
                self.assertEqual(left, sorted(left, reverse=True))
                self.assertGreaterEqual(left[-1], min(climbed, 1))

    def test_a_half_outing_puts_a_lost_step_off_by_a_day(self) -> None:
        for climbed in range(2, 15):
            differs = [m for m in range(20) if left_after(climbed, m, True) != left_after(climbed, m, False)]
            self.assertEqual(differs, [3])
        self.assertEqual(left_after(1, 3, False), 1)  # the first is never lost

    @given(st.sampled_from(KEYS), st.sampled_from((HARDY, TENDER)), weather, st.integers(1, DAYS))
    def test_days_lived_and_written_down_stand_where_the_days_ahead_end(
        self, key: str, limits: LadderLimits, rows: np.ndarray, days: int
    ) -> None:
        """The outings of a climb, told as history, put a batch on the same rung."""
        ladder = ladders()[key]
        lived = rows[:, :days]
        found = climb(
            LadderColumns.of([ladder]), as_arrays(ladder, limits), sky(lived), WindShelter(), plain(ladder)[:, :, :days]
        )
        had, sheltered = [], set()
        for d in range(days):
            code, rung = int(found.code[0, 0, d]), ladder.rungs[int(found.rung[0, 0, d])]
            if not 0 < code <= DAY_ONLY:
                continue
            day = DAY + timedelta(days=d)
            had.append(Outing(day, float(found.hours[0, 0, d]), rung.hours))
            if code == SHELTERED:
                sheltered.add(day)
        stands = progress(ladder, had, DAY + timedelta(days=days), (), sheltered)
        before, missed, days_only, halves, partly, _ = (int(a[0, 0]) for a in found.end)
        self.assertEqual(stands.before, before)
        if had and before < len(ladder.rungs):
            self.assertEqual((stands.missed, stands.days_only, stands.halves), (missed, days_only, halves))
            self.assertEqual(stands.partly, bool(partly))


class OwnLadders(TestCase):
    def test_what_cannot_be_is_named_by_its_rung(self) -> None:
        for rungs, says in (
            ([], "0 rungs"),
            ([[2, 0, 0]] * 22, "22 rungs"),
            ([[0.2, 0, 0]], "rung 1: 0.2 hours"),
            ([[2, 0, 0], [16, 1, 0]], "rung 2: 16 hours are longer than the day"),
            ([[4, 0, 0], [2, 1, 0]], "rung 2: 2 hours after 4"),
            ([[4, 1.4, 0]], "rung 1: 1.4 is no share"),
        ):
            with self.assertRaisesRegex(ValueError, says):
                own_ladder("own1", "mine", 1, rungs)

    def test_words_for_the_sun(self) -> None:
        found = own_ladder("own1", "mine", 2, [[2, 0, 0], [4, 0.25, 0], [6, 0.5, 0], [8, 1, 0], [24, 1, 1]])
        self.assertEqual([r.shelter for r in found.rungs], ["shade", "morning sun", "half sun", "open", "open"])
        self.assertEqual((found.days, found.rungs[-1].night, found.rungs[-1].hours), (7, True, 24.0))


class Together(TestCase):
    """Many climb at once, and what their days do not follow from is left aside: to each the same as by itself."""

    def alone(self, case: LadderCase) -> LadderAhead:
        """By itself, with everything that was said of it."""
        lead = 0 if case.begins is None else max(0, (case.begins - case.since).days)
        return days_ahead._climbed([(case, lead + len(case.ladder.rungs) - case.progress.climbed + LONGEST_AHEAD)])[0]

    @settings(max_examples=20, deadline=None)
    @given(st.integers(0, 2**31))
    def test_to_each_the_same_as_by_itself(self, seed: int) -> None:
        chance = np.random.default_rng(seed)
        weeks = ((8.0, 18.0),) * 5 + (None, (0.0, 24.0))
        away = (Window(DAY + timedelta(days=6), DAY + timedelta(days=9)),)
        doors = (
            HardeningSite(),
            HardeningSite("wall", True),
            HardeningSite("", False, (weeks,)),
            HardeningSite("hedge", False, (), away),
        )
        nights = tuple(
            Night(DAY + timedelta(days=n), *(float(v) for v in chance.normal((4, 14, 0.5, 18), (4, 5, 0.3, 12))))
            for n in range(8)
        )
        cases = []
        for _ in range(12):
            ladder = ladders()[str(chance.choice(KEYS))]
            since = DAY + timedelta(days=int(chance.choice([0, 1, 5, 40])))
            done = [Outing(DAY - timedelta(days=n), 6.0, 6.0) for n in range(int(chance.integers(0, 4)), 0, -1)]
            begins = None if done else since + timedelta(days=int(chance.integers(0, 6)))
            at = progress(ladder, tuple(done), DAY, (), ())
            limits, door = (HARDY, TENDER)[int(chance.integers(2))], doors[int(chance.integers(4))]
            cases.append(
                LadderCase(
                    ladder, at, 0, begins, since, limits, nights, DAY, 0.5, str(chance.choice(["", "frame"])), door
                )
            )
        days_ahead._found.clear()
        for case, found in zip(cases, ahead_of(cases), strict=True):
            self.assertEqual(found, self.alone(case))
            self.assertEqual(found, ahead(case))
