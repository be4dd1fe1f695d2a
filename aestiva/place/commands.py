"""Keys for devices and scripts, and what a device sends."""

from __future__ import annotations

import json
import secrets
from datetime import date
from typing import Any
from zoneinfo import ZoneInfo

from django import forms
from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.accounts import limits
from aestiva.accounts.models import User
from aestiva.frame import say
from aestiva.frame.fields import Amount, Choice, Day, Degrees, Duration, Flag, Hour, Objects, Row, Text
from aestiva.frame.say import Reader
from aestiva.gardens import clock
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Actor, Command, Facts, register, run
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused, Repeated
from aestiva.place.actions import TIMES, receive, replace
from aestiva.place.keys import NotAdmitted, digest_of, too_chatty
from aestiva.place.models import GUESSED, MEANINGS, Feed, Frost, GardenNight, SoilReading, Station, Warmth
from aestiva.place.picture import LEAST_RISK, MOST_RISK
from aestiva.place.queries import frost_of
from growing.place.feed import MOST_BYTES, MOST_READINGS, read_post
from growing.place.guess import usual_first_frost

MOST_NAME = 20


# ---------------------------------------------------------------- when it freezes

LEAST_SPREAD, MOST_SPREAD = 1, 40
LEAST_PERCENT, MOST_PERCENT = 1, 50


def in_spring(day: date, southern: bool) -> bool:
    """Is it in the half of the year with the last frost?"""
    return (day.month >= 7) == southern


@register("place.frost")
class FrostDates(Command):
    """Frost dates as somebody knows them, and what they mean."""

    last_on = Day(label="Last frost in spring", help_text="Any year: only day and month count.")
    last_meaning = Choice(MEANINGS, label="This date is", widget=forms.RadioSelect, initial="unknown")
    last_spread = Duration(
        low=LEAST_SPREAD,
        high=MOST_SPREAD,
        unit="days",
        required=False,
        label="Spread",
        help_text="Two years in three fall within so many days of the average. Empty: 10, an estimate.",
    )  # fmt: skip
    first_on = Day(required=False, label="First frost in autumn", help_text="It ends the harvest: ask for it, too.")
    first_meaning = Choice(MEANINGS, required=False, label="This date is", widget=forms.RadioSelect)
    guess_first = Flag(
        label="I do not know the first autumn frost: take the usual distance for my latitude",
        help_text="It is marked as a guess. Without either, ends of harvests stay unknown.",
    )
    source = Text(most=120, required=False, label="Where from")

    says = gettext_lazy("Changed the frost dates")

    @classmethod
    def filled_in(cls, frost: Frost) -> dict[str, Any]:
        """What the form begins with; a guess is asked for again and not shown as known."""
        found = {name: getattr(frost, name) for name in cls.base_fields if hasattr(frost, name) and name != "revision"}
        if frost.first_meaning == GUESSED[0]:
            found |= {"guess_first": True, "first_on": None}
        return found

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        halves = (_("January to June"), _("July to December"))
        said = _("%(day)s is not in the half of the year with the %(which)s frost here (%(half)s): check the month.")
        for name, which, spring in (("last_on", _("last"), True), ("first_on", _("first"), False)):
            day = found.get(name)
            if day is not None and in_spring(day, self.garden.southern) != spring:
                half = halves[spring == self.garden.southern]
                self.add_error(name, said % {"day": f"{day:%-d %B}", "which": which, "half": half})
        return found

    def carry_out(self, write: ChangeSet) -> None:
        typed, row = self.cleaned_data, frost_of(self.garden)
        guessed = typed["guess_first"] and typed["first_on"] in (None, row.first_on)
        row.last_on, row.last_meaning, row.last_spread = typed["last_on"], typed["last_meaning"], typed["last_spread"]
        row.first_on, row.first_meaning = typed["first_on"], typed["first_meaning"] or "unknown"
        if guessed:
            row.first_on, row.first_meaning = usual_first_frost(self.garden.latitude, typed["last_on"]), GUESSED[0]
        row.source = typed["source"]
        write.save(row, self.seen)

    def told(self) -> str:
        return _("Kept. Every date now counts from it.")


@register("place.line")
class FrostLine(Command):
    """The frost line that the plan counts with: the share of springs with a frost after it."""

    risk = Amount(
        low=LEAST_PERCENT, high=MOST_PERCENT, unit="%", digits=3, label="Springs with a frost later than your line"
    )

    def carry_out(self, write: ChangeSet) -> None:
        garden = write.fresh(self.garden)
        risk = min(MOST_RISK, max(LEAST_RISK, self.cleaned_data["risk"] / 100))
        self.facts = {"before": garden.accepted_risk, "risk": risk}
        garden.accepted_risk = risk
        write.save(garden, self.seen)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        said = {"before": say.percent(facts["before"]), "risk": say.percent(facts["risk"])}
        return _("Accepted risk %(before)s → %(risk)s") % said

    def told(self) -> str:
        said = _("Kept: you accept a frost in %s of springs. The plan counts with it.")
        return said % say.percent(self.facts["risk"])


@register("place.station")
class CountFrom(Command):
    """Count from a station, or without one from the typed date."""

    tells = False

    station = Row(Station, "owner", required=False)

    def carry_out(self, write: ChangeSet) -> None:
        frost, station = frost_of(self.garden), self.cleaned_data["station"]
        if station is None and frost.last_on is None:
            raise Refused("station", str(TYPE_FIRST))
        self.facts = {"station": "" if station is None else station.name}
        frost.station = station
        write.save(frost, self.seen)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("Frost dates from %(station)s") % facts if facts["station"] else _("Frost dates as typed")


TYPE_FIRST = gettext_lazy("type a frost date first: without one and without a station nothing can be counted")


# ---------------------------------------------------------------- from when it is warm; what was read


@register("place.warmth")
class WarmFrom(Command):
    """A day from which the morning soil, or the nights, are usually so warm."""

    tells = False

    kind = Choice(Warmth.KINDS, label="From this day the")
    celsius = Degrees(low=-5, high=30, label="is usually at least")
    on = Day(label="from")

    says = gettext_lazy("Typed a day of warmth")

    def clean(self) -> dict[str, Any]:
        found: dict[str, Any] = super().clean() or {}
        if self.errors:
            return found
        kind, celsius, on = found["kind"], found["celsius"], found["on"]
        rows = Warmth.objects.filter(garden=self.garden, kind=kind)
        others = {w.celsius: self._order(w.month, w.day) for w in rows}
        if celsius in others:
            self.add_error("celsius", _("There is a day for this warmth already: remove it first."))
            return found
        mine = self._order(on.month, on.day)
        if any((warm < celsius) != (when < mine) and when != mine for warm, when in others.items()):
            said = _("%s runs the wrong way round: warmer must come later than cooler. Check both days.")
            self.add_error("on", said % f"{on:%-d %B}")
        return found

    def _order(self, month: int, day: int) -> tuple[int, int]:
        """Days in the order of this garden's spring."""
        return (month - (7 if self.garden.southern else 1)) % 12, day

    def carry_out(self, write: ChangeSet) -> None:
        on = self.cleaned_data["on"]
        same = {name: self.cleaned_data[name] for name in ("kind", "celsius")}
        write.save(Warmth(garden=self.garden, month=on.month, day=on.day, **same))


@register("place.warmth.remove")
class NoLongerWarmFrom(Command):
    """A typed day of warmth that is not so."""

    tells = False

    row = Row(Warmth)

    says = gettext_lazy("Removed a day of warmth")

    def carry_out(self, write: ChangeSet) -> None:
        write.delete(self.cleaned_data["row"])


@register("place.soil")
class ReadSoil(Command):
    """One reading of the garden's soil probe."""

    tells = False

    scope = "readings"

    day = Day(happened=True, label="Day")
    celsius = Degrees(low=-15, high=45, label="Soil")
    hour = Hour(initial=8, label="Hour of the day")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        deep = tuple(say.amount(cm, "cm", self.reader) for cm in (5, 10))
        self.fields["celsius"].label = _("Soil, %s to %s deep, %s") % (*deep, say.shown(1, "°C", self.reader)[1])

    def carry_out(self, write: ChangeSet) -> None:
        typed = {name: self.cleaned_data[name] for name in ("day", "hour", "celsius")}
        self.facts = {"day": typed["day"].isoformat()}
        replace(write, self.garden, [SoilReading(garden=self.garden, **typed)], TIMES[SoilReading])

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("Read the soil on %s") % f"{date.fromisoformat(facts['day']):%-d %B}"


@register("place.night")
class ReadNight(Command):
    """The lowest of one night in the garden."""

    tells = False

    scope = "readings"

    day = Day(happened=True, label="Morning of")
    celsius = Degrees(low=-45, high=35, label="Lowest, at screen height")

    def carry_out(self, write: ChangeSet) -> None:
        day = self.cleaned_data["day"]
        self.facts = {"day": day.isoformat()}
        row = GardenNight(garden=self.garden, day=day, tmin_c=self.cleaned_data["celsius"])
        replace(write, self.garden, [row], ("day",))

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("Read the night to %s") % f"{date.fromisoformat(facts['day']):%-d %B}"


class RemoveReading(Command):
    """A reading that was a slip."""

    tells = False

    says = gettext_lazy("Removed a reading")

    def carry_out(self, write: ChangeSet) -> None:
        write.delete(self.cleaned_data["pk"])


@register("place.soil.remove")
class RemoveSoil(RemoveReading):
    """A reading of the soil that was a slip."""

    pk = Row(SoilReading)


@register("place.night.remove")
class RemoveNight(RemoveReading):
    """A night that was a slip."""

    pk = Row(GardenNight)


# ---------------------------------------------------------------- keys


@register("key.make")
class MakeKey(Command):
    """A key with which a device or a script may write, or read; it is not kept, and can be shown only now."""

    tells = False

    role, scope, undo = "owner", "", False

    name = Text(most=MOST_NAME, label="Name of the device or script", missing=gettext_lazy("give it a name"))
    may = Choice(Feed.SCOPES, label="It may", initial="readings", required=False)

    def carry_out(self, write: ChangeSet) -> None:
        self.token = secrets.token_urlsafe(24)
        name, scope = self.cleaned_data["name"], self.cleaned_data["may"] or "readings"
        self.facts = {"name": name, "scope": scope}
        Feed.objects.create(garden=self.garden, name=name, scope=scope, digest=digest_of(self.token))

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        may = dict(Feed.SCOPES)[facts["scope"]]
        return _("Gave %(name)s a key to %(may)s") % {"name": facts["name"], "may": may}


@register("key.revoke")
class RevokeKey(Command):
    """A key is good for nothing from now on."""

    role, scope, undo = "owner", "", False

    row = Row(Feed)

    says = gettext_lazy("The key of %(name)s is good for nothing any more")

    def carry_out(self, write: ChangeSet) -> None:
        row = self.cleaned_data["row"]
        self.facts = {"name": row.name}
        if not Feed.objects.filter(pk=row.pk, revoked=False).update(revoked=True):
            raise Repeated


@register("place.readings")
class PostReadings(Command):
    """What a device sends: readings of soil, night, mix or scale; a station's days; nights of forecast.

    What one device sends of one thing in ten minutes is one entry; the same message once more changes nothing.
    """

    tells = False

    scope = "readings"

    kind = Text(most=40, required=False, label="What it is of: soil, garden, station, forecast, mix, scale")
    place = Text(most=40, required=False, label="of mix: the place")
    tray = Text(most=40, required=False, label="of scale: the tray")
    readings = Objects(most=MOST_READINGS)
    days = Objects(most=MOST_READINGS)
    nights = Objects(most=MOST_READINGS)

    def perform(self, key: str = "") -> None:
        """Taken whole or not at all, in bursts of its own (`devices.heard`).  Raises BadPost."""
        self.checked()
        sent = {name: value for name, value in self.cleaned_data.items() if value not in (None, "")}
        self.taken = take(self.actor.device, json.dumps(sent).encode())


def take(feed: Feed, body: bytes) -> int:
    """What a device sent, written; how many were taken.  Raises BadPost, NotAdmitted."""
    if len(body) > MOST_BYTES:
        raise NotAdmitted(_("The message is larger than half a megabyte: send less at once."), 413)
    post = read_post(body, clock.today(feed.garden), ZoneInfo(feed.garden.timezone))
    if limits.too_many("readings", str(feed.pk), limits.READINGS, len(post.readings)):
        raise too_chatty()
    return receive(feed, post, body)


def make_key(garden: Garden, user: User, name: str, scope: str = "readings") -> str:
    """A new key, where no form asks for it."""
    return run(MakeKey, Actor(garden, user, "owner"), {"name": name, "may": scope}).token
