"""Something goes wrong: what was really so in the room and the tray, what it did to the seedlings, what somebody sees of it and answers.

A trouble begins with its cause: one thing that went too far.  All else is as it happens to be in such rooms, sometimes not good either.  How much
of it shows goes by how bad it is; people overlook some signs, see others that are none, and did not write everything down.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

import numpy as np

WRITTEN = 0.65  # of what could be known of a tray was written down
OVERLOOKED, IMAGINED = 0.22, 0.03  # of signs
OWN_WAY = 0.9  # how differently a kind of seedling shows a sign (logit)
RIGHT = 0.8  # of answers


class Happened(NamedTuple):
    """One trouble: its cause; is nothing up; conditions by name, of those that were written down; signs that somebody saw; true answers."""

    cause: str
    lying: bool
    had: Mapping[str, float]
    signs: tuple[str, ...]
    answers: Mapping[str, str]


# cause: how often; driver and how far it went (least, most); signs (share where it is bad); answers (share of each)
_ABOVE = {
    "dim": (
        10,
        ("dli", 0.25, 0.75),
        {"leggy": 0.98, "yellow": 0.15, "still": 0.2},
        {"first": "all", "where": "all", "came": "slow"},
    ),
    "dark": (4, ("dark_days", 1, 4), {"leggy": 1.0, "yellow": 0.35}, {"where": "all", "came": "night"}),
    "warm": (7, ("mean", 3.5, 8), {"leggy": 0.95, "limp": 0.1}, {"where": "all", "came": "slow"}),
    "crowded": (
        5,
        ("crowd", 1, 2),
        {"leggy": 0.8, "yellow": 0.25, "still": 0.3},
        {"first": "lowest", "where": "some", "came": "slow"},
    ),
    "wet": (
        11,
        ("wet", 0.6, 1),
        {"yellow": 0.7, "film": 0.6, "still": 0.5, "limp": 0.3, "flies": 0.3},
        {"pot": "heavy", "first": "lowest", "came": "slow", "where": "all", "roots": "white"},
    ),
    "coldwet": (
        9,
        ("coldwet", 0.6, 1),
        {"yellow": 0.7, "still": 0.6, "film": 0.5, "purple": 0.35},
        {"pot": "heavy", "first": "lowest", "came": "slow", "where": "all", "roots": "white"},
    ),
    "cold": (
        8,
        ("night", -6, -2),
        {"purple": 0.75, "still": 0.8, "yellow": 0.2},
        {"roots": "white", "came": "slow", "where": "all", "first": "all"},
    ),
    "hungry": (
        7,
        ("unfed", 24, 50),
        {"yellow": 0.9, "still": 0.6, "purple": 0.1},
        {"first": "lowest", "roots": "white", "came": "slow", "where": "all", "pot": "light"},
    ),
    "salts": (
        5,
        ("fed", 2, 5),
        {"edges": 0.85, "crust": 0.6, "still": 0.4, "yellow": 0.3},
        {"first": "lowest", "where": "all", "came": "slow", "roots": "white"},
    ),
    "dampingoff": (
        9,
        ("wet", 0.4, 1),
        {"fallen": 1.0, "gaps": 0.25, "limp": 0.25, "fuzz": 0.2, "film": 0.3},
        {"stem": "brown", "where": "patch", "came": "night", "pot": "heavy"},
    ),
    "rot": (
        5,
        ("wet", 0.5, 1),
        {"limp": 0.95, "yellow": 0.5, "still": 0.4, "flies": 0.2},
        {"pot": "heavy", "roots": "brown", "where": "some", "stem": "whole", "came": "slow"},
    ),
    "thirst": (
        9,
        ("dry", 0.4, 1),
        {"limp": 0.95, "dryedge": 0.6, "edges": 0.3},
        {"pot": "light", "roots": "white", "came": "night", "where": "all", "first": "all"},
    ),
    "scorch": (
        5,
        ("sun", 0, 3),
        {"bleached": 0.98, "limp": 0.4, "edges": 0.25},
        {"came": "night", "where": "all", "first": "all"},
    ),
    "lampnear": (
        4,
        ("gap", 1, 5),
        {"bleached": 0.65, "edges": 0.65, "still": 0.25},
        {"first": "newest", "came": "slow", "where": "some"},
    ),
    "algae": (
        7,
        ("wet", 0.5, 1),
        {"film": 1.0, "flies": 0.15, "crust": 0.1},
        {"roots": "white", "came": "slow", "where": "all", "pot": "heavy"},
    ),
    "mould": (4, ("lid", 1, 1), {"fuzz": 1.0}, {"stem": "whole", "where": "some", "came": "night", "pot": "heavy"}),
    "gnats": (
        6,
        ("wet", 0.3, 0.9),
        {"flies": 1.0, "still": 0.25, "film": 0.25},
        {"where": "all", "came": "slow", "pot": "heavy", "roots": "white"},
    ),
    "shallow": (
        3,
        ("dry", 0.2, 0.6),
        {"toponly": 0.95, "limp": 0.5, "still": 0.5, "crust": 0.2},
        {"pot": "light", "roots": "few", "where": "all", "came": "slow"},
    ),
    "mice": (4, ("night_visit", 1, 1), {"gaps": 0.9, "eaten": 0.75}, {"came": "night", "stem": "cut", "where": "some"}),
    "corner": (
        4,
        ("dry", 0.2, 0.6),
        {"gaps": 0.55, "dryedge": 0.85, "limp": 0.45},
        {"where": "edge", "pot": "light", "stem": "whole", "came": "slow"},
    ),
    "rosette": (2, ("hot", 4, 14), {"rosette": 1.0, "still": 0.5}, {"came": "slow", "where": "all", "roots": "white"}),
    "held": (
        5,
        ("age", 1.1, 1.8),
        {"flowers": 0.6, "coiled": 0.85, "yellow": 0.5, "still": 0.4},
        {"first": "lowest", "came": "slow", "where": "all", "pot": "light"},
    ),
    "coat": (2, ("coat", 1, 1), {"coat": 1.0}, {"came": "slow"}),
}
_UNDER = {
    "coldseed": (9, ("mix", -5, 1), {"nothing": 1.0}, {"seed": "firm", "pot": "heavy"}),
    "dryseed": (6, ("drymix", 1, 3), {"nothing": 1.0, "dryedge": 0.5}, {"seed": "sprout", "pot": "light"}),
    "oldseed": (6, ("seed", 0.1, 0.6), {"nothing": 1.0}, {"seed": "firm", "pot": "heavy"}),
    "unlit": (3, ("unlit", 1, 1), {"nothing": 1.0}, {"seed": "firm", "pot": "heavy"}),
    "deep": (4, ("deep", 1, 3), {"nothing": 1.0}, {"seed": "sprout", "pot": "heavy"}),
    "rotted": (5, ("wet", 0.6, 1), {"nothing": 1.0, "fuzz": 0.15}, {"seed": "soft", "pot": "heavy"}),
    "wait": (6, ("x", 0.3, 1.05), {"nothing": 1.0}, {"seed": "firm", "pot": "heavy"}),
}
UNDER_SHARE = 0.2  # of troubles are of what does not come up
ANSWERS = {
    "first": ("lowest", "newest", "all"),
    "pot": ("heavy", "light"),
    "roots": ("white", "brown", "few"),
    "where": ("all", "edge", "patch", "some"),
    "came": ("night", "slow"),
    "stem": ("brown", "whole", "cut"),
    "seed": ("firm", "soft", "sprout"),
}
SIGNS = tuple(dict.fromkeys(sign for table in (_ABOVE, _UNDER) for one in table.values() for sign in one[2]))


def happen(rng: np.random.Generator) -> Happened:
    """One trouble; each that can be seen, for nobody asks where there is nothing to see."""
    lying = bool(rng.random() < UNDER_SHARE)
    table = _UNDER if lying else _ABOVE
    often = np.array([one[0] for one in table.values()], float)
    while True:
        cause = str(rng.choice(list(table), p=often / often.sum()))
        _, driver, shares, answers = table[cause]
        bad = float(rng.uniform(0.6, 1.0))
        there = [s for s, p in shares.items() if rng.random() < _in_its_way(rng, p) * bad**0.5]
        seen = {s for s in there if rng.random() >= OVERLOOKED}
        if not seen:
            continue
        seen |= {s for s in SIGNS if s not in ("nothing", "coat") and rng.random() < IMAGINED}
        had = _room(rng, lying)
        _too_far(rng, had, driver)
        told = {k: v for k, v in had.items() if rng.random() < WRITTEN or k in ("lying", "light_seed")}
        said = {q: _answer(rng, q, answers) for q in ANSWERS}
        return Happened(cause, lying, told, tuple(sorted(seen)), said)


def _in_its_way(rng: np.random.Generator, share: float) -> float:
    """A share as this kind of seedling has it."""
    odds = np.log(min(0.98, share) / (1 - min(0.98, share))) + rng.normal(0, OWN_WAY)
    return float(1 / (1 + np.exp(-odds)))


def _answer(rng: np.random.Generator, question: str, true: Mapping[str, str]) -> str:
    """What somebody says: what is so, mostly; anything where there is nothing to tell."""
    words = ANSWERS[question]
    if question in true and rng.random() < RIGHT:
        return true[question]
    return str(rng.choice(words))


def _room(rng: np.random.Generator, lying: bool) -> dict[str, float]:
    """How it happens to be: mostly well enough."""
    n = rng.normal
    had = {
        "night_over_c": float(n(1.0, 1.8)),
        "mean_over_c": float(n(0.0, 1.8)),
        "dli_share": float(np.exp(n(0.2, 0.3))),
        "gap_cm": float(max(2.0, n(14, 5))),
        "watered_days": float(rng.binomial(7, 0.35)),
        "wet_looks": float(rng.binomial(7, 0.06)),
        "dry_looks": float(rng.binomial(7, 0.07)),
        "fed_days": float(rng.integers(1, 28)),
        "fed_times": float(np.exp(n(0.0, 0.35))),
        "lid": float(rng.random() < (0.7 if lying else 0.12)),
        "out_days": float(rng.integers(0, 60)) if rng.random() < 0.3 else 99.0,
        "age_share": float(max(0.1, n(0.6, 0.22))),
        "hot_days": float(rng.poisson(0.5)),
        "dark_days": float(rng.random() < 0.05),
    }
    if lying:
        had |= {
            "mix_over_c": float(n(9, 3)),
            "seed_share": float(min(1.0, max(0.2, n(0.9, 0.1)))),
            "unlit": float(rng.random() < 0.04),
            "x": float(n(1.6, 0.3)),
            "dry_looks": float(rng.binomial(7, 0.02)),
        }
    return had


def _too_far(rng: np.random.Generator, had: dict[str, float], driver: tuple[str, float, float]) -> None:
    """The one thing that did it."""
    what, least, most = driver
    far = float(rng.uniform(least, most))
    if what in ("wet", "coldwet"):
        had["watered_days"] = float(rng.binomial(7, 0.5 + 0.45 * far))
        had["wet_looks"] = float(rng.binomial(7, 0.15 + 0.5 * far))
    if what == "coldwet":
        had["night_over_c"] = float(-1.2 - 4 * far * rng.random())
    if what == "dry":
        had["dry_looks"] = float(rng.binomial(7, 0.25 + 0.5 * far))
        had["watered_days"] = float(rng.binomial(7, 0.2))
    names = {
        "dli": "dli_share",
        "mean": "mean_over_c",
        "night": "night_over_c",
        "gap": "gap_cm",
        "hot": "hot_days",
        "age": "age_share",
    }
    names |= {
        "fed": "fed_times",
        "mix": "mix_over_c",
        "drymix": "dry_looks",
        "seed": "seed_share",
        "dark_days": "dark_days",
        "lid": "lid",
    }
    names |= {"x": "x", "unlit": "unlit", "sun": "out_days"}
    if what in names:
        had[names[what]] = float(np.floor(far)) if what in ("dark_days", "sun", "hot", "drymix") else far
    if what == "unfed":
        had["fed_days"] = far
    if what == "fed":
        had["fed_days"] = float(rng.integers(1, 12))
