"""What is written at the door: carried out, brought in, how they looked."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta
from typing import Any, ClassVar

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.bench.models import BRING_IN, Timer
from aestiva.course.finishing import mark_of, write_done
from aestiva.course.state import SeasonState, Todo, load
from aestiva.frame import say
from aestiva.frame.fields import Choice, Duration, Keys
from aestiva.frame.say import Reader
from aestiva.frame.wording import STEPS
from aestiva.gardens import clock
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts, register
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.providers import steps
from aestiva.hardening.actions import MOST_HOURS, had_hours, went_out_at
from aestiva.hardening.door import BETWEEN, door
from aestiva.season.actions import add_event
from growing.hardening.steps import HARDEN, Out, OutingDetail

CARRY_IN = "carry in what is out"
GONE = gettext_lazy("that is done already, or there is nothing of it any more: look at the door again")
MOST_TOGETHER = 400
SAME_H = 0.02  # two times of a day that are one
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
