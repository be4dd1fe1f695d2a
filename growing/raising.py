"""What happens next to this batch?  Expected steps from the chosen dates and what has happened."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import date, timedelta
from typing import NamedTuple

from growing.crops import Crop
from growing.emergence import FIRST_LOOK_X, LAMP_DAYS, LAMP_X, NEVER, emergence_days
from growing.hardening import Ladder, Outing
from growing.season import PlantingDates
from growing.working import Value, Working

POT_UP_NEEDS_DAYS = 21
SEED_DAYS = 21  # order or find seed three weeks ahead
LONGEST_WAIT_DAYS = 120


class Facts(NamedTuple):
    """What has happened to one batch; None: not yet.  temperature_c: warmth of the mix, None: the crop's own."""

    sown_on: date | None = None
    temperature_c: float | None = None
    first_up: date | None = None
    half_up: date | None = None
    lamp_on: date | None = None
    lid_off: date | None = None
    thinned_on: date | None = None
    potted_on: date | None = None
    planted_on: date | None = None
    last_count: date | None = None
    counts: int = 0
    outings: tuple[Outing, ...] = ()


class Step(NamedTuple):
    """One step: the day it is expected, the day it happened (None: not yet), and why that day."""

    kind: str
    due: date
    happened: date | None
    working: Working

    @property
    def day(self) -> date:
        return self.happened or self.due


@dataclass(frozen=True, slots=True)
class Course:
    """The steps of one batch, in order; kinds absent do not apply to it."""

    steps: dict[str, Step]
    emergence_days: float

    def day(self, kind: str) -> date | None:
        step = self.steps.get(kind)
        return None if step is None else step.day


def course(
    crop: Crop, dates: PlantingDates, ladder: Ladder, facts: Facts = Facts(), per_cell: int | None = None
) -> Course:
    """Every step from sowing to planting out for one batch, each with its reason.

    `dates` must already follow the day it was really sown (`Choice.sow_on`), so that lateness moves what follows.
    """
    steps: dict[str, Step] = {}

    def put(kind: str, due: date, happened: date | None, *inputs: Value) -> date:
        steps[kind] = Step(kind, due, happened, Working(kind, inputs, (), Value(kind, due)))
        return happened or due

    sow = facts.sown_on or dates.sow_on
    steps["sow"] = Step("sow", dates.sow_on, facts.sown_on, dates.workings["sow_on"])
    out = facts.planted_on or dates.out_on
    if dates.method != "raised":
        steps["out"] = Step("out", dates.out_on, facts.planted_on, dates.workings["out_on"])
        return Course(steps, NEVER)
    warmth = crop.number("germinate_c") if facts.temperature_c is None else facts.temperature_c
    found, why = emergence_days(crop, warmth)
    days = min(found, LONGEST_WAIT_DAYS)
    speed = Value("emergence", round(days, 1), "days", why.inputs[1].source)
    sown, heat = Value("sow", sow), Value("temperature", warmth, "°C", crop.values["germinate_c"].source)
    look = sow + timedelta(days=max(1, math.floor(FIRST_LOOK_X * days)))
    put("look", look, facts.first_up, sown, speed, heat)
    light = crop.values["light"]
    lamp = {"light": sow, "dark": facts.first_up or look}.get(str(light.number))
    if lamp is None:
        lamp = min(sow + timedelta(days=min(LAMP_DAYS, max(1, math.floor(LAMP_X * days)))), facts.first_up or date.max)
    put("lamp", lamp, facts.lamp_on, sown, speed, light)
    up = put("up", sow + timedelta(days=math.ceil(days)), facts.half_up, sown, speed, heat)
    put("lid", up, facts.lid_off, Value("half up", up), speed)
    if crop.number("thin_days") and (per_cell or crop.number("per_cell")) > 1:
        wait = timedelta(days=int(crop.number("thin_days")))
        put("thin", up + wait, facts.thinned_on, Value("half up", up), crop.values["thin_days"])
    if crop.number("pot_weeks"):
        pot = up + timedelta(days=int(crop.number("pot_weeks") * 7))
        left = (out - pot).days
        if facts.potted_on or left >= POT_UP_NEEDS_DAYS:
            still = Value("still to go", left, "days")
            put("pot", pot, facts.potted_on, Value("half up", up), crop.values["pot_weeks"], still)
    began = min((o.day for o in facts.outings), default=None)
    start = out - timedelta(days=ladder.days)
    rungs = Value("ladder", ladder.name)
    put("harden", start, began, Value("plant out", out), rungs, Value("ladder days", ladder.days, "days"))
    steps["out"] = Step("out", dates.out_on, facts.planted_on, dates.workings["out_on"])
    return Course(steps, days)
