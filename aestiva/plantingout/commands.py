"""What is written of those outdoors: planted, covered, lost and filled, what a bed is like; covers at hand."""

from __future__ import annotations

from typing import Any, ClassVar

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.course.finishing import write_done
from aestiva.course.state import SeasonState, Todo, load
from aestiva.frame import say
from aestiva.frame.fields import Choice, Count, Duration, Flag, Length, Row, Text, Volume
from aestiva.frame.say import Reader
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts, register
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.things import Keep, Remove, row_of
from aestiva.hardening.commands.door import Together
from aestiva.plantingout.asked import at_the_gates
from aestiva.plantingout.draw import NAMES
from aestiva.plantingout.models import STATES, BedState, CoverAtHand
from aestiva.season.actions import MANY, add_event
from aestiva.season.commands import OF_BATCH, OfBatch
from aestiva.season.models import Batch, Spot
from aestiva.season.places import stand
from growing.place.covers import COVERS
from growing.plantingout.steps import CARRY_IN, COVER, UNCOVER

MOST_DIP_L, MOST_KEPT_H = 1000.0, 1000.0


def plant_todo(now: SeasonState, batch: int) -> Todo | None:
    """What is to be planted of a batch, however far ahead."""
    todos = now.todos(now.horizon, ("plant",))
    return next((t for t in todos if t.batch is not None and t.batch.pk == batch), None)


@register("out.planted")
class Planted(OfBatch):
    """Planted, all or some; where a gate holds it only with a word why, which is kept beside it."""

    count = Count(low=1, high=MANY, required=False)
    note = Text(most=160, required=False)
    dipped = Flag()
    litres = Volume(low=0, high=MOST_DIP_L, unit="l", required=False, label="Litres")
    hours = Duration(low=0, high=MOST_KEPT_H, unit="h", required=False, label="Hours")

    def carry_out(self, write: ChangeSet) -> None:
        typed, today = self.cleaned_data, self.actor.today
        now = load(self.garden, today)
        todo, item = plant_todo(now, self.of.pk), now.item_of(self.of.pk)
        if todo is None or item is None:
            raise Refused("", _("there is nothing of it to plant out any more: look at the page again"))
        count, there = typed["count"], item.raised.plants
        if count is not None and there is not None and count > there and todo.task.unit == "plants":
            said = {"count": count, "there": there}
            raise Refused("count", _("%(count)s cannot be: %(there)s are on hand") % said)
        row = next(iter(at_the_gates(now, [item]).rows), None)
        holds = say.listed([NAMES[g.name] for g in row.gates if g.holds]) if row is not None else ""
        if holds and not typed["note"]:
            raise Refused("note", _("held by %s: it may be done all the same, but say why") % holds)
        batch = self.held(write)
        self.facts = {"what": str(batch.planting), "count": count}
        write_done(write, now, self.actor.user, todo, today, today, count)
        if holds:
            against = f"Planted while held by {holds}: {typed['note']}"
            add_event(write, batch, "note", today, today, note=against[:200])
        if typed["dipped"]:
            data = {name: typed[name] for name in ("litres", "hours") if typed[name] is not None}
            add_event(write, batch, "dipped", today, today, data=data)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        if facts["count"] is None:
            return _("Planted %(what)s") % facts
        return _("Planted %(what)s, %(count)s") % facts

    def told(self) -> str:
        return f"{super().told()} {_('It can be taken back.')}"


@register("out.bed")
class BedToday(Command):
    """What a bed is like today."""

    scope = "readings"

    spot = Row(Spot, missing=gettext_lazy("say of which bed"))
    state = Choice(STATES, missing=gettext_lazy("say what it is like"))

    def carry_out(self, write: ChangeSet) -> None:
        one = {"spot": self.cleaned_data["spot"], "day": self.actor.today}
        row = BedState.objects.filter(**one).first() or BedState(**one)
        row.state = self.cleaned_data["state"]
        self.facts = {"code": one["spot"].code, "state": row.state}
        write.save(row)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return f"{facts['code']}: {dict(STATES)[facts['state']]}"


# ---------------------------------------------------------------- tonight


@register("tonight.done")
class ThisEvening(Together):
    """Covered, uncovered or carried in: one walk, one entry."""

    gone: ClassVar[Any] = gettext_lazy("that is done already: look at the list again")

    @classmethod
    def kinds(cls) -> tuple[str, ...]:
        return (COVER.kind, UNCOVER.kind, CARRY_IN.kind)


@register("tonight.lost")
class LostOutside(OfBatch):
    """Lost in the garden; and the gaps filled from another batch of the crop, where one is named."""

    count = Count(high=MANY, required=False, label="Lost")
    fill = Count(high=MANY, required=False, label="Filled")
    spare = Row(Batch, OF_BATCH, required=False, related=("planting",))

    def carry_out(self, write: ChangeSet) -> None:
        today, spare = self.actor.today, self.cleaned_data["spare"]
        count, fill = self.cleaned_data["count"] or 0, self.cleaned_data["fill"] or 0
        if not count + fill:
            raise Refused("count", _("how many were lost, or filled? Give 1 or more"))
        if fill and spare is None:
            raise Refused("spare", _("fill the gaps from which batch? Choose one"))
        batch = self.held(write)
        self.facts = {"what": str(batch.planting), "lost": count, "filled": fill}
        if count:
            add_event(write, batch, "lost_outside", today, today, count=count)
        if fill and spare is not None:
            if spare.pk == batch.pk:
                raise Refused("spare", _("gaps are filled from another batch"))
            spare, note = write.touch(spare), f"into the gaps of {batch.planting}"
            add_event(write, spare, "planted", today, today, count=fill, note=note[:200])
            left = load(self.garden, today, [spare.planting_id]).item_of(spare.pk)
            if batch.planting.spot is not None and left is not None and left.raised.plants == 0:
                stand(write, spare, batch.planting.spot, today)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        lost = _("%(lost)s lost") % facts if facts["lost"] else ""
        filled = _("%(filled)s filled") % facts if facts["filled"] else ""
        return f"{facts['what']}: {', '.join(filter(None, (lost, filled)))}"


# ---------------------------------------------------------------- covers at hand

MOST_M, MOST_WIDE_M, LEAST_M, MOST_PIECES = 1000.0, 20.0, 0.1, 10_000
CM_OF_M = 100


@register("cover.keep")
class KeepCover(Keep):
    """A cover that the garden has: so long, or so many."""

    model, called = CoverAtHand, "the cover"

    row = row_of(CoverAtHand)
    kind = Choice(
        lambda: [(key, cover.name) for key, cover in COVERS.items()], missing=gettext_lazy("choose the kind of cover")
    )
    length = Length(low=LEAST_M, high=MOST_M, unit="m", required=False, label="Length")
    width = Length(low=LEAST_M, high=MOST_WIDE_M, unit="m", required=False, label="Width")
    pieces = Count(low=1, high=MOST_PIECES, required=False, label="Cloches")

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        cover = COVERS.get(found.get("kind", ""))
        if cover is not None and cover.by_length and not self.errors and found["length"] is None:
            self.add_error("length", _("give how long it is"))
        elif cover is not None and not cover.by_length and not self.errors and found["pieces"] is None:
            self.add_error("pieces", _("give how many cloches there are"))
        return found

    def fill(self, row: CoverAtHand) -> None:
        typed = self.cleaned_data
        row.kind, by_length = typed["kind"], COVERS[typed["kind"]].by_length
        row.pieces = None if by_length else typed["pieces"]
        row.length_cm = typed["length"] * CM_OF_M if by_length else None
        row.width_cm = typed["width"] * CM_OF_M if by_length and typed["width"] is not None else None

    def carry_out(self, write: ChangeSet) -> None:
        super().carry_out(write)
        self.facts = {"kind": self.thing.kind}

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("Cover at hand: %s") % COVERS[facts["kind"]].name

    def told(self) -> str:
        return _("%s is at hand.") % COVERS[self.facts["kind"]].name.capitalize()


@register("cover.remove")
class RemoveCover(Remove):
    """A cover that is worn out."""

    called = "the cover"
    row = Row(CoverAtHand)
