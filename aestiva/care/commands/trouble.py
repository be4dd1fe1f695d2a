"""What was wrong with them, what was done, and what became of it."""

from __future__ import annotations

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.care.models import OUTCOMES, Ailment
from aestiva.course.state import load
from aestiva.frame.fields import (
    Choice,
    Count,
    Flag,
    Row,
    Text,
    Words,
    alike,
)
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts, register
from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import MANY, add_event
from aestiva.season.commands import OF_BATCH, OfBatch
from growing.care.trouble import book, wrong_treatment


def _causes() -> list[tuple[str, str]]:
    return [(cause.key, cause.name) for cause in book().causes.values()]


@register("care.trouble")
class TakenFor(OfBatch):
    """It is taken for that, and that was done; those taken out are written down with their cause."""

    s = Words(lambda: alike(book().signs), missing=gettext_lazy("what is it that you see? Choose at least one sign"))
    cause = Choice(_causes, missing=gettext_lazy("choose what it is taken for"))
    act = Text(most=40, required=False)
    product = Text(most=60, required=False)
    on_label = Flag()
    wait_days = Count(high=3650, required=False, label="Days to wait")
    taken = Count(high=MANY, required=False, label="Taken out")

    says = gettext_lazy("%(what)s: %(cause)s; %(act)s")

    def answers(self) -> dict[str, str]:
        """What was answered to the questions; what nobody knows is left out."""
        given = {q.key: self.data.get(f"q_{q.key}", "") for q in book().questions.values()}
        return {key: answer for key, answer in given.items() if answer in book().questions[key].answers}

    def carry_out(self, write: ChangeSet) -> None:
        typed, today, known = self.cleaned_data, self.actor.today, book()
        signs = [sign for sign in known.signs if sign in typed["s"]]
        cause = known.causes[typed["cause"]]
        if typed["act"] not in (*cause.acts, "other", "nothing"):
            raise Refused("act", _("choose what was done, or “nothing yet”"))
        self._label(typed)
        batch, taken = self.held(write), typed["taken"] or 0
        self.facts = {"what": str(batch.planting), "cause": cause.name, "act": typed["act"]}
        write.save(
            Ailment(
                batch=batch,
                day=today,
                signs=",".join(signs),
                answers=",".join(f"{key}={answer}" for key, answer in self.answers().items()),
                cause=cause.key,
                act=typed["act"],
                product=typed["product"],
                lost=taken,
            )
        )
        if taken:
            add_event(write, batch, "died", today, today, count=taken, note=cause.name)

    def _label(self, typed: Facts) -> None:
        """Raise Refused for a product that its label does not allow here."""
        if not typed["product"]:
            return
        planting = self.of.planting_id
        now = load(self.garden, self.actor.today, [planting])
        item = next((i for i in now.items if i.planting.pk == planting), None)
        edible = item is not None and item.crop.word("yields") == "harvest"
        until = None if item is None else (item.raised.dates.first.start - now.today).days
        if wrong := wrong_treatment(edible, typed["product"], typed["on_label"], typed["wait_days"], until):
            raise Refused("product", wrong)

    def told(self) -> str:
        return _("%(what)s: %(cause)s. Say what became of it when you know.") % self.facts


@register("care.trouble.ended")
class TroubleEnded(Command):
    """What became of it, and how many were lost; what it really was, where that turned out otherwise."""

    scope = "tasks"

    ailment = Row(Ailment, f"batch__{OF_BATCH}")
    outcome = Choice(alike(OUTCOMES[1:]), missing=gettext_lazy("what became of it: better, the same, or lost?"))
    lost = Count(high=MANY, required=False, label="Lost")
    cause = Choice(_causes, required=False, missing=gettext_lazy("choose what it really was"))

    says = gettext_lazy("%(what)s: %(cause)s, %(outcome)s")

    def carry_out(self, write: ChangeSet) -> None:
        typed, today = self.cleaned_data, self.actor.today
        row = write.touch(typed["ailment"], self.seen)
        lost, cause = typed["lost"] or 0, typed["cause"] or row.cause
        name = book().causes[cause].name
        self.facts = {"what": str(row.batch.planting), "cause": name, "outcome": typed["outcome"]}
        if lost:
            add_event(write, row.batch, "died", today, today, count=lost, note=name)
        row.outcome, row.ended, row.cause, row.lost = typed["outcome"], today, cause, min(MANY, row.lost + lost)
        write.save(row)

    def told(self) -> str:
        return _("%(what)s: %(outcome)s. It can be taken back.") % self.facts
