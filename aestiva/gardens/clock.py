"""What day is it in this garden?  The one place that asks the machine's clock."""

from __future__ import annotations

from datetime import UTC, date, datetime
from zoneinfo import ZoneInfo

from aestiva.gardens.models import Garden


def today(garden: Garden) -> date:
    """The garden's day: its simulated one, or today where it lies."""
    return garden.simulated_on or day_at(garden, instant())


def hour(garden: Garden) -> float:
    """The hour on the garden's clock."""
    return hour_at(garden, instant())


def hour_at(garden: Garden, moment: datetime) -> float:
    """The hour of a moment on the garden's clock."""
    here = moment.astimezone(ZoneInfo(garden.timezone))
    return here.hour + here.minute / 60 + here.second / 3600


def day_at(garden: Garden, moment: datetime) -> date:
    """The day of a moment where the garden lies."""
    return moment.astimezone(ZoneInfo(garden.timezone)).date()


def instant() -> datetime:
    """Now, for time stamps."""
    return datetime.now(UTC)  # noqa: TID251
