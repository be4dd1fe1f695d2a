"""Whatever two people do with trays, plants are neither lost nor made, each stays what it is, and all of it can be taken back."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from random import Random
from typing import Any

from aestiva.bench import tray_actions
from aestiva.bench.tests.test_trays import SOWN, TrayCase
from aestiva.frame.tests.garden import TODAY, user
from aestiva.gardens.models import JournalEntry, Member
from aestiva.gardens.outcomes import CannotUndo, Refused, Stale
from aestiva.gardens.undo import undo
from aestiva.season.contents import contents_of, marks_in, open_runs
from aestiva.season.ledgers import balance_of
from aestiva.season.models import Batch, BatchEvent, BatchLink, CellRun, Tray, TrayStand
from growing.bench.cells import GROWS, NEVER, SMALL, SPENT, STATES, STRONG, UP, disagreement, together, uneven

STEPS = 60
ROWS = (Batch, BatchEvent, BatchLink, CellRun, Tray, TrayStand)


class Walk:
    """Two people and their trays; every step is one of the things that hands do, or its undoing."""

    def __init__(self, case: TrayCase, seed: int) -> None:
        self.case, self.random, self.garden = case, Random(seed), case.garden
        second = user("finch")
        Member.objects.create(garden=case.garden, user=second, role="grower")
        self.people = [case.owner, second]
        self.done: Counter[str] = Counter()
        self.stale: dict[int, str] = {}

    def trays(self) -> list[Tray]:
        return list(Tray.objects.filter(garden=self.garden).order_by("pk"))

    def held(self, tray: Tray) -> dict[int, tuple[int, str]]:
        return contents_of(open_runs(tray))

    def step(self) -> None:
        who, tray = self.random.choice(self.people), self.random.choice(self.trays())
        held = self.held(tray)
        act: Callable[[Any, Tray, dict[int, tuple[int, str]], str], str] = self.random.choice(
            (
                self.mark,
                self.mark,
                self.mark,
                self.lift,
                self.lift,
                self.again,
                self.regroup,
                self.together,
                self.merge,
                self.clear,
                self.turn,
                self.back,
                self.delete,
            )
        )
        seen = self.stale.get(tray.pk, "") if self.random.random() < 0.15 else str(tray.revision)
        self.stale.setdefault(tray.pk, str(tray.revision))
        try:
            name = act(who, tray, held, seen or str(tray.revision))
        except Refused:
            name = "refused"
        except Stale:
            name = "overtaken"
        except CannotUndo:
            name = "stays"
        self.done[name] += 1

    def some(self, cells: list[int]) -> list[int]:
        if not cells:
            raise Refused("cells", "none")
        return sorted(self.random.sample(cells, self.random.randint(1, min(5, len(cells)))))

    def mark(self, who: Any, tray: Tray, held: dict[int, tuple[int, str]], seen: str) -> str:
        state = self.random.choice((UP, UP, STRONG, SMALL, NEVER, ".", "d"))
        cells = self.some([c for c, (_, m) in held.items() if m not in SPENT])
        tray_actions.mark(self.garden, who, tray, cells, state, TODAY, "", seen)
        return "marked"

    def lift(self, who: Any, tray: Tray, held: dict[int, tuple[int, str]], seen: str) -> str:
        cells = self.some([c for c, (_, m) in held.items() if m in GROWS])
        cells = [c for c in cells if held[c][0] == held[cells[0]][0]]
        target = self.random.choice([*self.trays(), None])
        tray_actions.lift(
            self.garden,
            who,
            tray,
            cells,
            target,
            TODAY,
            "",
            seen,
            self.random.random() < 0.4,
            self.case.flat,
            self.case.shelf,
        )
        return "lifted"

    def again(self, who: Any, tray: Tray, held: dict[int, tuple[int, str]], seen: str) -> str:
        tray_actions.sow_again(
            self.garden, who, tray, self.some([c for c, (_, m) in held.items() if m in SPENT]), 1, TODAY, "", seen
        )
        return "sown again"

    def regroup(self, who: Any, tray: Tray, held: dict[int, tuple[int, str]], seen: str) -> str:
        split = uneven(held)
        if split is None or len({held[c][0] for c in split.short}) != 1:
            raise Refused("", "even")
        tray_actions.lift(
            self.garden, who, tray, split.short, None, TODAY, "", seen, False, self.case.flat, self.case.shelf
        )
        return "regrouped"

    def together(self, who: Any, tray: Tray, held: dict[int, tuple[int, str]], seen: str) -> str:
        mine = {t.pk: (t.cells, self.held(t)) for t in self.trays()}
        tray_actions.shift(self.garden, who, together(mine), TODAY, "", {}, "Set together")
        return "set together"

    def merge(self, who: Any, tray: Tray, held: dict[int, tuple[int, str]], seen: str) -> str:
        batches = list(
            Batch.objects.filter(pk__in={b for b, m in held.values() if m not in SPENT}).select_related("planting")
        )
        tray_actions.merge(self.garden, who, batches, TODAY, "")
        return "merged"

    def clear(self, who: Any, tray: Tray, held: dict[int, tuple[int, str]], seen: str) -> str:
        tray_actions.clear(
            self.garden, who, tray, self.some([c for c, (_, m) in held.items() if m in SPENT]), TODAY, "", seen
        )
        return "cleared"

    def turn(self, who: Any, tray: Tray, held: dict[int, tuple[int, str]], seen: str) -> str:
        tray_actions.turn(self.garden, who, tray, 1, TODAY, "", seen)
        return "turned"

    def delete(self, who: Any, tray: Tray, held: dict[int, tuple[int, str]], seen: str) -> str:
        tray_actions.delete(self.garden, who, tray, TODAY, "", seen)
        return "put away"

    def back(self, who: Any, tray: Tray, held: dict[int, tuple[int, str]], seen: str) -> str:
        entry = (
            JournalEntry.objects.filter(garden=self.garden, undone_by__isnull=True, undoes__isnull=True)
            .order_by("-pk")
            .first()
        )
        if entry is None or entry.pk <= self.began:
            raise Refused("", "nothing")
        undo(entry, who)
        return "taken back"

    began = 0


class Identity(TrayCase):
    def state(self) -> dict[str, Any]:
        found: dict[str, Any] = {}
        for model in ROWS:
            for row in model.objects.order_by("pk").values():
                found[f"{model.__name__} {row['id']}"] = {k: v for k, v in row.items() if k != "revision"}
        return found

    def check(self, walk: Walk) -> None:
        moved_out = moved_in = 0
        for batch in Batch.objects.select_related("planting"):
            a, wrong, error = balance_of(batch)
            self.assertIsNone(wrong, error)
            there = (a.emerged or 0) + a.received
            if a.indoors is not None:
                self.assertEqual(there, a.thinned + a.died + a.given + a.moved + a.planted + a.indoors, batch)
            if a.sown is not None:
                self.assertEqual(a.sown, (a.emerged or 0) + a.never_up + (a.waiting or 0), batch)
            moved_out, moved_in = moved_out + a.moved, moved_in + a.received
            self.assertEqual(batch.planting_id, self.planting)
            for link in batch.links_in.all():
                alike = (link.parent.lot_id, link.parent.sown_on) == (batch.lot_id, batch.sown_on)
                self.assertTrue(alike or link.count == 0, "plants stay of the packet and day they are of")
        self.assertEqual(moved_out, moved_in, "what leaves one batch is in another")
        marks: dict[int, list[str]] = {}
        for tray in Tray.objects.all():
            runs = list(tray.runs.filter(until=None))
            cells = [c for r in runs for c in range(r.first, r.first + r.count)]
            self.assertEqual(len(cells), len(set(cells)), "no cell is booked twice")
            self.assertTrue(all(1 <= c <= tray.cells for c in cells))
            for run in runs:
                self.assertTrue(set(run.marks) <= set(STATES))
                marks.setdefault(run.batch_id, []).extend(marks_in(run))
        self.differs = []
        for pk, own in marks.items():
            batch = Batch.objects.get(pk=pk)
            a, _, _ = balance_of(batch)
            if (found := disagreement(pk, own, a, batch.per_cell == 1)) is not None:
                self.differs.append(found)

    def run_walk(self, seed: int) -> Walk:
        _, batch = self.filled("tomato", 16)
        self.planting = batch.planting_id
        self.tray("T60")
        self.tray("T61", 6, None)
        walk = Walk(self, seed)
        last = JournalEntry.objects.filter(garden=self.garden).order_by("-pk").first()
        assert last is not None
        walk.began = last.pk
        before = self.state()
        for _ in range(STEPS):
            walk.step()
            self.check(walk)
            for one in self.differs:
                where = CellRun.objects.filter(batch=one.batch, until=None).first()
                assert where is not None
                page = self.client.get(self.url(f"bench/tray/{where.tray_id}/")).content.decode()
                self.assertIn(
                    f"The map shows <b>{one.marked}</b> plants of it, what was written down <b>{one.counted}</b>", page
                )
        entries = JournalEntry.objects.filter(
            garden=self.garden, pk__gt=walk.began, undone_by__isnull=True, undoes__isnull=True
        ).order_by("-pk")
        for entry in list(entries):
            undo(entry, self.owner)
        self.assertEqual(self.state(), before, "all of it can be taken back")
        self.assertEqual(accounts_sown(batch), (batch.cells, SOWN))
        return walk

    def test_a_walk(self) -> None:
        done = self.run_walk(14).done
        self.assertTrue(
            {"marked", "lifted", "sown again", "regrouped", "set together", "taken back", "overtaken"} <= set(done)
        )

    def test_another_walk(self) -> None:
        self.assertTrue({"merged", "lifted", "sown again", "put away"} <= set(self.run_walk(15).done))


def accounts_sown(batch: Batch) -> tuple[int | None, Any]:
    a, _, _ = balance_of(batch)
    return a.sown, batch.sown_on
