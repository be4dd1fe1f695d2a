"""Cells of a tray: names from the marked corner, what was seen in them, setting half-empty trays together."""

from __future__ import annotations

import itertools
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from growing.batch.ledger import accounts
from growing.bench.cells import (
    DIED,
    LYING,
    MOVED,
    NEVER,
    SMALL,
    SPENT,
    STRONG,
    UNSEEN,
    UP,
    Grid,
    cells_named,
    disagreement,
    grid_of,
    listed,
    seen,
    segments,
    together,
    uneven,
)  # fmt: skip

GRIDS = st.builds(lambda rows, columns: Grid(rows * columns, columns), st.integers(1, 30), st.integers(1, 30))


class Names(TestCase):
    def test_a_flat_of_fifty_has_five_rows_of_ten(self) -> None:
        grid = grid_of(50)
        self.assertEqual((grid.columns, grid.rows), (10, 5))
        self.assertEqual([grid.name(n) for n in (1, 10, 11, 50)], ["A1", "A10", "B1", "E10"])

    def test_common_flats_are_as_they_are_made(self) -> None:
        for cells, columns in ((128, 16), (72, 12), (24, 6), (6, 3)):
            self.assertEqual(grid_of(cells).columns, columns, cells)
        self.assertEqual(grid_of(20, 50, 28, "row_flat").rows, 1)

    def test_rows_blocks_and_single_cells_are_read(self) -> None:
        grid = Grid(50, 10)
        self.assertEqual(cells_named("A7", grid), [7])
        self.assertEqual(cells_named("b", grid), list(range(11, 21)))
        self.assertEqual(cells_named("A–B", grid), list(range(1, 21)))
        self.assertEqual(cells_named("A9:B10, C1", grid), [9, 10, 19, 20, 21])

    def test_what_is_no_cell_is_named(self) -> None:
        grid = Grid(50, 10)
        for text, said in (
            ("A11", "beyond the tray"),
            ("F1", "A1 to E10"),
            ("7A", "no cell"),
            ("A1–B", "mixes"),
            ("", "at least one"),
            ("A1-B2-C3", "no cell"),
        ):
            with self.assertRaisesRegex(ValueError, said):
                cells_named(text, grid)

    @given(GRIDS, st.data())
    def test_what_is_said_is_read_back(self, grid: Grid, data: st.DataObject) -> None:
        cells = data.draw(st.sets(st.integers(1, grid.cells), min_size=1))
        self.assertEqual(cells_named(listed(cells, grid), grid), sorted(cells))

    @given(GRIDS, st.integers(0, 7))
    def test_a_turn_keeps_every_cell(self, grid: Grid, turns: int) -> None:
        columns, rows = grid.size(turns)
        at = {grid.at(cell, turns) for cell in range(1, grid.cells + 1)}
        self.assertEqual(len(at), grid.cells)
        self.assertTrue(all(0 <= c < columns and 0 <= r < rows for c, r in at))
        self.assertEqual(
            [grid.at(c, turns + 4) for c in range(1, grid.cells + 1)],
            [grid.at(c, turns) for c in range(1, grid.cells + 1)],
        )


class Contents(TestCase):
    @given(st.dictionaries(st.integers(1, 60), st.tuples(st.integers(1, 4), st.sampled_from("?.uswxd>"))))
    def test_runs_hold_what_the_cells_held(self, contents: dict[int, tuple[int, str]]) -> None:
        found = segments(contents)
        back = {cell: (s.batch, s.marks[n]) for s in found for n, cell in enumerate(s.cells)}
        self.assertEqual(back, contents)
        for one, other in itertools.pairwise(found):
            self.assertFalse(
                one.batch == other.batch and one.cells[-1] + 1 == other.first, "neighbours of one batch are one run"
            )

    @given(
        st.lists(
            st.tuples(st.integers(1, 30), st.sets(st.integers(1, 30)), st.sets(st.integers(1, 30))),
            min_size=1,
            max_size=6,
        )
    )
    def test_set_together_nothing_is_lost_and_no_cell_is_booked_twice(
        self, drawn: list[tuple[int, set[int], set[int]]]
    ) -> None:
        trays = {}
        for n, (cells, alive, spent) in enumerate(drawn):
            held = {c: (n, UP) for c in alive if c <= cells} | {c: (n, NEVER) for c in spent - alive if c <= cells}
            trays[n] = (cells, held)
        moves = together(trays)
        after = {n: {c: v for c, v in held.items() if v[1] not in SPENT} for n, (_, held) in trays.items()}
        before = sum(map(len, after.values()))
        for m in moves:
            what = after[m.tray].pop(m.cell)
            self.assertNotIn(m.to_cell, after[m.to_tray])
            self.assertLessEqual(m.to_cell, trays[m.to_tray][0])
            after[m.to_tray][m.to_cell] = what
        self.assertEqual(sum(map(len, after.values())), before)
        if moves:
            self.assertLess(
                sum(bool(h) for h in after.values()),
                sum(any(v[1] not in SPENT for v in h.values()) for _, h in trays.values()),
            )

    def test_tall_and_short_are_named_where_both_are_many(self) -> None:
        held = {n: (1, SMALL if n in (2, 5, 8) else STRONG) for n in range(1, 13)}
        found = uneven(held)
        assert found is not None
        self.assertEqual((found.short, len(found.tall)), ((2, 5, 8), 9))
        self.assertIsNone(uneven(held | {2: (1, UP), 5: (1, UP)}))


class Looks(TestCase):
    """A look at cells says to the accounts only what they do not know."""

    def test_first_plants_seen(self) -> None:
        a = accounts([("sown", 10, False)])
        found = seen({1: LYING, 2: LYING}, {1: UP, 2: UP}, [UP, UP, *[LYING] * 8], a, 1)
        self.assertEqual((found.up, found.never_up, found.died), (2, 0, 0))

    def test_what_was_counted_already_is_not_said_twice(self) -> None:
        a = accounts([("sown", 10, False), ("up", 6, False)])
        found = seen({1: UNSEEN}, {1: UP}, [UP, *[UNSEEN] * 9], a, 1)
        self.assertFalse(found.anything)

    def test_seed_that_will_not_come_and_plants_that_died(self) -> None:
        a = accounts([("sown", 10, False), ("up", 6, False)])
        found = seen({1: UP, 2: LYING}, {1: DIED, 2: NEVER}, [DIED, NEVER, *[UP] * 5, *[LYING] * 3], a, 1)
        self.assertEqual((found.up, found.never_up, found.died), (None, 1, 1))

    def test_no_more_die_than_there_are(self) -> None:
        a = accounts([("sown", 4, False), ("up", 1, False)])
        found = seen({1: UP, 2: UP}, {1: DIED, 2: DIED}, [DIED, DIED, LYING, LYING], a, 1)
        self.assertEqual((found.up, found.died), (2, 2))

    def test_map_and_accounts_that_differ(self) -> None:
        a = accounts([("sown", 4, False), ("up", 3, False)])
        self.assertIsNone(disagreement(7, [UP, UP, UP, LYING], a, True))
        found = disagreement(7, [UP, UP, LYING, LYING], a, True)
        assert found is not None
        self.assertEqual((found.marked, found.counted), (2, 3))
        self.assertIsNone(disagreement(7, [UP, UNSEEN, LYING, LYING], a, True), "nobody looked at one of them")
        self.assertIsNone(disagreement(7, [UP, MOVED], a, False), "a cell that is no single plant")
