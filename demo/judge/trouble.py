"""Does the trouble finder find it?  Troubles of nature, told as people tell them; the true cause first, among the first three; against reflexes.

Compared with three habits: it is hungry (feed it), it is dry (water it), and the cause that most often has the sign seen first.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from demo.nature.troubles import Happened, happen
from growing.care.trouble import ASKED, Log, book, shows, weigh

CASES, SEED = 300, 20


class TroubleLine(NamedTuple):
    """Of so many troubles: share whose true cause stands first, and among the first three; with its error; times that feeding stood first where it
    was wet and cold."""

    comparison: str
    policy: str
    cases: int
    first: float
    three: float
    se: float
    fed_wrongly: int

    def __str__(self) -> str:
        return (
            f"SIMULATE {self.comparison} {self.policy} troubles={self.cases} first={self.first:.3f} three={self.three:.3f} se={self.se:.3f} "
            f"fed_where_wet_and_cold={self.fed_wrongly}"
        )


def log_of(had: Happened) -> Log:
    """What the product would have of it: numbers against what the crop likes, as far as anybody wrote them down."""
    h = had.had
    over = lambda name, base: None if name not in h else base + h[name]  # noqa: E731
    looks = 7 if "watered_days" in h and "wet_looks" in h else 0
    return Log(
        lying=had.lying,
        night_c=over("night_over_c", 14.0), night_wants_c=14.0, mean_c=over("mean_over_c", 20.0), likes_c=20.0,
        dli=None if "dli_share" not in h else 10 * h["dli_share"], low_dli=10.0, gap_cm=h.get("gap_cm"),
        looks=looks, watered_days=int(h.get("watered_days", 0)), wet_looks=int(h.get("wet_looks", 0)), dry_looks=int(h.get("dry_looks", 0)),
        fed_days=None if "fed_days" not in h else int(h["fed_days"]), fed_times=h.get("fed_times"),
        wants_feed=None if "fed_days" not in h else True, lid=None if "lid" not in h else h["lid"] > 0.5,
        out_days=None if h.get("out_days", 99) > 60 else int(h["out_days"]), age_share=h.get("age_share"),
        hot_days=None if "hot_days" not in h else int(h["hot_days"]), mix_c=over("mix_over_c", 12.0), least_c=12.0,
        seed_share=h.get("seed_share"), light_seed="unlit" in h and h["unlit"] > 0.5,
        lit=None if "unlit" not in h else h["unlit"] < 0.5, x=h.get("x"),
        dark_days=None if "dark_days" not in h else int(h["dark_days"]),
    )  # fmt: skip


def found_of(had: Happened) -> list[str]:
    """Causes as the finder ranks them once its questions were answered."""
    facts, answers = shows(log_of(had)), dict[str, str]()
    for _ in range(ASKED):
        found = weigh("it", had.signs, answers, facts, had.lying)
        if not found.ask:
            break
        question = found.ask[0].key
        answers[question] = had.answers[question]
    found = weigh("it", had.signs, answers, facts, had.lying)
    return sorted(found.odds, key=lambda key: -found.odds[key])


def by_reflex(had: Happened, first: str) -> list[str]:
    """One answer to everything; what lies under the mix is waited for."""
    return ["wait" if had.lying else first]


def by_sign(had: Happened) -> list[str]:
    """The causes that most often have the signs seen, whatever the log says."""
    kinds = [k for k in book().causes.values() if k.under == had.lying]
    return [k.key for k in sorted(kinds, key=lambda k: -k.often * sum(k.signs.get(s, 0.0) for s in had.signs))]


def trouble(cases: int = CASES, seed: int = SEED) -> Iterator[TroubleLine]:
    """The comparison, line by line; and which causes it misses."""
    rng = np.random.default_rng(seed)
    all_ = [happen(rng) for _ in range(cases)]
    policies = {
        "aestiva": found_of,
        "signs_alone": by_sign,
        "feed_it": lambda had: by_reflex(had, "hungry"),
        "water_it": lambda had: by_reflex(had, "thirst"),
    }
    for name, policy in policies.items():
        ranked = [policy(had) for had in all_]
        first = np.array([r[0] == had.cause for r, had in zip(ranked, all_, strict=True)])
        three = np.array([had.cause in r[:3] for r, had in zip(ranked, all_, strict=True)])
        wrongly = sum(
            r[0] == "hungry" and shows(log_of(had)).get("wet", False) and shows(log_of(had)).get("cold", False)
            for r, had in zip(ranked, all_, strict=True)
        )
        yield TroubleLine(
            "trouble", name, cases, float(first.mean()), float(three.mean()), float(first.std() / cases**0.5), wrongly
        )


def missed(cases: int = CASES, seed: int = SEED) -> Counter[tuple[str, str]]:
    """Which true causes stand second to which, for those who mend the book."""
    rng = np.random.default_rng(seed)
    found: Counter[tuple[str, str]] = Counter()
    for _ in range(cases):
        had = happen(rng)
        ranked = found_of(had)
        if ranked[0] != had.cause:
            found[(had.cause, ranked[0])] += 1
    return found
