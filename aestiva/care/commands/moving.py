"""Moving on: leaves and roots seen, work done, what is over."""

from __future__ import annotations

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.care.moving import KINDS
from aestiva.care.stages import moved, moved_said
from aestiva.course.finishing import write_done
from aestiva.course.light import up_since
from aestiva.course.state import load
from aestiva.emergence.commands import StageSeen
from aestiva.frame.fields import (
    Choice,
    Count,
    Flag,
    alike,
)
from aestiva.frame.say import Reader
from aestiva.frame.wording import STEPS
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Facts, register
from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import MANY, add_event, split
from aestiva.season.commands import OfBatch
from growing.care.moving import EVENTS


class Stage(StageSeen):
    """How far one batch is, as on Emergence; here it is told what its days become by it."""

    def told(self) -> str:
        batch = self.of
        after = load(self.garden, self.actor.today, [batch.planting_id]).item_of(batch.pk)
        changed = "" if after is None else moved_said(moved(self.before, after), self.actor.today)
        return f"{super().told()} {changed}{'.' if changed else ''}".strip()


@register("care.roots")
class Roots(OfBatch):
    """What was seen of the roots, and whether leaves stand over each other: two taps."""

    roots = Choice(alike(EVENTS), missing=gettext_lazy(f"what do the roots look like: {', '.join(EVENTS)}?"))
    crowded = Flag()

    says = gettext_lazy("Roots of %(what)s: %(roots)s")

    def carry_out(self, write: ChangeSet) -> None:
        batch, today = self.held(write), self.actor.today
        item = load(self.garden, today, [batch.planting_id]).item_of(batch.pk)
        if item is None or up_since(item) is None:
            raise Refused("batch", _("nothing of it is up yet, as far as anybody wrote down: count them first"))
        self.facts = {"what": str(batch.planting), "roots": self.cleaned_data["roots"]}
        add_event(write, batch, EVENTS[self.cleaned_data["roots"]], today, today)
        if self.cleaned_data["crowded"]:
            add_event(write, batch, "crowded", today, today)


@register("care.done")
class MovedOn(OfBatch):
    """The work that is due, done; fewer than all leave the rest open."""

    kind = Choice(lambda: [(k, STEPS[k].verb) for k in KINDS], missing=gettext_lazy("choose the work that was done"))
    count = Count(high=MANY, required=False, label="Count")

    def carry_out(self, write: ChangeSet) -> None:
        batch, kind, count = self.of, self.cleaned_data["kind"], self.cleaned_data["count"]
        today, user = self.actor.today, self.actor.user
        now = load(self.garden, today, [batch.planting_id])
        todo = next((t for t in now.todos(now.horizon, KINDS) if t.batch == batch and t.task.kind == kind), None)
        if todo is None:
            raise Refused("kind", _("there is nothing of that kind to do with them any more: look at the page again"))
        self.facts = {"what": str(batch.planting), "kind": kind, "count": count}
        write.touch(batch, self.seen)
        write_done(write, now, user, todo, today, today, count)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        many = "" if facts["count"] is None else f", {facts['count']}"
        return f"{STEPS[facts['kind']].verb} {facts['what']}{many}"

    def told(self) -> str:
        return f"{super().told()} {_('It can be taken back.')}"


@register("care.separate")
class Separate(OfBatch):
    """Those that are too many in their cells are separated and all kept, not thinned."""

    says = gettext_lazy("%(what)s: separated, not thinned")

    def carry_out(self, write: ChangeSet) -> None:
        batch = self.held(write)
        if batch.surplus == "keep":
            raise Refused("surplus", _("they are to be separated already"))
        self.facts = {"what": str(batch.planting)}
        batch.surplus = "keep"
        write.save(batch)

    def told(self) -> str:
        return _("%s: separated and all kept, each in a cell of its own.") % self.facts["what"]


OVER = {
    "keep": gettext_lazy("Kept as spares"),
    "give": gettext_lazy("Given away"),
    "sell": gettext_lazy("Sold"),
    "snip": gettext_lazy("Snipped"),
}


@register("care.over")
class WhatIsOver(OfBatch):
    """What becomes of those that are over."""

    way = Choice(list(OVER.items()), missing=gettext_lazy("choose what becomes of them"))
    count = Count(low=1, high=MANY, label="Count")

    def carry_out(self, write: ChangeSet) -> None:
        way, count, today = self.cleaned_data["way"], self.cleaned_data["count"], self.actor.today
        batch = self.held(write)
        self.facts = {"what": str(batch.planting), "way": way, "count": count}
        if way == "keep":
            split(write, batch, count, today, today)
            return
        kind, note = "thinned" if way == "snip" else "given", "sold" if way == "sell" else ""
        add_event(write, batch, kind, today, today, count=count, note=note)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return f"{OVER[facts['way']]}: {facts['count']} {facts['what']}"

    def told(self) -> str:
        return f"{super().told()} {_('It can be taken back.')}"
