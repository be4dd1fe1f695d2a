"""Which day is meant?  Days as people write them: no guessing, and where two readings are possible somebody is asked.

2026-03-10 · 10.3.2026 · 3/10/26 · 10 March · Mar 10 · 10-Mar · 2026-W11 · wk 11 · KW 11
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable
from datetime import date, timedelta

ORDERS = ("dmy", "mdy")
_MONTHS = (  # by their first letters, without accents: English, German, French, Spanish, Italian, Dutch
    ("jan", "janv", "ene", "gen"),
    ("feb", "fev", "febb"),
    ("mar", "mrz", "maerz", "marz", "mars", "maart", "mrt"),
    ("apr", "avr", "abr"),
    ("may", "mai", "mayo", "mag", "mei"),
    ("jun", "juin", "giu"),
    ("jul", "juil", "lug"),
    ("aug", "aou", "ago"),
    ("sep", "set"),
    ("oct", "okt", "ott"),
    ("nov",),
    ("dec", "dez", "dic"),
)
_ISO = re.compile(r"[0-9]{4}-[0-9]{2}-[0-9]{2}")
_NUMERIC = re.compile(r"(\d{1,4})\s*([./-])\s*(\d{1,2})(?:\s*[./-]\s*(\d{2,4}))?\.?")
_WEEK = re.compile(
    r"(?:(\d{4})\s*[- ]?\s*)?(?:w|wk|week|kw|woche|semaine|sem|semana|settimana)\.?\s*(\d{1,2})(?:\D+(\d{4}))?"
)
_DAY_MONTH = re.compile(
    r"(\d{1,2})(?:st|nd|rd|th|er|º|\.)?[\s.-]*(?:of |de |di )?([a-z]+)\.?,?[\s.-]*(?:de )?(\d{2,4})?"
)
_MONTH_DAY = re.compile(r"([a-z]+)\.?[\s.-]*(\d{1,2})(?:st|nd|rd|th)?,?(?:[\s-]+(\d{4}))?")


def month_of(word: str) -> int | None:
    """The month that a word names, in one of six languages, whole or cut short; None where it is none."""
    text = bare(word)
    for number, ways in enumerate(_MONTHS, 1):
        if len(text) >= 3 and any(text.startswith(way) for way in ways if len(way) >= 3):
            return number
    return None


def bare(text: str) -> str:
    """Small letters without accents."""
    text = unicodedata.normalize("NFKD", text.strip().lower())
    return "".join(sign for sign in text if not unicodedata.combining(sign))


def order_of(cells: Iterable[str]) -> str:
    """Day or month first, where the numbers tell: "dmy", "mdy", "both" where they contradict each other, "?" where they
    do not tell, "" where no day is written in such numbers."""
    first = second = seen = False
    for cell in cells:
        found = _NUMERIC.match(cell.strip())
        if found is None or len(found[1]) == 4 or found[2] == ".":
            continue
        seen = seen or found[1] != found[3]
        first, second = first or int(found[1]) > 12, second or int(found[3]) > 12
    if first and second:
        return "both"
    return "dmy" if first else "mdy" if second else "?" if seen else ""


def read_day(text: str, near: date, order: str = "dmy", weeks: bool = False, begins: int = 0) -> date | None:
    """The day that is written; None where it is none.

    near: a day without a year is that of the year in which it lies nearest to it.  order: of two numbers with a stroke
    between them.  weeks: a bare number is a week.  A week is its Monday, or the day before on which it begins (0 to 6).
    """
    if _ISO.fullmatch(text):
        try:
            plain = date.fromisoformat(text)
        except ValueError:
            return None
        return plain if 1900 <= plain.year <= 2200 else None
    text = bare(text)[:40]
    text = re.sub(r"^(mon|tue|wed|thu|fri|sat|sun)[a-z]*\.?,?\s+", "", text)
    found = []
    for year in (near.year, near.year - 1, near.year + 1):
        try:
            day = _in_numbers(text, year, order) or _in_words(text, year) or _week(text, year, weeks, begins)
        except ValueError:
            continue
        if day is not None and 1900 <= day.year <= 2200:
            found.append(day)
    return min(found, key=lambda day: abs((day - near).days), default=None)


def _in_numbers(text: str, year: int, order: str) -> date | None:
    text = text.split("t")[0] if re.match(r"\d{4}-\d{2}-\d{2}t", text) else text
    text = re.sub(r"\s+\d{1,2}:\d{2}(:\d{2})?$", "", text)
    if re.fullmatch(r"\d{8}", text):
        return date(int(text[:4]), int(text[4:6]), int(text[6:]))
    found = _NUMERIC.fullmatch(text)
    if found is None:
        return None
    one, sign, two, three = found.groups()
    if len(one) == 4:
        return date(int(one), int(two), int(three)) if three else None
    if len(one) > 2:
        return None
    day, month = (int(two), int(one)) if order == "mdy" and sign != "." else (int(one), int(two))
    return date(_century(three, year), month, day)


def _in_words(text: str, year: int) -> date | None:
    for pattern, day, month in ((_DAY_MONTH, 1, 2), (_MONTH_DAY, 2, 1)):
        found = pattern.fullmatch(text)
        number = None if found is None else month_of(found[month])
        if found is not None and number is not None:
            return date(_century(found[3], year), number, int(found[day]))
    return None


def _week(text: str, year: int, weeks: bool, begins: int) -> date | None:
    found = _WEEK.fullmatch(text)
    if found is not None:
        number, year = int(found[2]), int(found[1] or found[3] or year)
    elif weeks and re.fullmatch(r"\d{1,2}", text):
        number = int(text)
    else:
        return None
    monday = date.fromisocalendar(year, number, 1)
    return monday - timedelta(days=(7 - begins) % 7) if begins else monday


def _century(text: str | None, year: int) -> int:
    if not text:
        return year
    return int(text) + (2000 if len(text) == 2 else 0)
