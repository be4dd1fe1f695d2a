"""Room over the season against a count day by day; repairs against every set there is."""

from __future__ import annotations

from datetime import date
from itertools import combinations
from unittest import TestCase

import numpy as np

from growing.bench.ahead import Stay, Zone, causes, occupancy, overflows, room_over
from growing.bench.mending import Repair, cheapest, harms, relief
from growing.bench.settling import SettlingPlace, settle

START = date(2026, 3, 1)
ZONES = (Zone("mat", "On mats", 4.0, "lamp"), Zone("lamp", "Under lamps", 14.0), Zone("frame", "Cold frame", 6.0))


def stays_at_random(rng: np.random.Generator, count: int, days: int = 120) -> list[Stay]:
    base, found = START.toordinal(), []
    for n in range(count):
        since = base + int(rng.integers(-20, days))
        zone = ("mat", "lamp", "frame")[int(rng.integers(3))]
        found.append(
            Stay(n, zone, since, since + int(rng.integers(0, 40)), round(float(rng.uniform(0.1, 4)), 2), "grown")
        )
    return found


class RoomOverTime(TestCase):
    def test_as_many_as_are_counted_day_by_day(self) -> None:
        rng = np.random.default_rng(17)
        for _ in range(40):
            stays, days = stays_at_random(rng, int(rng.integers(0, 60))), 120
            room = room_over(ZONES, stays, START, days)
            for k in rng.integers(0, days, 12):
                day = START.toordinal() + int(k)
                for z, zone in enumerate(ZONES):
                    keys = {zone.key, *(o.key for o in ZONES if o.within == zone.key)}
                    counted = sum(s.flats for s in stays if s.zone in keys and s.since <= day < s.until)
                    self.assertAlmostEqual(float(room.used[z, k]), counted, 6)

    def test_what_ends_before_it_begins_takes_nothing(self) -> None:
        base = START.toordinal()
        one = np.array([base + 9], dtype=np.int32)
        used = occupancy(np.zeros(1, np.int32), one, one - 4, np.ones(1), 1, base, 30)
        self.assertEqual(float(used.sum()), 0.0)

    def test_the_first_day_without_room_by_how_much_and_who_came(self) -> None:
        base = START.toordinal()
        stays = [
            Stay(1, "lamp", base, base + 60, 12.0, "grown"),
            Stay(2, "mat", base + 5, base + 20, 2.0, "seed"),
            Stay(3, "lamp", base + 10, base + 30, 3.0, "potted"),
        ]
        found = overflows(room_over(ZONES, stays, START, 90))
        self.assertEqual(len(found), 1)
        over = found[0]
        self.assertEqual((over.zone.key, over.since, over.until), ("lamp", date(2026, 3, 11), date(2026, 3, 30)))
        self.assertAlmostEqual(over.most, 3.0)  # the mats lie under the lamps
        self.assertEqual(over.on, date(2026, 3, 11))
        self.assertEqual(over.trays, 3)
        self.assertEqual(causes(over, stays, {"mat": "lamp"}), [3])

    def test_a_place_of_no_known_size_is_never_over(self) -> None:
        base = START.toordinal()
        zones = (Zone("shelf", "Shelves", None),)
        room = room_over(zones, [Stay(1, "shelf", base, base + 9, 40.0, "grown")], START, 30)
        self.assertEqual(overflows(room), [])
        self.assertEqual(room.on("shelf", START), 40.0)


class Settled(TestCase):
    def test_no_place_ever_holds_more_than_it_can_and_nothing_is_lost(self) -> None:
        rng = np.random.default_rng(4)
        places = [
            SettlingPlace(1, ("lamp",), 4.0, 52.0),
            SettlingPlace(2, ("lamp",), 4.0, 40.0),
            SettlingPlace(3, ("mat", "lamp"), 2.0, 40.0),
        ]
        base, days = START.toordinal(), 120
        for _ in range(30):
            stays = [s for s in stays_at_random(rng, 30) if s.zone != "frame"]
            pieces = settle(stays, places, base, days)
            held = {p.key: np.zeros(days) for p in places}
            for piece in pieces:
                if piece.place is not None:
                    one = stays[piece.stay]
                    held[piece.place][max(0, one.since - base) : max(0, one.until - base)] += piece.flats
            for place in places:
                self.assertLessEqual(held[place.key].max(), place.holds + 1e-6)
            for n, one in enumerate(stays):
                if max(one.since, base) < min(one.until, base + days):
                    self.assertAlmostEqual(sum(p.flats for p in pieces if p.stay == n), one.flats)

    def test_the_tall_go_where_it_is_high_enough(self) -> None:
        base = START.toordinal()
        places = [SettlingPlace(1, ("lamp",), 4.0, 30.0), SettlingPlace(2, ("lamp",), 4.0, 50.0)]
        short, tall = (
            Stay(1, "lamp", base, base + 9, 1.0, "grown", high_cm=12.0),
            Stay(2, "lamp", base, base + 9, 1.0, "grown", high_cm=40.0),
        )
        self.assertEqual(
            [(p.stay, p.place, p.low) for p in settle([short, tall], places, base, 30)], [(0, 1, False), (1, 2, False)]
        )
        taller = tall._replace(high_cm=80.0)
        self.assertEqual([(p.place, p.low) for p in settle([taller], places, base, 30)], [(2, True)])


class Repairs(TestCase):
    def random_case(self, rng: np.random.Generator) -> tuple[np.ndarray, np.ndarray, np.ndarray, list[Repair]]:
        days = 12
        used = rng.integers(0, 9, (2, days)).astype(float)
        holds = np.array([[6.0], [5.0]])
        aim = np.zeros_like(used, dtype=bool)
        aim[0] = used[0] > 6
        repairs = []
        for n in range(int(rng.integers(1, 9))):
            change = np.zeros((2, days))
            a, b = sorted(int(x) for x in rng.integers(0, days + 1, 2))
            change[0, a:b] = -float(rng.integers(1, 4))
            if rng.random() < 0.4:
                change[1, a:b] = float(rng.integers(0, 3))
            if rng.random() < 0.2:
                change[0, b : b + 2] = 1.0
            repairs.append(
                Repair(
                    f"r{n}",
                    "later",
                    int(rng.integers(0, 5)),
                    change,
                    plants=float(rng.integers(0, 5)),
                    minutes=float(rng.integers(0, 40)),
                )
            )
        return used, holds, aim, repairs

    def test_the_set_is_the_cheapest_of_all_sets(self) -> None:
        rng = np.random.default_rng(170)
        mended = 0
        for _ in range(300):
            used, holds, aim, repairs = self.random_case(rng)
            best = None
            for size in range(len(repairs) + 1):
                for some in combinations(repairs, size):
                    if len({r.batch for r in some}) < size:
                        continue
                    change = sum((r.change for r in some), np.zeros_like(used))
                    if np.any(used + change > np.maximum(holds, used) + 1e-6):
                        continue
                    left = max(0.0, float((used + change - holds)[aim].max(initial=0.0)))
                    key = (round(left, 6), round(sum(r.cost for r in some), 6))
                    best = key if best is None else min(best, key)
            found = cheapest(used, holds, aim, repairs)
            self.assertEqual((round(found.left, 6), round(found.cost, 6)), best)
            change = sum((r.change for r in found.repairs), np.zeros_like(used))
            self.assertFalse(harms(used, holds, change))  # recomputed
            over = max(0.0, float((used + change - holds)[aim].max(initial=0.0)))
            self.assertAlmostEqual(over, found.left)
            mended += found.left == 0 and bool(aim.any())
        self.assertGreater(mended, 20)

    def test_relief_is_what_the_worst_day_loses(self) -> None:
        used, holds = np.array([[5.0, 7.0, 8.0]]), np.array([[6.0]])
        aim = used > holds
        self.assertAlmostEqual(relief(used, holds, aim, np.array([[0.0, 0.0, -1.0]])), 1.0)
        self.assertAlmostEqual(relief(used, holds, aim, np.array([[0.0, -1.0, 0.0]])), 0.0)
        self.assertAlmostEqual(relief(used, holds, aim, np.array([[0.0, -1.0, -3.0]])), 2.0)

    def test_no_repairs_leave_what_is_over(self) -> None:
        used, holds = np.array([[8.0]]), np.array([[6.0]])
        found = cheapest(used, holds, used > holds, [])
        self.assertEqual((found.repairs, found.left), ((), 2.0))
