"""Fields and readings of fields that several pages share."""

from __future__ import annotations

import re
from datetime import date
from typing import Any

from django import forms
from django.utils.http import url_has_allowed_host_and_scheme

NOT_WHOLE = "Give a whole number, without comma, point or word, such as 12."
NOT_A_NUMBER = "This is no number: give it in figures, such as 12 or 2.5."


class DayInput(forms.DateInput):
    """A day chosen with the browser's own calendar."""

    input_type = "date"

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(format="%Y-%m-%d", **kwargs)


EARLIEST, LATEST = date(1900, 1, 1), date(2200, 12, 31)


class DayField(forms.DateField):
    """A day that can be meant: a year of one or five figures is a slip."""

    widget = DayInput

    def clean(self, value: Any) -> Any:
        day = super().clean(value)
        if day is not None and not EARLIEST <= day <= LATEST:
            raise forms.ValidationError(f"{day.year} cannot be: check the year.")
        return day


_BREAKS = re.compile(r"[\x00-\x1f\x7f-\x9f\u2028\u2029]+")


def one_line(text: str) -> str:
    """A text of one line, as a name is: what would break it, or cannot be seen, is a blank."""
    return _BREAKS.sub(" ", text).strip() if _BREAKS.search(text) else text


CLOCK = re.compile(r"^([0-9]{1,2})(?:[:.]([0-9]{2}))?\s*(am|pm)?$", re.IGNORECASE)


def clock_hour(text: str) -> float:
    """An hour of the day as typed, “7”, “7:30”, “7.30” (half past seven too), “9 pm”, as a number from 0 to 24; raises ValueError."""
    found = CLOCK.match(text.strip())
    if found is None:
        raise ValueError(f"“{text[:20]}” is no time of day: give it as 7:30, 17:30 or 5:30 pm")
    hour, minute = int(found[1]), int(found[2] or 0)
    if found[3]:
        if not 1 <= hour <= 12:
            raise ValueError(f"“{text[:20]}” is no time of day: before am or pm stands 1 to 12")
        hour = hour % 12 + (12 if found[3].lower() == "pm" else 0)
    if minute > 59 or hour + minute / 60 > 24:
        raise ValueError(f"“{text[:20]}” is no time of day: it goes from 0:00 to 24:00")
    return hour + minute / 60


MOST_DIGITS = 18  # what a row's key can have


def own_page(target: str) -> str:
    """Where a page or an address asks to go on to, where that is a page of ours; empty otherwise."""
    return target if target.startswith("/") and url_has_allowed_host_and_scheme(target, allowed_hosts=None) else ""


def decimal(text: str) -> float | None:
    """A number as somebody typed it, with a point or a comma; None where nothing was typed.  Raises ValueError, worded for him."""
    text = text.strip().replace(",", ".")
    try:
        return float(text) if text else None
    except ValueError:
        raise ValueError(f"“{text[:20]}” is not a number") from None


def whole_number(text: str | None) -> int | None:
    """A number that a page wrote itself into an address or a button, as a row's key; None where somebody changed it."""
    return int(text) if text and text.isdecimal() and len(text) <= MOST_DIGITS else None
