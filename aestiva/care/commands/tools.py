"""Measured once, and the air: the sprayer, what trays weigh, fan, brush, hygrometer."""

from __future__ import annotations

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.care.models import AIR, AirLook, Sprayer, TrayWeight
from aestiva.care.round import the_round
from aestiva.course.state import load
from aestiva.frame import say
from aestiva.frame.fields import (
    Amount,
    Choice,
    Duration,
    Row,
    Text,
    Volume,
    Weight,
    alike,
)
from aestiva.frame.say import Reader
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts, register
from aestiva.gardens.outcomes import Refused
from aestiva.season.models import Spot, Tray
from growing.care.spray import seconds
from growing.care.water import by_weight

HEAVIEST_G = 200_000


@register("care.sprayer")
class MeasureSprayer(Command):
    """What came out of the sprayer in a time: measured once."""

    ml = Volume(low=0, high=1e6, label="Measure")
    seconds = Duration(low=0, high=1e6, unit="s", label="Seconds")

    says = gettext_lazy("Measured the sprayer")

    def carry_out(self, write: ChangeSet) -> None:
        ml, took = self.cleaned_data["ml"], self.cleaned_data["seconds"]
        try:
            seconds(1.0, ml, took)
        except ValueError as error:
            raise Refused("ml", str(error)) from error
        row = Sprayer.objects.filter(garden=self.garden).first()
        row = Sprayer(garden=self.garden) if row is None else write.touch(row, self.seen)
        row.ml, row.seconds = ml, took
        write.save(row)

    def told(self) -> str:
        return _("The sprayer is measured; doses stand in seconds from now on.")


@register("care.weights")
class TrayWeights(Command):
    """What a tray weighs drained and dry."""

    tray = Row(Tray)
    drained = Weight(low=-1e6, high=HEAVIEST_G, label="Drained")
    dry = Weight(low=-1e6, high=HEAVIEST_G, label="Dry")

    says = gettext_lazy("%(tray)s: what it weighs drained and dry")

    def carry_out(self, write: ChangeSet) -> None:
        tray, drained, dry = (self.cleaned_data[name] for name in ("tray", "drained", "dry"))
        try:
            by_weight(drained, dry, drained)
        except ValueError as error:
            raise Refused("dry", str(error)) from error
        self.facts = {"tray": tray.code}
        row = TrayWeight.objects.filter(tray=tray).first()
        row = TrayWeight(tray=tray) if row is None else write.touch(row, self.seen)
        row.drained_g, row.dry_g = drained, dry
        write.save(row)

    def told(self) -> str:
        return _("%s: watered again at half between those two weights.") % self.facts["tray"]


ALL_PLACES = "all"


@register("care.air")
class Air(Command):
    """The fan on or off, brushed, the humidity read: of one place, or of all where something stands."""

    scope = "readings"

    what = Choice(alike(AIR), missing=gettext_lazy(f"what was it: {', '.join(AIR)}?"))
    spot = Text(most=20, missing=gettext_lazy("choose a place on which something stands"))
    number = Amount(low=1, high=100, unit="%", label="Humidity", required=False)

    def carry_out(self, write: ChangeSet) -> None:
        what, spot, percent = (self.cleaned_data[name] for name in ("what", "spot", "number"))
        if what == "humidity" and percent is None:
            raise Refused("number", _("humidity: give a number"))
        if spot == ALL_PLACES:
            stops = the_round(load(self.garden, self.actor.today)).stops
            spots = list({s.spot.pk: s.spot for s in stops if s.spot is not None}.values())
        else:
            spots = list(Spot.objects.filter(pk=Row.sane(spot), garden=self.garden))
        if not spots:
            raise Refused("spot", _("choose a place on which something stands"))
        percent = percent if what == "humidity" else None
        self.facts = {"what": what, "percent": percent, "places": [spot.code for spot in spots]}
        for spot in spots:
            write.save(AirLook(spot=spot, day=self.actor.today, hour=self.actor.hour, what=what, number=percent))

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        places = facts["places"]
        where = places[0] if len(places) == 1 else say.plural(len(places), "place")
        percent = f"{facts['percent'] or 0:g}"
        said = {
            "fan on": _("Fan on"),
            "fan off": _("Fan off"),
            "brushed": _("Brushed"),
            "humidity": _("%s %% humidity") % percent,
        }[facts["what"]]
        return f"{said}: {where}"
