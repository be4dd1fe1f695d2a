"""Plants: what came from elsewhere, where a sowing comes up, what happens to a batch."""

from __future__ import annotations

from calendar import month_name

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.frame.fields import (
    Choice,
    Count,
    Day,
    Degrees,
    Flag,
    Price,
    Row,
    Text,
)
from aestiva.frame.say import Reader
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import ANY_REVISION, Command, Facts, register
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.providers import records
from aestiva.place.dating import dating_of
from aestiva.plan.actions import made, propose, season_of
from aestiva.season.actions import MANY, add_event, check_day, fail, split
from aestiva.season.commands import OfBatch
from aestiva.season.crops import Crops
from aestiva.season.models import Batch, Planting, Spot
from aestiva.season.places import stand
from growing.place.kinds import HOLDS

CAME = (
    ("", gettext_lazy("bought")),
    ("given", gettext_lazy("given")),
    ("lifted", gettext_lazy("lifted from a bed or pot")),
    ("wintered", gettext_lazy("kept over the winter")),
)
CAME_SAID = {
    "": gettext_lazy("Bought"),
    "given": gettext_lazy("Were given"),
    "lifted": gettext_lazy("Lifted"),
    "wintered": gettext_lazy("Kept"),
}
STOOD = (
    ("", gettext_lazy("nobody knows")),
    ("glass", gettext_lazy("under glass or indoors")),
    ("outdoors", gettext_lazy("outdoors, day and night")),
)


@register("bench.received")
class Received(Command):
    """Plants that were not sown here: what, how many, where they stood, what they cost."""

    scope = "tasks"

    crop = Text(most=60, missing=gettext_lazy("choose what they are"))
    variety = Text(most=60, required=False, label="Variety")
    came = Choice(CAME, required=False, missing=gettext_lazy("choose how they came"))
    stood = Choice(STOOD, required=False, missing=gettext_lazy("choose where they stood"))
    count = Count(low=1, high=MANY, label="Count")
    on = Day(required=False)
    price = Price(high=100_000, required=False, label="Price")
    spot = Row(Spot, required=False)
    grows = Row(Spot, required=False)

    def carry_out(self, write: ChangeSet) -> None:
        typed, today, crops = self.cleaned_data, self.actor.today, Crops(self.garden)
        if typed["crop"] not in crops:
            raise Refused("crop", _("choose what they are"))
        on = typed["on"] or today
        wanted = Planting(
            crop_key=typed["crop"],
            variety=typed["variety"],
            wanted=typed["count"],
            method="bought",
            stood=typed["stood"],
            came=typed["came"],
            price=typed["price"],
            spot=typed["grows"],
            planned_on=on,
        )
        _crop, dates = propose(wanted, dating_of(self.garden), today)
        wanted.made, wanted.season = made(dates), season_of(self.garden)
        self.facts = {"name": crops.plain(typed["crop"]).name} | {k: typed[k] for k in ("variety", "came", "count")}
        self.batch = write.save(Batch(planting=write.save(wanted), per_cell=1))
        add_event(write, self.batch, "received", on, today, count=typed["count"])
        if typed["spot"] is not None:
            stand(write, self.batch, typed["spot"], on, potted=True)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return f"{CAME_SAID[facts['came']]} {facts['count']} {facts['name']} {facts['variety']}".strip()

    def told(self) -> str:
        return _("They are there. Their days and their ladder follow from where they stood.")


@register("bench.comes_up")
class ComesUpAt(Command):
    """The place in which a sowing is to come up; without one, as usual."""

    planting = Row(Planting, "season__garden")
    planting_revision = Count(high=ANY_REVISION, required=False)
    spot = Row(
        Spot, required=False, where={"kind__in": HOLDS},
        missing=gettext_lazy("that place is not there any more: choose another"),
    )  # fmt: skip

    def carry_out(self, write: ChangeSet) -> None:
        planting, spot = self.cleaned_data["planting"], self.cleaned_data["spot"]
        self.facts = {"what": str(planting), "spot": "" if spot is None else spot.code}
        planting.germinates_at = spot
        write.save(planting, self.cleaned_data["planting_revision"])

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        said = _("%(what)s comes up on %(spot)s") if facts["spot"] else _("%(what)s comes up as usual")
        return said % facts

    def told(self) -> str:
        return _("%s: its days follow.") % self.sentence(self.facts, self.reader)


@register("bench.month")
class MonthMeasured(Command):
    """What a thermometer in the mix says at one place, kept for this month."""

    scope = "readings"

    spot = Row(Spot, where={"kind__in": HOLDS}, missing=gettext_lazy("that place is not there any more"))
    reading = Degrees(low=-10, high=50, label="The mix reads")

    def carry_out(self, write: ChangeSet) -> None:
        spot, today = self.cleaned_data["spot"], self.actor.today
        months = list(spot.months_c or [None] * 12)
        months[today.month - 1] = round(self.cleaned_data["reading"], 1)
        self.facts = {"code": spot.code, "month": today.month}
        spot.months_c, spot.months_said = months, "measured"
        write.save(spot, self.seen)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("%(code)s measured in %(month)s") % {"code": facts["code"], "month": month_name[facts["month"]]}

    def told(self) -> str:
        said = {"code": self.facts["code"], "month": month_name[self.facts["month"]]}
        return _("%(code)s in %(month)s: kept as measured.") % said


@register("batch.record")
class RecordEvent(OfBatch):
    """A count, a loss, a gift, a note: what happened to a batch on a day; its accounts must hold it.  about: it is an estimate."""

    tells = False

    kind = Choice(lambda: [(r.kind, r.word) for r in records()], missing=gettext_lazy("choose what happened"))
    on = Day(required=False)
    count = Count(high=MANY, required=False, label="Count")
    about = Flag()
    note = Text(most=200, required=False)

    def carry_out(self, write: ChangeSet) -> None:
        typed, today = self.cleaned_data, self.actor.today
        counts = next(r.counts for r in records() if r.kind == typed["kind"])
        if counts and typed["count"] is None:
            raise Refused("count", _("give the count, in figures"))
        if not counts and not typed["note"]:
            raise Refused("note", _("write a word or two"))
        batch, count = self.held(write), typed["count"] if counts else None
        self.facts = {"what": str(batch.planting), "kind": typed["kind"], "count": count, "note": typed["note"]}
        add_event(write, batch, typed["kind"], typed["on"] or today, today, count, typed["about"], note=typed["note"])

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        if facts["count"] is None:
            return f"{facts['what']}: {facts['note']}"
        word = next((r.word for r in records() if r.kind == facts["kind"]), facts["kind"])
        return f"{facts['what']}: {facts['count']} {word}"


@register("batch.move")
class MoveBatch(OfBatch):
    """It stands elsewhere from a day on."""

    tells = False

    spot = Row(Spot, missing=gettext_lazy("choose where it goes"))
    on = Day(required=False)

    says = gettext_lazy("Moved %(what)s to %(spot)s")

    def carry_out(self, write: ChangeSet) -> None:
        spot, today = self.cleaned_data["spot"], self.actor.today
        on = self.cleaned_data["on"] or today
        batch = self.held(write)
        check_day(batch, on, today)
        self.facts = {"what": str(batch.planting), "spot": spot.code}
        stand(write, batch, spot, on)


@register("batch.split")
class SplitBatch(OfBatch):
    """Some of its plants become a batch of their own, where it stands or elsewhere."""

    tells = False

    count = Count(low=1, high=MANY, label="Count")
    spot = Row(Spot, required=False, missing=gettext_lazy("choose where they go"))
    on = Day(required=False)

    says = gettext_lazy("Split %(count)s off %(what)s")

    def carry_out(self, write: ChangeSet) -> None:
        count, today = self.cleaned_data["count"], self.actor.today
        batch = self.held(write)
        self.facts = {"what": str(batch.planting), "count": count}
        self.child = split(write, batch, count, self.cleaned_data["on"] or today, today, self.cleaned_data["spot"])


@register("batch.fail")
class GiveUp(OfBatch):
    """The whole batch is lost; it may be sown again."""

    on = Day(required=False)
    note = Text(most=200, required=False)

    says = gettext_lazy("Gave up a batch of %(what)s")

    def carry_out(self, write: ChangeSet) -> None:
        batch, today = self.held(write), self.actor.today
        self.facts = {"what": str(batch.planting)}
        fail(write, batch, self.cleaned_data["on"] or today, today, self.cleaned_data["note"])

    def told(self) -> str:
        return _("Given up. The sowing is back on Today while its window lasts.")
