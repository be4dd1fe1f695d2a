"""Every estimate moved within its range: the result that it names answers, and no estimate is written anywhere else."""

from __future__ import annotations

import ast
import functools
import importlib
import inspect
import pkgutil
import re
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from types import ModuleType
from unittest import TestCase, mock

import growing
from growing.assumptions import Assumption, AssumptionError, assumptions, by_kind, real, shown, whole
from growing.ladders import ahead
from growing.tests.results import RESULTS

ROOT = Path(growing.__file__).parent
MODULES: dict[str, ModuleType] = {
    name: importlib.import_module(name)
    for _, name, _ in pkgutil.walk_packages([str(ROOT)], "growing.")
    if ".tests" not in name and not name.endswith("__main__")
}


def homes() -> dict[tuple[str, str], list[tuple[ModuleType, str]]]:
    """Where each name of a module is known: at home, and where it is imported."""
    found: dict[tuple[str, str], list[tuple[ModuleType, str]]] = {}
    for name, module in MODULES.items():
        for node in ast.walk(ast.parse(Path(module.__file__ or "").read_text(encoding="utf-8"))):
            if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("growing."):
                for alias in node.names:
                    found.setdefault((node.module or "", alias.name), []).append((module, alias.asname or alias.name))
        for attribute in vars(module):
            found.setdefault((name, attribute), []).append((module, attribute))
    return found


HOMES = homes()
CACHES = [  # those without an argument hold files that were read
    one
    for module in MODULES.values()
    for one in vars(module).values()
    if isinstance(one, functools._lru_cache_wrapper) and inspect.signature(one).parameters
]


def forget() -> None:
    for one in CACHES:
        one.cache_clear()
    ahead._found.clear()


@contextmanager
def taken_as(one: Assumption, value: object) -> Iterator[None]:
    """All rules that know the estimate take it as that."""
    module, _, name = one.name.rpartition(".")
    with ExitStack() as stack:
        for where, known_as in HOMES[f"growing.{module}", name]:
            stack.enter_context(mock.patch.object(where, known_as, value))
        forget()
        yield
    forget()


class Estimates(TestCase):
    def test_each_moved_within_its_range_moves_what_it_names(self) -> None:
        forget()
        now = {name: result() for name, result in RESULTS.items()}
        for one in assumptions().values():
            with self.subTest(one.name, moves=one.moves):
                ends = []
                for up in (False, True):
                    with taken_as(one, one.moved(up)):
                        ends.append(RESULTS[one.moves]())
                self.assertTrue(any(repr(end) != repr(now[one.moves]) for end in ends))

    def test_every_result_is_moved_by_one(self) -> None:
        self.assertEqual(set(RESULTS), {one.moves for one in assumptions().values()})

    def test_each_is_said_whole(self) -> None:
        for one in assumptions().values():
            with self.subTest(one.name):
                module, _, name = one.name.rpartition(".")
                self.assertEqual(getattr(MODULES[f"growing.{module}"], name), one.value)
                self.assertTrue(one.what and one.source and one.unit)
                if one.single:
                    self.assertTrue(one.low <= one.value <= one.high and one.low < one.high)
                else:
                    self.assertTrue(one.low <= 0 <= one.high and one.low < one.high)
                shown("x", one.name)

    def test_no_number_in_the_code_calls_itself_an_estimate(self) -> None:
        written = re.compile(r"^[A-Z][A-Z_, ]* = .*\d.*#.*\bestimates?\b", re.M)
        for name, module in MODULES.items():
            with self.subTest(name):
                self.assertEqual(written.findall(Path(module.__file__ or "").read_text(encoding="utf-8")), [])

    def test_the_page_of_sources_lists_them(self) -> None:
        page = (ROOT.parent / "docs" / "sources.md").read_text(encoding="utf-8")
        for one in assumptions().values():
            row = next((line for line in page.splitlines() if line.startswith(f"| {one.moves} | {one.what} |")), "")
            self.assertTrue(row.endswith(f"| {one.low:g} to {one.high:g} |"), f"{one.name}: `make sources`")

    def test_what_is_not_there_or_of_another_kind_is_named(self) -> None:
        for ask, name in (
            (whole, "batch.climb.NOTHING"),
            (real, "batch.climb.BARE_DAYS"),
            (by_kind, "batch.climb.BARE_DAYS"),
        ):
            with self.assertRaisesRegex(AssumptionError, name):
                ask(name)
