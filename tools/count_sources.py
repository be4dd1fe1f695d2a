"""Writes the counts of docs/sources.md anew from the crop library, and its table of estimates from `growing/assumptions.toml`."""

from __future__ import annotations

import re
import sys
from collections import Counter
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from growing.assumptions import Assumption, assumptions  # noqa: E402
from growing.crops import library  # noqa: E402
from growing.practices import BY_FIELD  # noqa: E402

TITLE = "## Estimates of the rules (`growing/assumptions.toml`)\n"


def table() -> str:
    """A row an estimate, by what it moves."""
    said = """
Numbers that nobody measured here, each with the range in which the truth may well lie, and the result that answers to it: a test
moves each within its range and sees that result change.  Of several numbers, the range is what each may be less or more.

| moves | estimate | value | range |
|---|---|---|---|
"""
    rows = sorted(assumptions().values(), key=lambda one: (one.moves, one.name))
    return said + "".join(
        f"| {one.moves} | {one.what} | {value(one)} | {one.low:g} to {one.high:g} |\n" for one in rows
    )


def value(one: Assumption) -> str:
    if one.single:
        return f"{one.value:g} {one.unit}"
    if isinstance(one.value, tuple):
        return ", ".join(f"{number:g}" for number in one.value) + f" {one.unit}"
    pairs = ((key, of if isinstance(of, tuple) else (of,)) for key, of in one.value.items())
    return ", ".join(f"{key} {' and '.join(f'{number:g}' for number in of)}" for key, of in pairs) + f" {one.unit}"


page = ROOT / "docs" / "sources.md"
text = page.read_text(encoding="utf-8")
for kind, count in Counter(
    v.source.split(":")[0] for c in library().values() for v in c.values.values() if v.name not in BY_FIELD
).items():
    text = re.sub(rf"^(\| {kind} \|.*\| )\d+ \|$", rf"\g<1>{count} |", text, flags=re.M)
head, _, _ = text.partition(TITLE)
page.write_text(head.rstrip() + "\n\n" + TITLE + table(), encoding="utf-8")
