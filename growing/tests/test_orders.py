"""Seed that is short is ordered in time; what nobody counted is never taken for nothing."""

from __future__ import annotations

from datetime import date
from unittest import TestCase

from growing.seeds.orders import Stock, Wanted, in_hand, order
from growing.tests.reading import shown

MAY, APRIL = date(2026, 5, 1), date(2026, 4, 20)


class Orders(TestCase):
    def test_three_weeks_before_the_first_sowing_in_whole_packets(self) -> None:
        found = order([Wanted(60, MAY, None), Wanted(50, APRIL, None)], [Stock(30, 40, 2.5)])
        assert found is not None
        self.assertEqual((found.seeds, found.packets, found.cost, found.by), (80, 2, 5.0, date(2026, 3, 30)))
        self.assertEqual([shown(found.why, n) for n in ("needed", "had")], [110, 30])

    def test_without_a_packet_everything_is_ordered_and_nothing_is_made_up(self) -> None:
        found = order([Wanted(60, MAY, None)], [])
        assert found is not None
        self.assertEqual((found.seeds, found.packets, found.cost), (60, None, None))

    def test_enough_or_not_counted_is_no_order(self) -> None:
        self.assertIsNone(order([Wanted(60, MAY, None)], [Stock(60)]))
        self.assertIsNone(order([Wanted(60, MAY, None)], [Stock(None), Stock(5)]))
        self.assertIsNone(order([], [Stock(0)]))

    def test_in_hand_is_counted_weighed_or_not_known(self) -> None:
        self.assertEqual(in_hand(12, 1.0, 300), 12)
        self.assertEqual(in_hand(None, 1.5, 300), 450)
        self.assertIsNone(in_hand(None, 1.5, None))
        self.assertEqual(in_hand(12, None, None, used_up=True), 0)
