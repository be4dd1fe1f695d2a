"""Measures of the room ahead and of best sowing days."""

from __future__ import annotations

import time
from typing import Any

from measures.timing import compare, report


def occupancy_2000() -> bool:
    """Room taken by 2,000 batches that stand somewhere all year, four stays each, against one bincount of batch × day."""
    import numpy as np

    from growing.bench.ahead import occupancy
    from measures.floors import bincount_days

    random = np.random.default_rng(17)
    batches, days, zones, start = 2_000, 365, 6, 739_000
    cuts = np.sort(random.integers(1, days, (batches, 3)), axis=1)
    edges = np.column_stack([np.zeros(batches, int), cuts, np.full(batches, days)]) + start
    since, until = edges[:, :-1].ravel(), edges[:, 1:].ravel()
    zone = random.integers(0, zones, batches * 4)
    flats = random.uniform(0.1, 4.0, batches * 4)
    as_int = [a.astype(np.int32) for a in (zone, since, until)]

    def ours() -> Any:
        return occupancy(as_int[0], as_int[1], as_int[2], flats, zones, start, days)

    def floor_work() -> Any:
        return bincount_days(since - start, until - start, flats, zone, zones, days)

    ms, floor = compare(ours, floor_work)
    same = np.allclose(ours(), floor_work())
    return report("occupancy_2000", ms / floor if same else 99, 3, f"{ms:.2f} ms, floor {floor:.1f} ms", ms)


def season_to_decide(sowings: int, seed: int) -> Any:
    """Sowings of a spring on Saturdays and Sundays: windows of 10 to 35 days, seed on mats, then under lamps, then in pots; room that is
    scarce."""
    import numpy as np

    from growing.bench.bestdays import DayChoice, MovableSowing, RoomUse, SowingProblem

    random, days, found = np.random.default_rng(seed), 200, []
    for key in range(sowings):
        ideal = int(min(max(random.normal(60, 25), 8), 120))
        width = int(random.integers(10, 35))
        flats = float(random.choice([0.2, 0.3, 0.5, 1.0, 1.0, 2.0]))
        up, pot, out = (int(random.integers(a, b)) for a, b in ((4, 14), (18, 32), (35, 70)))
        own = [d for d in range(max(0, ideal - width // 2), min(130, ideal + width // 2) + 1) if d % 7 in (5, 6)]
        choices = [
            DayChoice(
                d,
                float(abs(d - ideal)),
                10 + flats * 25,
                (
                    RoomUse(0, d, d + up, flats),
                    RoomUse(1, d + up, d + pot, flats),
                    RoomUse(1, d + pot, min(days, d + out), flats * 2.2),
                ),
            )
            for d in own or [ideal]
        ]
        found.append(MovableSowing(key, tuple(choices)))
    whole = sum(s.choices[0].uses[0].flats for s in found)
    holds = np.array([np.ceil(whole / 6), np.ceil(whole * 1.1)])
    return SowingProblem(tuple(found), np.zeros((2, days)), holds, {d: max(60.0, sowings * 6.0) for d in range(days)})


def _gap(name: str, sowings: int, seconds: float, limit: float, seeds: int) -> bool:
    """(plan − bound) ÷ (greedy − bound), the worst of some seeded seasons; 0 where the greedy plan is the best."""
    from growing.bench.bestdays import greedy, solve

    gaps, took, proven, values = [], [], 0, []
    for seed in range(1, seeds + 1):
        task = season_to_decide(sowings, seed)
        quick, begun = greedy(task).worth.value, time.perf_counter()
        plan = solve(task, seconds)
        took.append(time.perf_counter() - begun)
        proven += plan.proven
        gaps.append((plan.worth.value - plan.bound) / (quick - plan.bound) if quick > plan.bound + 1e-6 else 0.0)
        values.append(f"{quick:.0f}→{plan.worth.value:.0f}≥{plan.bound:.0f}")
    note = f"worst of {seeds} seasons, mean {sum(gaps) / seeds:.3f}, {proven} proven, longest {max(took):.1f} s; {', '.join(values)}"
    return report(name, max(gaps), limit, note, 1000 * max(took))


def optimise_40_gap() -> bool:
    """40 sowings, ten seconds, one thread."""
    return _gap("optimise_40_gap", 40, 10, 0.05, 6)


def optimise_300_gap() -> bool:
    """300 sowings, thirty seconds, one thread."""
    return _gap("optimise_300_gap", 300, 30, 0.3, 3)
