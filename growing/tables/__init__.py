"""Tables of germination, seed life and containers, as CSV with their sources in the first lines."""

from __future__ import annotations

import csv
from functools import lru_cache
from pathlib import Path


@lru_cache(maxsize=8)
def rows(name: str) -> dict[str, dict[str, str]]:
    """The table's rows by its first column; cells stay text ("NG", "" and numbers mean different things)."""
    text = (Path(__file__).parent / f"{name}.csv").read_text(encoding="utf-8")
    lines = [line for line in text.splitlines() if line and not line.startswith("#")]
    reader = csv.DictReader(lines)
    first = (reader.fieldnames or [""])[0]
    return {row[first]: row for row in reader}
