"""What is to be changed first?  Raise, lower, dim, burn longer or shorter, set boxes under, hang aslant, add a lamp, turn the trays: each
tried, what it would give, and the one that does most with least."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date, timedelta
from typing import NamedTuple

from growing.assumptions import real
from growing.light.height import ANY_STEP_CM, best_dim, best_height, steps
from growing.light.hours import (
    DARK_H,
    DAY_H,
    CurrentPrice,
    SharedTimer,
    WeekCost,
    cheapest,
    clashes,
    cost,
    shared_hours,
)
from growing.light.shelf import Board, Got, LampAsSet, Stand, even
from growing.light.targets import LITTLE
from growing.working import Value, Working

WORTH = 0.05  # so much less missed, before anybody is asked to get up
MORE_WORTH = 0.04  # and so much more for what takes more than a hand on the lamp
WEAK = 0.1  # of the least of its band that is lacking, from which more light is worth its price
GAIN = 1.15  # times the darkest cell, from which turning is worth the walk
TURN_DAYS = 7
BOX_CM = real("light.advice.BOX_CM")
APART_CM = 6.0  # of tips, from which a lamp is hung aslant or the short ones set higher
SLOPES_CM = (-15.0, -10.0, -5.0, 5.0, 10.0, 15.0)
HALF_H = 0.5
SHORT_H = 12.0  # shorter days for what bears longer ones are no remedy
AHEAD_DAYS = 14
SLACK_CM = 3.0  # closer than at first, before anybody raises it
KINDS = (
    "raise",
    "lower",
    "dim",
    "brighten",
    "longer",
    "shorter",
    "aslant",
    "boxes",
    "second",
    "out_of_room",
    "turn",
    "none",
)


class LampChange(NamedTuple):
    """Something to change: how the lamp would be set, what all would get, what that costs a week; the working; missed: what is left wrong;
    before: what all get as it is; boxes: under whom, how high."""

    kind: str
    setting: LampAsSet
    got: tuple[Got, ...]
    missed: float
    cost: WeekCost
    working: Working
    before: tuple[Got, ...] = ()
    warm_cm: float = 0.0
    boxes: tuple[tuple[Stand, float], ...] = ()


class Raise(NamedTuple):
    """A day to come on which the lamp has to go up, and to what height [cm]."""

    on: date
    to_cm: float
    by_cm: float


class LightAhead(NamedTuple):
    """The coming days: the tallest tips and the lamp on each [cm], raises on the way, and the day on which there is no room left."""

    tips_cm: tuple[float, ...]
    lamp_cm: tuple[float, ...]
    raises: tuple[Raise, ...]
    no_room: date | None
    touches: int | None  # days until it touches, if nobody raised it
    name: str


class Advice(NamedTuple):
    """A shelf as it is: what each gets, how even, hours for all, what to change first, what else would do, what is to come."""

    got: tuple[Got, ...]
    even: float
    hours: SharedTimer
    first: LampChange
    others: tuple[LampChange, ...]
    ahead: LightAhead
    cost: WeekCost
    may_shorten: bool = False


def advise(board: Board, setting: LampAsSet, tariff: CurrentPrice, today: date) -> Advice:
    """All of that for a shelf on a day."""
    now = tuple(board.got(setting))
    shared = shared_hours([s.wants for s in board.stands], today)
    if shared.hours != setting.timer.hours:
        shared = shared._replace(clashes=tuple(clashes([s.wants for s in board.stands], setting.timer.hours)))
    spent = cost(setting.timer, board.watts * setting.per_cent / 100, tariff)
    evenness = even(now)
    options = _options(board, setting, now, shared, tariff, today) if board.stands and board.lamps else []
    options.sort(key=lambda o: o.missed + (MORE_WORTH if o.kind in ("aslant", "boxes") else 0.0))
    first = _first(board, setting, now, options, evenness, spent)
    others = tuple(o for o in options if o.kind != first.kind)
    return Advice(
        now, evenness, shared, first, others, ahead(board, first.got, today, _touches(now)), spent, _may_shorten(board, setting, now, shared)
    )  # fmt: skip


def _may_shorten(board: Board, setting: LampAsSet, now: Sequence[Got], shared: SharedTimer) -> bool:
    """Does the way of working ask for shorter hours, and can the lamp make up for them?"""
    if not now or shared.hours >= setting.timer.hours:
        return False
    shorter = setting._replace(timer=setting.timer._replace(hours=shared.hours))
    return board.missed(best_height(board, shorter)[1]) <= board.missed(now) + WORTH / 2


def _options(
    board: Board, setting: LampAsSet, now: Sequence[Got], shared: SharedTimer, tariff: CurrentPrice, today: date
) -> list[LampChange]:
    """What would leave less missed, each once."""
    missed, found = board.missed(now), []

    def option(
        kind: str, to: LampAsSet, got: Sequence[Got], on: Board = board, boxes: tuple[tuple[Stand, float], ...] = ()
    ) -> LampChange:
        spent = cost(to.timer, on.watts * to.per_cent / 100, tariff)
        why = _why(kind, board, setting, to, now, got, boxes)
        return LampChange(kind, to, tuple(got), on.missed(got), spent, why, tuple(now), board.limits.warm_cm, boxes)

    up, got_up = best_height(board, setting)
    if up != setting and missed - board.missed(got_up) >= WORTH:
        found.append(option("raise" if up.lowest_cm > setting.lowest_cm else "lower", up, got_up))
    near = any(g.gap_cm < board.limits.warm_cm for g in now)  # then nothing helps but more room
    if not near and (dimmed := best_dim(board, setting)) is not None and missed - board.missed(dimmed[1]) >= WORTH:
        found.append(option("dim" if dimmed[0].per_cent < setting.per_cent else "brighten", *dimmed))
    if (
        not near
        and (timed := _best_hours(board, setting, now, tariff)) is not None
        and missed - board.missed(timed[1]) >= WORTH
    ):
        found.append(option("longer" if timed[0].timer.hours > setting.timer.hours else "shorter", *timed))
    tips = [s.tip_cm for s in board.stands]
    if max(tips) - min(tips) >= APART_CM:
        level = board.missed(got_up)
        if (slope := _best_slope(board, up)) is not None and level - board.missed(slope[1]) >= WORTH:
            found.append(option("aslant", *slope))
        raised, boxes = _boxed(board)
        to, got = best_height(raised, setting)
        if boxes and level - raised.missed(got) >= WORTH:
            found.append(option("boxes", to, got, raised, boxes=boxes))
    return found


def _best_hours(
    board: Board, setting: LampAsSet, now: Sequence[Got], tariff: CurrentPrice
) -> tuple[LampAsSet, list[Got]] | None:
    """Hours between what all bear that leave least missed, on the half hour; the shortest of alike ones."""
    wants = [s.wants for s in board.stands]
    most, least = min(w.most for w in wants), max(w.least for w in wants)
    low, high = min(max(least, SHORT_H), most), min(most, DAY_H - DARK_H)
    tried = []
    for k in range(math.ceil(low / HALF_H), math.floor(high / HALF_H) + 1):
        hours = k * HALF_H
        got = [_scaled(g, board, hours / setting.timer.hours) for g in now] if setting.timer.hours else list(now)
        tried.append((round(board.missed(got), 3), abs(hours - setting.timer.hours), hours, got))
    if not tried or not setting.timer.hours:
        return None
    _, _, hours, got = min(tried, key=lambda one: one[:3])
    timer = cheapest(hours, board.watts, tariff, setting.timer)
    return setting._replace(timer=timer), got


def _scaled(got: Got, board: Board, times: float) -> Got:
    """The lamp's light of a day so many times as long."""
    day = board.daylight
    return got._replace(
        dli=day + (got.dli - day) * times, least=day + (got.least - day) * times, most=day + (got.most - day) * times
    )


def _best_slope(board: Board, level: LampAsSet) -> tuple[LampAsSet, list[Got]] | None:
    """One end higher than the other, about the same middle."""
    tried = []
    for slope in SLOPES_CM:
        to = level._replace(left_cm=level.left_cm - slope / 2, right_cm=level.right_cm + slope / 2)
        if max(to.left_cm, to.right_cm) <= board.limits.top_cm and to.lowest_cm > 1:
            got = board.got(to)
            tried.append((board.missed(got), abs(slope), to, got))
    if not tried:
        return None
    _, _, to, got = min(tried, key=lambda one: one[:2])
    return to, got


def _boxed(board: Board) -> tuple[Board, tuple[tuple[Stand, float], ...]]:
    """The short ones set on boxes, as high as the tallest, in whole boxes."""
    top = max(s.tip_cm for s in board.stands)
    tips: dict[int | None, float] = {}
    for s in board.stands:
        tips[s.tray] = max(tips.get(s.tray, 0.0), s.tip_cm)
    under: dict[int | None, float] = {
        tray: BOX_CM * math.floor((top - tip) / BOX_CM) for tray, tip in tips.items() if tray is not None
    }
    boxes = tuple((s, under[s.tray]) for s in board.stands if under.get(s.tray, 0.0) > 0)
    stands = tuple(s._replace(depth_cm=s.depth_cm + under.get(s.tray, 0.0)) for s in board.stands)
    return board._replace(stands=stands), boxes


def _first(
    board: Board,
    setting: LampAsSet,
    now: Sequence[Got],
    options: Sequence[LampChange],
    evenness: float,
    spent: WeekCost,
) -> LampChange:
    """The one to begin with; turning where nothing else is worth while, and nothing at all where all is well."""
    best = options[0] if options else None
    near = any(g.gap_cm < board.limits.warm_cm for g in now)
    if near and (best is None or best.kind not in ("raise", "aslant")):
        up = next((o for o in options if o.kind == "raise"), None)
        if up is None:
            why = _why("out_of_room", board, setting, setting, now, now)
            return LampChange(
                "out_of_room", setting, tuple(now), board.missed(now), spent, why, tuple(now), board.limits.warm_cm
            )
        best = up
    if best is not None:
        return best
    gains = [g for g in now if gains_by_turning(g)]
    kind = "second" if weak(now) else "turn" if gains else "none"
    why = _why(kind, board, setting, setting, now, now)
    return LampChange(kind, setting, tuple(now), board.missed(now), spent, why, tuple(now), board.limits.warm_cm)


def weak(now: Sequence[Got]) -> list[Got]:
    """Those that lack so much that it is worth a lamp."""
    return [g for g in now if g.verdict == LITTLE and g.stand.band.missed(g.dli) > WEAK]


def gains_by_turning(got: Got) -> bool:
    """Is one end of it so much darker that turning it end for end every week helps?"""
    return got.turned > GAIN * got.least


def _why(
    kind: str,
    board: Board,
    setting: LampAsSet,
    to: LampAsSet,
    now: Sequence[Got],
    got: Sequence[Got],
    boxes: tuple[tuple[Stand, float], ...] = (),
) -> Working:
    """The working of a change: who decides it, what it has and would have, by how much and in which steps."""
    pair = _deciding(board, kind, now, got)
    before, after = pair if pair is not None else (None, None)
    by = to.lowest_cm - setting.lowest_cm
    near = before is not None and before.gap_cm < board.limits.warm_cm
    inputs = [
        Value("where", board.name),
        Value("name", before.stand.name if before else ""),
        Value("above", round(before.gap_cm, 1) if before else None, "cm", "estimate"),
        Value("light", round(before.dli, 1) if before else None, "mol/m²/d", "working"),
        Value("would have", round(after.dli, 1) if after else None, "mol/m²/d", "working"),
        Value("low", round(before.stand.band.low, 1) if before else None, "mol/m²/d", "crop"),
        Value("high", round(before.stand.band.high, 1) if before else None, "mol/m²/d", "crop"),
    ]
    result = Value("change", kind)
    if kind in ("raise", "lower"):
        inputs += [Value("by", round(abs(by), 1), "cm", "working"), *_step_values(abs(by), board)]
        result = Value("hangs at", round(to.lowest_cm, 1), "cm")
    elif kind in ("dim", "brighten"):
        inputs.append(Value("to", to.per_cent, "%", "working"))
        result = Value("dimmed to", to.per_cent, "%")
    elif kind in ("longer", "shorter"):
        inputs.append(Value("to", to.timer.hours, "h", "working"))
        result = Value("hours", to.timer.hours, "h")
    elif kind == "aslant":
        inputs += [
            Value("left", round(to.left_cm, 1), "cm", "working"),
            Value("right", round(to.right_cm, 1), "cm", "working"),
        ]
        result = Value("slope", round(to.right_cm - to.left_cm, 1), "cm")
    elif kind == "boxes":
        inputs += [
            Value("boxes under", len({s.tray for s, _ in boxes}), "trays"),
            Value("boxes", max(cm for _, cm in boxes), "cm"),
        ]
        result = Value("boxes", max(cm for _, cm in boxes), "cm")
    elif kind == "out_of_room":
        inputs += [
            Value("top", round(board.limits.top_cm, 1), "cm"),
            Value("warm", board.limits.warm_cm, "cm", "estimate"),
        ]
    elif kind == "second":
        inputs.append(Value("even", round(even(now), 2), "share", "working"))
    stepped = any(v.name == "steps" for v in inputs)
    rule = f"light.first_{kind}" + ("_near" if kind == "raise" and near else "") + ("_steps" if stepped else "")
    return Working(rule, tuple(inputs), (), result)


def _step_values(by_cm: float, board: Board) -> tuple[Value, ...]:
    step = board.limits.step_cm
    if not step or board.limits.step in ("cord", "fixed"):
        return ()
    return (Value("steps", steps(by_cm, step), board.limits.step),)


def _deciding(board: Board, kind: str, now: Sequence[Got], got: Sequence[Got]) -> tuple[Got, Got] | None:
    """The one that speaks for a change, before and after: in the warmth of the lamp, else that gains most; where nothing changes, lacks most."""
    pairs = [p for p in zip(now, got, strict=True) if kind != "second" or p[0] in weak(now)]
    near = [p for p in pairs if p[0].gap_cm < board.limits.warm_cm]
    if near and kind in ("raise", "aslant", "boxes", "out_of_room"):
        return min(near, key=lambda p: p[0].gap_cm)
    return max(
        pairs,
        key=lambda p: ((p[0].missed - p[1].missed) * p[0].stand.plants, p[0].missed * p[0].stand.plants),
        default=None,
    )


def ahead(
    board: Board, got: Sequence[Got], today: date, touches: int | None = None, days: int = AHEAD_DAYS
) -> LightAhead:
    """The lamp follows the tallest: once its distance is less than at first by more than a step, it goes up, until it cannot.

    got: how it hangs over each on the first day.  touches: days until the first of them touches it, if nobody raised it.
    """
    step = board.limits.step_cm or ANY_STEP_CM
    tallest = max(got, key=lambda g: g.stand.tip_cm, default=None)
    if tallest is None:
        return LightAhead((), (), (), None, None, "")
    lamp, gap = tallest.stand.tip_cm + max(0.0, tallest.gap_cm), max(tallest.gap_cm, board.limits.warm_cm)
    slack = max(step, SLACK_CM)
    tips, lamps, raises, full = [], [], [], None
    for k in range(days + 1):
        tip = max(g.stand.tip_cm + k * g.stand.cm_a_day for g in got)
        wanted = tip + gap
        near = lamp - tip < board.limits.warm_cm
        if k and (near or wanted - lamp >= slack):
            room = max(0.0, math.floor((board.limits.top_cm - lamp) / step + 1e-6) * step)
            by = min(room, math.ceil((wanted - lamp) / step) * step)
            if by > 0:
                lamp += by
                raises.append(Raise(today + timedelta(days=k), lamp, by))
        if k and full is None and lamp - tip < board.limits.warm_cm:
            full = today + timedelta(days=k)
        tips.append(tip)
        lamps.append(lamp)
    return LightAhead(tuple(tips), tuple(lamps), tuple(raises), full, touches, tallest.stand.name)


def _touches(now: Sequence[Got]) -> int | None:
    """Days until the first of them touches the lamp as it hangs; None: not while anybody can say."""
    found = []
    for g in now:
        if g.gap_cm <= 0:
            found.append(0)
        elif g.stand.cm_a_day > 0 and g.gap_cm / g.stand.cm_a_day <= 60:
            found.append(math.ceil(g.gap_cm / g.stand.cm_a_day))
    return min(found, default=None)


_INPUTS = ("where", "name", "above", "light", "would have", "low", "high")
_MOVES = ("raise", "raise_near", "lower")
RULES = {
    **dict.fromkeys((f"light.first_{kind}" for kind in _MOVES), (*_INPUTS, "by")),
    **dict.fromkeys((f"light.first_{kind}_steps" for kind in _MOVES), (*_INPUTS, "by", "steps")),
    **dict.fromkeys((f"light.first_{kind}" for kind in ("dim", "brighten", "longer", "shorter")), (*_INPUTS, "to")),
    "light.first_aslant": (*_INPUTS, "left", "right"),
    "light.first_boxes": (*_INPUTS, "boxes under", "boxes"),
    "light.first_turn": _INPUTS,
    "light.first_second": (*_INPUTS, "even"),
    "light.first_out_of_room": (*_INPUTS, "top", "warm"),
    "light.first_none": _INPUTS,
}
