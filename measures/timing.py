"""How a measure is taken: measured and floor in turn after a warm-up, the median of each, one line for both."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from typing import Any

RUNS = 11


def compare(measured: Callable[[], Any], floor: Callable[[], Any]) -> tuple[float, float]:
    """Median milliseconds of both, run in turn after a warm-up of each."""
    times: tuple[list[float], list[float]] = ([], [])
    for run in range(RUNS + 1):
        for which, work in enumerate((measured, floor)):
            began = time.perf_counter()
            work()
            if run:
                times[which].append((time.perf_counter() - began) * 1000)
    return statistics.median(times[0]), statistics.median(times[1])


def report(name: str, ratio: float, limit: float, note: str) -> bool:
    good = ratio <= limit
    print(f"MEASURE {name} {ratio:.2f} {limit:g} {'ok' if good else 'over'}  # {note}", flush=True)
    return good


def forget() -> None:
    """Drop what is kept between requests; the library's own files stay read, as in a running server."""
    from aestiva.place import queries
    from growing.place import daylight, minima
    from growing.place import nights as watch
    from growing.seeds import sowing

    for kept in (
        queries._joined,
        queries.computed_frost,
        queries.computed_warmth,
        minima._grid,
        daylight.reaches,
        sowing.cells_to_sow,
        sowing.seeds_for,
        watch.at_plant,
        daylight.day_length_h,
        daylight.ten_hour_autumn,
    ):
        kept.cache_clear()


class without_instrumentation:
    """Templates render as on a server, without the test signals."""

    def __enter__(self) -> None:
        from django.test.utils import teardown_test_environment

        teardown_test_environment()

    def __exit__(self, *args: object) -> None:
        from django.test.utils import setup_test_environment

        setup_test_environment()
