"""A crop in plain words, in the order of work: whole sentences, each said only where there is something to say."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import NamedTuple

from aestiva.frame import say, values
from aestiva.frame.say import Reader
from growing.beds.packing import clump_cm
from growing.crops import Crop
from growing.seeds.sowing import surplus_for

_STARTS = {
    "seed": "",
    "tuber": "It is started from tubers.",
    "slip": "It is started from slips, taken off a sprouting root.",
    "corm": "It is started from corms, bulbs or cloves.",
    "set": "It is started from sets, small bulbs pushed in to the tip.",
    "cutting": "It is struck from cuttings: seed gives mixed plants, or none.",
    "division": "It is divided.",
}
_LIGHT = {
    "light": "It needs light: press it in and do not cover it with mix.",
    "dark": "It needs dark: cover it well.",
    "either": "",
}
_ROOTS = {
    "easy": "Its roots stand disturbing: it can be pricked out.",
    "plug": "Its roots do not stand disturbing: cells or blocks of its own, never a box.",
    "direct": "Its roots do not stand transplanting.",
}
_BURY = {
    "to the seed leaves": "Plant it down to the seed leaves.",
    "deep": "Plant it deep.",
    "progressively": "Plant it deeper each time it is potted, leaves always above.",
    "never": "Plant it no deeper than it stood.",
}
_PINCH = {"pinch": "Pinch it to make it branch.", "single stem": "Never pinch it: it grows on one stem.", "none": ""}
_MOIST = {"even": "", "dry between": "Let it dry a little between waterings.", "never dry": "It must never dry out."}


Told = Callable[[str], str]
Span = Callable[[str, str], str]


class CropStage(NamedTuple):
    """A stage of the work: its name and what is to be known of the crop there."""

    name: str
    sentences: list[str]


def in_order(crop: Crop, reader: Reader) -> list[CropStage]:
    """The crop along the work, stages without anything to say left out."""

    def a(field: str) -> str:
        value = crop.value(field)
        return values.said(value, reader)

    def span(low: str, high: str) -> str:
        first, last = (say.number(crop.number(f)) for f in (low, high))
        return a(high) if first == last else f"{first} to {a(high)}"

    stages = (
        ("Seed", _seed(crop, a)),
        ("Sowing", _sowing(crop, a, span)),
        ("Coming up", _up(crop, a)),
        ("Raising", _raising(crop, a)),
        ("Hardening off", _hardening(crop, a)),
        ("Planting out", _out(crop, a)),
        ("In the garden", _garden(crop, a, span, lambda cm: say.amount(cm, "cm", reader, 0))),
    )
    return [CropStage(name, found) for name, sentences in stages if (found := [_kept(s) for s in sentences if s])]


def _kept(sentence: str) -> str:
    """Numbers kept with their degrees at the line's end."""
    return sentence.replace(" °", "\u00a0°")


def _seed(crop: Crop, a: Told) -> Iterator[str]:
    yield _STARTS[crop.word("starts")]
    if crop.word("starts") == "seed":
        yield f"Of fresh seed {a('fresh_germination')} come; after {a('life_room_years')} in a room four fifths of those."
        if crop.number("seedlings_per_seed") > 1:
            yield f"A seed is a cluster: {a('seedlings_per_seed')} seedlings on average of each that comes."


def _sowing(crop: Crop, a: Told, span: Span) -> Iterator[str]:
    if crop.method == "raised":
        yield f"Raised indoors for {span('raise_min', 'raise_max')}; older than {a('hold')} it suffers."
    else:
        yield "It is set or sown where it will grow."
    yield f"{'Sown on the surface' if not crop.number('depth_cm') else a('depth_cm').capitalize() + ' deep'}."
    if crop.number("soak_h"):
        yield f"Soak it {a('soak_h')} first, no longer."
    if crop.number("chill_days"):
        yield f"It wants {a('chill_days')} of moist cold first."
    yield _LIGHT[crop.word("light")]
    if crop.method == "raised" and surplus_for(crop, "cells") == "clump":
        yield f"It stays in clumps of {say.number(crop.number('plants_per_cell'))}: nothing is thinned."
    if crop.maybe("every_days") is not None:
        yield f"Sow again every {a('every_days')}."


def _up(crop: Crop, a: Told) -> Iterator[str]:
    yield f"Half are up after about {a('best_days')} at {a('germinate_c')}, none under {a('min_c')} or over {a('max_c')}."


def _raising(crop: Crop, a: Told) -> Iterator[str]:
    if crop.method != "raised":
        return
    yield f"Once up, {a('day_c')} by day and {a('grow_night_c')} by night."
    yield _ROOTS[crop.word("transplants")]
    if crop.number("pot_weeks"):
        yield f"Potted up into {a('pot_cm')} after {a('pot_weeks')}."
    yield _BURY[crop.word("bury")]
    yield _PINCH[crop.word("pinch")]
    yield _MOIST[crop.word("moisture")]


def _hardening(crop: Crop, a: Told) -> Iterator[str]:
    if crop.method == "raised":
        yield f"Out by day from {a('day_out_c')}, for the night from {a('night_out_c')}, where it stands."
        if crop.number("bolt_days"):
            yield f"Under {a('bolt_c')} for {a('bolt_days')} it bolts: harden it by wind, sun and less water, not by cold."


def _out(crop: Crop, a: Told) -> Iterator[str]:
    low, high = crop.number("out_min"), crop.number("out_max")
    yield f"{_between(low, high)}, when the soil has {a('soil_c')} in the morning."
    if crop.maybe("mean_night_c") is not None:
        yield f"It waits for nights of {a('mean_night_c')} on average."
    if crop.maybe("chill_c") is not None:
        yield f"A night under {a('chill_c')} chills it."
    yield f"Hardened, it is damaged at {a('damage_c')}; full-grown, it is killed at {a('kill_c')}."


def _garden(crop: Crop, a: Told, span: Span, apart: Callable[[float], str]) -> Iterator[str]:
    yield f"{a('spacing_cm').capitalize()} apart, {a('height_cm')} tall, in {crop.word('sun')}."
    clump = int(crop.number("plants_per_cell"))
    if crop.method == "raised" and surplus_for(crop, "cells") == "clump":
        yield f"Clumps of {clump} stand {apart(clump_cm(crop.number('spacing_cm'), clump))} apart."
    what = "It blooms" if crop.word("yields") == "bloom" else "The first can be picked"
    since = "planting out" if crop.method == "raised" else "sowing"
    yield f"{what} {span('mature_min', 'mature_max')} from {since}, for {a('yield_days')}."


def _between(low: float, high: float) -> str:
    """“From 6 to 3 weeks before last frost”."""
    if low * high > 0:
        return f"From {say.number(abs(low))} to {_weeks(high)}"
    return f"From {_weeks(low)} to {_weeks(high)}"


def _weeks(offset: float) -> str:
    """“2 weeks before last frost”."""
    if offset == 0:
        return "last frost"
    side = "after" if offset > 0 else "before"
    return f"{say.plural_number(abs(offset), 'week')} {side} last frost"
