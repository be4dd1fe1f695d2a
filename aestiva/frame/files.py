"""Tables that leave as CSV: formulas neutralised, so that a spreadsheet runs nothing."""

from __future__ import annotations

import csv
import unicodedata
from collections.abc import Iterable, Sequence
from typing import Any

from django.http import HttpResponse

_DANGEROUS = ("=", "+", "-", "@", "\t", "\r", "\n", "|", "%")


def harmless(cell: Any) -> Any:
    """Text that a spreadsheet would run gets an apostrophe in front; numbers stay numbers.

    Full-width and other forms of the same signs count, too: some programs read “＝” as “=”.
    """
    if isinstance(cell, str) and (cell.startswith(_DANGEROUS) or _plain(cell).startswith(_DANGEROUS)):
        return "'" + cell
    return cell


def _plain(cell: str) -> str:
    """How it begins, once signs that only look otherwise are read alike and nothing invisible stands before them."""
    begin = unicodedata.normalize("NFKC", cell[:8])
    return "".join(c for c in begin if not c.isspace() and unicodedata.category(c) not in ("Cf", "Cc"))


def csv_response(name: str, columns: Sequence[str], rows: Iterable[Sequence[Any]]) -> HttpResponse:
    response = HttpResponse(content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    writer = csv.writer(response)
    writer.writerow(columns)
    writer.writerows([harmless(c) for c in row] for row in rows)
    return response
