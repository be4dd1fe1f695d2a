"""What is written of those that are coming up: counts and looks, what is done around them, the warmth of the mix."""

from __future__ import annotations

from typing import Any

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.bench.commands.plants import MoveBatch
from aestiva.course.finishing import write_done
from aestiva.course.light import looks_of, up_since
from aestiva.course.state import Item, load
from aestiva.emergence.around import WORDS, around
from aestiva.emergence.coming import coming
from aestiva.emergence.seedlings import leaves
from aestiva.frame import say
from aestiva.frame.fields import Count, Degrees, Flag, Length, Row, Words
from aestiva.frame.say import Reader
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts, register
from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import MANY, add_event, split
from aestiva.season.commands import OfBatch
from aestiva.season.models import BatchEvent, Spot, WarmReading
from aestiva.season.places import stand, where
from growing.emergence.triggers import KINDS

MOST_LEAVES, MOST_SOWN_AGAIN = 200, 5000
JUST_AFTER_MIDNIGHT = 0.5  # at 0 stands what a dial says of the whole day
FOUND = ("root", "swollen", "soft", "nothing")


@register("emergence.count")
class CountUp(OfBatch):
    """How many are up, all together."""

    count = Count(high=MANY)

    says = gettext_lazy("Counted %(what)s: %(count)s up")

    def carry_out(self, write: ChangeSet) -> None:
        batch, count = self.held(write), self.cleaned_data["count"]
        self.facts = {"what": str(batch.planting), "count": count}
        add_event(write, batch, "up", self.actor.today, self.actor.today, count=count)

    def told(self) -> str:
        return _("%s up.") % self.facts["count"]


@register("emergence.around")
class Around(OfBatch):
    """Lamp, paper, vents, lid, mat, water from below: what was done around it today, one or several in one entry."""

    kind = Words(lambda: [(k, WORDS[k]) for k in KINDS], required=False)
    all = Flag()

    def carry_out(self, write: ChangeSet) -> None:
        today, asked = self.actor.today, set(self.cleaned_data["kind"])
        if not asked and self.cleaned_data["all"]:  # all that is due
            now = load(self.garden, today, [self.of.planting_id])
            found = next((c for c in coming(now) if c.batch == self.of.pk), None)
            asked = {s.kind for s in around(found, today) if s.state == "now"} if found is not None else set()
        kinds = [kind for kind in KINDS if kind in asked]
        if not kinds:
            raise Refused("kind", _("choose what was done: %s") % ", ".join(WORDS[k].lower() for k in KINDS))
        batch = self.held(write)
        self.facts = {"what": str(batch.planting), "kinds": kinds}
        done = set(BatchEvent.objects.filter(batch=batch, kind__in=kinds).values_list("kind", flat=True))
        if done == set(kinds):
            said = _("%s: that is written down already; take it back in the journal if it is not so")
            raise Refused("kind", said % _kinds(kinds))
        for kind in kinds:
            if kind not in done:
                add_event(write, batch, kind, today, today)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return f"{facts['what']}: {_kinds(facts['kinds'])}"

    def told(self) -> str:
        return _("Written down: %s.") % _kinds(self.facts["kinds"])


def _kinds(kinds: list[str]) -> str:
    return " · ".join(WORDS[kind].lower() for kind in kinds)


class MoveElsewhere(MoveBatch):
    """It stands there from today on, as any batch that is moved; a mat that it leaves is free for another."""

    tells = True

    def carry_out(self, write: ChangeSet) -> None:
        left, spot = where(self.of), self.cleaned_data["spot"]
        self.freed = left if left is not None and left.kind == "mat" and left.pk != spot.pk else None
        super().carry_out(write)

    def told(self) -> str:
        return _("%(what)s stands on %(spot)s now.") % self.facts


@register("emergence.again")
class SowAgain(OfBatch):
    """Sow again, or more, as the verdict says: a batch of its own with a clock of its own, in the place that was chosen."""

    count = Count(low=1, high=MOST_SOWN_AGAIN, required=False)
    spot = Row(Spot, required=False)

    says = gettext_lazy("Sowed %(count)s %(unit)s of %(what)s again")

    def carry_out(self, write: ChangeSet) -> None:
        today, number, spot = self.actor.today, self.cleaned_data["count"], self.cleaned_data["spot"]
        now = load(self.garden, today, [self.of.planting_id])
        todo = now.find(f"b{self.of.pk}.again.0")
        if todo is None:
            raise Refused("count", _("nothing is to be sown again for it: look at it once more"))
        self.facts = {"what": str(self.of.planting), "count": number or todo.task.count, "unit": todo.task.unit}
        self.held(write)
        self.fresh = write_done(write, now, self.actor.user, todo, today, today, number)
        if self.fresh is not None and spot is not None:
            stand(write, self.fresh, spot, today)

    def told(self) -> str:
        return f"{super().told()} {_('The first batch stays as it is.')}"


@register("emergence.lifted")
class Lifted(OfBatch):
    """What was found on lifting some that are not up."""

    root = Count(high=MANY, required=False, label="Root")
    swollen = Count(high=MANY, required=False, label="Swollen")
    soft = Count(high=MANY, required=False, label="Soft")
    nothing = Count(high=MANY, required=False, label="Nothing")

    def carry_out(self, write: ChangeSet) -> None:
        found = {kind: self.cleaned_data[kind] for kind in FOUND if self.cleaned_data[kind]}
        if not found:
            raise Refused("root", _("how many did you lift, and what was there? Give at least one"))
        batch = self.held(write)
        self.facts = {"what": str(batch.planting), "found": found}
        add_event(write, batch, "lifted", self.actor.today, self.actor.today, data=found)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("Lifted some %(what)s: %(found)s") % {"what": facts["what"], "found": _found(facts["found"])}

    def told(self) -> str:
        return _("Written down: %s.") % _found(self.facts["found"])


def _found(found: dict[str, int]) -> str:
    return ", ".join(f"{n} {kind}" for kind, n in found.items())


def seen_data(typed: Facts) -> dict[str, Any]:
    """What was seen of them, as its event keeps it."""
    return {"leaves": typed["leaves"]} | ({} if typed["cm"] is None else {"cm": typed["cm"]})


@register("emergence.stage")
class StageSeen(OfBatch):
    """How many true leaves they have, and how high they are, if somebody measured."""

    leaves = Count(high=MOST_LEAVES, label="Leaves")
    cm = Length(low=0.1, high=200, required=False, label="Height")
    fewer = Flag()

    def carry_out(self, write: ChangeSet) -> None:
        count, today = self.cleaned_data["leaves"], self.actor.today
        here = load(self.garden, today, [self.of.planting_id])
        item, what = here.item_of(self.of.pk), str(self.of.planting)
        if item is None or up_since(item) is None:
            said = _("nothing of %s is up yet, as far as anybody wrote down: count them first")
            raise Refused("leaves", said % what)
        self.before: Item = item
        seen = looks_of(here, [item]).get(self.of.pk, [])
        if seen and count < seen[-1].leaves and not self.cleaned_data["fewer"]:
            had = {"what": what, "had": leaves(seen[-1].leaves), "on": say.day(seen[-1].on)}
            said = _("%(what)s had the %(had)s on %(on)s: if there really are fewer now, say it once more")
            raise Refused("fewer", said % had)
        self.facts = {"what": what, "leaves": count}
        add_event(write, self.held(write), "stage", today, today, data=seen_data(self.cleaned_data))

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("Looked at %(what)s: %(seen)s") % {"what": facts["what"], "seen": leaves(facts["leaves"])}

    def told(self) -> str:
        return f"{self.facts['what']}: {leaves(self.facts['leaves'])}."


@register("emergence.grade")
class Grade(OfBatch):
    """The small ones into a batch of their own, with a stage and a clock of their own; the big ones stay."""

    small = Count(low=1, high=MANY, label="Small ones")
    leaves = Count(high=MOST_LEAVES, required=False, label="Leaves")
    cm = Length(low=0.1, high=200, required=False, label="Height")

    says = gettext_lazy("Graded %(what)s: %(count)s small ones by themselves")

    def carry_out(self, write: ChangeSet) -> None:
        batch, count, today = self.held(write), self.cleaned_data["small"], self.actor.today
        self.facts = {"what": str(batch.planting), "count": count}
        child = split(write, batch, count, today, today)
        if self.cleaned_data["leaves"] is not None:
            add_event(write, child, "stage", today, today, data=seen_data(self.cleaned_data))

    def told(self) -> str:
        return _("%s small ones are a batch of their own. It can be taken back.") % self.facts["count"]


@register("emergence.reading")
class ReadTheMix(Command):
    """What the mix reads at a place: now, or the least and the most of today off a dial."""

    scope = "readings"

    spot = Row(Spot, missing=gettext_lazy("choose a place that is here"))
    celsius = Degrees(low=-10, high=55)
    most = Degrees(low=-10, high=55, required=False)

    says = gettext_lazy("Read the mix on %(spot)s")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["celsius"].error_messages["required"] = _("what does the thermometer say? Give it in degrees")

    def carry_out(self, write: ChangeSet) -> None:
        spot, low, most = (self.cleaned_data[name] for name in ("spot", "celsius", "most"))
        if most is not None and most < low:
            raise Refused("most", _("the most is below the least: give the least first"))
        hour = 0.0 if most is not None else int(self.actor.hour) or JUST_AFTER_MIDNIGHT
        one = {"spot": spot, "day": self.actor.today, "hour": hour}
        row = WarmReading.objects.filter(**one).first() or WarmReading(garden=self.garden, **one)
        row.celsius, row.most_c, row.source = low, most, "typed"
        self.facts = {"spot": spot.code}
        write.save(row)

    def told(self) -> str:
        return _("Kept for %s: clocks and verdicts use it.") % self.facts["spot"]
