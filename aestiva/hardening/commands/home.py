"""Who is at home, what shelters the door, by which ladder they climb."""

from __future__ import annotations

from typing import Any

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.course.door import known_ladders
from aestiva.course.state import load
from aestiva.frame import say
from aestiva.frame.fields import Amount, Choice, Count, Duration, Flag, Hour, Lines, Row, Text, TypedForm
from aestiva.frame.say import Reader
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts, register
from aestiva.gardens.models import SHELTERS, Member
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.things import Keep, Remove, row_of
from aestiva.season.commands import OF_BATCH, OfBatch
from aestiva.season.models import Batch, OwnLadder
from growing.ladders.ladder import ladders, own_ladder


class HomeDay(TypedForm):
    """From when to when somebody is at home on a day; empty: not at all."""

    begin = Hour(required=False, label="from")
    end = Hour(required=False, label="to")

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        begin, end = found.get("begin"), found.get("end")
        if not self.errors and (begin is None) != (end is None):
            self.add_error("end" if end is None else "begin", _("give both, or neither"))
        elif begin is not None and end is not None and end <= begin:
            said = {"end": say.clock_said(end), "begin": say.clock_said(begin)}
            self.add_error("end", _("%(end)s is not after %(begin)s: in comes after out") % said)
        return found


@register("home.hours")
class AtHome(Command):
    """From when to when somebody is at home, day by day from Monday: one's own, or anybody's for an owner."""

    scope = ""

    member = Row(Member, missing=gettext_lazy("choose who it is"))
    days = Lines(HomeDay, most=7, called="day", each=say.WEEKDAYS, required=False)
    unknown = Flag()

    says = gettext_lazy("Said who is at home when")

    def carry_out(self, write: ChangeSet) -> None:
        member = self.cleaned_data["member"]
        if self.actor.role != "owner" and (self.actor.user is None or member.user_id != self.actor.user.pk):
            raise Refused("member", _("only they themselves, or an owner, can say that"))
        days = [None if one["begin"] is None else [one["begin"], one["end"]] for one in self.cleaned_data["days"]]
        said = any(name.startswith("days-") for name in self.data) and not self.cleaned_data["unknown"]
        self.known = said
        member.at_home = [*days, *[None] * (7 - len(days))] if said else None
        write.save(member)

    def told(self) -> str:
        if self.known:
            return _("Kept: outings are planned for those hours.")
        return _("Nobody said: somebody is taken to be there.")


@register("home.shelter")
class Shelter(Command):
    """What shelters the place at the door."""

    shelter = Choice(SHELTERS, missing=gettext_lazy("choose what shelters them"), required=False)

    says = gettext_lazy("Said what shelters the door")

    def carry_out(self, write: ChangeSet) -> None:
        garden = write.fresh(self.garden)
        garden.shelter = self.cleaned_data["shelter"]
        write.save(garden)

    def told(self) -> str:
        return _("Kept: the wind is reckoned behind it.")


MOST_LADDERS, MOST_ROWS, MOST_NAME, MOST_SPARE = 99, 21, 40, 14
SUNS = ((0.0, "shade"), (0.25, "morning sun"), (0.5, "half sun"), (1.0, "open"))


class RungForm(TypedForm):
    """A day of a ladder: hours out, the share of sun, the night out too."""

    hours = Duration(low=0, high=24, unit="h", required=False, label="hours")
    sun = Amount(low=0, high=1, required=False, label="sun")
    night = Flag()

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        if not self.errors and found.get("hours") is None and not found.get("night"):
            self.add_error(None, _("is empty, but a later one is not: a rung is skipped"))
        return found

    @staticmethod
    def rung(typed: Facts) -> list[float]:
        if typed["night"]:
            return [24.0, 1.0, 1.0]
        return [typed["hours"], typed["sun"] or 0.0, 0.0]


@register("ladder.keep")
class KeepLadder(Keep):
    """An own ladder, new or changed."""

    model, called = OwnLadder, "the ladder"

    row = row_of(OwnLadder)
    name = Text(most=MOST_NAME, missing=gettext_lazy(f"give the ladder a name of up to {MOST_NAME} letters"))
    spare_days = Count(high=MOST_SPARE, label="Days to spare")
    rungs = Lines(RungForm, most=MOST_ROWS, called="rung", by=("hours", "night"))

    def clean_rungs(self) -> list[list[float]]:
        return [RungForm.rung(one) for one in self.cleaned_data["rungs"]]

    def carry_out(self, write: ChangeSet) -> None:
        name, row = self.cleaned_data["name"], self.cleaned_data["row"]
        try:
            own_ladder("", name, self.cleaned_data["spare_days"], self.cleaned_data["rungs"])
        except ValueError as error:
            raise Refused("rungs", str(error)) from None
        others = OwnLadder.objects.filter(garden=self.garden).exclude(pk=row.pk if row else 0)
        taken = {*others.values_list("name", flat=True), *(k.name for k in ladders().values())}
        if name.casefold() in {other.casefold() for other in taken}:
            raise Refused("name", _("there is a ladder called %s already: give this one another name") % name)
        super().carry_out(write)

    def new(self) -> OwnLadder:
        taken = set(OwnLadder.objects.filter(garden=self.garden).values_list("number", flat=True))
        number = next((n for n in range(1, MOST_LADDERS + 1) if n not in taken), None)
        if number is None:
            raise Refused("name", _("%s ladders are enough: change one that is there") % MOST_LADDERS)
        return OwnLadder(garden=self.garden, number=number)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("Own ladder: %(name)s") % facts

    def told(self) -> str:
        rungs = say.plural(len(self.cleaned_data["rungs"]), "rung")
        return _("Kept: %(name)s, %(rungs)s.") % {"name": self.facts["name"], "rungs": rungs}


@register("ladder.remove")
class RemoveLadder(Remove):
    """An own ladder that nobody climbs any more."""

    called = "the ladder"
    row = Row(OwnLadder)

    def carry_out(self, write: ChangeSet) -> None:
        row = self.cleaned_data["row"]
        used = Batch.objects.filter(**{OF_BATCH: self.garden}, ladder=row.key).count()
        if used or self.garden.ladder == row.key:
            who = _("the garden") if self.garden.ladder == row.key else say.plural(used, "batch", "batches")
            said = {"name": row.name, "who": who}
            raise Refused("", _("%(name)s is climbed by %(who)s: choose another for them first") % said)
        super().carry_out(write)


NO_LADDER = gettext_lazy("there is no such ladder here: choose one of the list")


@register("ladder.garden")
class LadderOfGarden(Command):
    """The ladder that all climb for which no other was chosen."""

    role, scope = "owner", ""

    ladder = Text(most=MOST_NAME, missing=NO_LADDER)

    says = gettext_lazy("Hardened off by: %(name)s")

    def carry_out(self, write: ChangeSet) -> None:
        key, known = self.cleaned_data["ladder"], known_ladders(self.garden)
        if key not in known:
            raise Refused("ladder", str(NO_LADDER))
        self.facts = {"name": known[key].name}
        garden = write.fresh(self.garden)
        garden.ladder = key
        write.save(garden)

    def told(self) -> str:
        return _("Kept: %(name)s, for all that have no other.") % self.facts


@register("ladder.batch")
class Climbs(OfBatch):
    """The ladder that a batch climbs."""

    ladder = Text(most=MOST_NAME, required=False)

    says = gettext_lazy("%(what)s hardened off by: %(name)s")

    def carry_out(self, write: ChangeSet) -> None:
        key, known = self.cleaned_data["ladder"], known_ladders(self.garden)
        if key and key not in known:
            raise Refused("ladder", str(NO_LADDER))
        name = known[key].name if key else _("as the garden does it")
        self.before = self._out_on()
        self.facts = {"what": str(self.of.planting), "name": name}
        batch = self.held(write)
        batch.ladder = key
        write.save(batch)

    def _out_on(self) -> str:
        item = load(self.garden, self.actor.today, [self.of.planting_id]).item_of(self.of.pk)
        return "" if item is None else say.day(item.raised.dates.out_on)

    def told(self) -> str:
        after = self._out_on()
        said = _(" Planting out %(after)s, not %(before)s.") % {"after": after, "before": self.before}
        return f"{self.facts['what']}: {self.facts['name']}.{said if after != self.before else ''}"
