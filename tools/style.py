"""`make style`: how long modules and functions are, and which public names of the rules say nothing of themselves."""

from __future__ import annotations

import ast
import sys
from collections.abc import Iterator
from pathlib import Path
from statistics import median, quantiles

PARTS = ("growing", "aestiva", "demo")
LIMITS = {"module": (120, 300), "function": (8, 25)}  # lines: median, nine in ten
Named = ast.FunctionDef | ast.AsyncFunctionDef | ast.ClassDef


def modules() -> Iterator[tuple[Path, str]]:
    """Modules of the product that hold something; tests and migrations are measured elsewhere."""
    for part in PARTS:
        for path in sorted(Path(part).rglob("*.py")):
            text = path.read_text(encoding="utf-8")
            if not {"tests", "migrations"} & set(path.parts) and text.strip():
                yield path, text


def functions(tree: ast.Module) -> Iterator[int]:
    """Lines of each function."""
    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
            yield (node.end_lineno or node.lineno) - node.lineno + 1


def silent(tree: ast.Module) -> Iterator[str]:
    """Public names at the top of a module without a docstring."""
    for node in tree.body:
        if isinstance(node, Named) and not node.name.startswith("_") and not ast.get_docstring(node):
            yield node.name


def main() -> int:
    lengths: dict[str, list[int]] = {"module": [], "function": []}
    longest, unsaid = [], []
    for path, text in modules():
        tree = ast.parse(text)
        lengths["module"].append(len(text.splitlines()))
        longest.append((lengths["module"][-1], str(path)))
        lengths["function"] += functions(tree)
        if path.parts[0] == "growing":
            unsaid += [f"{path}: {name}" for name in silent(tree)]
    good = not unsaid
    for what, (middle, most) in LIMITS.items():
        half, ninth = median(lengths[what]), quantiles(lengths[what], n=10)[-1]
        ok = half <= middle and ninth <= most
        good &= ok
        print(
            f"STYLE {what} {len(lengths[what])}: median {half:.0f} (≤ {middle}), p90 {ninth:.0f} (≤ {most}) {'ok' if ok else 'over'}"
        )
    print("STYLE longest:", ", ".join(f"{path} {lines}" for lines, path in sorted(longest, reverse=True)[:5]))
    print(f"STYLE public names of the rules without a docstring: {len(unsaid)}")
    print(*unsaid, sep="\n")
    return 0 if good else 1


if __name__ == "__main__":
    sys.exit(main())
