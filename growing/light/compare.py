"""What would another lamp buy?  The same shelf under this lamp, two of it, a panel, and what a sill would give; light, evenness, current."""

from __future__ import annotations

from typing import NamedTuple

from growing.light.height import ANY_STEP_CM, best_height
from growing.light.hours import CurrentPrice, WeekCost, cost
from growing.light.lamps import DescribedLamp, flux, kinds
from growing.light.plane import WHITE, Hung
from growing.light.shelf import Board, Got, LampAsSet, even

KINDS = ("this", "two", "panel", "sides", "sill")


class Alternative(NamedTuple):
    """The same plants under it, hung as suits them best: mean DLI, evenness, of so many trays how many have enough; its cost a week; the
    height of the lamp [cm], None: no lamp; fits: is there room for it."""

    kind: str
    dli: float
    even: float
    right: int
    of: int
    cost: WeekCost | None
    watts: float
    height_cm: float | None
    fits: bool


def side_by_side(lamps: tuple[Hung, ...], deep_cm: float, times: int) -> tuple[Hung, ...]:
    """So many times as many lamps as there are, spread evenly over the depth of the board."""
    many = [lamp for lamp in lamps for _ in range(times)]
    return tuple(lamp._replace(y_cm=(k + 0.5) / len(many) * deep_cm) for k, lamp in enumerate(many))


def compare(board: Board, setting: LampAsSet, tariff: CurrentPrice, sill_dli: float | None) -> list[Alternative]:
    """Each alternative hung where it does best; the sill for all alike."""
    found = [_alternative("this", board, *best_height(board, setting), tariff)]
    two = board._replace(lamps=side_by_side(board.lamps, board.deep_cm, 2), watts=2 * board.watts)
    found.append(_alternative("two", two, *best_height(two, setting), tariff))
    kind = kinds()["panel"]
    panel = flux(DescribedLamp("panel"))
    count = max(1, round(board.wide_cm / 60))
    hung = tuple(
        Hung(panel.umol, kind.length_cm, kind.width_cm, (k + 0.5) / count * board.wide_cm, board.deep_cm / 2, 0, 0)
        for k in range(count)
    )
    limits = board.limits._replace(warm_cm=kind.warm_cm, step_cm=ANY_STEP_CM, dims=True)
    instead = board._replace(lamps=hung, watts=panel.watts * count, limits=limits)
    to, got = _panel_at(instead, setting)
    found.append(_alternative("panel", instead, to, got, tariff))
    white = board._replace(sides=board.sides._replace(left=WHITE, right=WHITE, back=WHITE))
    if board.sides != white.sides:
        found.append(_alternative("sides", white, *best_height(white, setting), tariff))
    if sill_dli is not None:
        right = sum(s.band.low <= sill_dli <= s.band.high for s in board.stands)
        found.append(Alternative("sill", sill_dli, 1.0, right, len(board.stands), None, 0.0, None, True))
    return found


def _panel_at(board: Board, setting: LampAsSet) -> tuple[LampAsSet, list[Got]]:
    """A panel as high as it can hang, dimmed as far as suits all."""
    at = setting._replace(left_cm=board.limits.top_cm, right_cm=board.limits.top_cm, per_cent=100.0)
    tried = []
    for per_cent in range(20, 101, 10):
        to = at._replace(per_cent=float(per_cent))
        got = board.got(to)
        tried.append((round(board.missed(got), 3), per_cent, to, got))
    _, _, to, got = min(tried, key=lambda one: one[:2])
    return to, got


def _alternative(kind: str, board: Board, setting: LampAsSet, got: list[Got], tariff: CurrentPrice) -> Alternative:
    watts = board.watts * setting.per_cent / 100
    mean = sum(g.dli for g in got) / len(got) if got else 0.0
    fits = all(g.gap_cm >= board.limits.warm_cm for g in got)
    right = sum(g.verdict == "right" for g in got)
    return Alternative(
        kind, mean, even(got), right, len(got), cost(setting.timer, watts, tariff), watts, setting.lowest_cm, fits
    )
