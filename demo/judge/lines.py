"""The line that a comparison prints for a policy."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from demo.nature.season import Score, mean_and_error


class Line(NamedTuple):
    """What a policy came to in a climate: plants alive after four weeks and harvest of a hundred wanted plants, worth with its error.

    set_out: of a hundred wanted; full: of a hundred plantings, those with all that was wanted; seeds a wanted plant.  behind: our
    worth less this one's, paired by season, with its error.  by_crop: worth of each.
    """

    comparison: str
    climate: str
    policy: str
    plants: float
    harvest: float
    worth: float
    se: float
    set_out: float
    full: float
    seeds: float
    minutes: float
    behind: float
    behind_se: float
    by_crop: tuple[float, ...]

    @classmethod
    def of(
        cls,
        comparison: str,
        climate: str,
        policy: str,
        score: Score,
        top: NDArray[np.float64],
        grows: NDArray[np.bool_],
        ours: Score,
    ) -> Line:
        """From its score; the means over crops are of those that grow at all in a season."""

        def mean(values: NDArray[np.float64]) -> NDArray[np.float64]:
            return np.asarray((values * grows).sum(axis=1) / np.maximum(grows.sum(axis=1), 1))

        worth = mean(score.worth(top))
        value, error = mean_and_error(worth)
        behind, behind_se = mean_and_error(mean(ours.worth(top)) - worth)
        share = lambda counts: 100 * float(mean(counts / score.wanted).mean())  # noqa: E731
        each = np.divide((score.worth(top) * grows).sum(axis=0), np.maximum(grows.sum(axis=0), 1))
        return cls(
            comparison,
            climate,
            policy,
            plants=share(score.alive),
            harvest=float(mean(score.harvest).mean()),
            worth=value,
            se=error,
            set_out=share(score.set_out),
            full=100 * float((score.set_out >= score.wanted).mean()),
            seeds=float((score.seeds / score.wanted).mean()),
            minutes=float(score.minutes.mean()),
            behind=behind,
            behind_se=behind_se,
            by_crop=tuple(float(x) for x in each),
        )

    @classmethod
    def all_of(
        cls, comparison: str, climate: str, run: Mapping[str, Score], best: NDArray[np.float64]
    ) -> Iterator[Line]:
        """One a policy, ours among them.  A crop that not even an unharmed plant brings to harvest in a season says nothing of it."""
        top = np.maximum(best, np.max([score.harvest for score in run.values()], axis=0))
        for policy, score in run.items():
            yield cls.of(comparison, climate, policy, score, top, top > 0, run["aestiva"])

    def __str__(self) -> str:
        line = f"SIMULATE {self.comparison} {self.climate} {self.policy} plants={self.plants:.1f} harvest={self.harvest:.2f} "
        line += f"worth={self.worth:.3f} se={self.se:.3f}"
        ours = "" if self.policy == "aestiva" else f"aestiva {self.behind:+.3f} ± {self.behind_se:.3f}; "
        return f"{line}  # {ours}set out {self.set_out:.0f} of 100, all in {self.full:.0f} of 100, {self.seeds:.1f} seeds, {self.minutes:.0f} minutes"
