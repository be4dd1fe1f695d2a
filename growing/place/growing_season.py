"""How long may things grow?  From the last frost to the next first frost, year by year, then its distribution."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

from growing.calendar import cold_season_start
from growing.place.minima import ColdSeason, ComputedFrost
from growing.place.quantile import quantile
from growing.working import Value, Working


class SeasonLength(NamedTuple):
    """days between the last frost of spring and the first of autumn, of the growing season of `year`; inf: no frost."""

    year: int
    days: float


class GrowingSeason(NamedTuple):
    """usual: half of the years are longer.  sure: nine in ten are at least so long.  inf where frost never ends it.

    None where fewer than ten years have both ends.
    """

    usual: float | None
    sure: float | None
    years: list[SeasonLength]
    working: Working


def lengths(lasts: Sequence[ColdSeason], firsts: Sequence[ColdSeason], southern: bool) -> list[SeasonLength]:
    """One length a year; both of its frosts must be known.  A year without either frost is endless.

    lasts, firsts: the seasons that know their last frost, and those that know their first.
    """
    by_year = {s.year: s for s in firsts}
    found = []
    for season in lasts:
        after = by_year.get(season.year + 1)
        if after is None:
            continue
        if season.last is None or after.first is None:
            found.append(SeasonLength(season.year, math.inf))
            continue
        between = (cold_season_start(season.year + 1, southern) - cold_season_start(season.year, southern)).days
        found.append(SeasonLength(season.year, between + after.first - season.last - 1))
    return found


def growing_season(climate: ComputedFrost, threshold_c: float = 0.0) -> GrowingSeason:
    """Frost-free days between spring and autumn: quantiles of the yearly lengths, never differences of quantiles."""
    years = lengths(climate.used(threshold_c), climate.used(threshold_c, "first"), climate.southern)
    ordered = sorted(y.days for y in years)
    usual = sure = None
    if len(ordered) >= 10:
        usual, sure = quantile(ordered, 0.5), quantile(ordered, 0.1)
    inputs = (
        Value("years", len(years), "", "station"),
        Value("threshold", threshold_c, "°C", "setting"),
        Value("shortest", ordered[0] if ordered and ordered[0] < math.inf else None, "days", "station"),
        Value("sure", sure if sure is None or sure < math.inf else None, "days", "station"),
    )
    result = Value("growing season", usual if usual is None or usual < math.inf else None, "days", "station")
    return GrowingSeason(usual, sure, years, Working("place.growing_season", inputs, (), result))
