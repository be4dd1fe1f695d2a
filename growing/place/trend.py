"""Is frost moving?  A trend in the days of an event over the years, tested before it is believed."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from growing.assumptions import real
from growing.working import Value, Working

SIGNIFICANT = 0.05
MATTERS_DAYS = real("place.trend.MATTERS_DAYS")
LEAST_YEARS = 10


class Trend(NamedTuple):
    """days_per_decade: slope, minus for earlier.  p: chance of such a run of years without any trend.  span: years
    from the first to the last.  matters: p below 0.05 and five days or more over the record.
    """

    days_per_decade: float
    p: float
    span: int
    matters: bool
    working: Working

    def moved(self, years: Sequence[int], days: Sequence[float], to: int) -> list[float]:
        """The days (from season start) as they would fall if every year were `to`."""
        return [d + (to - y) * self.days_per_decade / 10 for y, d in zip(years, days, strict=True)]


def trend_of(years: Sequence[int], days: Sequence[float]) -> Trend:
    """Median of all pairwise slopes (Theil and Sen), tested by rank correlation with the year (Mann and Kendall).

    years, days: equally long; fewer than ten, or days that never differ, show no trend.
    """
    slope, p = 0.0, 1.0
    span = max(years) - min(years) if years else 0
    if len(years) >= LEAST_YEARS and len(set(days)) > 1:
        from scipy.stats import kendalltau, theilslopes  # takes more than a second to load, and one page asks

        slope = float(theilslopes(days, years).slope)
        p = float(kendalltau(years, days).pvalue)
    matters = p < SIGNIFICANT and abs(slope) * span >= MATTERS_DAYS
    inputs = (
        Value("seasons", len(years), "", "station"),
        Value("change over the record", slope * span, "Δdays", "working"),
        Value("chance", p, "share", "working"),
    )
    verdict = Value("matters" if matters else "no trend", slope * 10, "Δdays", "working")
    return Trend(slope * 10, p, span, matters, Working("place.trend", inputs, (), verdict))
