"""Which number is meant?  Decimal commas, thousands, and a word behind it; nothing is rounded and nothing made up."""

from __future__ import annotations

import re

_NUMBER = re.compile(
    r"(?:[~≈]|ca\.?|about)?\s*([−+-]?\d[\d.,' \u202f\u00a0]*)(?:\s+[a-z%°][^\d]*|\s*°?[cf]|\s*%|k?g|oz|cm|mm|x)?", re.I
)


def read_number(text: str) -> float | None:
    """The number; None where it is none.

    “1,5” and “1.5” are one and a half; “1,234.5”, “1.234,5” and “1 234” hold thousands; “12 plants” is twelve.  A comma before
    three figures alone (“1,234”) is one of thousands.
    """
    found = _NUMBER.fullmatch(text.strip()[:60])
    if found is None:
        return None
    figures = re.sub(r"[' \u202f\u00a0]", "", found[1]).replace("−", "-").rstrip(".,")
    comma, point = figures.rfind(","), figures.rfind(".")
    if comma >= 0 and point >= 0:
        thousands = "," if point > comma else "."
        figures = figures.replace(thousands, "")
    elif comma >= 0 and re.fullmatch(r"[+-]?\d{1,3}(,\d{3})+", figures):
        figures = figures.replace(",", "")
    elif point >= 0 and re.fullmatch(r"[+-]?\d{1,3}(\.\d{3}){2,}", figures):
        figures = figures.replace(".", "")
    try:
        return float(figures.replace(",", "."))
    except ValueError:
        return None


def read_whole(text: str) -> int | None:
    """A whole number; None where it is none, or has decimals."""
    number = read_number(text)
    return int(number) if number is not None and number == int(number) and abs(number) < 10**9 else None
