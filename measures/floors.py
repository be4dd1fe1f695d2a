"""What each measure is held against: the least work that gives the same result.  Imports nothing of the code measured."""

from __future__ import annotations

import csv
import io
import json
import tomllib
from collections.abc import Callable
from datetime import date
from typing import Any


def rebuild_trees(results: list[dict[str, Any]], working: Callable[..., Any], value: Callable[..., Any]) -> list[Any]:
    """Build every tree of `results` again, field by field, from constants (no arithmetic, no look-ups)."""

    def tree(node: Any) -> Any:
        inputs = tuple(value(v[0], v[1], v[2], v[3]) for v in node[1])
        result = node[3]
        return working(
            node[0], inputs, tuple(tree(s) for s in node[2]), value(result[0], result[1], result[2], result[3])
        )

    return [{name: tree(node) for name, node in one.items()} for one in results]


def render(template: Any, context: dict[str, Any], request: Any) -> str:
    """The same template from a ready context: no queries, no rules."""
    return str(template.render(context, request))


def parse_weather(data: bytes) -> tuple[list[Any], list[float], list[float]]:
    """The csv reader, a date and two numbers a row; nothing detected, nothing checked."""
    rows = csv.reader(io.StringIO(data.decode()))
    next(rows)
    days, low, high = [], [], []
    for day, tmin, tmax in rows:
        days.append(date.fromisoformat(day))
        low.append(float(tmin))
        high.append(float(tmax))
    return days, low, high


def roundtrip(document: Any, tables: list[tuple[Any, list[dict[str, Any]]]]) -> None:
    """The document dumped and loaded, and as many rows created from constants."""
    json.loads(json.dumps(document))
    for model, rows in tables:
        model._base_manager.bulk_create([model(**row) for row in rows], batch_size=500)


def load_toml(paths: list[Any]) -> list[Any]:
    return [tomllib.loads(path.read_text(encoding="utf-8")) for path in paths]
