"""Tonight, in pots: what is out, what may stay and why, what must come in, and what a fleece where it stands would save."""

from __future__ import annotations

from datetime import date
from typing import NamedTuple

from aestiva.course.state import Item, SeasonState
from growing.batch.facts import BatchFacts
from growing.batch.harm import harm, struck
from growing.ladders.ladder import NIGHT_HOURS
from growing.place.covers import COVERS, lightest
from growing.place.kinds import GLAZED
from growing.place.nights import Night, at_plant
from growing.working import Value, Working

STAY, COVER, IN = "stay", "cover", "in"
FRAMES = (*GLAZED, "box")  # a fleece inside adds to them


class PotLine(NamedTuple):
    """One batch in pots outdoors tonight: how many, where, the temperature at the plant and where it is warned from [°C]; what to do;
    the cover that would be enough ("" where none is), what it saves of them, and the arithmetic."""

    item: Item
    plants: int
    code: str
    kind: str
    plant_c: float
    told_c: float
    harm_c: float
    verdict: str
    cover: str
    lost: float
    working: Working

    @property
    def who(self) -> str:
        """“31 Strawflower”; the name alone where nobody has seen any of them up."""
        return f"{self.plants or ''} {self.item.full_name}".strip()

    @property
    def saved(self) -> int:
        """Plants that carrying in, or a cover, is expected to save."""
        return round(self.lost)


class PotsTonight(NamedTuple):
    """The night, its temperature in the open, and every batch in pots outdoors; None: no forecast reaches it."""

    night: Night | None
    plant_c: float | None
    lines: tuple[PotLine, ...]

    def of(self, verdict: str) -> tuple[PotLine, ...]:
        return tuple(line for line in self.lines if line.verdict == verdict)

    @property
    def must_in(self) -> tuple[PotLine, ...]:
        return self.of(IN)

    @property
    def may_stay(self) -> tuple[PotLine, ...]:
        return self.of(STAY)

    @property
    def may_covered(self) -> tuple[PotLine, ...]:
        return self.of(COVER)


def pots_tonight(now: SeasonState) -> PotsTonight:
    """Every batch in pots that is outdoors this evening: it stands there, or stays out on its ladder."""
    night = now.night
    open_air = None if night is None else at_plant(night, now.today, now.shift_c).celsius
    lines = [
        _line(now, item, night)
        for item in now.items
        if item.batch is not None and _in_pots(item.raised) and outdoors_kind(item, now.today)
    ]
    order = {IN: 0, COVER: 1, STAY: 2}
    return PotsTonight(night, open_air, tuple(sorted(lines, key=lambda one: (order[one.verdict], -one.lost))))


def _in_pots(one: BatchFacts) -> bool:
    """Is there anything of it in pots: seed or plants still to go out, or plants over once those wanted are out?"""
    return bool(one.plants_seen) or (one.growing and bool(one.plants))


def outdoors_kind(item: Item, today: date) -> str:
    """The kind of place outdoors that it is in this evening; "" where it is indoors.  What is out on its ladder for the day is to come
    in by itself; what stays out for the night stands in the open, or where it stands outdoors anyway."""
    one = item.raised
    if one.outdoors_in:
        return one.outdoors_in
    last = one.facts.outings[-1] if one.facts.outings else None
    return "open" if last is not None and last.day == today and last.hours >= NIGHT_HOURS else ""


def _line(now: SeasonState, item: Item, night: Night | None) -> PotLine:
    one, kind = item.raised, outdoors_kind(item, now.today)
    count = one.plants_seen
    if night is None:
        limit = harm(one)
        why = Working("hardening.tonight_unknown", (Value("plants", count, "plants"),), (), Value("night", now.today))
        return PotLine(item, count, item.spot_code, kind, float("nan"), limit.told_c, limit.harm_c, STAY, "", 0.0, why)
    found = struck(one, night, now.today, kind)
    plant, limit, lost = found.plant, found.harm, count * found.share
    cover, verdict = "", STAY
    if found.cold:
        cover = lightest(plant.celsius, limit.told_c) or ""
        verdict = COVER if cover and kind in FRAMES else IN
    rule = f"hardening.tonight_{verdict}"
    inputs = (
        Value("plants", count, "plants"),
        *found.inputs,
        Value("warned from", limit.told_c, "°C", "working"),
        Value("cover", "" if not cover else COVERS[cover].name),
        Value("adds", None if not cover else COVERS[cover].adds_c, "Δ°C", "estimate"),
        Value("lost", lost, "plants", "estimate"),
    )
    why = Working(rule, inputs, (plant.working,), Value("at the plant", plant.celsius, "°C"))
    return PotLine(
        item, count, item.spot_code, kind, plant.celsius, limit.told_c, limit.harm_c, verdict, cover, lost, why
    )
