"""What is written at the door: carried out, brought in, how they looked; who is at home, what shelters the door, by which ladder they climb."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta
from typing import Any, ClassVar

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.bench.models import BRING_IN, Timer
from aestiva.course.door import known_ladders
from aestiva.course.finishing import mark_of, write_done
from aestiva.course.state import SeasonState, Todo, load
from aestiva.frame import say
from aestiva.frame.fields import Amount, Choice, Count, Duration, Flag, Hour, Keys, Lines, Row, Text, TypedForm
from aestiva.frame.say import Reader
from aestiva.frame.wording import STEPS
from aestiva.gardens import clock
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts, register
from aestiva.gardens.models import SHELTERS, Member
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.providers import steps
from aestiva.gardens.things import Keep, Remove, row_of
from aestiva.hardening.actions import MOST_HOURS, had_hours, went_out_at
from aestiva.hardening.door import BETWEEN, door
from aestiva.season.actions import add_event
from aestiva.season.commands import OF_BATCH, OfBatch
from aestiva.season.models import Batch, OwnLadder
from growing.hardening.steps import HARDEN, Out, OutingDetail
from growing.ladders.ladder import ladders, own_ladder

CARRY_IN = "carry in what is out"
GONE = gettext_lazy("that is done already, or there is nothing of it any more: look at the door again")
MOST_TOGETHER = 400
SAME_H = 0.02  # two times of a day that are one
DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
REASONS = {
    "wilting": gettext_lazy("wilting"),
    "cold": gettext_lazy("cold"),
    "wind": gettext_lazy("wind"),
    "rain": gettext_lazy("rain"),
}
LOOK_WORDS = {
    "looked_fine": gettext_lazy("fine"),
    "looked_limp": gettext_lazy("limp, recovered"),
    "looked_bleached": gettext_lazy("bleached"),
}


def names_of(todos: list[Todo]) -> list[str]:
    """Whom they are about, each once."""
    return list(dict.fromkeys(t.subject.full_name for t in todos))


class Together(Command):
    """Several tasks done with one walk: one entry for all of them, and one undo."""

    scope = "tasks"
    gone: ClassVar[Any] = GONE

    task = Keys(missing=GONE, most=MOST_TOGETHER)

    @classmethod
    def kinds(cls) -> tuple[str, ...]:
        """The kinds of work that are done so."""
        raise NotImplementedError

    def todos(self, now: SeasonState) -> list[Todo]:
        """Those that are still to be done; raises Refused where there is none."""
        keys = dict.fromkeys(key for sent in self.cleaned_data["task"] for key in sent.split(BETWEEN))
        found = [t for key in list(keys)[:MOST_TOGETHER] if (t := now.find(key)) is not None]
        found = [t for t in found if t.task.kind in self.kinds()]
        if not found:
            raise Refused("task", str(self.gone))
        return found

    def carry_out(self, write: ChangeSet) -> None:
        today = self.actor.today
        now = load(self.garden, today)
        todos = self.todos(now)
        self.facts = {"kind": todos[0].task.kind, "names": names_of(todos)}
        for todo in todos:
            write_done(write, now, self.actor.user, todo, today, today, None)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return f"{STEPS[facts['kind']].verb}: {say.listed(facts['names'], 3)}"


@register("door.done")
class AtTheDoor(Together):
    """Kept in, carried in for the night, frame opened or shut."""

    @classmethod
    def kinds(cls) -> tuple[str, ...]:
        return tuple(s.kind for s in steps() if s.where == "door" and s is not HARDEN and not s.corrects)


@register("door.out")
class CarriedOut(Together):
    """Carried out, all or one: it is out from now on, and a timer rings when it is to come in."""

    @classmethod
    def kinds(cls) -> tuple[str, ...]:
        return (HARDEN.kind,)

    def carry_out(self, write: ChangeSet) -> None:
        today = self.actor.today
        now = load(self.garden, today)
        todos = self.todos(now)
        if any(t.due > today for t in todos):
            raise Refused("task", _("that is for another day: it goes out when its day has come"))
        self.facts = {"names": names_of(todos)}
        ends: list[datetime] = []
        for todo in todos:
            out = todo.task.detail
            assert isinstance(out, OutingDetail)
            write_done(write, now, self.actor.user, todo, today, today, None)
            if not out.night:
                ends.append(clock.instant() + timedelta(hours=out.hours))
        for due in sorted(set(ends)):
            started = clock.instant()
            what = f"{CARRY_IN}, {say.plural(sum(1 for e in ends if e == due), 'batch', 'batches')}"
            write.save(Timer(garden=self.garden, kind=BRING_IN, what=what[:60], started=started, due=due))

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("Carried out: %s") % say.listed(facts["names"], 3)


@register("door.in")
class BroughtIn(Together):
    """Brought in, as planned or early: then with its hours and the reason."""

    reason = Choice(list(REASONS.items()), missing=f"why early: {', '.join(REASONS)}?", required=False)
    hours = Duration(low=0, high=MOST_HOURS, unit="h", required=False, label="Hours")

    @classmethod
    def kinds(cls) -> tuple[str, ...]:
        return ("bring_in",)

    def carry_out(self, write: ChangeSet) -> None:
        today, reason, typed = self.actor.today, self.cleaned_data["reason"], self.cleaned_data["hours"]
        now = load(self.garden, today)
        todos = self.todos(now)
        self.facts = {"names": names_of(todos), "reason": reason}
        out_at = went_out_at(i.batch.pk for i in now.items if i.batch is not None and i.raised.facts.out)
        for todo in todos:
            self._one_in(write, now, todo, self._hours(todo, typed, bool(reason), out_at.get(todo.item.batch_pk)))
        done = {todo.task.key for todo in todos}
        self._hush(write, [t for t in now.todos(today, self.kinds()) if t.task.key not in done], out_at)

    def _hours(self, todo: Todo, typed: float | None, early: bool, out_at: float | None) -> float:
        """The hours that this batch was out: as typed; early, those since it went, or half of those planned; otherwise as planned."""
        out, today = todo.task.detail, self.actor.today
        assert isinstance(out, Out)
        if typed is not None:
            return round(had_hours(out.outing, typed, today), 2)
        if early and out_at is not None:
            since = clock.hour(self.garden) - out_at + 24 * (today - out.outing.day).days
            return round(min(out.hours, max(0.0, since)), 2)
        return round(out.hours / 2, 2) if early else out.hours

    def _one_in(self, write: ChangeSet, now: SeasonState, todo: Todo, hours: float) -> None:
        out, reason = todo.task.detail, self.cleaned_data["reason"]
        assert isinstance(out, Out) and todo.batch is not None
        mark = mark_of(now, todo.task.key)
        mark.by, mark.done_on, mark.count_done = self.actor.user, now.today, round(hours)
        write.touch(todo.batch)
        day, wanted = out.outing.day, out.outing.wanted_hours
        note = f"brought in early: {reason}" if reason else ""
        add_event(write, todo.batch, "outing", day, now.today, hours=hours, wanted_hours=wanted, note=note)
        if reason == "wilting":
            add_event(write, todo.batch, "looked_limp", day, now.today)
        write.save(mark)

    def _hush(self, write: ChangeSet, left: list[Todo], out_at: Mapping[int, float]) -> None:
        """Timers that ring for nothing that is still out are done."""
        out = [(t.item.batch_pk, t.item.raised.facts.out) for t in left]
        rings = [out_at[pk] + had.hours for pk, had in out if had is not None and pk in out_at]
        if left and not rings:
            return  # nobody knows since when they are out: it rings for them
        for timer in Timer.objects.filter(garden=self.garden, done_at=None, kind=BRING_IN).order_by("due"):
            at = clock.hour_at(self.garden, timer.due)
            if all(abs(at - ring) > SAME_H for ring in rings):
                timer.done_at = clock.instant()
                write.save(timer)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        names = say.listed(facts["names"], 3)
        if not facts["reason"]:
            return _("Brought in: %s") % names
        return _("Brought in early, %(reason)s: %(names)s") % {"reason": REASONS[facts["reason"]], "names": names}

    def told(self) -> str:
        asked = "" if self.facts["reason"] == "wilting" else f" {_('How did they look?')}"
        return f"{super().told()}{asked}"


@register("door.looked")
class Looked(Command):
    """How they looked, once they were in: all of them, or one."""

    scope = "tasks"

    look = Choice(list(LOOK_WORDS.items()), missing=gettext_lazy("how did they look: fine, limp, or bleached?"))
    batch = Keys(missing=gettext_lazy("nobody is waiting to be looked at: somebody said it already"))

    def carry_out(self, write: ChangeSet) -> None:
        look, today = self.cleaned_data["look"], self.actor.today
        wanted = {pk for sent in self.cleaned_data["batch"] for pk in sent.split(BETWEEN)}
        items = [i for i in door(load(self.garden, today)).looked if str(i.batch_pk) in wanted]
        if not items:
            raise Refused("batch", str(self.fields["batch"].error_messages["required"]))
        self.facts = {"look": look, "names": list(dict.fromkeys(i.full_name for i in items))}
        for item in items:
            assert item.batch is not None
            add_event(write, write.touch(item.batch), look, item.raised.facts.outings[-1].day, today)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        said = {"look": LOOK_WORDS[facts["look"]], "names": say.listed(facts["names"], 3)}
        return _("Looked %(look)s: %(names)s") % said

    def told(self) -> str:
        more = "" if self.facts["look"] == "looked_fine" else f" {_('The same step again, in shade.')}"
        return f"{super().told()}{more}"


# ---------------------------------------------------------------- who is home, what shelters, which ladder


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
    days = Lines(HomeDay, most=7, called="day", each=DAYS, required=False)
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
