"""Is this JSON that a garden can keep?  Parsed with everything refused that no page could show and no row could hold."""

from __future__ import annotations

import json
from typing import Any

MOST_DIGITS = 17  # more than any count, key or measure has
MOST_LETTERS = 20_000  # of one text


class BadJson(ValueError):
    """Says what is wrong with the text, and the mend."""


def read_json(data: bytes, most_bytes: int, most_objects: int, most_values: int) -> Any:
    """The document; raises BadJson.

    Refused before it is parsed when it has more bytes, objects or values than that; numbers that are none (NaN,
    infinite, of endless digits) and texts with half a character are refused, too.
    """
    if len(data) > most_bytes:
        raise BadJson(f"there are {len(data) / 1024 / 1024:.1f} MB; up to {most_bytes / 1024 / 1024:g} MB are read")
    if data.count(b"{") + data.count(b"[") > most_objects:
        raise BadJson(f"there are more than {most_objects:,} rows and lists: that is more than is read at once")
    if data.count(b",") > most_values:
        raise BadJson(f"there are more than {most_values:,} values: that is more than is read at once")
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError as error:
        raise BadJson("this is not text in UTF-8") from error
    try:
        document = json.loads(text, parse_int=_whole, parse_float=_number, parse_constant=_constant)
    except BadJson:
        raise
    except (ValueError, RecursionError) as error:
        raise BadJson(f"this is not whole JSON ({str(error)[:120]}): was it cut off?") from error
    if "\\u0000" in text:
        raise BadJson("a text holds a sign that cannot be kept (U+0000): take it out")
    if "\\ud" in text or "\\uD" in text:  # only an escape can bring in half a character
        _whole_texts(document)
    return document


def _whole(text: str) -> int:
    if len(text) > MOST_DIGITS:
        raise BadJson(f"{text[:20]}… is no number that can be meant: it has {len(text)} digits")
    return int(text)


def _number(text: str) -> float:
    value = float(text[:400])
    if abs(value) > 1e15:
        raise BadJson(f"{text[:20]} is no number that can be meant")
    return value


def _constant(text: str) -> Any:
    raise BadJson(f"{text} is not a number: give one, or null where it is not known")


def _whole_texts(value: Any) -> None:
    """Raise BadJson for a text with half a character: it can neither be kept nor shown."""
    if isinstance(value, str):
        try:
            value.encode("utf-8")
        except UnicodeEncodeError as error:
            raise BadJson("a text holds half a character (a lone surrogate): write it anew") from error
    elif isinstance(value, dict):
        for key, one in value.items():
            _whole_texts(key)
            _whole_texts(one)
    elif isinstance(value, list):
        for one in value:
            _whole_texts(one)
