"""Measures of the rules, without rows or pages."""

from __future__ import annotations

from typing import Any

from measures.timing import compare, report


def dating_500() -> bool:
    """500 plantings dated with all their working, against rebuilding the same result trees field by field."""
    from datetime import date

    from growing.chain.choice import Choice
    from growing.chain.dates import date_planting
    from growing.crops import library
    from growing.place.frost import TypedDate, TypedFrost
    from growing.place.year import PlaceYear
    from growing.working import Value, Working
    from measures.floors import rebuild_trees

    crops = sorted(library().values(), key=lambda c: c.key)

    def work() -> list[Any]:
        place = PlaceYear(
            2026, TypedFrost(False, TypedDate(5, 9, "average"), TypedDate(10, 4, "average")), latitude=52.0
        )
        choices = [Choice(sow_on=None if n % 3 else date(2026, 3, 1 + n % 28)) for n in range(500)]
        return [date_planting(crops[n % len(crops)], place, choices[n]) for n in range(500)]

    trees = [dict(one.workings) for one in work()]
    ms, floor = compare(work, lambda: rebuild_trees(trees, Working, Value))
    return report("dating_500", ms / floor, 1, f"{ms:.0f} ms, floor {floor:.0f} ms", ms)


def _seasons(plantings: int, seasons: int) -> Any:
    """Plantings and seasons drawn for the chain: the season, the crops, and the sowing days of a week."""
    import numpy as np

    from growing.chain import days as chain
    from growing.place.growth import Growth, standard_days

    random, zero = np.random.default_rng(7), 739_000
    warm = 11 + 9 * np.cos(2 * np.pi * (np.arange(530) - 375) / 365) + random.normal(0, 2, (seasons, 530))
    growth = Growth(standard_days(warm, 8.0, 19.0))
    growth.day_of  # noqa: B018  # made once with the seasons

    def column(low: int, high: int) -> Any:
        return random.integers(low, high, (plantings, 1)).astype(np.int32)

    out_min, shortest, mature = column(-40, 25), column(14, 80), column(30, 90)
    longest = shortest + column(0, 30)
    one = np.ones_like(out_min)
    middle, length = (shortest + longest) // 2, 30 * one
    crops = chain.CropColumns(
        out_min, out_min + 14, shortest, longest, middle, longest + 14, mature, 14 * one, length, 8 * one
    )
    gate = random.integers(250, 340, (plantings, seasons)).astype(np.int32)
    last, end = (random.integers(a, b, (1, seasons)).astype(np.int32) for a, b in ((270, 320), (430, 500)))
    week = np.array([0, 6, 5, 4, 3, 2, 1], np.int32), np.array([0, 1, 2, 3, 4, 5, 6], np.int32)
    season = chain.SeasonColumns(last, gate, end, np.int32(433), growth, np.arange(seasons)[None, :], np.int32(zero))
    return season, crops, week, warm


def chain_10000x30() -> bool:
    """The spring chain of 30 plantings in 10,000 seasons, against six gathers and thirty int32 sums on the same arrays."""
    import numpy as np

    from growing.chain import days as chain
    from measures.floors import gathers_and_sums

    season, crops, week, _ = _seasons(30, 10_000)
    columns = [np.roll(season.gate, n) for n in range(6)]
    tables, rows = [season.growth.units] * 6, np.broadcast_to(season.year, season.gate.shape)

    def work() -> object:
        plan = chain.spring_plan(season, crops, *week)
        return chain.yields(season, crops, plan.planted.day, plan.planted.wanted)

    ms, floor = compare(work, lambda: gathers_and_sums(tables, rows, columns, columns))
    return report("chain_10000x30", ms / floor, 5, f"{ms:.0f} ms, floor {floor:.0f} ms", ms)


def course_10000x30() -> bool:
    """The same with seedlings, leaves, three containers and a ladder climbed under each season's sky, against as many passes over
    arrays of that shape: a sum or a comparison each."""
    import numpy as np

    from growing.chain.rearing import Vessels
    from growing.chain.seasons import Climbs, Young, rear
    from growing.ladders.ahead import possible
    from growing.ladders.climbing import Climbers, LadderColumns, Sky, WindShelter
    from growing.ladders.ladder import ladders
    from measures.floors import sums_and_choices

    plantings, seasons, first, days = 30, 10_000, 225, 150
    season, crops, week, warm = _seasons(plantings, seasons)
    random = np.random.default_rng(8)

    def real(low: float, high: float, years: int = 1) -> Any:
        return random.uniform(low, high, (plantings, years)).astype(np.float32)

    limits = [(crops.longest * share // 8).astype(np.int32) for share in (5, 7, 10)]
    yes, moves = np.ones((plantings, 1), bool), np.ones((plantings, 1), np.int32)
    vessels = Vessels(limits, [~yes] * 3, [~yes] * 3, [2 * moves, moves, 0 * moves])
    young = Young(
        real(3, 8, seasons), real(5, 12, seasons), real(5, 9), real(5, 14, seasons), real(4, 6), real(2, 3),
        10 * moves, vessels,
    )  # fmt: skip
    ways = list(ladders().values())
    which = np.arange(plantings) % len(ways)
    can = np.zeros((2, len(ways), days, max(len(way.rungs) for way in ways)))
    for n, way in enumerate(ways):
        can[:, n, :, : len(way.rungs)] = possible(way, [None] * days)
    nothing, rungs = np.zeros((plantings, 1), np.int8), np.array([way.days for way in ways], np.int32)
    tmax = (warm[:, first : first + days] + 5).astype(np.float32)
    unknown: Any = np.full((1, days), np.nan, np.float32)
    sky = Sky(tmax, tmax - np.float32(9), np.full((1, days), 1.0, np.float32), *([unknown] * 5))
    bears = [np.full(plantings, value, np.float32) for value in (9.0, 5.0, 3.0, 0.0, 0.8)]
    counts: list[Any] = [which, *[nothing[:, 0]] * 6, nothing, *bears]
    who = Climbers(*counts)
    climbs = Climbs(LadderColumns.of(ways), who, sky, WindShelter(), can, first, rungs[which][:, None])
    passes = 120 + 45 * days
    ms, floor = compare(
        lambda: rear(season, crops, young, climbs, *week), lambda: sums_and_choices(season.gate, passes), 3
    )
    return report("course_10000x30", ms / floor, 8, f"{ms:.0f} ms, floor {floor:.0f} ms", ms)


def _climates() -> Any:
    """A hundred years of daily minima, as the simulated station makes them."""
    from datetime import date

    from growing.place.minima import DailySeries
    from growing.place.station import Climate, generate

    weather = generate(Climate(9.0, 9.8, 2.6, range_c=14.0), False, 7, date(1925, 7, 16), 36525)
    return DailySeries(weather.start, weather.tmin)


def frost_100y() -> bool:
    """Seasons of a hundred years at three thresholds, cut and searched, against the search alone on the ready grid."""
    from growing.place import minima
    from measures.floors import search_frosts

    record = _climates()
    grid = record.grid(False).values.copy()

    def work() -> Any:
        record._grids.clear()
        climate = minima.ComputedFrost(False, record)
        return [climate.seasons(t) for t in (2.2, 0.0, -2.2)]

    ms, floor = compare(work, lambda: search_frosts(grid, (2.2, 0.0, -2.2)))
    return report("frost_100y", ms / floor, 60, f"{ms:.2f} ms, floor {floor:.2f} ms", ms)


def bootstrap_1000() -> bool:
    """How sure thirty years make both dates at three thresholds, against drawing and sorting as many integers."""
    from growing.place.minima import ComputedFrost
    from growing.place.sureness import how_sure
    from measures.floors import draw_and_sort

    climate = ComputedFrost(False, _climates())
    dates = [d for t in (2.2, 0.0, -2.2) for d in (climate.last(2030, t), climate.first(2030, t))]

    def work() -> Any:
        return [how_sure(d, 30, 0.1) for d in dates]

    ms, floor = compare(work, lambda: draw_and_sort(30, len(dates)))
    return report("bootstrap_1000", ms / floor, 6, f"{ms:.1f} ms, floor {floor:.1f} ms", ms)


def sow_counts_300() -> bool:
    """Counts for 300 plantings of uncertain seed, each singly, thinned from two and in clumps of three, as sure as a shortfall
    asks, against calls of the binomial tail."""
    import numpy as np

    from growing.seeds.sowing import How, nodes, place_chances, smallest_counts
    from measures.floors import binomial_tails

    random = np.random.default_rng(5)
    wanted = random.integers(4, 60, 300)
    ways = ((How("cells", "thin"), 1), (How("cells", "thin"), 2), (How("cells", "clump", None, 3), 4))
    need = np.concatenate([-(-wanted // how.clump) for how, _ in ways])
    sure = np.tile(random.choice([0.8, 0.9, 0.95], 300), 3)
    g = np.array([nodes(a, b) for a, b in zip(random.uniform(3, 20, 300), random.uniform(1, 6, 300), strict=True)])
    chances = np.concatenate([place_chances(how, m, g, 0.9) for how, m in ways])

    def work() -> Any:
        found = np.concatenate([place_chances(how, m, g, 0.9) for how, m in ways])
        return smallest_counts(need, found, sure)

    ms, floor = compare(work, lambda: binomial_tails(need, chances, 10))
    return report("sow_counts_300", ms / floor, 0.9, f"{ms:.1f} ms, floor {floor:.1f} ms", ms)


def library_load() -> bool:
    """The crop library read, inherited and checked, against tomllib on the same files."""
    from pathlib import Path

    from growing import crops
    from measures.floors import load_toml

    paths = sorted(Path(crops.__file__).parent.glob("*.toml"))

    def work() -> None:
        crops.library.cache_clear()
        crops._classes.cache_clear()
        crops.library()

    ms, floor = compare(work, lambda: load_toml(paths))
    return report("library_load", ms / floor, 3, f"{ms:.0f} ms, floor {floor:.0f} ms, {len(crops.library())} crops", ms)


def nature_day() -> bool:
    """A day of 10,000 plants of the simulated nature, half of them on the bench and half in the ground, over sixty spring days,
    against ten float32 passes a day over as many values."""
    from copy import deepcopy
    from datetime import date

    import numpy as np

    from demo.nature.kinds import kind
    from demo.nature.plants import Care, Plants, Sowing
    from demo.nature.rooms import Place, World
    from demo.nature.weather import Record, draw
    from measures.floors import float32_passes

    random, days, groups, each = np.random.default_rng(3), 60, 200, 50
    t = np.arange(3650)
    mean = 8 + 8 * np.cos(2 * np.pi * (t - 200) / 365.25) + random.normal(0, 3, len(t))
    weather = draw(Record(date(2010, 1, 1), mean - 4, mean + 4), 1, date(2026, 1, 1), 200, 52.4, 100)
    world = World(weather, (Place("shelf", "shelf"), Place("porch", "porch"), Place("bed", "bed")))
    made = Plants([Sowing(s, k, kind(k), each) for s in range(100) for k in ("tomato", "kale")], 1)
    out = np.arange(groups) % 2 == 1
    none, porch = np.zeros(groups, bool), np.ones(groups, np.intp)
    care = Care(np.where(out, 2, 0), none, ~out, np.zeros(groups, np.float32), porch, none)
    made.sown[:] = True
    for day in range(60, 100):
        made.day(world.air(day), care._replace(place=np.zeros(groups, np.intp)), day)
        made.give_water(made.wet.mean(axis=0) < 0.5)
    made.plant_out(out)
    values = random.random((each, groups)).astype(np.float32)

    def work() -> None:
        plants = deepcopy(made)
        for day in range(100, 100 + days):
            plants.day(world.air(day), care, day)
            plants.give_water(~out & (plants.wet.mean(axis=0) < 0.5))

    ms, floor = compare(work, lambda: float32_passes(values, days))
    return report("nature_day", ms / floor, 8, f"{ms / days:.2f} ms a day, floor {floor / days:.2f} ms", ms)
