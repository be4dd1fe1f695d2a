"""No rule returns NaN or infinity or divides by nothing, whatever old packets, odd years and few seasons it is given."""

from __future__ import annotations

import math
from datetime import date
from typing import Any
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from growing.batch.ledger import Accounts, LedgerError, accounts, balance
from growing.batch.sharing import shares
from growing.crops import library
from growing.place.frost import frost_dates
from growing.place.sureness import how_sure
from growing.place.trend import trend_of
from growing.seeds.sowing import NoCount, Seed, case_for, count_for, how_for
from growing.seeds.testing import plan_test
from growing.seeds.viability import LEAST, Packet, Test, germination, life_factor, viability
from growing.seeds.ways import ways
from growing.working import Working

CROPS = sorted(library().values(), key=lambda c: c.key)
TODAY = date(2026, 4, 12)


def numbers(node: Any) -> list[float]:
    """Every number in a working and all its steps."""
    found = [v.number for v in (*node.inputs, node.result) if isinstance(v.number, int | float)]
    return found + [n for step in node.steps for n in numbers(step)]


class Finite(TestCase):
    def finite(self, *values: float, of: Working | None = None) -> None:
        for value in (*values, *(numbers(of) if of is not None else ())):
            self.assertTrue(math.isfinite(value), value)

    @settings(max_examples=150, deadline=None)
    @given(
        st.sampled_from(CROPS),
        st.builds(
            Packet,
            st.one_of(st.none(), st.floats(0, 400)),
            st.one_of(st.none(), st.builds(life_factor, st.floats(-40, 60), st.floats(0, 100))),
            st.booleans(),
            st.booleans(),
            st.one_of(st.none(), st.floats(0.01, 1)),
        ),
        st.lists(
            st.tuples(st.integers(0, 200), st.integers(0, 200), st.integers(0, 40_000), st.booleans()), max_size=3
        ),
        st.integers(1, 400),
    )
    def test_packets_of_any_age_kept_anywhere_with_any_tests(
        self, crop: Any, packet: Packet, tests: list[Any], wanted: int
    ) -> None:
        read = [
            Test(date.fromordinal(max(1, TODAY.toordinal() - ago)), max(sown, up), up, mix)
            for sown, up, ago, mix in tests
        ]
        found = germination(crop, packet, read, TODAY)
        self.finite(found.mean, found.low, found.high, found.a, found.b, of=found.working)
        self.assertTrue(0 < found.mean < 1 and 0 <= found.low <= found.high <= 1)
        seed = Seed(found.mean, (found.a, found.b), 1.0)
        for sown_in, surplus, per_cell in (
            ("cells", "thin", 1),
            ("cells", "thin", 3),
            ("cells", "", None),
            ("box", "", 1),
        ):
            how = how_for(crop, sown_in, surplus, per_cell)
            try:
                count = count_for(crop, wanted, how, seed)
            except NoCount:
                continue
            self.assertTrue(count.places * how.clump >= wanted and 0.9 <= count.odds <= 1)
            self.finite(of=count.working)
        plan = plan_test(found, 1.0, case_for(crop, wanted, how, seed), TODAY, TODAY, 9.0, 100)
        self.finite(plan.seeds, of=plan.working)
        try:
            for way in ways(crop, wanted, seed):
                self.finite(way.care.minutes, way.care.litres, of=way.sowing.working)
        except NoCount:
            pass

    def test_the_packets_that_took_a_garden_down(self) -> None:
        onion = library()["onion"]
        for age, storage in ((11.3, 1.0), (7.3, 0.25), (300.0, 0.2)):
            found = germination(onion, Packet(age, storage), [Test(date(2025, 1, 1), 20, 0)], TODAY)
            self.finite(found.mean, found.low, found.high)
            self.assertLess(found.mean, 0.02)
        with self.assertRaises(NoCount):
            count_for(onion, 10, how_for(onion, "cells", "thin", 1), Seed(0.004, (0.01, 25)))
        self.assertEqual(viability(0.9, 0.5, 5000), LEAST)

    @settings(max_examples=120, deadline=None)
    @given(st.lists(st.integers(0, 365), min_size=0, max_size=4), st.integers(1, 4), st.sampled_from(["last", "first"]))
    def test_a_date_from_one_two_or_no_seasons_with_frost(self, days: list[int], more: int, event: str) -> None:
        seasons = len(days) + more - 1
        if not seasons:
            return
        dates = frost_dates(date(2025, 7, 16), event, 0.0, days, seasons, "station")
        for risk in (0.001, 0.1, 0.5, 0.9, 0.999):
            answer = dates.date_for(risk)
            self.assertTrue(answer.day is None or isinstance(answer.day, date))
            self.finite(of=answer.working)
            sure = how_sure(dates, seasons, risk)
            self.finite(sure.undated, of=sure.working)
        for day in (date(1, 1, 1), date(2026, 4, 1), date(9999, 12, 31)):
            self.finite(dates.risk(day))

    def test_years_that_never_differ_and_a_single_one(self) -> None:
        for years, days in (([], []), ([2000], [100.0]), (list(range(2000, 2030)), [100.0] * 30)):
            found = trend_of(years, days)
            self.finite(found.days_per_decade, found.p, of=found.working)


class Sharing(TestCase):
    @given(
        st.integers(0, 500),
        st.lists(st.tuples(st.floats(0, 300), st.integers(0, 60)), min_size=1, max_size=6),
    )
    def test_shares_add_up_and_none_is_under_what_it_gave(self, whole: int, batches: list[tuple[float, int]]) -> None:
        weights, least = [w for w, _ in batches], [n for _, n in batches]
        found = shares(whole, weights, least)
        self.assertEqual(sum(found), max(whole, sum(least)))
        self.assertTrue(all(f >= n for f, n in zip(found, least, strict=True)))

    def test_by_hand(self) -> None:
        self.assertEqual(shares(10, [12.0], [0]), [10])
        self.assertEqual(shares(10, [5.0, 10.0], [0, 0]), [3, 7])
        self.assertEqual(shares(10, [0.0, 0.0], [0, 0]), [5, 5])
        self.assertEqual(shares(10, [6.0, 6.0], [6, 0]), [6, 4])
        self.assertEqual(shares(4, [6.0, 6.0], [6, 1]), [6, 1])
        with self.assertRaises(ValueError):
            shares(4, [1.0], [])


class Balance(TestCase):
    def test_what_the_accounts_cannot_hold_is_left_out_and_named(self) -> None:
        events = [("sown", 20, False), ("up", 5, False), ("died", 10, False), ("given", 2, True)]
        found, wrong = balance(events)
        assert wrong is not None
        self.assertEqual((wrong.kind, wrong.count, wrong.there_are, wrong.at), ("died", 10, 5, 2))
        self.assertEqual((found.emerged, found.died, found.given, found.indoors, found.estimated), (5, 0, 2, 3, True))
        with self.assertRaises(LedgerError):
            accounts(events)

    @given(
        st.lists(
            st.tuples(
                st.sampled_from(
                    [
                        "sown",
                        "up",
                        "never_up",
                        "received",
                        "thinned",
                        "died",
                        "given",
                        "moved",
                        "planted",
                        "lost_outside",
                    ]
                ),
                st.one_of(st.none(), st.integers(-3, 30)),
                st.booleans(),
            ),
            max_size=12,
        )
    )
    def test_both_accounts_always_balance_and_strict_agrees_where_nothing_is_wrong(self, events: list[Any]) -> None:
        found, wrong = balance(events)
        self.balanced(found)
        if wrong is None:
            self.assertEqual(accounts(events), found)
        else:
            with self.assertRaises(LedgerError):
                accounts(events)

    def balanced(self, a: Accounts) -> None:
        if a.sown is not None:
            self.assertEqual(a.sown, (a.waiting or 0) + a.never_up + (a.emerged or 0))
        if a.indoors is not None:
            gone = a.thinned + a.died + a.given + a.moved + a.planted
            self.assertEqual((a.emerged or 0) + a.received, gone + a.indoors)
            self.assertGreaterEqual(a.indoors, 0)
        self.assertGreaterEqual(a.outdoors, 0)
