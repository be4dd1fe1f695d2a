"""Finishing, skipping and putting off tasks, and a word beside one; each is one entry of the journal.

A task is looked up again inside the entry, as the garden is then: what is done already, or no longer needed, writes
nothing, and `written` is then None; else it is the season as it was found, as far as the tasks are about it.
"""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.course.finishing import mark_of, write_done
from aestiva.course.state import SeasonState, Todo
from aestiva.frame import say, wording
from aestiva.frame.fields import Count, Day, Keys, Text
from aestiva.frame.say import Reader
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts, register
from aestiva.gardens.outcomes import NoFrostDate, Refused
from aestiva.season.actions import MANY
from aestiva.season.models import TaskNote
from aestiva.today.finding import find, state_for, written

MOST_TOGETHER, LONGEST_KEY = 2000, 60
MOST_NAMED = 3
A_YEAR_DAYS = 365


class OfTasks(Command):
    """About one task or several, which are looked up as the garden is while it is written."""

    tells = False

    scope = "tasks"
    written: SeasonState | None = None

    def found(self, keys: list[str]) -> tuple[SeasonState, list[Todo]]:
        """The season, and those of the tasks that are still to be done."""
        now = state_for(self.garden, keys, self.actor.today)
        return now, [todo for key in dict.fromkeys(keys) if (todo := now.find(key)) is not None]


def one(facts: Facts) -> str:
    """How many of what: “12 Tomato”, “Tomato”."""
    return facts["name"] if facts["count"] is None else f"{facts['count']} {facts['name']}"


def facts_of(todo: Todo, count: int | None = None) -> Facts:
    number = todo.task.count if count is None else count
    return {"kind": todo.task.kind, "name": todo.subject.full_name, "count": number}


class OfTask(OfTasks):
    """About one task."""

    task = Text(most=LONGEST_KEY, missing=gettext_lazy("which task is it?"))

    def carry_out(self, write: ChangeSet) -> None:
        now, todos = self.found([self.cleaned_data["task"]])
        for todo in todos:
            self.write(write, now, todo)
            self.written = written(now, write)

    def write(self, write: ChangeSet, now: SeasonState, todo: Todo) -> None:
        """What is written of the task, once it is found."""
        raise NotImplementedError


@register("task.done")
class Finish(OfTask):
    """What was done, and when; fewer than all leaves the rest open (“12 of 20”)."""

    on = Day(required=False)
    count = Count(high=MANY, required=False)

    def write(self, write: ChangeSet, now: SeasonState, todo: Todo) -> None:
        today, count = self.actor.today, self.cleaned_data["count"]
        self.facts = facts_of(todo, count)
        write_done(write, now, self.actor.user, todo, self.cleaned_data["on"] or today, today, count)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return f"{wording.STEPS[facts['kind']].verb}: {one(facts)}"


@register("tasks.done")
class FinishTogether(OfTasks):
    """One errand for several batches, done with one tap and taken back with one."""

    task = Keys(missing=gettext_lazy("choose at least one task"), most=MOST_TOGETHER, required=False)

    def carry_out(self, write: ChangeSet) -> None:
        now, todos = self.found(self.cleaned_data["task"])
        if not todos:
            return
        self.facts = {"kind": todos[0].task.kind, "names": [todo.subject.name for todo in todos]}
        for todo in todos:
            write_done(write, now, self.actor.user, todo, self.actor.today, self.actor.today, None)
        self.written = written(now, write)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return f"{wording.STEPS[facts['kind']].verb}: {', '.join(facts['names'])}"


@register("task.skip")
class Skip(OfTask):
    """A task that is not to be done."""

    def write(self, write: ChangeSet, now: SeasonState, todo: Todo) -> None:
        self.facts = facts_of(todo)
        mark = mark_of(now, todo.task.key)
        mark.skipped_on, mark.by = self.actor.today, self.actor.user
        write.save(mark)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        said = {"verb": wording.STEPS[facts["kind"]].verb.lower(), "one": one(facts)}
        return _("Skipped “%(verb)s”: %(one)s") % said


def later(to: date, today: date) -> None:
    """Raise Refused for a day to which nothing can be put off."""
    if to <= today:
        raise Refused("to", _("%s is not after today: choose a later day") % f"{to:%-d %B}")
    if (to - today).days > A_YEAR_DAYS:
        raise Refused("to", _("%s is more than a year away: skip it instead") % f"{to:%-d %B %Y}")


@register("task.later")
class PutOff(OfTask):
    """A task for another day; the facts that it waits for do not move."""

    to = Day()

    def write(self, write: ChangeSet, now: SeasonState, todo: Todo) -> None:
        to = self.cleaned_data["to"]
        later(to, self.actor.today)
        self.facts = facts_of(todo) | {"to": to.isoformat()}
        mark = mark_of(now, todo.task.key)
        mark.moved_to, mark.by = to, self.actor.user
        write.save(mark)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("Put off to %(to)s: %(one)s") % {"to": _day(facts), "one": one(facts)}


def _day(facts: Facts) -> str:
    return f"{date.fromisoformat(facts['to']):%-d %B}"


@register("tasks.later")
class PutOffTogether(OfTasks):
    """Several tasks for another day, tomorrow where none is said, in one entry."""

    task = Keys(missing=gettext_lazy("choose at least one task"), most=MOST_TOGETHER, required=False)
    to = Day(required=False)

    def carry_out(self, write: ChangeSet) -> None:
        today = self.actor.today
        to = self.cleaned_data["to"] or today + timedelta(days=1)
        later(to, today)
        now, todos = self.found(self._all_of(self.cleaned_data["task"]))
        self.facts = {
            "to": to.isoformat(),
            "count": len(todos),
            "names": list(dict.fromkeys(todo.subject.name for todo in todos)),
        }
        for todo in todos:
            mark = mark_of(now, todo.task.key)
            mark.moved_to, mark.by = to, self.actor.user
            write.save(mark)

    def _all_of(self, ticked: list[str]) -> list[str]:
        """Those that were ticked, each with what stands in its row beside it (`more-…`)."""
        beside: Any = getattr(self.data, "getlist", lambda name: [])
        return [key for one in ticked for key in (one, *beside(f"more-{one}"))][:MOST_TOGETHER]

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        names = say.listed(facts["names"], MOST_NAMED)
        return _("Put off to %(to)s: %(names)s") % {"to": _day(facts), "names": names}

    def told(self) -> str:
        if not self.facts["count"]:
            return ""
        many, to = say.plural(self.facts["count"], "thing"), say.day(date.fromisoformat(self.facts["to"]))
        return _("%(many)s put off until %(to)s. It can be taken back.") % {"many": many, "to": to}


LONGEST_NOTE = 200


@register("task.note")
class Note(Command):
    """A word beside a task, from whoever looks at it, readers too: for people, never read by a rule."""

    role, scope = "reader", "tasks"

    task = Text(most=LONGEST_KEY, missing=gettext_lazy("which task is it?"))
    text = Text(most=LONGEST_NOTE, missing=gettext_lazy("Nothing is said yet: write a word or two"))

    def carry_out(self, write: ChangeSet) -> None:
        key, today = self.cleaned_data["task"], self.actor.today
        try:
            todo = find(self.garden, key, today)
        except NoFrostDate:
            todo = None
        if todo is None:
            raise Refused("task", _("that task is done or no longer needed"))
        self.facts = {"kind": todo.task.kind, "name": todo.subject.name, "text": self.cleaned_data["text"]}
        write.save(TaskNote(garden=self.garden, key=key, day=today, by=self.actor.user, text=self.cleaned_data["text"]))

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        what = f"{wording.STEPS[facts['kind']].act} {facts['name']}"
        return _("Note on %(what)s: %(text)s") % {"what": what, "text": facts["text"]}

    def told(self) -> str:
        return _("Your note stands beside the task.")
