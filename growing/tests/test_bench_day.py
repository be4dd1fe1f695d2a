"""A day at the bench: stages in order, whoever does them; mixes weighed out; supplies; labels; codes; paths."""

from __future__ import annotations

import string
from datetime import UTC, date, datetime, timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from growing.beds.bedplan import Rect
from growing.bench import day
from growing.bench.codes import SIGNS, code, read_code
from growing.bench.labels import A4, SHEETS, most, own_sheet, stands_over
from growing.bench.mix import litres_for, scald_wrong, weighed_out, wrong_parts
from growing.bench.paths import rival, rivals
from growing.bench.stock import StockUse, in_use, prepare_from, supply, used_up
from growing.chain.path import Vessel
from growing.crops import library
from growing.shelves import shelf
from growing.shelves.company import Companion, conflicts
from growing.shelves.containers import containers

START = datetime(2026, 4, 12, 9, 0, tzinfo=UTC)


class Stages(TestCase):
    @given(st.lists(st.sampled_from([12, 24, 50]), min_size=1, max_size=4), st.data())
    def test_following_leads_through_every_stage_once_and_in_order(self, cells: list[int], data: st.DataObject) -> None:
        lines = [
            day.BenchLine(n, c, frozenset(data.draw(st.sets(st.sampled_from(["cover", "dib"])))))
            for n, c in enumerate(cells)
        ]
        done: frozenset[tuple[int | None, str]] = frozenset()
        order: list[tuple[int, str]] = []
        for _ in range(100):
            ahead = day.following("sow", lines, done, START)
            if ahead is None:
                break
            order.append((ahead.line, ahead.stage))
            done |= {(ahead.line, ahead.stage)}
        wanted = [(line.key, s) for line in lines for s in day.SOW_STAGES if s not in line.skips]
        self.assertEqual(sorted(order), sorted(wanted))
        for line in lines:
            mine = [s for key, s in order if key == line.key]
            self.assertEqual(mine, [s for s in day.SOW_STAGES if s in mine])
        stages = [day.SOW_STAGES.index(s) for _, s in order]
        self.assertEqual(stages, sorted(stages), "a stage goes across all trays")

    def test_a_tray_that_waits_is_passed_over_and_called_when_all_else_is_done(self) -> None:
        until = START + timedelta(hours=1)
        lines = [day.BenchLine(1, 10, waits={"seed": until}), day.BenchLine(2, 10)]
        done = frozenset((n, s) for n in (1, 2) for s in ("label", "fill", "firm", "dib"))
        self.assertEqual(day.following("sow", lines, done, START), day.NextStage(2, "seed"))
        done |= {(2, s) for s in ("seed", "cover", "mist", "place")}
        self.assertEqual(day.following("sow", lines, done, START), day.NextStage(1, "seed", until))
        self.assertEqual(day.following("sow", lines, done, until), day.NextStage(1, "seed"))

    def test_own_pace_moves_slowly_and_leaves_pauses_out(self) -> None:
        first = day.Done(1, 1, START, "label", 50)
        slow = [day.Done(1, 1, START + timedelta(minutes=20 * n), "seed", 50) for n in (1, 2, 3)]
        pace = day.own_pace([first, *slow])
        self.assertGreater(pace["seed"], 1.3)
        self.assertLess(pace["seed"], 2.0, "the estimate still counts")
        lunch = day.Done(1, 1, START + timedelta(hours=6), "seed", 50)
        self.assertEqual(day.own_pace([first, lunch]), {})
        self.assertEqual(day.own_pace([first, slow[0]._replace(by=2)]), {}, "another person's taps say nothing of mine")

    def test_minutes_left(self) -> None:
        lines = [day.BenchLine(1, 50), day.BenchLine(2, 50, frozenset({"cover"}))]
        left, whole = day.left("sow", lines, frozenset({(1, "seed")}), {})
        self.assertAlmostEqual(whole - left, day.expected("seed", 50))
        self.assertAlmostEqual(
            60 * 50 / day.left("sow", [day.BenchLine(1, 50)], frozenset(), {})[1], 105, delta=25
        )  # about 120 cells an hour


class Mixes(TestCase):
    @given(
        st.lists(st.tuples(st.text(string.ascii_letters, min_size=1), st.floats(0.1, 50)), min_size=1, max_size=8),
        st.floats(0.1, 500),
    )
    def test_parts_sum_to_the_litres(self, parts: list[tuple[str, float]], litres: float) -> None:
        found = weighed_out([list(p) for p in parts], [["lime", 2.0]], [], 0.0, litres)
        self.assertAlmostEqual(sum(m.amount for m in found if m.unit == "l"), litres, places=6)
        self.assertAlmostEqual(next(m.amount for m in found if m.unit == "g"), 2.0 * litres)

    def test_by_hand(self) -> None:
        found = weighed_out([["coir", 2], ["sand", 1]], [["lime", 1.5]], [["seaweed", 3]], 200, 9)
        self.assertEqual(
            [(m.name, round(m.amount, 2), m.unit) for m in found],
            [("coir", 6, "l"), ("sand", 3, "l"), ("lime", 13.5, "g"), ("seaweed", 27, "ml"), ("water", 1.8, "l")],
        )
        self.assertAlmostEqual(litres_for(50, 28), 1.568)

    def test_recipes_that_cannot_be(self) -> None:
        for parts, said in (
            ([], "1 to 12|one to"),
            ([["coir", 0]], "sum to nothing"),
            ([["coir", -1]], "0 or more"),
            ([["", 1]], "name"),
            ("coir", "one to"),
            ([["a", float("nan")]], "number"),
            ([["a", True]], "number"),
        ):
            self.assertRegex(wrong_parts(parts), said)
        self.assertEqual(wrong_parts([["coir", 2], ["air", 0]]), "")
        for litres in (0, -1, float("nan")):
            with self.assertRaises(ValueError):
                weighed_out([["coir", 1]], [], [], 0, litres)

    def test_no_heat_after_compost(self) -> None:
        self.assertIn("already", scald_wrong(False, True))
        self.assertIn("kills", scald_wrong(True, False))
        self.assertEqual(scald_wrong(False, False), "")


class Stocks(TestCase):
    def test_short_from_the_first_day_on_which_there_are_too_few(self) -> None:
        d = date(2026, 3, 1)
        uses = [StockUse(d, d + timedelta(days=30), 5), StockUse(d + timedelta(days=10), d + timedelta(days=20), 4)]
        found = supply(uses, d, 60, 7, 3)
        self.assertEqual(
            (found.most, found.most_on, found.short, found.short_from),
            (9, d + timedelta(days=10), 2, d + timedelta(days=10)),
        )
        self.assertEqual((found.clean, found.wash_by), (4, d))
        self.assertIsNone(supply(uses, d, 60, None).short_from, "nobody counted")

    @given(
        st.lists(
            st.builds(
                lambda a, b, n: StockUse(
                    date(2026, 1, 1) + timedelta(days=a), date(2026, 1, 1) + timedelta(days=a + b), n
                ),
                st.integers(-20, 80),
                st.integers(0, 40),
                st.integers(1, 9),
            )
        )
    )
    def test_in_use_day_by_day(self, uses: list[StockUse]) -> None:
        start = date(2026, 1, 1)
        got = in_use(uses, start, 90)
        plain = [sum(u.count for u in uses if u.since <= start + timedelta(days=k) < u.until) for k in range(90)]
        self.assertEqual([round(v) for v in got], plain)

    def test_mix_does_not_come_back(self) -> None:
        d = date(2026, 3, 1)
        found = used_up([(d, 20.0), (d + timedelta(days=5), 30.0)], d, 40)
        self.assertEqual((found.short, found.short_from), (10, d + timedelta(days=5)))
        self.assertEqual(prepare_from([d + timedelta(days=20), d - timedelta(days=1)], d), d + timedelta(days=6))


class Labels(TestCase):
    def test_sheets_fit_their_pages(self) -> None:
        for name, sheet in SHEETS.items():
            for n in range(sheet.labels):
                left, top = sheet.at(n)
                self.assertLessEqual(left + sheet.width, sheet.page[0] + 0.01, name)
                self.assertLessEqual(top + sheet.height, sheet.page[1] + 0.01, name)

    def test_sizes_that_cannot_be(self) -> None:
        for width, height, said in (
            (210, 20, "does not fit the page"),
            (5, 20, "too small"),
            (float("nan"), 20, "too small"),
            (50, 297, "does not fit"),
        ):
            with self.assertRaisesRegex(ValueError, said):
                own_sheet(width, height, A4)
        self.assertEqual(own_sheet(60, 20).labels, 3 * 14)

    def test_no_more_labels_than_cells(self) -> None:
        most(24, 24)
        for count in (25, 0, -1):
            with self.assertRaises(ValueError):
                most(24, count)

    def test_a_strip_under_a_lid_stands_over(self) -> None:
        self.assertEqual(stands_over(SHEETS["strips"], 0.0, 6.0), 3.0)
        self.assertEqual(stands_over(SHEETS["a4_24"], 0.0, 1.0), 0.0)

    @given(st.sampled_from("BTP"), st.integers(1, 10**9))
    def test_codes_are_read_back_and_every_slip_is_found(self, kind: str, number: int) -> None:
        made = code(kind, number)
        self.assertEqual(read_code(made.lower().replace("-", " ")), (kind, number))
        plain = made.replace("-", "")
        for n in range(1, len(plain)):
            wrong = plain[:n] + SIGNS[(SIGNS.index(plain[n]) + 1) % len(SIGNS)] + plain[n + 1 :]
            with self.assertRaises(ValueError):
                read_code(wrong)


class Shelves(TestCase):
    @given(st.lists(st.tuples(st.floats(5, 60), st.floats(5, 60)), max_size=8), st.one_of(st.none(), st.floats(0, 150)))
    def test_what_finds_room_overlaps_nothing_and_stands_inside(
        self, sizes: list[tuple[float, float]], near: float | None
    ) -> None:
        taken: list[Rect] = []
        for long_, deep in sizes:
            spot = shelf.free_place(long_, deep, 120, 56, taken, near)
            if spot is not None:
                rect = Rect(*spot, long_, deep)
                self.assertEqual(shelf.wrong_place(rect, 120, 56, [("it", r) for r in taken]), "")
                taken.append(rect)

    def test_a_tray_larger_than_the_shelf(self) -> None:
        self.assertIsNone(shelf.free_place(130, 20, 120, 56, []))
        self.assertIn("does not fit", shelf.wrong_place(Rect(0, 0, 130, 20), 120, 56, []))
        self.assertIn("over the edge", shelf.wrong_place(Rect(100, 0, 28, 54), 120, 56, []))

    def test_days_until_leaves_touch(self) -> None:
        crop = library()["tomato"]
        grown = shelf.growth(crop, date(2026, 4, 1), date(2026, 4, 12))
        self.assertGreater(grown.height_cm, 1)
        room = shelf.headroom("Tomato", grown, 6, 6 + grown.height_cm + 3 * grown.cm_a_day, "lamp")
        self.assertEqual(room.days, 3)
        self.assertEqual(shelf.headroom("Tomato", grown, 6, 4, "lamp").days, 0)


class Company(TestCase):
    def companion(self, key: str, half_up_in: float, high: float = 0.0) -> Companion:
        crop = library()[key]
        return Companion(key, crop.name, crop, half_up_in, high)

    def kinds(self, shared: str, *company: Companion, set_c: float | None = None) -> set[str]:
        return {c.kind for c in conflicts(shared, company, set_c)}

    def test_warm_and_cool_seed_on_one_mat(self) -> None:
        self.assertIn("warmth", self.kinds("mat", self.companion("pepper", 9), self.companion("lettuce", 4)))
        self.assertEqual(self.kinds("mat", self.companion("tomato", 7), self.companion("tomato", 6)), set())

    def test_the_quick_one_grows_leggy(self) -> None:
        found = conflicts("mat", [self.companion("tomato", 0), self.companion("pepper", 5)], None)
        self.assertEqual({c.kind for c in found}, {"speed_mat"})
        self.assertEqual(found[0].one.name, library()["pepper"].name)

    def test_light_and_dark_in_one_tray(self) -> None:
        dark = next(k for k, c in library().items() if c.word("light") == "dark")
        self.assertIn("light", self.kinds("tray", self.companion("lettuce", 5), self.companion(dark, 5)))

    def test_tall_and_short_under_a_lamp(self) -> None:
        self.assertIn("height", self.kinds("lamp", self.companion("onion", 0, 22), self.companion("lettuce", 0, 8)))
        self.assertEqual(self.kinds("lamp", self.companion("onion", 0, 10), self.companion("leek", 0, 8)), set())

    def test_a_mat_set_too_warm(self) -> None:
        self.assertIn("set", self.kinds("mat", self.companion("lettuce", 5), set_c=30.0))

    def test_a_place_with_room_is_said(self) -> None:
        found = conflicts("mat", [self.companion("pepper", 9), self.companion("lettuce", 4)], None, "R2·2")
        self.assertTrue(all(not c.working.rule.endswith("_nowhere") for c in found))


class Paths(TestCase):
    def vessel(self, key: str) -> Vessel:
        return Vessel(key, containers()[key])

    def test_small_cells_need_a_pot_and_large_ones_hold(self) -> None:
        crop, sow = library()["tomato"], date(2026, 3, 20)
        up, out = sow + timedelta(days=7), date(2026, 5, 25)
        small = rival(crop, [self.vessel("flat_128"), self.vessel("pot_9_round")], sow, up, out, 20, 10)
        alone = rival(crop, [self.vessel("flat_128")], sow, up, out, 20, 10)
        self.assertEqual((small.moves, alone.moves), (1, 0))
        self.assertGreater(alone.short_days, 0, "a small cell does not carry it")
        self.assertGreater(small.litres, alone.litres)
        self.assertGreater(small.mat_week, rival(crop, [self.vessel("flat_50")], sow, up, out, 20, 10).mat_week)

    def test_rivals_differ_and_those_that_carry_come_first(self) -> None:
        crop, sow = library()["tomato"], date(2026, 3, 20)
        firsts = [self.vessel(k) for k in ("flat_50", "flat_72", "flat_128")]
        pots = [self.vessel(k) for k in ("pot_9_round", "pot_13_round")]
        found = rivals(crop, firsts, pots, sow, sow + timedelta(days=7), date(2026, 5, 25), 20, 10)
        self.assertEqual(len({r.keys for r in found}), len(found))
        short = [r.short_days > 0 for r in found]
        self.assertEqual(short, sorted(short))
        for one in found:
            trays = sum(
                (s.until - s.since).days
                * (20 if n == 0 else 10)
                / s.vessel.measures.cells
                * s.vessel.measures.length_cm
                * s.vessel.measures.width_cm
                / (28 * 54)
                for n, s in enumerate(one.standings)
                if s.vessel is not None
            )
            self.assertAlmostEqual(one.room_days, trays, places=6)
