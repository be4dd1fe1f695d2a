"""The round: how each tray was found and watered, what it weighs, what was poured off."""

from __future__ import annotations

from datetime import timedelta
from typing import NamedTuple

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.bench.models import POUR, Timer
from aestiva.care.models import PotLook, TrayLook, WaterLook
from aestiva.care.round import Stop, the_round
from aestiva.care.weigh import keep_weights
from aestiva.course.state import load
from aestiva.frame import say
from aestiva.frame.fields import (
    Choice,
    Flag,
    Keys,
    Text,
    Weight,
    alike,
)
from aestiva.frame.say import Reader
from aestiva.gardens import clock
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts, register
from aestiva.gardens.outcomes import Refused
from aestiva.season.commands import OF_BATCH
from aestiva.season.models import Batch, Tray
from growing.care.water import FOUND

POUR_OFF = timedelta(minutes=20)
POURS = "pour off what stands under the trays"
HEAVIEST_G = 200_000


class Subject(NamedTuple):
    """A tray, or pots of one batch: what the round stops at."""

    tray: Tray | None
    batch: Batch | None


class OfStop(Command):
    """About one stop of the round: “t12” a tray, “b7” pots of a batch."""

    scope = "tasks"

    stop = Text(most=20, missing=gettext_lazy("choose a tray that is here"))

    def subject(self, key: str) -> Subject:
        """The tray or the pots that a key names.  Raises Refused where there is none."""
        pk = int(key[1:]) if key[1:].isdecimal() and len(key) < 19 else 0
        tray = Tray.objects.filter(pk=pk, garden=self.garden).first() if key[:1] == "t" else None
        batch = Batch.objects.filter(**{"pk": pk, OF_BATCH: self.garden}).first() if key[:1] == "b" else None
        if tray is None and batch is None:
            raise Refused("stop", _("that tray is not here any more: look at the round again"))
        return Subject(tray, batch)

    def tray(self) -> Tray:
        """The tray that it is about; pots are none."""
        key = self.cleaned_data["stop"]
        found = self.subject(key).tray if key[:1] == "t" else None
        if found is None:
            raise Refused("stop", _("weights are of trays: choose one that is here"))
        return found

    def write_look(self, write: ChangeSet, stop: Stop, found: str, watered: bool) -> None:
        """How one stop was found, and that it was watered."""
        tray, batch = self.subject(stop.key)
        row: WaterLook
        row = TrayLook(tray=tray) if tray is not None else PotLook(batch=batch)
        row.day, row.hour, row.found, row.watered = self.actor.today, self.actor.hour, found, watered
        if watered:
            row.given_ml = round(stop.tray.dose_ml(found) or stop.tray.dose_ml("pale"))
        write.save(row)


@register("care.look")
class Look(OfStop):
    """One tray: how it was found, and whether it was watered."""

    found = Choice(alike(FOUND), missing=gettext_lazy(f"how was it: {', '.join(FOUND)}?"))
    watered = Flag()

    def carry_out(self, write: ChangeSet) -> None:
        typed = self.cleaned_data
        tray, batch = self.subject(typed["stop"])
        stops = the_round(load(self.garden, self.actor.today)).stops
        stop = next((s for s in stops if s.key == typed["stop"]), None)
        if stop is None:
            raise Refused("stop", _("nothing lives there any more that wants water"))
        self.who = stop.who
        self.facts = {"what": str(tray or batch), "found": typed["found"], "watered": typed["watered"]}
        self.write_look(write, stop, typed["found"], typed["watered"])
        if typed["watered"]:
            self._pour_off(write)

    def _pour_off(self, write: ChangeSet) -> None:
        """One timer for the round: it rings twenty minutes after the last that was watered from below."""
        now = clock.instant()
        row = Timer.objects.filter(garden=self.garden, kind=POUR, done_at=None).first()
        if row is None:
            row = Timer(garden=self.garden, kind=POUR, what=POURS, started=now, due=now)
        row.due = now + POUR_OFF
        write.save(row)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return (_("%(what)s: watered") if facts["watered"] else _("%(what)s: found %(found)s")) % facts

    def told(self) -> str:
        return self.sentence(self.facts | {"what": self.who}, self.reader).replace(_("found "), "") + "."


@register("care.fine")
class Fine(OfStop):
    """Those of which nobody expects that they want water: looked at, and left, in one entry."""

    stop = Keys(missing=gettext_lazy("choose at least one tray"))  # type: ignore[assignment]

    def carry_out(self, write: ChangeSet) -> None:
        stops = {s.key: s for s in the_round(load(self.garden, self.actor.today)).stops}
        keys = [key for key in self.cleaned_data["stop"] if key in stops]
        if not keys:
            raise Refused("stop", _("choose at least one tray"))
        self.facts = {"trays": len(keys)}
        for key in keys:
            self.write_look(write, stops[key], stops[key].next.expects, False)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("%s looked at and left") % say.plural(facts["trays"], "tray")


@register("care.weigh")
class Weigh(OfStop):
    """What a tray weighs now: a look, without lifting by hand."""

    scope = "readings"

    grams = Weight(low=0, high=HEAVIEST_G, label="Weight")

    def carry_out(self, write: ChangeSet) -> None:
        tray = self.tray()
        self.rows = keep_weights(write, tray, [(self.actor.today, self.actor.hour, self.cleaned_data["grams"])])
        self.facts = {"tray": tray.code, "found": self.rows[0].found if self.rows else ""}

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("%(tray)s weighed: %(found)s") % facts

    def told(self) -> str:
        said = [_("watered since") if r.watered else _("%s left") % say.percent(r.left or 0.0) for r in self.rows]
        return f"{self.facts['tray']}: {said[0]}." if said else ""


@register("care.poured")
class PouredOff(OfStop):
    """What was poured off of the last dose of a tray: the next one is less."""

    SHARES = {"none": 0.0, "some": 0.3, "much": 0.6}

    over = Choice(alike(SHARES), missing=gettext_lazy("how much was poured off: none, some, much?"))

    def carry_out(self, write: ChangeSet) -> None:
        tray, over = self.tray(), self.cleaned_data["over"]
        row = TrayLook.objects.filter(tray=tray, day=self.actor.today, watered=True).last()
        if row is None:
            raise Refused("stop", _("that tray was not watered today: nothing to pour off"))
        self.facts = {"tray": tray.code, "over": over}
        row.over = self.SHARES[over]
        write.save(row)

    says = gettext_lazy("%(tray)s: %(over)s poured off")

    def told(self) -> str:
        less = _("as before") if self.facts["over"] == "none" else _("less")
        return _("%(tray)s: its next dose is %(less)s.") % {"tray": self.facts["tray"], "less": less}
