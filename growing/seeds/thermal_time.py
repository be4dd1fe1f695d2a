"""Is it coming, and when?  Speed and share of emergence by temperature.

Rates come from the table of days to emergence where the crop (or its proxy) has a row, otherwise from cardinal
temperatures.  Half of the seeds that will come are up when the thermal clock x = ∫ rate dt reaches 1.
"""

from __future__ import annotations

import math
from functools import lru_cache
from statistics import NormalDist

import numpy as np

from growing.crops import Crop
from growing.tables import rows
from growing.working import Value, Working

LAMP_X = 0.6
LAMP_DAYS = 3
_STEP_C = 5.0
_TEMPERATURES = (0, 5, 10, 15, 20, 25, 30, 35, 40)
_COLD_SHARE, _HOT_SHARE = (0.5, 1.0), (1.0, 0.3)
_NORMAL = NormalDist()
NEVER = math.inf


@lru_cache(maxsize=1024)
def table_rate(row: str, minimum_c: float, maximum_c: float, temperature_c: float) -> float:
    """Rate of emergence [1/day] at a constant temperature, from the table of days.

    NG: rate 0 there, rising in a line to the first number.  Empty inside: bridged.  Empty at an end: linear to 0 at the
    minimum or maximum, or over one step of the table where those lie within it.  Below 0 °C: 0.
    """
    xs, ys = _points(row, minimum_c, maximum_c)
    if temperature_c < 0:
        return 0.0
    return float(np.interp(temperature_c, xs, ys, left=0.0, right=0.0))


@lru_cache(maxsize=128)
def _points(row: str, minimum_c: float, maximum_c: float) -> tuple[tuple[float, ...], tuple[float, ...]]:
    cells = rows("emergence_days")[row]
    tested = [(t, cells[f"{t}C"]) for t in _TEMPERATURES]
    points = [(float(t), 1 / float(c)) for t, c in tested if c not in ("", "NG")]
    cold, hot = points[0][0], points[-1][0]
    dead_cold = [float(t) for t, c in tested if c == "NG" and t < cold]
    dead_hot = [float(t) for t, c in tested if c == "NG" and t > hot]
    foot = dead_cold[-1] if dead_cold else minimum_c if minimum_c < cold else cold - _STEP_C
    top = dead_hot[0] if dead_hot else maximum_c if maximum_c > hot else hot + _STEP_C
    points = [(foot, 0.0), *points, (top, 0.0)]
    return tuple(p[0] for p in points), tuple(p[1] for p in points)


@lru_cache(maxsize=1024)
def cardinal_rate(
    minimum_c: float, best_c: float, high_c: float, maximum_c: float, best_days: float, temperature_c: float
) -> float:
    """Rate [1/day] rising from the minimum to the best, flat to the top of the optimum, falling to the maximum."""
    if maximum_c <= high_c:
        maximum_c = high_c + 3
    xs = (min(minimum_c, best_c - 0.1), best_c, max(high_c, best_c), maximum_c)
    return float(np.interp(temperature_c, xs, (0.0, 1.0, 1.0, 0.0), left=0.0, right=0.0)) / best_days


def emergence_rate(crop: Crop, temperature_c: float) -> float:
    """Rate [1/day] for this crop at a constant temperature; 0 where it does not germinate."""
    if crop.table_row:
        rate = table_rate(crop.table_row, crop.number("min_c"), crop.number("max_c"), temperature_c)
        return rate / crop.number("proxy_factor")
    return cardinal_rate(
        crop.number("min_c"),
        crop.number("germinate_c"),
        crop.number("high_c"),
        crop.number("max_c"),
        crop.number("best_days"),
        temperature_c,
    )


def speed_source(crop: Crop) -> str:
    """Where the crop's speed of emergence comes from."""
    return f"table:{crop.table_row}" if crop.table_row else "estimate"


def emergence_days(crop: Crop, temperature_c: float) -> tuple[float, Working]:
    """Days until half of those that will come are up; infinite where the crop does not germinate."""
    rate = emergence_rate(crop, temperature_c)
    days = 1 / rate if rate > 0 else NEVER
    source = speed_source(crop)
    return days, Working(
        "emergence.days",
        (
            Value("temperature", temperature_c, "°C", crop.values["germinate_c"].source),
            Value("rate", rate, "per day", source),
        ),
        (),
        Value("days to half up", None if rate == 0 else days, "days", source),
    )


def share_up(x: float, sigma: float) -> float:
    """Of those that will come, the share up at thermal time x (log-normal, half at x = 1)."""
    return 0.0 if x <= 0 else _NORMAL.cdf(math.log(x) / sigma)


def first_look_x(sigma: float) -> float:
    """Thermal time at which the first may be up: two of its spreads before half are."""
    return math.exp(-2 * sigma)


def relative_share(crop: Crop, temperature_c: float) -> float:
    """What comes at this warmth as a share of what comes at the best: by the table, otherwise by its cardinal temperatures.

    Without a table: all between (minimum + best)/2 and the top of the optimum, half at the minimum, 0.3 at the maximum
    (estimates); nothing where it does not germinate.
    """
    if crop.table_row in rows("emergence_percent"):
        return _relative_share(crop.table_row, temperature_c)
    low, best, high, top = (crop.number(f) for f in ("min_c", "germinate_c", "high_c", "max_c"))
    if not low <= temperature_c <= top and not emergence_rate(crop, temperature_c):
        return 0.0
    return _between(low, best, high, top, temperature_c)


@lru_cache(maxsize=1024)
def _between(low: float, best: float, high: float, top: float, temperature_c: float) -> float:
    """Half at the lowest temperature, all from halfway to the best up to the top of the optimum, 0.3 at the highest."""
    return float(
        np.interp(temperature_c, (low, (low + best) / 2, high, max(top, high + 0.1)), (*_COLD_SHARE, *_HOT_SHARE))
    )


def share_points(crop: Crop) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """`relative_share` as corners, temperature [°C] and share: what lies between is a line, what lies outside is at the end."""
    if crop.table_row in rows("emergence_percent"):
        return _share_corners(crop.table_row)
    low, best, high, top = (crop.number(f) for f in ("min_c", "germinate_c", "high_c", "max_c"))
    return (low, (low + best) / 2, high, max(top, high + 0.1)), (*_COLD_SHARE, *_HOT_SHARE)


def share_coming(crop: Crop, temperature_c: float) -> float:
    """The share of sown seeds that will emerge at this warmth: fresh germination × the table's ratio to its best."""
    return crop.number("fresh_germination") * relative_share(crop, temperature_c)


@lru_cache(maxsize=512)
def _relative_share(row: str, temperature_c: float) -> float:
    """Normal seedlings at that temperature, as a share of those at the row's best."""
    return float(np.interp(temperature_c, *_share_corners(row)))


@lru_cache(maxsize=128)
def _share_corners(row: str) -> tuple[tuple[float, ...], tuple[float, ...]]:
    cells = rows("emergence_percent")[row]
    known = [(float(t), float(cells[f"{t}C"])) for t in _TEMPERATURES if cells[f"{t}C"] != ""]
    most = max(share for _, share in known)
    return tuple(t for t, _ in known), tuple(share / most for _, share in known)
