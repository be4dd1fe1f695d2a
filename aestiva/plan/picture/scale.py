"""Where is a day in the picture?  Its measures, and the days it shows: the season, a month or a week."""

from __future__ import annotations

from calendar import monthrange
from collections.abc import Iterable
from datetime import date, timedelta
from typing import NamedTuple

from growing.place.year import PlaceYear

SPANS = {"season": "the season", "month": "a month", "week": "a week"}
LONGEST_DAYS = 425


class Frame(NamedTuple):
    """The measures of the picture [px]: its width, what is kept for names on the left, the margin on the right, the height of
    a row, and where its ground lies in it.  names_above: names stand over their row, not beside it."""

    width: int
    labels: int
    right: int
    row: int
    ground: int
    names_above: bool = False


WIDE = Frame(1090, 196, 12, 46, 31)
BESIDE = Frame(1016, 196, 10, 46, 31)  # with the whole season small at its side
PHONE = Frame(366, 4, 4, 64, 48, names_above=True)


class Scale(NamedTuple):
    """The first and last day shown, and the measures."""

    start: date
    end: date
    frame: Frame = WIDE

    @property
    def key(self) -> str:
        """A name for what belongs to this picture alone, where a page has several."""
        return f"{self.start:%y%m%d}-{self.frame.width}"

    @property
    def drawn(self) -> int:
        """Pixels from the first day to the last."""
        return self.frame.width - self.frame.labels - self.frame.right

    @property
    def right(self) -> int:
        return self.frame.width - self.frame.right

    @property
    def days(self) -> int:
        return max(1, (self.end - self.start).days)

    @property
    def per_day(self) -> float:
        """Pixels a day."""
        return self.drawn / self.days

    def x(self, day: date) -> float:
        """Pixels from the left for a day; days outside are kept at the edge."""
        start, end, frame = self
        if day <= start:
            return float(frame.labels)
        whole = end.toordinal() - start.toordinal()
        return frame.labels + min(day.toordinal() - start.toordinal(), whole) * self.drawn / max(1, whole)

    def far(self, day: date) -> float:
        """The same, also for days outside; what is drawn with it is clipped."""
        return self.frame.labels + (day.toordinal() - self.start.toordinal()) * self.drawn / self.days

    def __contains__(self, day: object) -> bool:
        return isinstance(day, date) and self.start <= day <= self.end


def season_scale(days: Iterable[tuple[date, date]], place: PlaceYear, today: date, frame: Frame = WIDE) -> Scale:
    """From the month of the first day to the month of the last, at most fourteen months; days: (first, last) of each row."""
    base = place.last_frost[0]
    spans = list(days)
    starts = [first for first, _ in spans] + [base - timedelta(days=75), today]
    ends = [last for _, last in spans] + [base + timedelta(days=150)]
    start = max(min(starts), place.season_start).replace(day=1)
    end = min(max(ends), start + timedelta(days=LONGEST_DAYS))
    return Scale(start, (end.replace(day=1) + timedelta(days=32)).replace(day=1) - timedelta(days=1), frame)


def close_scale(span: str, at: date, week_starts: int, frame: Frame = WIDE) -> Scale:
    """The month or the week that holds a day, and the morning after it."""
    if span == "week":
        start = at - timedelta(days=(at.weekday() - week_starts) % 7)
        return Scale(start, start + timedelta(days=7), frame)
    start = at.replace(day=1)
    return Scale(start, start + timedelta(days=monthrange(at.year, at.month)[1]), frame)


def beside(span: str, at: date) -> tuple[date, date]:
    """A day of the month or week before, and of the one after."""
    if span == "week":
        return at - timedelta(days=7), at + timedelta(days=7)
    first = at.replace(day=1)
    return first - timedelta(days=1), first + timedelta(days=32)


FRAMES = {"wide": WIDE, "beside": BESIDE, "phone": PHONE}


def read_scale(text: str) -> Scale | None:
    """The days and measures of a picture that asks, “2026-02-01.2026-09-30.wide”; None where it does not say them."""
    start, end, frame = ([*text.split(".", 2), "", ""])[:3]
    try:
        found = Scale(date.fromisoformat(start), date.fromisoformat(end), FRAMES[frame])
    except (ValueError, KeyError):
        return None
    return found if 0 < found.days <= 800 else None
