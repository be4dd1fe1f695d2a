"""What is written down at a lamp: how it hangs and burns from today on, what was wiped or turned, what a meter says, how it hangs at
all; which lamp it is; what current costs."""

from __future__ import annotations

import re
from typing import Any

from django.core.exceptions import ValidationError
from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.course.state import load
from aestiva.frame import say
from aestiva.frame.fields import Amount, Choice, Count, Day, Flag, Length, Price, Row, Text, Words, alike
from aestiva.frame.forms import clock_hour
from aestiva.frame.say import Reader
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts, register
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.things import Keep, row_of
from aestiva.light import words
from aestiva.light.actions import new_tubes, rig_at, set_boxes, turn_trays
from aestiva.light.shelves import Shelf, shelves
from aestiva.light.tries import TryForm
from aestiva.season.lamps import Rig, changes, set_lamp
from aestiva.season.models import FACING_SAID, HANGS, Lamp, LightReading, Spot, Tariff
from aestiva.season.models.lamps import READ, lamp_kinds
from growing.light import lamps as core
from growing.light.hours import LampTimer, cheapest, wrong_spans
from growing.light.shelf import LampAsSet
from growing.place.kinds import LAMPS

SIDES = "lrbf"
MOST_LUX, MOST_PPFD = 150_000, 2500
LONGER_CM = 5.0  # that a lamp may reach over the ends of its shelf
FARTHEST_CM = 300.0


class OfLamp(Command):
    """About the lamps over one place."""

    scope = "tasks"

    spot = Row(Spot)

    def rig(self) -> Rig:
        return rig_at(self.garden, self.cleaned_data["spot"].pk)


@register("light.set")
class SetLamp(TryForm):
    """The lamp hangs, burns or is dimmed so from today on: as typed, as moved, or as was proposed."""

    scope = "tasks"

    spot = Row(Spot)
    since = Day(happened=True)
    option = Text(most=20, required=False)
    cheapest = Flag()

    def carry_out(self, write: ChangeSet) -> None:
        typed, today = self.cleaned_data, self.actor.today
        found = shelves(load(self.garden, today), only=[typed["spot"].pk])
        if not found:
            raise Refused("spot", _("no lamp is said to hang there: say so under Places first"))
        one = found[0]
        to, boxes = self._asked(one)
        self.facts = _facts(one, to)
        one.rig.spot = write.touch(one.spot, self.seen)
        changed: dict[str, float] = dict(changes(one.setting, to))
        if typed["hours"] is not None and not one.rig.timer_said:
            changed |= {"on_h": to.timer.on_h, "hours": to.timer.hours}
        if not changed and not boxes and typed["since"] == today:
            raise Refused("left", _("it hangs and burns like that already"))
        if boxes:
            set_boxes(write, boxes)
        set_lamp(write, one.rig, typed["since"], **changed)

    def _asked(self, one: Shelf) -> tuple[LampAsSet, dict[int, float]]:
        """The setting that was typed, or that of the option whose button was pressed."""
        kind = self.cleaned_data["option"]
        if kind:
            found = next((o for o in (one.advice.first, *one.advice.others) if o.kind == kind), None)
            if found is None:
                raise Refused("option", _("that is not what the light asks for any more: look at it once more"))
            return found.setting, {s.tray: cm for s, cm in found.boxes if s.tray is not None}
        setting = self.setting(one.setting, one.board.limits)
        if self.cleaned_data["cheapest"]:
            timer = cheapest(setting.timer.hours, one.board.watts, one.tariff, setting.timer)
            setting = setting._replace(timer=timer)
        return setting, {}

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        """“R1·2: lamp at 24 cm, 16 h from 5:00 to 21:00”"""
        parts = []
        if "left_cm" in facts:
            left, right = (say.amount(facts[name], "cm", reader) for name in ("left_cm", "right_cm"))
            aslant = _("lamp aslant, %(left)s left and %(right)s right") % {"left": left, "right": right}
            parts.append(_("lamp at %s") % left if left == right else aslant)
        if "per_cent" in facts:
            parts.append(_("dimmed to %s %%") % say.number(facts["per_cent"]))
        if "hours" in facts:
            timer = LampTimer(facts["on_h"], facts["hours"])
            parts.append(f"{say.number(timer.hours)} h, {words.timer_words(timer, reader)}")
        return f"{facts['code']}: {', '.join(parts)}"

    def told(self) -> str:
        return f"{super().told()} {_('Take it back if it is not so.')}"


def _facts(one: Shelf, to: LampAsSet) -> Facts:
    """What is other than it was; where nothing is, how long it burns."""
    now, facts = one.setting, Facts(code=one.code)
    if (to.left_cm, to.right_cm) != (now.left_cm, now.right_cm):
        facts |= {"left_cm": to.left_cm, "right_cm": to.right_cm}
    if to.per_cent != now.per_cent:
        facts["per_cent"] = to.per_cent
    if to.timer != now.timer or len(facts) == 1:
        facts |= {"on_h": to.timer.on_h, "hours": to.timer.hours}
    return facts


DONE = {
    "wiped": gettext_lazy("wiped the lamps"),
    "turned": gettext_lazy("turned the trays"),
    "tubes": gettext_lazy("changed the tubes"),
}


@register("light.care")
class LampCare(OfLamp):
    """Wiped, turned, given new tubes."""

    what = Choice(list(DONE.items()), missing=gettext_lazy("choose what was done: wiped, turned, or new tubes"))

    def carry_out(self, write: ChangeSet) -> None:
        rig, what, today = self.rig(), self.cleaned_data["what"], self.actor.today
        write.touch(rig.spot, self.seen)
        self.facts = {"code": rig.spot.code, "what": what}
        if what == "turned":
            if not turn_trays(write, rig, today):
                raise Refused("what", _("no tray stands there to be turned"))
            return
        worn = [lamp for lamp in rig.hanging(today) if what == "wiped" or rig.of(lamp).of.wears_out]
        if not worn:
            raise Refused("what", _("no such lamp hangs there: say first which it is"))
        for lamp in worn:
            if what == "wiped":
                lamp.wiped_on = today
                write.save(lamp)
            else:
                new_tubes(write, lamp, today)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return f"{facts['code']}: {DONE[facts['what']]}"


@register("light.reading")
class MeterReading(OfLamp):
    """What a meter says under the lamp, or how far a hand feels it warm: the shelf is reckoned by it from now on."""

    scope = "readings"

    what = Choice(READ, label="It is")
    number = Amount(low=0, high=MOST_LUX, required=False, label="The meter says")
    gap_cm = Length(low=0.5, high=FARTHEST_CM, label="So far under the lamp")

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        if found.get("what") != "warm" and not found.get("number") and "number" not in self.errors:
            self.add_error("number", _("What does the meter say? Give the number."))
        if found.get("what") == "ppfd" and (found.get("number") or 0) > MOST_PPFD:
            said = {"number": f"{found['number']:g}", "most": MOST_PPFD}
            self.add_error("number", _("%(number)s cannot be: give more than 0 and up to %(most)s.") % said)
        return found

    def carry_out(self, write: ChangeSet) -> None:
        rig, what, typed = self.rig(), self.cleaned_data["what"], self.cleaned_data
        if not rig.known:
            raise Refused("what", _("say first which lamp hangs there"))
        number = None if what == "warm" else typed["number"]
        row = LightReading(spot=rig.spot, day=self.actor.today, what=what, number=number, gap_cm=typed["gap_cm"])
        self.facts = {"code": rig.spot.code, "what": what}
        write.touch(rig.spot)
        write.save(row)
        rig.readings.append(row)
        self.rated = None if what == "warm" else rig.said(row)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        done = _("felt how warm the lamp is") if facts["what"] == "warm" else _("read the light")
        return f"{facts['code']}: {done}"

    def told(self) -> str:
        code, rated = self.facts["code"], self.rated
        if rated is None:
            at = say.amount(self.cleaned_data["gap_cm"], "cm", self.reader)
            return _("Kept: leaves on %(code)s stay further than %(at)s from the lamp.") % {"code": code, "at": at}
        if rated.unsure == "coloured":
            return _("Kept, but not used: a lux meter says little under coloured light. A meter for plant light would.")
        if rated.unsure:
            return _(
                "Kept, but not used: it is far from what these lamps can give. Look at the unit, the distance and the lamp."
            )
        said = {"code": code, "share": round(100 * (rated.times or 1))}
        return _("Kept: %(code)s is reckoned by it from now on, %(share)s %% of what was taken.") % said


@register("light.hangs")
class HowItHangs(OfLamp):
    """By what the lamp hangs, in which steps, which sides are white."""

    hangs_by = Choice(HANGS, missing=gettext_lazy("choose a cord, a chain, a ratchet or fixed"), required=False)
    step_cm = Length(low=0.1, high=50, required=False, label="A step")
    facing = Choice(FACING_SAID, missing=gettext_lazy("choose where it looks to"), required=False)
    white = Words(alike(SIDES), required=False)

    says = gettext_lazy("%(code)s: how its lamp hangs")

    def carry_out(self, write: ChangeSet) -> None:
        typed = self.cleaned_data
        spot = write.touch(typed["spot"], self.seen)
        self.facts = {"code": spot.code}
        spot.hangs_by, spot.step_cm = typed["hangs_by"], typed["step_cm"]
        if "facing" in self.data:
            spot.facing = typed["facing"]
        spot.white = "".join(side for side in SIDES if side in typed["white"])
        write.save(spot)

    def told(self) -> str:
        return _("Kept for %s.") % self.facts["code"]


# ---------------------------------------------------------------- which lamp, and what current costs

YES_NO = [("", gettext_lazy("not said")), ("yes", gettext_lazy("yes")), ("no", gettext_lazy("no"))]


@register("light.lamp.keep")
class KeepLamp(Keep):
    """What hangs over a place: its kind, and of light, lumen or watts whatever is printed on it."""

    model, called = Lamp, "the lamp"

    row = row_of(Lamp, "spot__garden")
    spot = Row(Spot, where={"kind__in": LAMPS}, required=False)
    kind = Choice(lamp_kinds, label="It is a", initial="strip")
    name = Text(most=60, required=False, label="Name")
    number = Count(low=1, high=40, label="How many, alike", initial=1)
    umol = Amount(
        low=0, high=core.MOST_UMOL, required=False, label="Light, µmol/s",
        help_text="of one, as printed on it; the surest number",
    )  # fmt: skip
    lumen = Amount(low=0, high=core.MOST_LUMEN, required=False, label="or lumen", help_text="of one; white light only")
    kelvin = Amount(low=1000, high=20_000, required=False, label="with its colour, K")
    watts = Amount(
        low=0, high=core.MOST_WATTS, required=False, label="Draws, watts",
        help_text="of one; with nothing else it is what the light is reckoned from",
    )  # fmt: skip
    reflector = Choice(YES_NO, required=False, label="With a reflector")
    dims = Flag(label="It can be dimmed")
    new_on = Day(required=False, label="New on")
    wiped_on = Day(required=False, label="Last wiped on")
    length_cm = Length(low=2, high=500, required=False, label="Length")
    width_cm = Length(low=0.5, high=300, required=False, label="Width")
    y_cm = Length(low=0, high=500, required=False, label="Its middle from the front")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["new_on"].initial = self.today

    @classmethod
    def filled_in(cls, row: Any) -> dict[str, Any]:
        return super().filled_in(row) | {"reflector": {True: "yes", False: "no", None: ""}[row.reflector]}

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        if found.get("row") is not None:
            found["spot"] = found["row"].spot
        spot = found.get("spot")
        if spot is None:
            self.add_error("spot", _("choose the place that it hangs over"))
            return found
        numbers = {name: found.get(name) for name in ("umol", "lumen", "kelvin", "watts")}
        lamp = core.DescribedLamp(
            str(found.get("kind")), numbers["umol"], numbers["lumen"], numbers["kelvin"], numbers["watts"],
            found.get("length_cm"), found.get("width_cm"),
        )  # fmt: skip
        if self.errors:
            return found
        if wrong := core.wrong_lamp(lamp):
            typed = (n for n in ("lumen", "umol", "watts") if numbers[n] is not None and f"{numbers[n]:g}" in wrong)
            self.add_error(next(typed, "kind"), f"{wrong[0].upper()}{wrong[1:]}.")
        elif spot.length_cm and lamp.long_cm > spot.length_cm + LONGER_CM:
            long, has = (say.amount(cm, "cm", self.reader) for cm in (lamp.long_cm, spot.length_cm))
            said = {"long": long, "code": spot.code, "has": has}
            self.add_error("length_cm", _("%(long)s is longer than %(code)s, which has %(has)s: check both.") % said)
        new, wiped = found.get("new_on"), found.get("wiped_on")
        if new and wiped and wiped < new:
            self.add_error("wiped_on", _("That is before it was new: check both days."))
        return found

    def new(self) -> Lamp:
        return Lamp(spot=self.cleaned_data["spot"])

    def fill(self, row: Lamp) -> None:
        super().fill(row)
        row.reflector = {"yes": True, "no": False, "": None}[self.cleaned_data["reflector"]]

    def carry_out(self, write: ChangeSet) -> None:
        super().carry_out(write)
        lamp: Lamp = self.cleaned_data["row"] or self.thing
        self.facts = {"code": lamp.spot.code, "made": self.made, "number": lamp.number, "kind": lamp.kind}
        if lamp.spot.lit != "lamp":
            spot = write.fresh(lamp.spot)
            spot.lit = "lamp"
            write.save(spot)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        name = core.kinds()[facts["kind"]].name
        done = _("hung") if facts["made"] else _("changed")
        return f"{facts['code']}: {done} {facts['number']} × {name}"

    def told(self) -> str:
        return f"{self.sentence(self.facts, self.reader)}."


@register("light.lamp.down")
class TakeDown(Command):
    """It is taken down: it lights nothing from today on; what it gave before stays true."""

    row = Row(Lamp, "spot__garden", related=("spot",))

    says = gettext_lazy("%(code)s: took down %(name)s")

    def carry_out(self, write: ChangeSet) -> None:
        row = self.cleaned_data["row"]
        if row.until is not None:
            raise Refused("", _("it was taken down already"))
        row = write.touch(row, self.seen)
        self.facts = {"code": row.spot.code, "name": str(row)}
        row.until = self.actor.today
        write.save(row)

    def told(self) -> str:
        return _("%(name)s is taken down.") % self.facts


@register("light.current")
class KeepTariff(Keep):
    """What current costs, and when it costs less."""

    model, called = Tariff, "what current costs"

    row = row_of(Tariff)
    price = Price(high=1000, places=4, required=False, label="A kilowatt hour costs")
    spans = Text(most=120, required=False, label="Cheap hours", help_text="such as 0–7, 13–16; over midnight 22–6")
    cheap_price = Price(high=1000, places=4, required=False, label="in the cheap hours")

    says = gettext_lazy("What current costs")

    @classmethod
    def filled_in(cls, row: Any) -> dict[str, Any]:
        spans = ", ".join(f"{_hour(begin)}–{_hour(end)}" for begin, end in row.spans or [])
        return super().filled_in(row) | {"spans": spans}

    def clean_spans(self) -> list[list[float]]:
        found = []
        for part in filter(None, (one.strip() for one in re.split("[,;]", self.cleaned_data["spans"]))):
            ends = re.split(r"\s*(?:–|-|to)\s*", part)
            try:
                begin, end = (clock_hour(one) for one in ends)
            except ValueError as error:
                said = str(error) if len(ends) == 2 else _("“%s” is no span of hours: give it as 0–7") % part[:20]
                raise ValidationError(said) from error
            found.append([begin, end])
        if wrong := wrong_spans([(a, b) for a, b in found]):
            raise ValidationError(wrong)
        return found

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        if found.get("spans") and found.get("cheap_price") is None and "cheap_price" not in self.errors:
            self.add_error("cheap_price", _("What does it cost in the cheap hours?"))
        return found

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return str(cls.says)

    def told(self) -> str:
        return _("Kept: weeks are priced by it, and timers proposed in the cheap hours.")


def _hour(hour: float) -> str:
    return f"{int(hour)}" if hour == int(hour) else f"{int(hour)}:{round(hour % 1 * 60):02d}"
