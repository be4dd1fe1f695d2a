"""Hours, timers, cheap hours; what each batch had; what to change first."""

from __future__ import annotations

from datetime import date, timedelta
from math import exp
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from growing.beds.bedplan import Rect
from growing.crops import library
from growing.light import hours as h
from growing.light.advice import Advice, advise, gains_by_turning
from growing.light.compare import compare
from growing.light.had import STEP_CM, GrowthColumns, Lived, Places, Stays, leggy, leggy_risk, live, ways
from growing.light.height import best_dim, best_height
from growing.light.hours import CurrentPrice, LampTimer, Wants
from growing.light.lamps import DescribedLamp
from growing.light.plane import Hung
from growing.light.shelf import Board, LampAsSet, LampReach, Stand, even, light_map
from growing.light.steps import of_shelf, turning, upkeep
from growing.light.targets import band
from growing.shelves.shelf import growth
from growing.waiting import lost, waits

TODAY = date(2026, 4, 12)
CROPS = library()
NIGHT = CurrentPrice(0.30, 0.10, ((22.0, 6.0),))


def wants(key: str, days: int = 10, plants: int = 12) -> Wants:
    crop = CROPS[key]
    least, most = h.hours_wanted(crop)
    return Wants(crop.name, least, most, h.wanted(crop, days), None, plants, key)


class Hours(TestCase):
    def test_every_way_within_what_the_crop_bears(self) -> None:
        for crop in CROPS.values():
            for way in ("steady", "taper", "long", "crop"):
                other = crop.overlaid("garden", {"hours_way": (way, "tried")})
                for days in (0, 15, 40):
                    hours = h.wanted(other, days)
                    least, most = h.hours_wanted(other)
                    self.assertTrue(min(least, most) <= hours <= min(most, 18.0), (crop.key, way, days, hours))

    def test_onions_beside_cosmos_suit_no_timer_and_are_named(self) -> None:
        both = [wants("onion", plants=90), wants("cosmos", plants=16)]
        found = h.shared_hours(both, TODAY)
        self.assertEqual(found.hours, 13.0)
        self.assertEqual([(c.kind, c.name) for c in found.clashes], [("short", CROPS["cosmos"].name)])
        long_ = h.clashes(both, 16.0)
        self.assertEqual([(c.kind, c.working.rule) for c in long_], [("long", "light.too_long_bulb")])
        self.assertEqual(h.clashes([wants("lettuce"), wants("tomato")], 16.0), [])

    def test_round_the_clock_for_three_days_and_only_where_all_bear_it(self) -> None:
        until = TODAY + timedelta(days=1)
        new = wants("lettuce")._replace(round_until=until)
        self.assertEqual(h.shared_hours([new], TODAY).hours, 24.0)
        self.assertEqual(h.shared_hours([new], until + timedelta(days=1)).hours, 16.0)
        self.assertEqual(h.shared_hours([new, wants("tomato")], TODAY).hours, 16.0)
        tomato = wants("tomato")._replace(round_until=until)
        self.assertEqual(h.shared_hours([tomato], TODAY).working.rule, "light.hours_round_tomato")
        self.assertFalse(h.may_round(CROPS["eggplant"]))
        self.assertFalse(h.may_round(CROPS["onion"]))
        self.assertTrue(h.may_round(CROPS["tomato"]))

    @given(st.floats(0, 24), st.floats(0, 24), st.lists(st.tuples(st.integers(0, 23), st.integers(0, 23)), max_size=2))
    def test_cost_against_minutes_counted_one_by_one(
        self, on: float, hours: float, spans: list[tuple[int, int]]
    ) -> None:
        on, hours = round(on * 10) / 10, round(hours * 10) / 10
        kept = tuple((float(a), float(b)) for a, b in spans)
        if h.wrong_spans(kept):
            return
        tariff, timer = CurrentPrice(0.3, 0.1, kept), LampTimer(on % 24, hours)
        paid = 0.0
        for minute in range(round(hours * 60)):
            hour = (on + (minute + 0.5) / 60) % 24
            cheap = any(a <= hour < b if a < b else hour >= a or hour < b for a, b in kept)
            paid += (0.1 if cheap else 0.3) / 60 * 0.1
        self.assertAlmostEqual(h.cost(timer, 100.0, tariff).money or 0.0, paid * 7, delta=0.02)

    @given(st.integers(1, 36), st.floats(0, 24))
    def test_the_cheapest_timer_against_every_start(self, halves: int, on: float) -> None:
        hours, now = halves / 2, LampTimer(round(on * 2) / 2 % 24, halves / 2)
        found = h.cheapest(hours, 100.0, NIGHT, now)
        best = min(h.cost(LampTimer(k / 2, hours), 100.0, NIGHT).money or 0 for k in range(48))
        self.assertAlmostEqual(h.cost(found, 100.0, NIGHT).money or 0, best)

    def test_across_midnight_is_fine_and_what_overlaps_is_not(self) -> None:
        self.assertEqual((LampTimer(20.0, 8.0).off_h, LampTimer(20.0, 8.0).over_midnight), (4.0, True))
        self.assertEqual(h.cost(LampTimer(20.0, 8.0), 100.0, h.CurrentPrice(0.3, 0.1, ((3.5, 4.5),))).cheap_h, 0.5)
        self.assertEqual(h.wrong_spans(((22.0, 6.0), (13.0, 16.0))), "")
        for spans, word in (
            (((22.0, 6.0), (5.0, 7.0)), "overlaps"),
            (((0.0, 25.0),), "within a day"),
            (((5.0, 5.0),), "no time"),
        ):
            self.assertIn(word, h.wrong_spans(spans))
        self.assertIn("0 to 24", h.wrong_hours(24.5))
        self.assertEqual(h.wrong_hours(24.0), "")
        self.assertIsNone(h.cost(LampTimer(5, 16), 100, CurrentPrice()).money)


def stand(
    key: str, x: float, height: float, tray: int = 1, day: float = 0.5, plants: int = 12, leaves: float = 3
) -> Stand:
    crop = CROPS[key]
    return Stand(
        key,
        crop.name,
        Rect(x, 0, 28, 54),
        6.0,
        height,
        day,
        band(crop, leaves),
        wants(key, plants=plants),
        plants,
        tray,
    )


def board(
    stands: tuple[Stand, ...],
    umol: float = 80.0,
    top: float = 44.0,
    dims: bool = False,
    step: float = 2.5,
    length: float = 115.0,
) -> Board:
    lamps = tuple(Hung(umol, length, 3.0, 61.0, y, 0.0, 0.0) for y in (9.3, 28.0, 46.7))
    return Board(122.0, 56.0, lamps, 120.0, LampReach(top, step, "links", 2.0, dims), stands, name="R1·2")


def at(cm: float, hours: float = 16.0, per_cent: float = 100.0) -> LampAsSet:
    return LampAsSet(cm, cm, per_cent, LampTimer(5.0, hours))


def said(b: Board, setting: LampAsSet) -> Advice:
    return advise(b, setting, NIGHT, TODAY)


class WhatToChange(TestCase):
    def test_the_best_step_against_every_step(self) -> None:
        b = board((stand("lettuce", 0, 4), stand("tomato", 30, 9, 2), stand("cabbage", 60, 12, 3)))
        for start in (22.0, 29.5, 37.0):
            to, got = best_height(b, at(start))
            tallest = max(s.tip_cm for s in b.stands) + b.limits.warm_cm
            every = [start + 2.5 * k for k in range(-20, 20) if tallest <= start + 2.5 * k <= 44]
            least = min(b.missed(b.got(at(cm))) for cm in [*every, start])
            self.assertAlmostEqual(b.missed(got), least, delta=0.03)
            self.assertAlmostEqual((to.lowest_cm - start) / 2.5, round((to.lowest_cm - start) / 2.5))

    def test_leaves_in_the_lamp_go_before_all_else(self) -> None:
        found = said(board((stand("kale", 30, 17), stand("pepper", 60, 4, 2))), at(24.0))
        self.assertEqual(found.first.kind, "raise")
        self.assertTrue(found.first.working.rule.startswith("light.first_raise_near"))
        self.assertGreaterEqual(min(g.gap_cm for g in found.first.got), 2.0)
        self.assertFalse({"dim", "longer", "shorter"} & {o.kind for o in found.others})

    def test_where_it_cannot_go_higher_there_is_no_room(self) -> None:
        found = said(board((stand("kale", 30, 17),), top=24.0), at(24.0))
        self.assertEqual(found.first.kind, "out_of_room")

    def test_dim_or_raise_for_too_much_with_what_each_costs(self) -> None:
        b = board((stand("lettuce", 30, 4),), umol=160.0, dims=True)
        found = said(b, at(16.0))
        kinds = {found.first.kind, *(o.kind for o in found.others)}
        self.assertLessEqual({"raise", "dim"}, kinds)
        dim = next(o for o in (found.first, *found.others) if o.kind == "dim")
        self.assertLess(dim.cost.kwh, found.cost.kwh)
        self.assertEqual(dim.setting, best_dim(b, at(16.0))[0])  # type: ignore[index]

    def test_too_weak_a_lamp_is_said_once_it_does_what_it_can(self) -> None:
        b = board((stand("tomato", 30, 6),), umol=12.0)
        low, _ = best_height(b, at(20.0))
        found = said(b, low._replace(timer=LampTimer(5, 18)))
        self.assertEqual(found.first.kind, "second")
        two = {a.kind: a for a in compare(b, low, NIGHT, 4.0)}
        self.assertGreater(two["two"].dli, 1.4 * two["this"].dli)
        self.assertGreater(two["sides"].dli, two["this"].dli)
        self.assertEqual(two["sill"].dli, 4.0)
        self.assertIsNone(two["sill"].cost)

    def test_uneven_trays_are_set_up_or_the_lamp_hung_aslant(self) -> None:
        b = board(
            (stand("cabbage", 0, 14), stand("lobelia", 30, 5, 2), stand("lobelia", 90, 2, 3)),
            umol=42.0,
            top=48.0,
            step=1.0,
        )
        boxes = said(b, at(24.0)).first
        self.assertEqual(boxes.kind, "boxes")
        self.assertTrue(all(cm % 3 == 0 and s.height_cm < 14 for s, cm in boxes.boxes))
        loose = board(
            (stand("cabbage", 0, 20), stand("lobelia", 90, 2)._replace(tray=None)), umol=50.0, top=60.0, step=1.0
        )
        found = said(loose, at(29.0))
        slope = next(o for o in (found.first, *found.others) if o.kind == "aslant").setting
        self.assertGreater(slope.left_cm, slope.right_cm)  # the tall ones stand on the left

    def test_nothing_to_do_where_all_is_right(self) -> None:
        b = board((stand("lettuce", 47, 4),), umol=60.0)
        to, _ = best_height(b, at(22.0))
        found = said(b, to)
        self.assertIn(found.first.kind, ("none", "turn"))
        self.assertEqual(list(of_shelf("s1", found, 16.0, "x", TODAY)), [])
        nobody = said(board(()), at(22.0))
        self.assertEqual((nobody.first.kind, nobody.hours.hours), ("none", 0.0))

    def test_the_lamp_follows_the_tallest_until_there_is_no_room(self) -> None:
        found = said(board((stand("tomato", 47, 10, day=1.0),), umol=60.0, top=30.0), at(22.0))
        lamp = found.ahead.lamp_cm[0]
        for up in found.ahead.raises:
            self.assertGreater(up.to_cm, lamp)
            self.assertAlmostEqual((up.to_cm - lamp) % 2.5 % 2.5, 0.0, places=6)
            lamp = up.to_cm
        self.assertLessEqual(max(found.ahead.lamp_cm), 30.0)
        self.assertIsNotNone(found.ahead.no_room)
        self.assertEqual(found.ahead.touches, 6)

    def test_the_map_and_the_trays_agree(self) -> None:
        b = board((stand("lettuce", 0, 4), stand("cabbage", 60, 12, 2)))
        found = light_map(b, at(29.0), 2.0)
        for n, got in enumerate(b.got(at(29.0))):
            self.assertAlmostEqual(found.dli[found.owner == n].mean() / got.dli, 1.0, delta=0.03)
        coarse = light_map(b, at(29.0), 10.0, fine=3)
        self.assertEqual(coarse.dli.shape, (6, 12))
        self.assertAlmostEqual(coarse.dli.mean() / found.dli.mean(), 1.0, delta=0.05)
        self.assertGreater(even(b.got(at(40.0))), even(b.got(at(22.0))))

    def test_turning_is_asked_for_where_it_helps_and_not_oftener_than_every_week(self) -> None:
        short = board((stand("lettuce", 0, 4), stand("lettuce", 47, 4, 2)), length=40.0)
        found = said(short, at(26.0))
        end, middle = found.got
        self.assertTrue(gains_by_turning(end))
        self.assertFalse(gains_by_turning(middle))
        asked = list(turning("s1", found, None, TODAY - timedelta(days=9), TODAY, TODAY))
        self.assertEqual([(t.kind, t.count, t.due) for t in asked], [("turn", 1, TODAY - timedelta(days=2))])
        self.assertEqual(list(turning("s1", found, TODAY - timedelta(days=3), date(2026, 1, 1), TODAY, TODAY)), [])

    def test_wiping_and_tubes(self) -> None:
        old = DescribedLamp("thin", watts=54.0, hours_run=21_000.0)
        asked = {t.kind: t for t in upkeep("s1", old, TODAY - timedelta(days=70), 16.0, TODAY, TODAY, 5)}
        self.assertEqual(set(asked), {"clean", "tubes"})
        self.assertTrue(all(t.key.endswith("-5") for t in asked.values()))
        self.assertEqual(
            list(upkeep("s1", DescribedLamp("strip", hours_run=90_000.0), None, 16.0, TODAY, TODAY, 5)), []
        )

    def test_what_waiting_costs(self) -> None:
        near = said(board((stand("kale", 47, 17, plants=20),)), at(24.0))
        task = next(iter(of_shelf("s1", near, 16.0, "x", TODAY)))
        self.assertAlmostEqual(lost(waits(task, None, TODAY)), 2.0, delta=0.01)  # type: ignore[arg-type]
        dim = said(board((stand("lettuce", 47, 4),), umol=25.0), at(40.0))
        task = next(iter(of_shelf("s1", dim, 16.0, "x", TODAY)))
        before, after = dim.got[0], dim.first.got[0]
        spared = (
            12 * (max(0, 1 - before.dli / before.stand.band.low) - max(0, 1 - after.dli / after.stand.band.low)) / 3
        )
        self.assertAlmostEqual(lost(waits(task, None, TODAY)), spared, delta=0.01)  # type: ignore[arg-type]


def one_place(days: int, up: int = 0) -> Stays:
    """One batch that stands in the first place from that day on, at the usual depth and warmth."""
    one = np.ones((1, 1), np.float32)
    return Stays(np.zeros((1, days), np.int16), np.array([up]), np.array([6.0], np.float32), one, 0 * one)


def had(key: str, days: int, dli: float, hours: float = 16.0) -> Lived:
    """One batch under so much light a day, by daylight alone."""
    places = Places(
        *(np.zeros((1, n), np.float32) for n in (241, days, days, days)), np.full((1, days), dli, np.float32)
    )
    return live(ways([CROPS[key]]), places, one_place(days))


class LightHad(TestCase):
    def test_with_enough_light_it_grows_as_by_its_leaves_alone(self) -> None:
        for key in ("tomato", "onion", "lettuce", "cosmos"):
            crop = CROPS[key]
            found = had(key, 40, band(crop, 9.0).low)
            plain = growth(crop, TODAY, TODAY + timedelta(days=40))
            self.assertAlmostEqual(float(found.leaves[0]), plain.leaves, delta=0.1 * plain.leaves + 0.2)
            self.assertEqual(float(found.want_days[0]), 0.0)

    def test_want_of_light_day_by_day_written_out(self) -> None:
        crop, dli = CROPS["tomato"], 4.0
        found = had("tomato", 30, dli)
        leaves, want = 0.0, 0.0
        for _ in range(30):
            low = band(crop, leaves).low
            want += max(0, 1 - dli / low)
            leaves += (dli / low) ** 0.5 / (crop.maybe("leaf_days") or 7)
        self.assertAlmostEqual(float(found.want_days[0]), want, delta=0.6)
        self.assertAlmostEqual(float(found.leaves[0]), leaves, delta=0.1)
        self.assertGreater(
            float(found.height_cm[0] / found.leaves[0]),
            float(had("tomato", 30, 14.0).height_cm[0] / had("tomato", 30, 14.0).leaves[0]),
        )

    def test_it_is_the_integral_and_not_the_setting(self) -> None:
        """Ten dark days are not mended by a good lamp afterwards."""
        days = 30
        sky = np.full((1, days), 12.0, np.float32)
        sky[0, :10] = 1.0
        places = Places(*(np.zeros((1, n), np.float32) for n in (241, days, days, days)), sky)
        stays = one_place(days)
        found = live(ways([CROPS["tomato"]]), places, stays)
        self.assertGreater(leggy_risk(float(found.want_days[0])), 0.8)

    def test_the_nearer_it_grows_the_more_it_has(self) -> None:
        days = 40
        table = np.linspace(600, 10, 241, dtype=np.float32)[None]
        places = Places(
            table,
            np.full((1, days), 40, np.float32),
            np.full((1, days), 16, np.float32),
            np.ones((1, days), np.float32),
            np.zeros((1, days), np.float32),
        )
        stays = one_place(days, up=5)
        found = live(ways([CROPS["tomato"]]), places, stays)
        self.assertTrue(np.isnan(found.dli[0, :5]).all())
        self.assertTrue((np.diff(found.dli[0, 5:]) >= -1e-4).all())
        first = table[0, round((40 - 6 - 1) / STEP_CM)] * 16 * 0.0036
        self.assertAlmostEqual(float(found.dli[0, 5]), float(first), delta=0.1)

    def test_where_nobody_knows_the_light_nothing_is_held_against_it(self) -> None:
        stays = Stays(
            np.full((1, 20), -1, np.int16),
            np.array([0]),
            np.array([6.0], np.float32),
            np.ones((1, 1), np.float32),
            np.zeros((1, 1), np.float32),
        )
        places = Places(*(np.zeros((1, n), np.float32) for n in (241, 20, 20, 20, 20)))
        found = live(ways([CROPS["tomato"]]), places, stays)
        self.assertTrue(np.isnan(found.dli).all())
        self.assertEqual(float(found.want_days[0]), 0.0)

    def test_what_was_seen_is_gone_on_from(self) -> None:
        crop = CROPS["tomato"]
        stays = Stays(
            np.full((2, 20), -1, np.int16),
            np.array([0, 3]),
            np.full(2, 6.0, np.float32),
            np.ones((2, 1), np.float32),
            np.zeros((2, 1), np.float32),
        )
        places = Places(*(np.zeros((1, n), np.float32) for n in (241, 20, 20, 20, 20)))
        found = live(ways([crop, crop]), places, stays, {19: [(0, 5.0, 12.0)]})
        self.assertEqual((float(found.leaves[0]), float(found.height_cm[0])), (5.0, 12.0))
        self.assertLess(float(found.leaves[1]), 4.0)

    def test_many_are_as_each_alone(self) -> None:
        rng = np.random.default_rng(4)
        keys, days, count = ("tomato", "onion", "lettuce"), 60, 12
        table = np.sort(rng.random((3, 241)).astype(np.float32) * 500)[:, ::-1].copy()
        grid = lambda low, high: rng.uniform(low, high, (3, days)).astype(np.float32)  # noqa: E731
        places = Places(table, grid(20, 40), grid(10, 18), grid(0.5, 1), grid(0, 5))
        stays = Stays(
            rng.integers(-1, 3, (count, days)).astype(np.int16),
            rng.integers(0, 50, count),
            np.full(count, 6, np.float32),
            rng.uniform(0.7, 1.5, (count, 1)).astype(np.float32),
            rng.uniform(-3, 6, (count, 1)).astype(np.float32),
        )
        k = ways([CROPS[keys[n % 3]] for n in range(count)])
        whole = live(k, places, stays)
        for n in range(count):
            one = live(GrowthColumns(*(v[n : n + 1] for v in k)), places, Stays(*(v[n : n + 1] for v in stays)))
            for many, alone in zip(whole, one, strict=True):
                np.testing.assert_allclose(many[n], alone[0], rtol=1e-4, atol=1e-4)

    def test_the_verdict_names_what_made_it(self) -> None:
        self.assertAlmostEqual(leggy_risk(1.0), 1 - exp(-1 / 3))
        self.assertEqual(leggy("Tomato", 0.2, 11.0, 10.0, 0.0, 0).kind, "fine")
        self.assertEqual(leggy("Tomato", 4.0, 3.0, 10.0, 0.0, 3).cause, "dark")
        self.assertEqual(leggy("Tomato", 4.0, 5.0, 10.0, 0.0, 0).cause, "weak")
        self.assertEqual(leggy("Tomato", 2.0, 8.0, 10.0, 5.0, 0).cause, "warm")
        self.assertEqual(leggy("Tomato", 4.0, 5.0, 10.0, 0.0, 0).kind, "leggy")
