"""What is wrong with these?  Signs that were seen, two or three answers and what the log shows, weighed; causes with what speaks for and against.

Each cause has a share of how often each sign, answer and fact of the log goes with it (`trouble.toml`, estimates); a sign that was not named
counts half, for nobody looks at everything.  What nobody knows counts for nothing.  Feeding is never proposed first where it is wet and cold, and
where two causes fit both are shown.
"""

from __future__ import annotations

import tomllib
from collections.abc import Collection, Mapping
from functools import lru_cache
from math import exp, log
from pathlib import Path
from typing import Any, NamedTuple

from growing.working import Value, Working

UNNAMED = 0.5  # of the weight of a sign, where it was not named
SHOWN_FROM, LEAST_SHOWN, MOST_SHOWN = 0.04, 2, 4
LEAST, MOST = 0.02, 0.98  # no share is surer
ASKED, LEAST_GAIN = 3, 0.02  # questions, and what one must be worth [nat]
FEEDS = ("hungry",)
MUCH_MORE = 1.5  # times as often as without it, from which a fact speaks for a cause
LATELY_DAYS = 14  # of the log


class TroubleKind(NamedTuple):
    """A cause: its name, how often, whether it is of what lies under the mix; shares of signs, of what the log shows, of answers; what is
    checked first, what is good, what is not done, what growers then do."""

    key: str
    name: str
    often: float
    under: bool
    signs: Mapping[str, float]
    log: Mapping[str, float]
    answers: Mapping[str, Mapping[str, float]]
    check: str
    good: str
    never: str
    acts: tuple[str, ...]


class Sign(NamedTuple):
    """Something that can be seen: where ("plant", "leaf", "stem", "surface", "root", "mix"), its word, how often it is seen without a cause."""

    key: str
    where: str
    word: str
    otherwise: float


class Question(NamedTuple):
    """A question, and its answers by their keys."""

    key: str
    ask: str
    answers: Mapping[str, str]


class Book(NamedTuple):
    """All that is known: signs, questions, facts of the log (word and how often it is so without being the cause), causes."""

    signs: Mapping[str, Sign]
    questions: Mapping[str, Question]
    facts: Mapping[str, tuple[str, float]]
    causes: Mapping[str, TroubleKind]


@lru_cache(maxsize=1)
def book() -> Book:
    """What goes wrong, from `trouble.toml`."""
    data: dict[str, Any] = tomllib.loads((Path(__file__).parent / "trouble.toml").read_text(encoding="utf-8"))
    return Book(
        {key: Sign(key, one["where"], one["word"], one["else"]) for key, one in data["signs"].items()},
        {key: Question(key, one["ask"], one["answers"]) for key, one in data["questions"].items()},
        {key: (one["word"], one["else"]) for key, one in data["log"].items()},
        {
            key: TroubleKind(
                key, one["name"], one["often"], one.get("under", False), one["signs"], one["log"], one["answers"],
                one["check"], one["good"], one["never"], tuple(one["acts"]),
            )
            for key, one in data["causes"].items()
        },
    )  # fmt: skip


# --- what the log shows


class Log(NamedTuple):
    """What was written down of a batch in the last fortnight; None: nobody knows.

    night_c, night_wants_c: mean of its nights, and what it likes [°C].  mean_c, likes_c: of day and night.  dli, low_dli: light had and the least
    [mol/m²/d].  gap_cm: from the leaves to the lamp.  watered_days: of the last seven; wet_looks, dry_looks: times it was found wet, and light or
    limp in them, of looks.  fed_days: since it was fed; fed_times: how strong against what it wants; wants_feed: is it old enough, in a mix that
    carries none.  lid.  out_days: since it was out first.  age_share: of what its container carries.  hot_days: over 25 °C.  mix_c, least_c: of the
    mix, and the least that the seed needs.  seed_share: of fresh seed, that comes.  light_seed, lit: germinates in light; has it light.  x: of the
    days until half are up.  dark_days: up before it had light.  lying: nothing is up.
    """

    lying: bool = False
    night_c: float | None = None
    night_wants_c: float | None = None
    mean_c: float | None = None
    likes_c: float | None = None
    dli: float | None = None
    low_dli: float | None = None
    gap_cm: float | None = None
    looks: int = 0
    watered_days: int = 0
    wet_looks: int = 0
    dry_looks: int = 0
    fed_days: int | None = None
    fed_times: float | None = None
    wants_feed: bool | None = None
    lid: bool | None = None
    out_days: int | None = None
    age_share: float | None = None
    hot_days: int | None = None
    mix_c: float | None = None
    least_c: float | None = None
    seed_share: float | None = None
    light_seed: bool = False
    lit: bool | None = None
    x: float | None = None
    dark_days: int | None = None


COLD_BY_C, WARM_BY_C = 1.5, 3.0
DIM_SHARE = 0.8
NEAR_CM = 6.0
OFTEN_DAYS = 5  # of seven
STRONG_TIMES, STRONG_DAYS = 1.8, 14
UNFED_DAYS = 21
LATE_OUT_DAYS = 4
HOT_DAYS = 3
OLD_SEED = 0.7
STILL_EARLY_X = 1.15
COLD_MIX_C = 2.0


def shows(had: Log) -> dict[str, bool]:
    """What the log shows, fact by fact; what it cannot say is not in it."""
    found: dict[str, bool | None] = {
        "cold": _under(had.night_c, had.night_wants_c, COLD_BY_C),
        "warm": _over(had.mean_c, had.likes_c, WARM_BY_C),
        "dim": None if had.dli is None or not had.low_dli else had.dli < DIM_SHARE * had.low_dli,
        "glare": None if had.gap_cm is None else had.gap_cm < NEAR_CM,
        "wet": None if had.looks < 2 else had.watered_days >= OFTEN_DAYS or had.wet_looks >= 2,
        "strong": None if had.fed_times is None or had.fed_days is None else had.fed_times >= STRONG_TIMES and had.fed_days <= STRONG_DAYS,
        "unfed": None if had.wants_feed is None else had.wants_feed and (had.fed_days is None or had.fed_days > UNFED_DAYS),
        "lid": had.lid,
        "sun": None if had.lying else had.out_days is not None and had.out_days <= LATE_OUT_DAYS,
        "old": None if had.age_share is None else had.age_share > 1.0,
        "heat": None if had.hot_days is None else had.hot_days >= HOT_DAYS,
        "dark": None if had.dark_days is None else had.dark_days >= 1,
    }  # fmt: skip
    if had.lying:
        found |= {
            "coldmix": None if had.mix_c is None or had.least_c is None else had.mix_c < had.least_c + COLD_MIX_C,
            "drymix": None if had.looks < 2 else had.dry_looks >= 1,
            "oldseed": None if had.seed_share is None else had.seed_share < OLD_SEED,
            "unlit": None if had.lit is None else had.light_seed and not had.lit,
            "early": None if had.x is None else had.x < STILL_EARLY_X,
        }
    else:
        found["dry"] = None if had.looks < 2 else had.dry_looks >= 2
    return {key: bool(value) for key, value in found.items() if value is not None}


def _under(value: float | None, wanted: float | None, by: float) -> bool | None:
    return None if value is None or wanted is None else value < wanted - by


def _over(value: float | None, wanted: float | None, by: float) -> bool | None:
    return None if value is None or wanted is None else value > wanted + by


# --- weighed


class Cause(NamedTuple):
    """A cause with its odds; what speaks for and against it: signs, facts of the log (by key) and answers, in words."""

    kind: TroubleKind
    odds: float
    signs: tuple[str, ...]
    facts: tuple[str, ...]
    answers: tuple[str, ...]
    against: tuple[str, ...]
    facts_against: tuple[str, ...]


class Found(NamedTuple):
    """What it most likely is: causes that are to be shown, the likeliest first; what to ask next; all odds; the working."""

    causes: tuple[Cause, ...]
    ask: tuple[Question, ...]
    odds: Mapping[str, float]
    working: Working

    @property
    def first(self) -> Cause:
        return self.causes[0]


def weigh(
    name: str, signs: Collection[str], answers: Mapping[str, str], facts: Mapping[str, bool], lying: bool = False
) -> Found:
    """What it may be.  signs: keys of those seen, one or more; answers: by question; facts: what the log shows (`shows`); lying: nothing is up.
    Raises ValueError for no sign, and for words that nobody knows."""
    known = book()
    if not signs:
        raise ValueError("what is it that you see? Choose at least one sign")
    for sign in signs:
        if sign not in known.signs:
            raise ValueError(f"“{sign[:30]}” is no sign that is known here")
    for question, answer in answers.items():
        if question not in known.questions or answer not in known.questions[question].answers:
            raise ValueError(f"“{answer[:30]}” is no answer to that question")
    kinds = [k for k in known.causes.values() if k.under == lying or (lying and _seen_under(k, signs))]
    scores = {k.key: log(k.often) + _of_signs(k, signs) + _of_facts(k, facts) + _of_answers(k, answers) for k in kinds}
    if facts.get("wet") and facts.get("cold"):  # feed on wet, cold roots does the harm it should cure
        best = max(score for key, score in scores.items() if key not in FEEDS)
        for key in FEEDS:
            if key in scores:
                scores[key] = min(scores[key], best - 1.0)
    odds = _normal(scores)
    ranked = sorted(kinds, key=lambda k: -odds[k.key])
    shown = [k for k in ranked if odds[k.key] >= SHOWN_FROM][:MOST_SHOWN]
    shown = ranked[: max(LEAST_SHOWN, len(shown))]
    inputs = (
        Value("name", name),
        Value("signs", ", ".join(known.signs[s].word for s in known.signs if s in signs)),
        Value("log", ", ".join(known.facts[f][0] for f, so in facts.items() if so) or "nothing unusual"),
        Value("answers", ", ".join(known.questions[q].answers[a] for q, a in answers.items()) or "none"),
        Value("odds", round(odds[ranked[0].key], 2), "share", "estimate"),
        Value("next", ranked[1].name if len(ranked) > 1 else ""),
    )
    working = Working("care.trouble", inputs, (), Value("cause", ranked[0].name))
    causes = tuple(_cause(k, odds[k.key], signs, answers, facts) for k in shown)
    return Found(causes, _ask(kinds, odds, answers, lying), odds, working)


def _seen_under(kind: TroubleKind, signs: Collection[str]) -> bool:
    """Can what is seen over the mix be of this cause though nothing is up: mould, flies, mice?"""
    return any(kind.signs.get(s, 0.0) >= 0.5 for s in signs if s != "nothing")


def _sure(share: float) -> float:
    return min(MOST, max(LEAST, share))


def _of_signs(kind: TroubleKind, signs: Collection[str]) -> float:
    total = 0.0
    for sign in book().signs.values():
        share = _sure(max(kind.signs.get(sign.key, 0.0), sign.otherwise))
        total += log(share) if sign.key in signs else UNNAMED * log(1 - share)
    return total


def _of_facts(kind: TroubleKind, facts: Mapping[str, bool]) -> float:
    total = 0.0
    for fact, so in facts.items():
        share = _sure(max(kind.log.get(fact, 0.0), book().facts[fact][1]))
        total += log(share if so else 1 - share)
    return total


def _of_answers(kind: TroubleKind, answers: Mapping[str, str]) -> float:
    return sum(log(_answered(kind, question, answer)) for question, answer in answers.items())


def _answered(kind: TroubleKind, question: str, answer: str) -> float:
    """How often that answer is given where this is the cause: what is said of it, else what is left for the others."""
    said, number = kind.answers.get(question, {}), len(book().questions[question].answers)
    if answer in said:
        return _sure(said[answer])
    return _sure((1 - sum(said.values())) / max(1, number - len(said)))


def _normal(scores: Mapping[str, float]) -> dict[str, float]:
    most = max(scores.values())
    weights = {key: exp(score - most) for key, score in scores.items()}
    total = sum(weights.values())
    return {key: weight / total for key, weight in weights.items()}


def _ask(
    kinds: Collection[TroubleKind], odds: Mapping[str, float], answers: Mapping[str, str], lying: bool
) -> tuple[Question, ...]:
    """The questions whose answers are worth most, those not answered yet; of all that are asked no more than three."""
    gains = []
    for question in book().questions.values():
        if question.key in answers or (question.key == "seed") != lying:
            continue
        gains.append((_gain(question, kinds, odds), question))
    gains.sort(key=lambda g: -g[0])
    return tuple(q for gain, q in gains[: max(0, ASKED - len(answers))] if gain >= LEAST_GAIN)


def _gain(question: Question, kinds: Collection[TroubleKind], odds: Mapping[str, float]) -> float:
    """How much an answer is likely to tell [nat]: the entropy of its answers, less what it is within each cause."""
    total, within = dict.fromkeys(question.answers, 0.0), 0.0
    for kind in kinds:
        shares = {a: _answered(kind, question.key, a) for a in question.answers}
        whole = sum(shares.values())
        for answer, share in shares.items():
            p = share / whole
            total[answer] += odds[kind.key] * p
            within -= odds[kind.key] * p * log(p)
    return -sum(p * log(p) for p in total.values() if p > 0) - within


def _cause(
    kind: TroubleKind, odds: float, signs: Collection[str], answers: Mapping[str, str], facts: Mapping[str, bool]
) -> Cause:
    """What speaks for it and against it."""
    known = book()
    fits = tuple(
        known.signs[s].word for s in known.signs if s in signs and kind.signs.get(s, 0.0) > known.signs[s].otherwise
    )
    odd = [
        known.signs[s].word for s in known.signs if s in signs and kind.signs.get(s, 0.0) <= known.signs[s].otherwise
    ]
    strong = [s.word for s in known.signs.values() if s.key not in signs and kind.signs.get(s.key, 0.0) >= 0.8]
    for_, against = [], []
    for fact, so in facts.items():
        share, otherwise = kind.log.get(fact, 0.0), known.facts[fact][1]
        if so and share >= MUCH_MORE * otherwise:
            for_.append(fact)
        elif not so and share >= 0.5:
            against.append(fact)
    said = []
    for question, answer in answers.items():
        if question in kind.answers:
            asked = known.questions[question]
            word, usual = f"{asked.ask.rstrip('?').lower()}: {asked.answers[answer]}", 1 / len(asked.answers)
            share = _answered(kind, question, answer)
            if share > usual:
                said.append(word)
            elif share < 0.6 * usual:
                odd.append(word)
    no = tuple([f"not of it: {word}" for word in odd] + [f"no {word}" for word in strong])
    return Cause(kind, odds, fits, tuple(for_), tuple(said), no, tuple(against))


# --- a treatment from a bottle


def wrong_treatment(
    edible: bool, product: str, on_label: bool, wait_days: int | None, days_to_eating: int | None
) -> str:
    """Why a product must not be used here; empty where its label allows it.  The label is the law.

    on_label: it names this crop; wait_days: before eating, as the label has it; days_to_eating: until the first harvest, None: not known.
    """
    if not product.strip():
        return ""
    if not on_label:
        return f"{product}: its label does not name this crop, so it must not be used on it; the label is the law"
    if edible and wait_days is None:
        return f"{product}: how many days before eating does its label ask? On food crops that must be known"
    if edible and wait_days is not None and days_to_eating is not None and wait_days > days_to_eating:
        return (
            f"{product}: its label asks {wait_days} days before eating, and the first may be eaten in {days_to_eating}"
        )
    return ""


RULES = {"care.trouble": ("name", "signs", "log", "answers", "odds", "next")}
