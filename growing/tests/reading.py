"""Reading a working, as a person would: for tests alone, results are typed numbers beside it."""

from __future__ import annotations

from growing.working import Amount, Working


def shown(working: Working, name: str) -> Amount:
    """The number of the input of that name; None where the rule shows no such input."""
    return next((value.number for value in working.inputs if value.name == name), None)
