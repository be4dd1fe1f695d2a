"""Will it ripen here, and how late may it go out?  One crop at one place, by the warmth of the years or by the calendar."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from growing.chain.days import first_by_calendar, first_by_warmth, latest_out_by_calendar, latest_out_by_warmth, ordinal
from growing.crops import Crop
from growing.crops.schema import CHECK_DAYS
from growing.place.growth import MIDWINTER, NEVER, SPAN_DAYS, Growth
from growing.place.quantile import quantile
from growing.place.year import PlaceYear

PICKED_DAYS = 14  # of picking that make it worth while
LONGEST_DAYS = 250  # what takes longer lives through winter: its warmth is not counted
STANDS_FROM_C = -9.0  # what bears that is picked through winter


def ends_at_c(crop: Crop) -> float:
    """The temperature at the plant that ends it: what spoils what is eaten, otherwise what kills it full-grown."""
    spoils = crop.maybe("harvest_c")
    return crop.number("kill_c") if spoils is None else spoils


def stands_winter(crop: Crop) -> bool:
    """Full-grown before the short days, is it picked through winter?"""
    return crop.word("yields") == "harvest" and ends_at_c(crop) <= STANDS_FROM_C


def stay_days(crop: Crop) -> int:
    """Days it must be picked, or bloom, for its place to be worth while."""
    return 0 if crop.word("picked") == "once" else min(PICKED_DAYS, int(crop.number("yield_days")))


class HotDays(NamedTuple):
    """Days of the year, from the season's start, whose fortnight ahead is too hot for its harvest: the first, the first
    that is not any more, and the limit [°C]."""

    hot_from: int
    cool_from: int
    limit_c: float
    nights: bool


class FirstHarvest(NamedTuple):
    """First harvest (ordinal) of the fastest and the slowest kind, NEVER where it does not come in half of the years; share
    of years in which the fastest gives enough before that year's end, None where nobody knows."""

    fast: int
    slow: int
    share: float | None


class Ripening(NamedTuple):
    """How long one crop takes at one place, raised or sown in place.

    growth None: no daily weather is known, calendar days count.  ends: per year, days from the season's start.  fast, slow:
    days to harvest of its fastest and slowest kinds; check: of which pass without growth.
    """

    start: int
    growth: Growth | None
    ends: NDArray[np.int32] | None
    equinox: int
    fast: int
    slow: int
    check: int
    stay: int
    heat: HotDays | None
    years: NDArray[np.int32]
    matures: NDArray[np.int32]

    @property
    def lives_on(self) -> bool:
        """Does it take so long that it lives through winter before it gives anything?  Then no autumn ends it."""
        return self.fast > LONGEST_DAYS

    def harvest(self, out: int, older_tenths: int) -> FirstHarvest:
        """First harvests of its fastest and slowest kinds (ordinals) in the middle of the years, and how often it is enough.

        out: ordinal of planting out.  older_tenths: what the plants are ahead in the pot [tenths of a day].
        """
        if self.growth is None:
            fast, slow = (int(first_by_calendar(out, m, older_tenths, self.equinox)) for m in (self.fast, self.slow))
            return FirstHarvest(fast, slow, None)
        day, light = min(max(out - self.start, 0), SPAN_DAYS), self.equinox - self.start
        both = first_by_warmth(self.growth, self.years, day, self.matures, self.check, older_tenths, light)
        fast, slow = (NEVER if d >= NEVER else self.start + d for d in self._middle(both))
        share = None
        if self.ends is not None:
            share = float(np.mean(both[0] + self.stay <= self.ends))
        return FirstHarvest(fast, slow, share)

    @staticmethod
    def _middle(days: NDArray[np.int32]) -> list[int]:
        """The middle of the years, of two the earlier, of each row."""
        found: list[int] = np.sort(days, axis=1)[:, (days.shape[1] - 1) // 2].tolist()
        return found

    def latest(self, end: int | None, risk: float) -> int | None:
        """The last planting out (ordinal) from which it still gives enough before the year's end at that risk; None: unknown.

        end: the end at that risk, where no years speak.  NEVER: nothing ends it.
        """
        if self.growth is not None and self.ends is not None:
            each = self._latest(np.minimum(self.ends, SPAN_DAYS), self.stay)
            return self.start + int(np.floor(quantile(sorted(each.tolist()), risk)))
        if end is None:
            return None
        return NEVER if end >= NEVER else int(latest_out_by_calendar(end, self.stay, self.fast, self.equinox))

    def _latest(self, end: NDArray[np.int32] | int, stay: int) -> NDArray[np.int32]:
        assert self.growth is not None
        light = self.equinox - self.start
        found: NDArray[np.int32] = latest_out_by_warmth(
            self.growth, self.years, end, stay, self.fast, self.check, light
        )
        return found

    def out_by(self, day: int) -> int | None:
        """The last planting out (ordinal) whose harvest begins by that day from the season's start, in half of the years."""
        if self.growth is None:
            return None
        return self.start + int(np.sort(self._latest(day, 0))[(len(self.years) - 1) // 2])


def ripening(crop: Crop, place: PlaceYear, method: str, raising: int) -> Ripening:
    """How this crop ripens here.

    raising: middle raising time [days], that of a plant sown in place counts with it; 0: its days count from sowing anyway.
    """
    fast, slow = int(crop.number("mature_min")), int(crop.number("mature_max"))
    less, check = 0, CHECK_DAYS
    if method == "direct":
        less, check = raising - CHECK_DAYS if raising else 0, 0
    start = place.span_start.toordinal()
    warm = fast + less <= LONGEST_DAYS
    growth = place.growth(crop.number("base_c"), crop.number("std_c")) if warm else None
    ends = place.year_ends(ends_at_c(crop)) if growth is not None else None
    if ends is not None:
        ends = np.minimum(ends, NEVER - 1)  # what never ripens is not in time for an endless year
    return Ripening(
        start,
        growth,
        ends,
        ordinal(place.equinox),
        fast + less,
        slow + less,
        check,
        stay_days(crop),
        _heat(crop, place),
        np.arange(0 if growth is None else len(growth.units), dtype=np.int32),
        np.array([[fast + less], [slow + less]], np.int32),
    )


def _heat(crop: Crop, place: PlaceYear) -> HotDays | None:
    """When it is too hot for its harvest here, on the mean of the years; None: never, or nobody knows."""
    normals = place.normals
    if normals is None:
        return None
    for field, means in (("heat_c", normals.day_c), ("heat_night_c", normals.night_c)):
        limit = crop.maybe(field)
        if limit is None:
            continue
        hot = np.flatnonzero(np.nan_to_num(means[MIDWINTER:]) > limit) + MIDWINTER
        if hot.size:
            return HotDays(int(hot[0]), int(hot[-1]) + 1, limit, field == "heat_night_c")
    return None
