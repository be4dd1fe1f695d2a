"""What does the packet say?  Free text read by rules into fields, each to be confirmed; both readings where it differs.

    start indoors 6-8 weeks before last frost, 1/4 in deep, 70-85F, 7-14 days

Stored units are °C, cm and days; fractions, inches, °F, dashes and words for numbers are understood.  Nothing is
guessed: a base that is not named stays open, and is asked for.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from typing import NamedTuple

INCH_CM, FOOT_CM = 2.54, 30.48
MOST_LETTERS = 2000
_FRACTIONS = {"½": 0.5, "¼": 0.25, "¾": 0.75, "⅛": 0.125, "⅜": 0.375, "⅓": 1 / 3, "⅔": 2 / 3}
_NUMBER_WORDS = {
    "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10, "eleven": 11,
    "twelve": 12, "fourteen": 14,
}  # fmt: skip

Range = tuple[float, float]
Found = Range | str


class PacketReading(NamedTuple):
    """One thing the text says: field, value in stored units (low, high) or a word, and the words it was read from."""

    field: str
    value: Found
    text: str


class PacketText(NamedTuple):
    """readings: one per field, in the order of FIELDS.  conflicts: fields the text gives twice and differently, all
    readings kept.  base: "last_frost", "transplanting", or "" where weeks are given but not before what.
    """

    readings: tuple[PacketReading, ...]
    conflicts: dict[str, tuple[PacketReading, ...]]
    base: str
    unread: str

    def value(self, field: str) -> Found | None:
        return next((r.value for r in self.readings if r.field == field), None)


FIELDS = (
    "weeks", "out_weeks", "where", "depth_cm", "germinate_c", "soil_c", "days_up", "light", "spacing_cm", "height_cm", "mature_days",
    "mature_from", "soak_h", "chill_days", "packed_year",
)  # fmt: skip

# Numbers of a packet are short: a run of more digits is none, and is passed over in one step.
_N = r"(?<!\d)(?:\d{1,4}(?:[.,]\d{1,3})?(?:\s+\d/\d{1,2})?|\d{1,2}/\d{1,2})(?!\d)"
_TO = r"\s*(?:-|to|or|and)\s*"
_SPAN = (
    rf"(?P<a>{_N})(?:\s*(?:°|degrees?|deg)?\s*[cf]?(?:\"|in(?:ch(?:es)?)?|cm|mm|weeks?|wks?|days?)?{_TO}(?P<b>{_N}))?"
)
_LENGTH = rf"{_SPAN}\s*(?P<unit>mm|cm|m\b|metres?|meters?|\"|''|inch(?:es)?|in\b|ft\b|feet|foot|')\.?"
_TEMPERATURE = rf"{_SPAN}\s*(?:°|degrees?|deg\.?)?\s*(?P<unit>c|f|celsius|fahrenheit)\b"


def read_packet(text: str) -> PacketText:
    """Everything the rules find in the first 2000 letters of a packet's text; never raises for its contents."""
    plain = _plain(text[:MOST_LETTERS])
    taken: list[tuple[int, int]] = []
    unread: list[tuple[int, int]] = []
    found: dict[str, list[PacketReading]] = {}
    for field, pattern, value in _RULES:
        for match in re.finditer(pattern, plain):
            if any(a < match.end() and match.start() < b for a, b in taken):
                continue
            read = value(match)
            if read is None:
                continue
            taken.append(match.span())
            name, _, base_named = field.partition(":")
            if name not in (*FIELDS, "base"):  # seen, so that nothing else is made of it, but of no use here
                unread.append(match.span())
                continue
            words = match.group(0).strip(" ,.;")
            found.setdefault(name, []).append(PacketReading(name, read, words))
            if base_named:
                found.setdefault("base", []).append(PacketReading("base", base_named, words))
    named = found.pop("base", [])
    bases = {str(r.value): r for r in named}
    base = next(iter(bases)) if len(bases) == 1 else ""
    readings, conflicts = [], {}
    for field in FIELDS:
        different = list({r.value: r for r in found.get(field, [])}.values())
        if len(different) > 1:
            conflicts[field] = tuple(different)
        if different:
            readings.append(different[0])
    if len(bases) > 1:
        conflicts["base"] = tuple(bases.values())
    return PacketText(tuple(readings), conflicts, base, _rest(plain, [span for span in taken if span not in unread]))


def _plain(text: str) -> str:
    """Lower case, one kind of dash, fractions and number words as figures."""
    plain = text.lower().replace("–", "-").replace("—", "-").replace("”", '"').replace("“", '"').replace("’", "'")
    for sign, number in _FRACTIONS.items():
        plain = re.sub(rf"(\d)\s*{sign}", lambda m, n=number: f"{int(m[1]) + n:g}", plain)  # type: ignore[misc]
        plain = plain.replace(sign, f"{number:g}")
    for word, figure in _NUMBER_WORDS.items():
        plain = re.sub(rf"\b{word}\b", str(figure), plain)
    return re.sub(r"[ \t]+", " ", plain)


def _number(text: str) -> float:
    """“1 1/2”, “1/4”, “0,5”."""
    total = 0.0
    for part in text.replace(",", ".").split():
        if "/" in part:
            top, bottom = part.split("/")
            total += float(top) / float(bottom) if float(bottom) else 0.0
        else:
            total += float(part)
    return total


def _span(match: re.Match[str]) -> Range:
    low = _number(match["a"])
    high = _number(match["b"]) if match["b"] else low
    return (low, high) if low <= high else (high, low)


def _weeks(match: re.Match[str]) -> Range | None:
    low, high = _span(match)
    return (low, high) if high <= 40 else None


def _in_weeks(match: re.Match[str]) -> Range:
    low, high = _days(match)
    return round(low / 7, 1), round(high / 7, 1)


def _out_weeks(match: re.Match[str]) -> Range:
    low, high = _span(match)
    return (low, high) if match["side"] == "after" else (-high, -low)


def _length(match: re.Match[str]) -> Range | None:
    low, high = _span(match)
    unit = match["unit"]
    each = 0.1 if unit == "mm" else 1.0 if unit == "cm" else 100.0 if unit.startswith("m") else INCH_CM
    if unit in ("ft", "feet", "foot", "'"):
        each = FOOT_CM
    return round(low * each, 2), round(high * each, 2)


def _celsius(match: re.Match[str]) -> Range | None:
    low, high = _span(match)
    if match["unit"].startswith("f"):
        low, high = (low - 32) / 1.8, (high - 32) / 1.8
    return (round(low, 1), round(high, 1)) if low >= -5 and high <= 50 else None


def _days(match: re.Match[str]) -> Range:
    low, high = _span(match)
    each = 7 if match["unit"].startswith("w") else 30 if match["unit"].startswith("m") else 1
    return low * each, high * each


def _hours(match: re.Match[str]) -> Range:
    if match["night"]:
        return 12.0, 12.0
    low, high = _span(match)
    each = 24 if match["unit"].startswith("d") else 1
    return low * each, high * each


def _at_frost(match: re.Match[str]) -> Range:
    return 0.0, 0.0


def _says(word: str) -> Callable[[re.Match[str]], Found]:
    return lambda match: word


_FROST = (
    r"(?:the\s+)?(?:(?:average|avg\.?|expected|your|spring|mean|danger\s+of)\s+)*(?:last\s+)?(?:spring\s+)?(?:average\s+)?(?:frosts?"
    r"|frost\s+free)(?:\s+date)?"
)
_SETTING = (
    r"(?:transplanting|transplant(?:ing)?\s+(?:out|outdoors|date)|planting\s+out(?:doors)?"
    r"|setting\s+out|moving\s+out(?:doors|side)?)"
)
_BEFORE = r"(?:before|ahead\s+of|prior\s+to)"
_WEEKS = rf"{_SPAN}\s*-?(?:weeks?|wks?)"
_SOWN = (
    r"(?:direct\s+(?:sow|seed)\w{0,12}|sow(?:n|ing)?\s+(?:direct(?:ly)?|outdoors"
    r"|outside|in\s+(?:place|situ|the\s+(?:garden|ground)))|plant\s+(?:seeds?\s+)?outdoors"
    r"|(?:sow|seed)\s+directly)"
)
_OUT_WORDS = r"(?:transplant|set\s+out|plant\s+out|move\s+out(?:doors|side)?|plant\s+outdoors|set\s+plants\s+out)"

# Order matters: what is read first is not read again.  Every repetition is bounded, so that no text takes long.
_RULES: tuple[tuple[str, str, Callable[[re.Match[str]], Found | None]], ...] = (
    ("packed_year",
     r"(?:packed|packed\s+for|sell\s+by|season)\s*:?\s*(?P<a>20\d\d)(?P<b>)?", lambda m: (float(m["a"]), float(m["a"]))),
    ("out_weeks", rf"{_OUT_WORDS}[^.;,\d]{{0,80}}{_WEEKS}\s*(?P<side>after|before|past)\s+{_FROST}", _out_weeks),
    ("out_weeks",
     rf"{_OUT_WORDS}\s+(?:\w{{1,20}}\s+){{0,5}}?(?:after|when|once)\s+(?:all\s+)?(?:the\s+)?(?:danger|risk|chance)\s+of\s+frost"
     r"(?:\s+(?:has|is)\s+\w{1,20})?", _at_frost),
    ("weeks:last_frost", rf"{_WEEKS}\s*{_BEFORE}\s+{_FROST}", _weeks),
    ("weeks:last_frost", rf"{_SPAN}\s*(?P<unit>days?)\s*{_BEFORE}\s+{_FROST}", _in_weeks),
    ("weeks:transplanting", rf"{_WEEKS}\s*{_BEFORE}\s+{_SETTING}", _weeks),
    ("out_weeks", rf"{_WEEKS}\s*(?P<side>after|past)\s+{_FROST}", _out_weeks),
    ("weeks", rf"{_WEEKS}\s*(?:before|ahead|early|earlier|indoors|inside)\b", _weeks),
    ("weeks", rf"(?:start|sow)\w{{0,12}}\s+(?:seeds?\s+)?(?:indoors|inside|under\s+(?:glass|cover))[^.;\d]{{0,80}}{_WEEKS}", _weeks),
    ("base", rf"{_BEFORE}\s+{_SETTING}", _says("transplanting")),
    ("base", rf"{_BEFORE}\s+{_FROST}", _says("last_frost")),
    ("out_weeks", rf"after\s+(?:all\s+)?{_FROST}(?:\s+(?:has|is)\s+past)?", _at_frost),
    ("where", rf"\b{_SOWN}", _says("direct")),
    ("where",
     r"(?:start|sow|begin)\w{0,12}\s+(?:seeds?\s+)?(?:indoors|inside|under\s+(?:glass"
     r"|cover|lights?))|\bindoors?\b", _says("indoors")),
    ("light",
     r"(?:do\s+not|don't)\s+cover(?:\s+\w{1,20})?|(?:needs?|requires?)\s+light"
     r"|light\s+(?:aids|helps|is\s+needed|needed|required)[^.;,]{0,60}|press\s+(?:\w{1,20}\s+)*(?:into"
     r"|onto|on)\s+(?:the\s+)?surface|surface[\s-]sow\w{0,12}|sow\w{0,12}\s+on\s+(?:the\s+)?surface"
     r"|leave\s+uncovered", _says("light")),
    ("light",
     r"(?:needs?|requires?)\s+(?:\w{1,20}\s+)?dark(?:ness)?|exclude\s+light"
     r"|\bin\s+(?:the\s+|total\s+)?dark(?:ness)?\b|keep\s+(?:\w{1,20}\s+)?dark", _says("dark")),
    ("soak_h",
     r"soak\w{0,12}(?:\s+\w{1,20}){0,4}?\s+"
     rf"(?:(?P<night>overnight)|(?:for\s+|in\s+water\s+)*{_SPAN}\s*(?P<unit>h(?:ours?|rs?)?|days?))", _hours),
    ("chill_days", rf"(?:chill|stratif|refrigerat|cold\s+treat)\w{{0,12}}[^.;\d]{{0,80}}{_SPAN}\s*(?P<unit>days?|weeks?|months?)", _days),
    ("chill_days",
     rf"{_SPAN}\s*(?P<unit>days?|weeks?|months?)\s+(?:of\s+)?(?:cold|moist\s+chill|chilling|stratification)", _days),
    ("depth_cm", rf"{_LENGTH}\s*(?:deep|depth|down|below)", _length),
    ("depth_cm", rf"(?:depth|deep|cover\w{{0,12}}(?:(?:\s+\w{{1,20}}){{0,3}}?\s+(?:with|by|under))?)\s*:?\s*(?:of\s+|about\s+)?{_LENGTH}", _length),
    ("rows", rf"\brows?(?:[\s:]+(?!\d)\w{{1,20}}){{0,2}}?[\s:]*{_LENGTH}(?:\s*apart)?", _says("")),
    ("rows", rf"{_LENGTH}\s*between\s+(?:the\s+)?rows", _says("")),
    ("spacing_cm",
     rf"(?:spac\w{{0,12}}|spread\w{{0,12}}|thin\w{{0,12}}|apart|distance)(?:[\s:]+(?!\d)\w{{1,20}}){{0,5}}?[\s:]*{_LENGTH}(?:\s*apart)?", _length),
    ("spacing_cm", rf"{_LENGTH}\s*(?:apart|spacing|between\s+plants)", _length),
    ("height_cm", rf"(?:height|grows?|reach\w{{0,12}}|up\s+to)(?:[\s:]+(?!\d)\w{{1,20}}){{0,3}}?[\s:]*{_LENGTH}(?:\s*(?:tall|high))?", _length),
    ("height_cm", rf"{_LENGTH}\s*(?:tall|high)", _length),
    ("soil_c",
     r"soil\s+(?:temp\w{0,12}\s+)?(?:has\s+)?(?:warm\w{0,12}|reach\w{0,12}|is\s+(?:at\s+least|above|over))"
     rf"(?:\s+(?!\d)\w{{1,20}}){{0,3}}?\s+{_TEMPERATURE}", _celsius),
    ("germinate_c", _TEMPERATURE, _celsius),
    ("days_up",
     rf"(?:germinat\w{{0,12}}|emerg\w{{0,12}}|sprout\w{{0,12}}|up)(?:[\s:,]+(?!\d)\w{{1,20}}){{0,4}}?[\s:,]*(?:in\s+)?{_SPAN}\s*(?P<unit>days?|weeks?)"
     r"(?!\s+to\s+(?:matur|harvest|bloom|flower))", _days),
    ("days_up", rf"days\s+to\s+(?:germinat\w{{0,12}}|emerg\w{{0,12}}|sprout\w{{0,12}})\s*:?\s*{_SPAN}", _span),
    ("mature_days", rf"days\s+to\s+(?:maturity|harvest|bloom|flower\w{{0,12}})\s*:?\s*{_SPAN}", _span),
    ("mature_days", rf"{_SPAN}\s*(?P<unit>days?)\s+(?=(?:from|after)\s+(?:transplant|sowing|seed|setting|planting|direct))", _days),
    ("mature_days", rf"{_SPAN}\s*(?P<unit>days?)\s+(?:to|until|till)\s+(?:maturity|harvest|bloom|flower\w{{0,12}}|first\s+\w{{1,20}})", _days),
    ("mature_days",
     r"(?:matur\w{0,12}|harvest\w{0,12}|bloom\w{0,12}|flower\w{0,12}|ready)"
     rf"(?:[\s:]+(?!\d)\w{{1,20}}){{0,4}}?[\s:]*{_SPAN}\s*(?P<unit>days?|weeks?)", _days),
    ("mature_from", r"(?:from|after)\s+(?:transplant\w{0,12}|setting\s+out|planting\s+out)", _says("transplanting")),
    ("mature_from", r"(?:from|after)\s+(?:sowing|seed(?:ing)?|direct\s+\w{1,20})", _says("sowing")),
    ("days_up", rf"(?:(?<=dark)|(?<=darkness))[\s,]+(?:in|within|for)\s+{_SPAN}\s*(?P<unit>weeks?)", _days),
    ("days_up", rf"{_SPAN}\s*(?P<unit>days?)(?:\s+to\s+(?:germinat\w{{0,12}}|emerg\w{{0,12}}|sprout\w{{0,12}}))?", _days),
)  # fmt: skip


def _rest(plain: str, taken: list[tuple[int, int]]) -> str:
    """The words no rule has read."""
    return " ".join(_gaps(plain, sorted(taken))).strip(" ,.;:")


def _gaps(plain: str, taken: list[tuple[int, int]]) -> Iterator[str]:
    at = 0
    for start, end in taken:
        if gap := plain[at:start].strip(" ,.;:\n"):
            yield gap
        at = max(at, end)
    if gap := plain[at:].strip(" ,.;:\n"):
        yield gap
