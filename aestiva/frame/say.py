"""How numbers, days and temperatures are said to people, in the reader's units."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from growing import units

_MONTHS = [
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
]
WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"]
MINUS = "−"


@dataclass(frozen=True)
class Reader:
    """To whom it is said: their units, a clock of 24 or of 12 hours, the money's sign, and the day on which their week begins (0: Monday)."""

    units: str = "metric"
    clock: str = "24"
    money: str = ""
    week: int = 0


METRIC, US, IMPERIAL = (Reader(one) for one in units.SYSTEMS)


def shown(value: float, unit: str, reader: Reader) -> tuple[float, str]:
    """A stored number in the reader's units, and that unit's name."""
    return units.shown(value, unit, reader.units)


def stored(value: float, unit: str, reader: Reader) -> float:
    """The number to store for one that the reader typed."""
    return units.stored(value, unit, reader.units)


def time_of_day(text: str, reader: Reader) -> str:
    """“16:30”, or “4:30 pm” for those whose clock has twelve hours."""
    if reader.clock != "12":
        return text
    hour, minute = (int(part) for part in text.split(":"))
    half = "am" if hour % 24 < 12 else "pm"
    return f"{(hour - 1) % 12 + 1}{f':{minute:02d}' if minute else ''} {half}"


def clock_said(hour: float) -> str:
    """An hour of the day as it is typed: “7:30”."""
    minutes = round(hour * 60)
    return f"{minutes // 60}:{minutes % 60:02d}"


def hour_of_day(hour: float, reader: Reader) -> str:
    """An hour of the day by the reader's clock: 7.5 is “7:30”."""
    return time_of_day(clock_said(hour), reader)


def money(value: float, reader: Reader) -> str:
    """“£3.20”, “3.20 CHF”, “3.20” where nobody said in what."""
    text = f"{value:,.2f}" if value < 1000 else f"{value:,.0f}"
    currency = reader.money
    return f"{text} {currency}".strip() if currency.isalpha() or not currency else f"{currency}{text}"


def day(value: date | None, year: bool = False) -> str:
    """“Sat 21 March”."""
    if value is None:
        return "–"
    text = f"{WEEKDAYS[value.weekday()][:3]} {value.day} {_MONTHS[value.month - 1]}"
    return f"{text} {value.year}" if year else text


def short_day(value: date | None) -> str:
    """“21 Mar”."""
    return "–" if value is None else f"{value.day} {_MONTHS[value.month - 1][:3]}"


def weekday(value: date) -> str:
    return WEEKDAYS[value.weekday()]


def away(value: date, today: date) -> str:
    """“in 9 days”, “tomorrow”, “3 days ago”."""
    n = (value - today).days
    if n == 0:
        return "today"
    if abs(n) == 1:
        return "tomorrow" if n > 0 else "yesterday"
    if abs(n) > 70:
        weeks = round(abs(n) / 7)
        return f"in {weeks} weeks" if n > 0 else f"{weeks} weeks ago"
    return f"in {n} days" if n > 0 else f"{-n} days ago"


def listed(names: Sequence[str], most: int | None = None) -> str:
    """“a”, “a and b”, “a, b and c”; of more than `most` the first two, “a, b and 4 more”."""
    if most is not None and len(names) > most:
        return f"{', '.join(names[:2])} and {len(names) - 2} more"
    return " and ".join([", ".join(names[:-1]), names[-1]]) if len(names) > 1 else "".join(names)


def in_parts(parts: Sequence[str]) -> str:
    """“at midday and in the afternoon”; all three parts of the day are “through the day”."""
    words = {"morning": "in the morning", "midday": "at midday", "afternoon": "in the afternoon"}
    return "through the day" if len(parts) == len(words) else listed([words[part] for part in parts])


def span(start: date, end: date) -> str:
    """“9–23 March”, “27 March – 4 April”; one day as itself."""
    if start == end:
        return f"{start.day} {_MONTHS[start.month - 1]}"
    if (start.year, start.month) == (end.year, end.month):
        return f"{start.day}–{end.day} {_MONTHS[end.month - 1]}"
    return f"{short_day(start)} – {short_day(end)}"


def at_clock(moment: datetime, zone: str, reader: Reader) -> str:
    """“15:40, 12 Apr” by the clocks there, or “3:40 pm, 12 Apr”."""
    local = moment.astimezone(ZoneInfo(zone))
    return f"{time_of_day(f'{local:%H:%M}', reader)}, {short_day(local.date())}"


def left(moment: datetime, now: datetime) -> str:
    """“0:26” until then, in hours and minutes; “now” when it is over."""
    minutes = -int((now - moment).total_seconds() // 60)
    return "now" if moment <= now else f"{minutes // 60}:{minutes % 60:02d}"


def number(value: float, places: int = 1) -> str:
    """At most `places` decimals, a true minus, no trailing zeros."""
    text = f"{value:.{places}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    if text in ("-0", ""):
        text = "0"
    return text.replace("-", MINUS)


FINE = ("oz", "fl oz", "US qt", "imp qt", "in", "l")  # of which a tenth is too coarse below one


def amount(value: float, unit: str, reader: Reader, places: int = 1) -> str:
    """A stored number in the reader's units, with its unit."""
    converted, name = shown(value, unit, reader)
    if name.endswith("gal") and abs(converted) < 1:
        converted, name = 4 * converted, name.replace("gal", "qt")  # a tenth of a gallon is no measure to hand
    if name in ("°C", "°F") and unit == "°C":
        return f"{number(converted, places if name == '°C' else 0)} {name}"
    if name in FINE and abs(converted) < 1:
        places = max(2, places)
    return f"{number(converted, places)} {name}".strip()


_MEASURE = re.compile(r"([0-9.]+)(?: × ([0-9.]+))? (cm|mm|litres?)\b")


def thing(name: str, reader: Reader) -> str:
    """The name of a kind of container, its measure in the reader's units: “Pot 3.5 in, round”."""

    def inches(found: re.Match[str]) -> str:
        if found[3].startswith("l"):
            return amount(float(found[1]), "l", reader)
        said = [amount(float(n) / (10 if found[3] == "mm" else 1), "cm", reader) for n in (found[1], found[2]) if n]
        return " × ".join(said)

    return name if reader.units == "metric" else _MEASURE.sub(inches, name)


def between(low: float, high: float, unit: str, reader: Reader) -> str:
    """“16–21 °C”; whole numbers, one of them where both are said alike."""
    first, name = shown(low, unit, reader)
    last, _ = shown(high, unit, reader)
    both = [number(first, 0)] if round(first) == round(last) else [number(first, 0), number(last, 0)]
    return f"{'–'.join(both)} {name}"


def colder(difference: float, reader: Reader) -> str:
    """“0.7 °C colder”, “1 °F warmer”, “as warm”."""
    if abs(difference) < 0.05:
        return "as warm"
    return f"{amount(abs(difference), 'Δ°C', reader)} {'colder' if difference < 0 else 'warmer'}"


def degrees(value: float, reader: Reader, places: int = 1) -> str:
    """A temperature as on a chart: “−1.5°”."""
    converted, _ = shown(value, "°C", reader)
    return f"{number(converted, places if reader.units != 'us' else 0)}°"


def latitude(degrees: float) -> str:
    """“51.5° north”, “on the equator”."""
    if not degrees:
        return "on the equator"
    return f"{number(abs(degrees))}° {'north' if degrees > 0 else 'south'}"


def odds(share: float) -> str:
    """“9 in 10”, “1 in 2”, “under 1 in 20”."""
    if share >= 0.995:
        return "always"
    if share > 0.95:
        return "over 19 in 20"
    if share < 0.005:
        return "hardly ever"
    if share < 0.05:
        return "under 1 in 20"
    if share < 0.075:
        return "1 in 20"
    for quarter, text in ((0.25, "1 in 4"), (0.75, "3 in 4")):
        if abs(share - quarter) < 0.005:
            return text
    tenths = round(share * 10)
    return {5: "1 in 2"}.get(tenths, f"{max(1, min(9, tenths))} in 10")


def percent(share: float) -> str:
    """Whole per cent; a little is never said as nothing."""
    if 0 < share < 0.005:
        return "under 1 %"
    return f"{round(share * 100)} %"


def of_years(share: float) -> str:
    """“no year”, “12 % of years”, “every year”."""
    if share < 0.005:
        return "no year"
    return "every year" if share > 0.995 else f"{percent(share)} of years"


def chance(share: float, short: bool = False) -> str:
    """A forecast chance in per cent; never quite certain.  short: as it fits under a column."""
    if share > 0.99:
        return "> 99 %" if short else "over 99 %"
    if share < 0.01:
        return "< 1 %" if short else "under 1 %"
    return percent(share)


def plural(count: int | None, one: str, many: str = "") -> str:
    """“1 plant”, “12 plants”."""
    return f"{count} {one if count == 1 else many or one + 's'}"


def plural_number(count: float, one: str) -> str:
    """“1 day”, “2.5 days”."""
    return f"{number(count)} {one if count == 1 else one + 's'}"


def minutes(count: int, short: bool = False) -> str:
    """“45 minutes”, “45 min”; from two hours on in hours, to the half: “3½ hours”."""
    if count < 120:
        return f"{count} min" if short else plural(count, "minute")
    halves = round(count / 30)
    return f"{halves // 2}{'½' if halves % 2 else ''} {'h' if short else 'hours'}"


PACKET_FIELDS = {
    "weeks": "start indoors",
    "out_weeks": "plant out, against last frost",
    "where": "sow",
    "depth_cm": "depth",
    "germinate_c": "warmth",
    "soil_c": "soil when planted out",
    "days_up": "days to come up",
    "light": "light",
    "spacing_cm": "distance",
    "height_cm": "height",
    "mature_days": "days to harvest or bloom",
    "mature_from": "those days count from",
    "soak_h": "soak",
    "chill_days": "chill",
    "packed_year": "packed for",
}
_PACKET_UNITS = {
    "weeks": "weeks", "out_weeks": "weeks", "depth_cm": "cm", "germinate_c": "°C", "soil_c": "°C", "days_up": "days", "spacing_cm": "cm",
    "height_cm": "cm", "mature_days": "days", "soak_h": "h", "chill_days": "days", "packed_year": "",
}  # fmt: skip


def packet(field: str, read: str | tuple[float, float], reader: Reader) -> str:
    """A packet's reading, “6–8 weeks”, in the reader's units."""
    if isinstance(read, str):
        return {"light": "on the surface, in light", "dark": "in the dark"}.get(read, read)
    unit = _PACKET_UNITS[field]
    low, name = shown(read[0], unit, reader)
    high, _ = shown(read[1], unit, reader)
    if low == high:
        return f"{number(low, 2)} {name}".strip()
    return f"{number(low, 2)}–{number(high, 2)} {name}".strip()


def warm(name: str, when: date | None, nights: bool = False) -> str:
    """From when soil or nights are warm, by the verdict: “from 17 May”, “all spring”."""
    if name == "never" and nights:
        return "colder ones all summer"
    said = {"always": "all spring", "never": "not before midsummer", "earlier": "earlier than your days",
            "few springs": "too few springs", "unknown": "not known"}  # fmt: skip
    if name in said:
        return said[name]
    return f"from {short_day(when)}" + (" at least" if name in ("at least", "beyond") else "")


def weekdays(days: frozenset[int] | set[int]) -> str:
    """“Sat, Sun”; “any day”."""
    if len(days) == 7:
        return "any day"
    return ", ".join(WEEKDAYS[d][:3] for d in sorted(days)) or "none"


def coming(today: date, n: int) -> date:
    return today + timedelta(days=n)
