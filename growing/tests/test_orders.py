"""Seed that is short is ordered in time; what nobody counted is never taken for nothing."""

from __future__ import annotations

from datetime import date
from unittest import TestCase

from growing.seeds.orders import PacketStock, SeedWanted, in_hand, order
from growing.tests.reading import shown

MAY, APRIL = date(2026, 5, 1), date(2026, 4, 20)


class Orders(TestCase):
    def test_three_weeks_before_the_first_sowing_in_whole_packets(self) -> None:
        found = order([SeedWanted(60, MAY, None), SeedWanted(50, APRIL, None)], [PacketStock(30, 40, 2.5)])
        assert found is not None
        self.assertEqual((found.seeds, found.packets, found.cost, found.by), (80, 2, 5.0, date(2026, 3, 30)))
        self.assertEqual([shown(found.why, n) for n in ("needed", "had")], [110, 30])

    def test_without_a_packet_everything_is_ordered_and_nothing_is_made_up(self) -> None:
        found = order([SeedWanted(60, MAY, None)], [])
        assert found is not None
        self.assertEqual((found.seeds, found.packets, found.cost), (60, None, None))

    def test_enough_or_not_counted_is_no_order(self) -> None:
        self.assertIsNone(order([SeedWanted(60, MAY, None)], [PacketStock(60)]))
        self.assertIsNone(order([SeedWanted(60, MAY, None)], [PacketStock(None), PacketStock(5)]))
        self.assertIsNone(order([], [PacketStock(0)]))

    def test_in_hand_is_counted_weighed_or_not_known(self) -> None:
        self.assertEqual(in_hand(12, 1.0, 300), 12)
        self.assertEqual(in_hand(None, 1.5, 300), 450)
        self.assertIsNone(in_hand(None, 1.5, None))
        self.assertEqual(in_hand(12, None, None, used_up=True), 0)
