"""Who raises how many?  The plants wanted, shared among the batches of one planting."""

from __future__ import annotations

from collections.abc import Sequence


def shares(whole: int, weights: Sequence[float], least: Sequence[int]) -> list[int]:
    """Whole numbers in proportion to the weights that add up to `whole`, none under its least (largest remainders).

    whole: ≥ 0.  weights: ≥ 0, one a batch; all 0 counts as equal.  least: what a batch has given already, ≥ 0; where
    these alone are more than the whole they are the answer.
    """
    if len(weights) != len(least) or whole < 0 or any(w < 0 for w in weights) or any(n < 0 for n in least):
        raise ValueError("one weight and one least a batch, none below 0")
    if len(least) == 1:
        return [max(whole, least[0])]
    given = list(least)
    left = whole - sum(given)
    open_ = [max(0.0, w - n) for w, n in zip(weights, least, strict=True)]
    if left <= 0 or not open_:
        return given
    total = sum(open_)
    exact = [left * w / total if total else left / len(open_) for w in open_]
    floors = [int(e) for e in exact]
    first = sorted(range(len(exact)), key=lambda i: (floors[i] - exact[i], i))[: left - sum(floors)]
    return [n + f + (i in first) for i, (n, f) in enumerate(zip(given, floors, strict=True))]
