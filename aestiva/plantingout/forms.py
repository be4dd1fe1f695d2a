"""A cover at hand, as it is typed."""

from __future__ import annotations

from typing import Any

from aestiva.frame.forms import decimal, whole_number
from aestiva.frame.say import Reader, stored
from aestiva.gardens.outcomes import Refused
from aestiva.plantingout.models import CoverAtHand
from growing.place.covers import COVERS

MOST_CM, MOST_WIDE_CM, MOST_PIECES = 100_000.0, 2_000.0, 10_000


def read_cover(row: CoverAtHand, post: Any, units: Reader) -> CoverAtHand:
    """The row with what was typed; raises Refused naming the field.  Lengths in metres or feet, widths likewise."""
    kind = post.get("kind", "")
    if kind not in COVERS:
        raise Refused("kind", "choose the kind of cover")
    row.kind = kind
    row.length_cm = row.width_cm = row.pieces = None
    if not COVERS[kind].by_length:
        pieces = whole_number(post.get("pieces", ""))
        if pieces is None or not 1 <= pieces <= MOST_PIECES:
            raise Refused(
                "pieces", f"“{post.get('pieces', '')[:20]}” is no number of cloches: give 1 to {MOST_PIECES:,}"
            )
        row.pieces = pieces
        return row
    row.length_cm = _cm(post.get("length", ""), "length", units, MOST_CM)
    if post.get("width", "").strip():
        row.width_cm = _cm(post.get("width", ""), "width", units, MOST_WIDE_CM)
    return row


def _cm(text: str, field: str, units: Reader, most: float) -> float:
    try:
        number = decimal(text)
    except ValueError:
        number = None
    found = None if number is None else stored(number, "m", units) * 100
    if found is None or not 10 <= found <= most:
        raise Refused(
            field, f"“{text[:20]}” is no {field}: give a number, from ten centimetres up to {most / 100:g} metres"
        )
    return found
