"""How a measure is taken: measured and floor in turn after a warm-up, the median of each, one line for both."""

from __future__ import annotations

import gzip
import json
import statistics
import time
from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import Any

RUNS = 11
LANDED, SLOWER = Path(__file__).parent / "landed.json", 1.4


def compare(measured: Callable[[], Any], floor: Callable[[], Any], times_run: int = RUNS) -> tuple[float, float]:
    """Median milliseconds of both, run in turn so many times after a warm-up of each."""
    times: tuple[list[float], list[float]] = ([], [])
    for run in range(times_run + 1):
        for which, work in enumerate((measured, floor)):
            began = time.perf_counter()
            work()
            if run:
                times[which].append((time.perf_counter() - began) * 1000)
    return statistics.median(times[0]), statistics.median(times[1])


def calibration_loop() -> int:
    """So much plain work that every machine does alike: additions, a dictionary, some text."""
    found: dict[int, int] = {}
    for n in range(60_000):
        found[n % 257] = found.get(n % 257, 0) + n
    return len(",".join(map(str, found.values())))


@cache
def loop_ms() -> float:
    """How long the calibration loop takes here, the median of nine [ms]."""
    times = []
    for _ in range(10):
        began = time.perf_counter()
        calibration_loop()
        times.append((time.perf_counter() - began) * 1000)
    return statistics.median(times[1:])


def landed() -> dict[str, float]:
    """The figures that landed last, by measure."""
    return {name: float(ratio) for name, ratio in json.loads(LANDED.read_text(encoding="utf-8")).items()}


found: dict[str, float] = {}


def report(name: str, ratio: float, limit: float, note: str, ms: float | None = None) -> bool:
    """One line a measure; over its limit, or over 1.4 × what landed last, is over.

    ms: what was measured, shown as a multiple of the calibration loop, too.
    """
    found[name] = round(ratio, 3)
    before = landed().get(name)
    slower = before is not None and ratio > SLOWER * before and ratio > SLOWER * 0.5
    good = ratio <= limit and not slower
    loops = "" if ms is None else f" {ms / loop_ms():.2f} loops,"
    was = "" if before is None else f" landed {before:.2f};"
    print(f"MEASURE {name} {ratio:.2f} {limit:g} {'ok' if good else 'over'}  #{was}{loops} {note}", flush=True)
    return good


def forget() -> None:
    """Drop what is kept between requests; the library's own files stay read, as in a running server."""
    from django.core.cache import cache as answers

    from growing.ladders import ahead
    from growing.place import daylight
    from growing.place import nights as watch
    from growing.seeds import sowing

    for kept in (
        daylight.reaches,
        sowing.counted,
        watch.at_plant,
        daylight.day_length_h,
        daylight.ten_hour_autumn,
    ):
        kept.cache_clear()
    answers.clear()
    ahead._found.clear()


def page_of_many(name: str, what: str, many: tuple[Any, str], one: tuple[Any, str]) -> bool:
    """A page with many of something against the same page with one, each a client and its address, twice as long at most."""
    from django.core.cache import cache
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    pages, queries = [], []
    for client, at in (many, one):
        client.get(at)
        with CaptureQueriesContext(connection) as seen:
            pages.append(client.get(at).content)
        queries.append(len(seen))

    def page(of: tuple[Any, str]) -> Any:
        cache.clear()
        return of[0].get(of[1])

    with without_instrumentation():
        ms, least = compare(lambda: page(many), lambda: page(one))
    note = (
        f"{ms:.0f} ms, one {what} {least:.0f} ms, {len(pages[0]) / 1000:.0f} kB, {len(gzip.compress(pages[0])) / 1000:.0f} kB compressed, "
        f"queries {queries[0]} and {queries[1]}"
    )
    return report(name, ms / least, 2, note, ms)


class without_instrumentation:
    """Templates render as on a server, without the test signals."""

    def __enter__(self) -> None:
        from django.test.utils import teardown_test_environment

        teardown_test_environment()

    def __exit__(self, *args: object) -> None:
        from django.test.utils import setup_test_environment

        setup_test_environment()
