"""What each measure is held against: the least work that gives the same result.  Imports nothing of the code measured."""

from __future__ import annotations

from collections.abc import Callable
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
