"""What happens next to this batch?  Expected steps from the chosen dates and what has happened."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import NamedTuple

from growing.assumptions import shown
from growing.chain import rearing
from growing.chain.dates import PlantingDates
from growing.chain.days import NEVER as NOT_ANY_MORE
from growing.chain.days import ordinal
from growing.chain.happened import Facts
from growing.chain.kinds import BY_LEAVES, POTS, RULES
from growing.chain.leaves import LeafStage, leaf_days
from growing.chain.path import ContainerStay, Vessel, prick_days, walk
from growing.chain.rearing import LONGEST_WAIT_DAYS
from growing.crops import Crop
from growing.ladders.ladder import Ladder
from growing.seeds.clock import Advance
from growing.seeds.sowing import USUAL, How
from growing.seeds.thermal_time import LAMP_DAYS, LAMP_X, NEVER, emergence_days, first_look_x, share_up, speed_source
from growing.working import Value, Working

VENTS_DAYS = 2  # after sowing, where a closed lid has shown fuzz
INDOORS = ("raised", "winter")  # ways that begin with a sowing of which something must come before it is set out


class Step(NamedTuple):
    """One step: the day it is expected, the day it happened (None: not yet), and the course it belongs to."""

    kind: str
    due: date
    happened: date | None
    course: Course

    @property
    def day(self) -> date:
        return self.happened or self.due

    @property
    def working(self) -> Working:
        """Why that day; put together only when somebody asks."""
        return self.course.why(self.kind, self.due)


@dataclass(frozen=True, slots=True)
class Course:
    """The steps of one batch, in order; kinds absent do not apply to it."""

    crop: Crop
    dates: PlantingDates
    ladder: Ladder
    warmth_c: float | None
    emergence_days: float
    emergence_source: str
    steps: dict[str, Step]
    clock: Advance | None = None  # as it ran by the warmth had
    stays: list[ContainerStay] = field(default_factory=list)  # its containers, where its path was chosen
    stage: LeafStage | None = None  # where somebody saw its leaves

    def leaves_on(self, kind: str) -> date | None:
        """The day on which it has the true leaves for a step; None where nobody looked, or the crop has no such stage."""
        wanted = None if self.stage is None or kind not in BY_LEAVES else self.crop.maybe(BY_LEAVES[kind])
        return None if self.stage is None or wanted is None else self.stage.on(wanted)

    @property
    def open_pot(self) -> Step | None:
        """The next potting up that has not happened; None where none is to come."""
        return next((self.steps[k] for k in POTS if k in self.steps and self.steps[k].happened is None), None)

    def day(self, kind: str) -> date | None:
        step = self.steps.get(kind)
        return None if step is None else step.day

    def days_at(self, x: float) -> float:
        """Days from the sowing until its clock stands there, at most a season."""
        return min(LONGEST_WAIT_DAYS, self.emergence_days * x if self.clock is None else self.clock.days_at(x))

    def up_share(self, day: float) -> float:
        """Of those that will come, the share up so many days after the sowing."""
        if day <= 0:
            return 0.0
        x = day / self.emergence_days if self.clock is None else self.clock.x_at(math.floor(day))
        return share_up(x, self.crop.number("sigma"))

    def why(self, kind: str, due: date) -> Working:
        """The arithmetic of one step's expected day."""
        if kind in ("sow", "out"):
            return self.dates.workings[f"{kind}_on"]
        if kind == "lid" and (way := self.crop.word("lid_way")) != "half":
            return Working(f"emergence.lid_{way}", self._inputs(kind), (), Value(kind, due))
        if kind in ("vents", "mat") and (way := self.crop.word(f"{kind}_way")) != "lid":
            return Working(f"emergence.{kind}_{way}", self._inputs(kind), (), Value(kind, due))
        if self._seen(kind):
            assert self.stage is not None
            return Working(
                f"care.{kind}_seen", self.stage.inputs(self.crop.value(BY_LEAVES[kind])), (), Value(kind, due)
            )
        if kind in POTS and self.stays:
            return self._of_path(kind, due)
        known = self.warmth_c is not None or (self.clock is not None and self.clock.measured)
        assumed = "_assumed" if kind in ("look", "up") and not known else ""
        return Working(RULES[kind] + assumed, self._inputs(kind), (), Value(kind, due))

    def _seen(self, kind: str) -> bool:
        """Does that step go by leaves that somebody saw?"""
        return (
            self.stage is not None
            and kind in BY_LEAVES
            and not (kind == "pot" and self.stays)
            and self.crop.maybe(BY_LEAVES[kind]) is not None
        )

    def _of_path(self, kind: str, due: date) -> Working:
        """Why it is moved on that day: the container before it carries it no further, or it is time to prick it out."""
        moved = [s for s in self.stays if s.until == due] or self.stays
        before = moved[0]
        inputs: tuple[Value, ...] = (Value("container", before.name), Value("carries until", before.carries_until))
        if self.stage is not None and kind == "pot" and self.leaves_on("pot") is not None:
            inputs = (*inputs, *self.stage.inputs(self.crop.value("pot_leaves")))
            return Working("care.pot_path_seen", inputs, (before.working,), Value(kind, due))
        return Working("care.pot_path", inputs, (before.working,), Value(kind, due))

    def _inputs(self, kind: str) -> tuple[Value, ...]:
        values, steps = self.crop.values, self.steps
        wait = Value("emergence", round(self.emergence_days, 1), "days", self.emergence_source)
        if kind in ("look", "lamp", "up"):
            sown, warmth = Value("sow", steps["sow"].day), values["germinate_c"]
            heat = warmth if self.warmth_c is None else warmth._replace(number=self.warmth_c, source="garden")
            if self.clock is not None and self.clock.mean_c is not None:
                heat = heat._replace(
                    number=round(self.clock.mean_c, 1), source="readings" if self.clock.measured else "assumed"
                )
            if kind == "lamp":
                return sown, wait, values["light"]
            share = Value("share", first_look_x(self.crop.number("sigma")), "share", values["sigma"].source)
            return (sown, wait, heat._replace(name="temperature"), *((share,) if kind == "look" else ()))
        out = steps["out"].day
        if kind == "harden":
            ladder, end = self.ladder, steps["harden"].due + timedelta(days=self.ladder.days)
            return Value("plant out", end), Value("ladder", ladder.name), Value("ladder days", ladder.days, "days")
        half = Value("half up", steps["up"].day)
        if kind in ("lid", "paper", "ajar"):
            return half, wait
        if kind in ("vents", "mat"):
            return Value("sow", steps["sow"].day), Value("first up", steps["look"].day), half
        if kind == "pinch":
            return (
                half,
                values["pinch_leaves"],
                Value("a leaf takes", leaf_days(self.crop, None), "days", "estimate"),
            )
        if kind == "thin" or (kind == "prick" and self.crop.number("thin_days")):
            return half, values["thin_days"]
        if kind == "prick":
            return half, shown("thin_days", "chain.rearing.PRICK_DAYS")
        return half, values["pot_weeks"], Value("still to go", (out - steps["pot"].due).days, "days")


def emergence_speed(crop: Crop, temperature_c: float | None) -> tuple[float, str]:
    """Days until half are up at that warmth (None: the crop's own), kept to a season, and the figure's source."""
    found, _ = emergence_days(crop, crop.number("germinate_c") if temperature_c is None else temperature_c)
    return min(found, LONGEST_WAIT_DAYS), speed_source(crop)


def course(
    crop: Crop,
    dates: PlantingDates,
    ladder: Ladder,
    facts: Facts = Facts(),
    how: How = USUAL,
    speed: tuple[float, str] | None = None,
    hardening: bool = True,
    path: tuple[Vessel, ...] = (),
    clock: Advance | None = None,
    stage: LeafStage | None = None,
    hardens_for: date | None = None,
) -> Course:
    """Every step from sowing to planting out for one batch, each with its reason.

    `dates` must already follow the day it was really sown (`Choice.sow_on`), so that lateness moves what follows.
    how: in what it was sown and what happens to the surplus.  speed: `emergence_speed` where the caller has it at hand.
    hardening: bought plants that still climb the ladder.  path: the containers chosen for it, one after another; empty: as usual.
    clock: of what lies under the mix, by the warmth it had and has; None: as fast from first to last as at its warmth.
    stage: how far it is, where somebody saw its leaves; None: its steps go by days alone.  hardens_for: the day for which its ladder
    begins, where weather or nobody at home makes it last longer; None: that of planting out.
    """
    steps: dict[str, Step] = {}
    days, source = (NEVER, "") if dates.method not in INDOORS else speed or emergence_speed(crop, facts.temperature_c)
    if clock is not None and dates.method in INDOORS:
        days = min(LONGEST_WAIT_DAYS, clock.days_at(1.0))
    found = Course(crop, dates, ladder, facts.temperature_c, days, source, steps, clock, stage=stage)
    ladder_end = facts.planted_on or hardens_for or dates.out_on

    def put(kind: str, due: date, happened: date | None) -> date:
        steps[kind] = Step(kind, due, happened, found)
        return happened or due

    sow = put("sow", dates.sow_on, facts.sown_on)
    if dates.method not in INDOORS:
        if dates.method == "bought" and hardening:
            began = facts.outings[0].day if facts.outings else None
            put("harden", ladder_end - timedelta(days=ladder.days), began)
        put("out", dates.out_on, facts.planted_on)
        return found
    out = facts.planted_on or dates.out_on
    born, last = sow.toordinal(), out.toordinal()
    first_up = found.days_at(first_look_x(crop.number("sigma")))
    look = date.fromordinal(rearing.first_look(born, first_up))
    half = date.fromordinal(rearing.half_up(born, days))
    put("look", look, facts.first_up)
    if dates.method == "winter":
        put("up", half, facts.half_up)
        put("out", dates.out_on, facts.planted_on)
        return found
    put("lamp", _lamp(found, sow, look, facts), facts.first("lamp"))
    up = put("up", half, facts.half_up)
    _uncover(found, sow, look, up, facts, put)

    def by_age(kind: str, days: int) -> date:
        return date.fromordinal(rearing.by_age(up.toordinal(), days, ordinal(found.leaves_on(kind))))

    if how.surplus in ("prick", "keep"):
        put("prick", by_age("prick", prick_days(crop)), facts.first("pricked"))
    elif crop.number("thin_days") and how.surplus == "thin" and (how.per_cell or 2) > 1:
        put("thin", by_age("thin", prick_days(crop)), facts.first("thinned"))
    growing = int(crop.number("pot_weeks") * 7)
    if path:
        found.stays.extend(walk(crop, path, sow, up, out, _moves(facts, path), found.leaves_on("pot")))
        potted, pots = facts.days.get("potted", ()), found.stays[1 + path[0].together :]
        for n, (kind, stay) in enumerate(zip(POTS, pots, strict=False)):
            put(kind, stay.since, potted[n] if n < len(potted) else None)
    elif growing:
        seen, potted_on = ordinal(found.leaves_on("pot")), facts.first("potted")
        pot = rearing.pot_on(up.toordinal(), growing, last, seen)
        if potted_on is not None or pot < NOT_ANY_MORE:
            due = pot if pot < NOT_ANY_MORE else rearing.by_age(up.toordinal(), growing, seen)
            put("pot", date.fromordinal(due), potted_on)
    pinch = crop.number("pinch_leaves") if crop.word("pinch") == "pinch" else 0.0
    if pinch:
        put("pinch", by_age("pinch", math.ceil(pinch * leaf_days(crop, None))), facts.first("pinched"))
    put("harden", ladder_end - timedelta(days=ladder.days), facts.outings[0].day if facts.outings else None)
    put("out", dates.out_on, facts.planted_on)
    return found


def _moves(facts: Facts, path: tuple[Vessel, ...]) -> list[date]:
    """The days on which it was moved to its next container, as far as that has happened."""
    first = facts.first("pricked") if path[0].together else None
    potted = list(facts.days.get("potted", ()))
    if path[0].together:
        return [] if first is None else [first, *potted]
    return potted


LID_X = {"third": -0.5244, "half": 0.0, "most": 0.6745, "all": 1.6449}  # normal quantiles of 30, 50, 75 and 95 %
LID_SHARE = {"third": 0.3, "most": 0.75, "all": 0.95}


STEPS_APART_DAYS = 1  # from vents to ajar, and from ajar to off


def _uncover(
    of: Course, sow: date, look: date, up: date, facts: Facts, put: Callable[[str, date, date | None], date]
) -> None:
    """Paper, vents, lid and mat, each by its own way; all that has no way of its own goes with the lid."""
    vents, mat, first = of.crop.word("vents_way"), of.crop.word("mat_way"), facts.first_up or look
    if of.crop.word("cover_way") == "paper":
        put("paper", up, facts.first("paper"))
    away = _lid(of, sow, look, up, facts)
    if of.crop.word("lid_way") == "all":
        opened = put(
            "vents",
            sow + timedelta(days=VENTS_DAYS) if vents == "day2" else first if vents == "first" else away,
            facts.first("vents"),
        )
        ajar = put("ajar", max(away, opened + timedelta(days=STEPS_APART_DAYS)), facts.first("ajar"))
        away = max(away, ajar + timedelta(days=STEPS_APART_DAYS))
    elif vents != "lid":
        put("vents", sow + timedelta(days=VENTS_DAYS) if vents == "day2" else first, facts.first("vents"))
    put("lid", away, facts.first("lid"))
    if mat != "lid":
        put("mat", first if mat == "first" else up, facts.first("mat") or facts.first("lid"))


def _lamp(of: Course, sow: date, look: date, facts: Facts) -> date:
    """Light germinators from sowing, dark ones at first up; others as chosen: by day 3 or x = 0.6 and at the latest at first
    up, at the first one up, or from sowing."""
    light, way = of.crop.word("light"), of.crop.word("lamp_way")
    if light == "light" or (way == "sowing" and light != "dark"):
        return sow
    if light == "dark" or way == "first":
        return facts.first_up or look
    rule = sow + timedelta(days=min(LAMP_DAYS, max(1, math.floor(of.days_at(LAMP_X)))))
    return min(rule, facts.first_up) if facts.first_up else rule


def _lid(of: Course, sow: date, look: date, up: date, facts: Facts) -> date:
    """Mat and lid off when the share chosen is up; what is really half up moves the later shares with it."""
    way = of.crop.word("lid_way")
    if way == "first":
        return facts.first_up or look
    if way == "half":
        return up
    x = math.exp(of.crop.number("sigma") * LID_X[way])
    since = of.days_at(x) if facts.half_up is None else (facts.half_up - sow).days * x
    day = sow + timedelta(days=math.ceil(since))
    return max(day, facts.first_up) if facts.first_up is not None and way == "third" else day
