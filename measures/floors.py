"""What each measure is held against: the least work that gives the same result.  Imports nothing of the code measured."""

from __future__ import annotations

import csv
import io
import json
import tomllib
from collections.abc import Callable, Iterable
from datetime import date
from typing import Any

import numpy as np
from django.db import transaction
from icalendar import Alarm, Calendar, Event
from scipy.signal import lfilter
from scipy.special import bdtrc, ndtr
from scipy.stats import kendalltau, theilslopes


def gathers_and_sums(tables: list[Any], rows: Any, columns: list[Any], days: list[Any]) -> Any:
    """Six gathers from tables of int32 and thirty sums, comparisons' cost, of int32 arrays of the plantings' shape."""
    found = days[0]
    for table, column in zip(tables, columns, strict=True):
        found = np.add(found, table[rows, column])
    for n in range(24):
        found = np.add(found, days[n % len(days)])
    return found


def sums_and_choices(days: Any, passes: int) -> Any:
    """So many passes over int32 arrays: a sum, a comparison, a choice, in turn."""
    found, other = days, days + 1
    for n in range(passes // 3):
        later = np.add(found, np.int32(n & 1))
        found = np.where(later > other, other, later)
    return found


def float32_passes(values: Any, days: int) -> Any:
    """Ten passes over float32 values for each of so many days: what one law does to one number, a multiplication, an addition and an
    exponential, written to an array of its own."""
    found = values
    for _ in range(days):
        for n in range(10):
            found = np.exp(np.float32(-0.1) * values + np.float32(0.01 * n))
    return found


def rebuild_trees(results: list[dict[str, Any]], working: Callable[..., Any], value: Callable[..., Any]) -> list[Any]:
    """Build every tree of `results` again, field by field, from constants (no arithmetic, no look-ups)."""

    def tree(node: Any) -> Any:
        inputs = tuple(value(v[0], v[1], v[2], v[3]) for v in node[1])
        result = node[3]
        return working(
            node[0], inputs, tuple(tree(s) for s in node[2]), value(result[0], result[1], result[2], result[3])
        )

    return [{name: tree(node) for name, node in one.items()} for one in results]


def bincount_days(since: Any, until: Any, flats: Any, zone: Any, zones: int, days: int) -> Any:
    """Every day of every stay written out, and one bincount over zone × day."""
    first, last = np.clip(since, 0, days), np.clip(until, 0, days)
    length = np.maximum(last - first, 0)
    whole = int(length.sum())
    begins = np.repeat(first - np.concatenate([[0], np.cumsum(length)[:-1]]), length)
    at = np.repeat(zone * days, length) + begins + np.arange(whole)
    return np.bincount(at, weights=np.repeat(flats, length), minlength=zones * days).reshape(zones, days)


def quadrature(seeds: Any, up: Any, need: Any, shares: int, speeds: int, horizons: int, looks: int) -> Any:
    """A grid of shares and speeds for each batch: a normal distribution function and a logarithm a look, an exponential, and a binomial tail
    a horizon, summed."""
    share = ((np.arange(shares) + 0.5) / shares)[None, :, None]
    log = np.zeros((len(seeds), shares, speeds))
    z = np.linspace(-1, 1, speeds)[None, None, :]
    for k in range(looks):
        log += up[:, None, None] * np.log(share * ndtr(z + k))
    weight = np.exp(log - log.max(axis=(1, 2), keepdims=True))
    weight /= weight.sum(axis=(1, 2), keepdims=True)
    found = np.empty((len(seeds), horizons))
    missing, left = np.maximum(need - up, 1.0)[:, None, None], np.maximum(seeds - up, 0.0)[:, None, None]
    for k in range(horizons):
        chance = np.clip(share * ndtr(z + k), 0.0, 1.0)
        found[:, k] = (weight * bdtrc(missing - 1, np.maximum(left, missing), chance)).sum(axis=(1, 2))
    return found


def render(template: Any, context: dict[str, Any], request: Any) -> str:
    """The same template from a ready context: no queries, no rules."""
    return str(template.render(context, request))


def parse_weather(data: bytes) -> tuple[list[Any], list[float], list[float]]:
    """The csv reader, a date and two numbers a row; nothing detected, nothing checked."""
    rows = csv.reader(io.StringIO(data.decode()))
    next(rows)
    days, low, high = [], [], []
    for day, tmin, tmax in rows:
        days.append(date.fromisoformat(day))
        low.append(float(tmin))
        high.append(float(tmax))
    return days, low, high


def roundtrip(document: Any, tables: list[tuple[Any, list[dict[str, Any]]]]) -> None:
    """The document dumped and loaded, and as many rows created from constants."""
    json.loads(json.dumps(document))
    for model, rows in tables:
        model._base_manager.bulk_create([model(**row) for row in rows], batch_size=500)


def icalendar_of(
    head: list[tuple[str, Any]], events: list[tuple[list[tuple[str, Any]], list[tuple[str, Any]]]]
) -> bytes:
    """A calendar from ready values: its own, and of every event its values and those of its alarm."""
    cal = Calendar()
    for name, value in head:
        cal.add(name, value)
    for values, bell in events:
        event = Event()
        for name, value in values:
            event.add(name, value)
        if bell:
            alarm = Alarm()
            for name, value in bell:
                alarm.add(name, value)
            event.add_component(alarm)
        cal.add_component(event)
    return bytes(cal.to_ical())


def load_toml(paths: list[Any]) -> list[Any]:
    return [tomllib.loads(path.read_text(encoding="utf-8")) for path in paths]


def search_frosts(grid: Any, thresholds: tuple[float, ...]) -> list[Any]:
    """Per threshold one comparison, and the first and the last cold night of each row of a ready grid."""
    found = []
    for threshold in thresholds:
        cold = grid <= threshold
        found.append((cold.argmax(axis=1), grid.shape[1] - 1 - cold[:, ::-1].argmax(axis=1)))
    return found


def draw_and_sort(years: int, times: int) -> list[Any]:
    """So many arrays of 1000 × years integers, drawn and sorted by row."""
    random = np.random.default_rng(1)
    return [np.sort(random.integers(0, years, (1000, years)), axis=1) for _ in range(times)]


def binomial_tails(wanted: Any, chances: Any, counts: int) -> Any:
    """One call: the chance of enough for every case, node and so many counts."""
    tried = wanted[:, None] + np.arange(counts)
    return bdtrc((wanted - 1)[:, None, None], tried[:, :, None], chances[:, None, :])


def frost_climate(rows: list[tuple[int, bytes]], used: int) -> Any:
    """A stored series read, cut by calendar into cold seasons and searched at three thresholds; both dates' spread."""
    days = np.concatenate([np.frombuffer(bytes(tenths), dtype="<i2") for _, tenths in rows]) / 10
    start = date(rows[0][0], 1, 1).toordinal()
    cuts = [date(year, 7, 16).toordinal() - start for year, _ in rows]
    grid = np.full((len(cuts) - 1, 366), np.nan)
    for row, a, b in zip(grid, cuts, cuts[1:], strict=False):
        row[: b - a] = days[a:b]
    return search_frosts(grid[-used:], (2.2, 0.0, -2.2)), draw_and_sort(used, 6)


def place_answers(low: list[tuple[int, bytes]], high: list[tuple[int, bytes]], used: int, asked: int) -> Any:
    """What Place answers, by bare numpy and scipy: seasons, spread, trend, soil and nights for `asked` warmths each."""
    found, spread = frost_climate(low, used)
    days = found[1][1].astype(float)
    trend = theilslopes(days), kendalltau(np.arange(len(days)), days)
    mean = sum(np.concatenate([np.frombuffer(bytes(t), dtype="<i2") for _, t in rows]) / 20 for rows in (low, high))
    soil = lfilter([0.2], [1, -0.8], mean)
    springs = np.lib.stride_tricks.sliding_window_view(soil, 184)[158 : 158 + 365 * used : 365]
    warm = []
    for celsius in range(asked):
        below = springs < celsius
        runs = below[:, 2:] & below[:, 1:-1] & below[:, :-2]
        cold = np.lib.stride_tricks.sliding_window_view(springs < celsius, 14, axis=1).any(axis=2).mean(axis=0)
        warm.append((runs[:, ::-1].argmax(axis=1), np.convolve(cold, np.ones(7), "same")))
    return found, spread, trend, warm


def save_rows(rows: Iterable[Any]) -> None:
    """The rows saved in one transaction, nothing looked at and nothing noted."""
    with transaction.atomic():
        for row in rows:
            row.save()


def light_of_points(px: Any, py: Any, each: Any, xs: Any, ys: Any, high_cm: float) -> Any:
    """Σ Φ/π h²/d⁴ of all points over all cells in one pass."""
    d2 = (xs[None, None, :] - px[:, None, None]) ** 2 + (ys[None, :, None] - py[:, None, None]) ** 2 + high_cm**2
    return (each[:, None, None] * high_cm**2 / d2**2).sum(axis=0) * 1e4 / np.pi


def gather_and_accumulate(daily: Any, place: Any) -> Any:
    """What each place gave on each day, for every batch, summed up day by day."""
    return np.cumsum(daily[place, np.arange(place.shape[1])], axis=1)


def rebuilt(value: Any) -> Any:
    """A result put together once more field by field: nothing reckoned, every tuple and named tuple made anew."""
    if isinstance(value, tuple):
        fields = [rebuilt(one) for one in value]
        made = getattr(type(value), "_make", None)
        return tuple(fields) if made is None else made(fields)
    if isinstance(value, list):
        return [rebuilt(one) for one in value]
    return value


def day_limits(numbers: Any, limits: Any) -> Any:
    """One pass over batches × springs × days for each of eight numbers of a day's weather: held against the batch's limit, and summed."""
    found = np.zeros((limits.shape[1], *numbers.shape[1:]))
    for number, limit in zip(numbers, limits, strict=True):
        found += number[None] > limit[:, None, None]
    return found


def bare_worth(plant_c: Any, harm_c: Any, factors: Any, days: int) -> Any:
    """The bare sum of worth: for each batch the logistic share that each night leaves, summed as logarithms, from each day on; times three
    factors that are there already, meaned over the springs."""
    found = np.empty((len(harm_c), days))
    for n, harm in enumerate(harm_c):
        left = np.log1p(-0.999 / (1 + np.exp((plant_c - harm) / 0.9)))
        survives = np.exp(left[:, ::-1].cumsum(axis=1)[:, ::-1][:, :days])
        found[n] = (survives.T * factors[0][n] * factors[1][n] * factors[2][n]).mean(axis=1)
    return found
