"""How a value of a rule is said: what it is called, how much it is, and where it comes from."""

from __future__ import annotations

import re
from datetime import date

from aestiva.frame import say
from aestiva.frame.say import Reader
from growing.assumptions import assumptions
from growing.crops.schema import FIELDS
from growing.working import Value

_TIME = re.compile(r"\d{1,2}:\d{2}")
_SINGULAR = {
    "rows": "row",
    "plants": "plant",
    "cells": "cell",
    "days": "day",
    "seeds": "seed",
    "blocks": "block",
    "weeks": "week",
    "places": "place",
    "leaves": "leaf",
    "slips": "slip",
    "clumps": "clump",
    "links": "link",
    "notches": "notch",
}
_SHORT = {"mol/m²/d": "mol", "µmol/m²/s": "µmol", "%": "%"}


def said(item: Value, reader: Reader) -> str:
    """One value of a working: number, unit, or day, in the reader's units."""
    if item.number is None:
        return "not known" if item.name != "not before" else "–"
    if isinstance(item.number, date):
        return say.day(item.number)
    if isinstance(item.number, str):
        if item.name == "bed":
            return _BEDS.get(item.number, item.number)
        if _TIME.fullmatch(item.number):
            return say.time_of_day(item.number, reader)
        return _WORDS.get(item.number, item.number)
    if item.unit == "money":
        return say.money(item.number, reader)
    if item.unit == "Δdays":
        later = "later" if item.number > 0 else "earlier"
        return "no days" if abs(item.number) < 0.05 else f"{say.plural_number(abs(item.number), 'day')} {later}"
    if item.unit == "share":
        return say.chance(item.number) if item.name in ("chance", "frost before") else say.percent(item.number)
    if item.unit in _SINGULAR or item.unit in ("years", "h", "up"):
        unit = _SINGULAR.get(item.unit, item.unit) if item.number == 1 else item.unit
        return f"{say.number(item.number)} {unit}"
    if item.unit in _SHORT:
        return f"{say.number(item.number, 0 if abs(item.number) >= 10 else 1)} {_SHORT[item.unit]}"
    return say.amount(item.number, item.unit, reader, 3 if item.unit == "per day" else 1)


_WORDS = {
    "last_frost": "before last frost",
    "transplanting": "before transplanting",
    "offset": "the crop’s offset",
    "frost": "frost",
    "soil": "soil warmth",
    "nights": "warm nights",
    "length": "the usual length",
    "length alone": "the usual length, for no first autumn frost is known",
    "light": "needs light",
    "dark": "needs dark",
    "either": "light or dark",
}
_BEDS = {"bare": "open beds", "raised": "raised beds", "dark": "covered beds", "tunnel": "tunnel beds"}
_KINDS = {
    "working": "extension practice",
    "table": "published table",
    "estimate": "estimate",
    "reviewed": "reviewed estimate",
    "reviewed_high": "reviewed estimate, sure",
    "reviewed_medium": "reviewed estimate, fairly sure",
    "garden": "your garden",
    "planting": "this planting",
    "packet": "packet",
    "typed": "typed",
    "station": "weather record",
    "setting": "your setting",
    "probe": "your probe",
    "readings": "your readings",
    "forecast": "forecast",
    "assumed": "assumed",
    "class": "class default",
    "crop": "the crop",
    "school": "your way",
    "weather": "the place’s weather",
    "measured": "your reading",
    "not known": "nobody knows, nothing taken off",
}
_MEANINGS = {
    "average": "as the average",
    "safe": "as a safe date",
    "unknown": "meaning unknown, taken as average",
    "guess": "guessed from the latitude",
}


def source(text: str) -> str:
    """Where a value came from, in words."""
    if not text:
        return ""
    parts = [p.strip() for p in text.split(":")]
    words = [_KINDS.get(parts[0], parts[0])]
    for part in parts[1:]:
        words.append(_MEANINGS.get(part, _KINDS.get(part, part)))
    return ", ".join(words)


def came_from(value: Value, reader: Reader) -> str:
    """Where an input comes from; of an estimate of our own between what it may well lie."""
    kind, _, name = value.source.partition(":")
    known = assumptions().get(name) if kind == "estimate" else None
    if known is None:
        return source(value.source)
    low, high = (said(value._replace(number=end), reader) for end in (known.low, known.high))
    return f"estimate, {low} to {high}"


def label_of(value: Value) -> str:
    """What an input is called: a field of the crop by its label, where it is one; a number of a name that a field of words has is none."""
    words = value.name in FIELDS and FIELDS[value.name].words
    return value.name if words and not isinstance(value.number, str) else label(value.name)


def label(name: str) -> str:
    """A value's name: a crop field by its label, anything else as it is."""
    return FIELDS[name].label if name in FIELDS else name
