"""Tables that leave as CSV: formulas neutralised, so that a spreadsheet runs nothing."""

from __future__ import annotations

import csv
from collections.abc import Iterable, Sequence
from typing import Any

from django.http import HttpResponse

_DANGEROUS = ("=", "+", "-", "@", "\t", "\r")


def harmless(cell: Any) -> Any:
    """Text that a spreadsheet would run gets an apostrophe in front; numbers stay numbers."""
    if isinstance(cell, str) and cell.startswith(_DANGEROUS):
        return "'" + cell
    return cell


def csv_response(name: str, columns: Sequence[str], rows: Iterable[Sequence[Any]]) -> HttpResponse:
    response = HttpResponse(content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    writer = csv.writer(response)
    writer.writerow(columns)
    writer.writerows([harmless(c) for c in row] for row in rows)
    return response
