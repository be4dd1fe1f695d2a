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
    """One step: the day it is expected, the day it happened (None: not yet), and what that day was reckoned from."""

    kind: str
    due: date
    happened: date | None
    inputs: tuple[Value, ...]
    given: Working | None = None

    @property
    def day(self) -> date:
        return self.happened or self.due

    @property
    def working(self) -> Working:
        """Why that day; put together only when somebody asks."""
        return self.given or Working(self.kind, self.inputs, (), Value(self.kind, self.due))


@dataclass(frozen=True, slots=True)
class Course:
    """The steps of one batch, in order; kinds absent do not apply to it."""

    steps: dict[str, Step]
    emergence_days: float

    def day(self, kind: str) -> date | None:
        step = self.steps.get(kind)
        return None if step is None else step.day


def emergence_speed(crop: Crop, temperature_c: float | None) -> tuple[float, str]:
    """Days until half are up at that warmth (None: the crop's own), kept to a season, and the figure's source."""
    found, why = emergence_days(crop, crop.number("germinate_c") if temperature_c is None else temperature_c)
    return min(found, LONGEST_WAIT_DAYS), why.inputs[1].source


def course(
    crop: Crop,
    dates: PlantingDates,
    ladder: Ladder,
    facts: Facts = Facts(),
    per_cell: int | None = None,
    speed: tuple[float, str] | None = None,
) -> Course:
    """Every step from sowing to planting out for one batch, each with its reason.

    `dates` must already follow the day it was really sown (`Choice.sow_on`), so that lateness moves what follows.
    speed: `emergence_speed` where the caller has it at hand.
    """
    steps: dict[str, Step] = {"sow": Step("sow", dates.sow_on, facts.sown_on, (), dates.workings["sow_on"])}
    out = Step("out", dates.out_on, facts.planted_on, (), dates.workings["out_on"])
    if dates.method != "raised":
        steps["out"] = out
        return Course(steps, NEVER)
    days, source = speed or emergence_speed(crop, facts.temperature_c)
    sow = steps["sow"].day
    germinate, light = crop.values["germinate_c"], crop.values["light"]
    heat = Value(
        "temperature", germinate.number if facts.temperature_c is None else facts.temperature_c, "°C", germinate.source
    )
    sown, wait = Value("sow", sow), Value("emergence", round(days, 1), "days", source)
    look = sow + timedelta(days=max(1, math.floor(FIRST_LOOK_X * days)))
    steps["look"] = Step("look", look, facts.first_up, (sown, wait, heat))
    steps["lamp"] = Step("lamp", _lamp(str(light.number), sow, look, days, facts), facts.lamp_on, (sown, wait, light))
    steps["up"] = Step("up", sow + timedelta(days=math.ceil(days)), facts.half_up, (sown, wait, heat))
    up = steps["up"].day
    half = Value("half up", up)
    steps["lid"] = Step("lid", up, facts.lid_off, (half, wait))
    thin = int(crop.number("thin_days"))
    if thin and (per_cell or crop.number("per_cell")) > 1:
        steps["thin"] = Step("thin", up + timedelta(days=thin), facts.thinned_on, (half, crop.values["thin_days"]))
    growing = crop.number("pot_weeks")
    if growing:
        pot = up + timedelta(days=int(growing * 7))
        left = (out.day - pot).days
        if facts.potted_on or left >= POT_UP_NEEDS_DAYS:
            still = Value("still to go", left, "days")
            steps["pot"] = Step("pot", pot, facts.potted_on, (half, crop.values["pot_weeks"], still))
    began = facts.outings[0].day if facts.outings else None
    reckoned = (Value("plant out", out.day), Value("ladder", ladder.name), Value("ladder days", ladder.days, "days"))
    steps["harden"] = Step("harden", out.day - timedelta(days=ladder.days), began, reckoned)
    steps["out"] = out
    return Course(steps, days)


def _lamp(light: str, sow: date, look: date, days: float, facts: Facts) -> date:
    """Light germinators from sowing, dark ones at first up, others by day 3 or x = 0.6, at the latest at first up."""
    if light == "light":
        return sow
    if light == "dark":
        return facts.first_up or look
    rule = sow + timedelta(days=min(LAMP_DAYS, max(1, math.floor(LAMP_X * days))))
    return min(rule, facts.first_up) if facts.first_up else rule
