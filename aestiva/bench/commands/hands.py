"""Hands: how much time there is, who takes what, an address for a helper."""

from __future__ import annotations

from datetime import date, timedelta

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.bench.models import HelpLink, Turn
from aestiva.frame import say
from aestiva.frame.fields import (
    Choice,
    Count,
    Day,
    Flag,
    Lines,
    Row,
    TypedForm,
    alike,
)
from aestiva.frame.say import Reader
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Command, Facts, register
from aestiva.gardens.models import Member
from aestiva.gardens.outcomes import Refused
from aestiva.season.models import Absence
from growing.steps import WHERE

MOST_MINUTES, FARTHEST_DAYS = 1440, 366
LINK_DAYS = 1  # after the last day away, on which a helper's address still answers


class OfMember(Command):
    """About one who grows here: by themselves, or by an owner."""

    scope = ""

    def themselves(self, member: Member) -> None:
        """Raise Refused where neither they themselves nor an owner says it."""
        mine = self.actor.user is not None and member.user_id == self.actor.user.pk
        if not mine and self.actor.role != "owner":
            raise Refused("member", _("only they themselves, or an owner, can say that"))


class DayMinutes(TypedForm):
    """Minutes there are on a day; empty: nobody said."""

    minutes = Count(high=MOST_MINUTES, required=False)


@register("hands.minutes")
class MinutesThereAre(OfMember):
    """Minutes a day of the week, from Monday: one's own, or anybody's for an owner."""

    member = Row(Member, missing=gettext_lazy("choose who it is"))
    days = Lines(DayMinutes, most=7, called="day", each=say.WEEKDAYS, required=False)

    says = gettext_lazy("Said how much time there is")

    def carry_out(self, write: ChangeSet) -> None:
        member, given = self.cleaned_data["member"], [one["minutes"] for one in self.cleaned_data["days"]]
        self.themselves(member)
        self.minutes = (
            [*(m or 0 for m in given), *[0] * (7 - len(given))] if any(m is not None for m in given) else None
        )
        if self.minutes is not None and not sum(self.minutes):
            said = _(
                "nought minutes on every day is no time at all: then nothing can be planned. Leave them empty if nobody knows"
            )
            raise Refused("days", said)
        member.minutes = self.minutes
        write.save(member)

    def told(self) -> str:
        return _("Kept.") if self.minutes else _("Nobody said how much time there is.")


@register("hands.turn")
class TakeTurn(OfMember):
    """Somebody takes, or gives back, the work of a place on a day."""

    where = Choice(alike(WHERE), missing=gettext_lazy("choose a place and a day from today on"))
    on = Day()
    member = Row(Member, required=False, missing=gettext_lazy("a reader looks only: choose somebody who grows here"))
    give = Flag()

    def carry_out(self, write: ChangeSet) -> None:
        where, on, give = (self.cleaned_data[name] for name in ("where", "on", "give"))
        if not 0 <= (on - self.actor.today).days <= FARTHEST_DAYS:
            raise Refused("on", _("choose a place and a day from today on"))
        member = self.cleaned_data["member"] or Member.objects.filter(garden=self.garden, user=self.actor.user).first()
        if member is None or member.role == "reader":
            raise Refused("member", str(self.fields["member"].error_messages["required"]))
        self.themselves(member)
        self.facts = {"where": where, "on": on.isoformat(), "gave": give}
        row = Turn.objects.filter(garden=self.garden, on=on, where=where).first()
        if give:
            if row is not None:
                write.delete(row)
        elif row is None:
            write.save(Turn(garden=self.garden, on=on, where=where, member=member))
        elif row.member_id != member.pk and self.actor.role != "owner":
            raise Refused("on", _("%s has taken it already") % (row.member.user.name or _("somebody")))
        else:
            row.member = member
            write.save(row)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        said = _("Gave back the %(where)s on %(on)s") if facts["gave"] else _("Took the %(where)s on %(on)s")
        return said % {"where": facts["where"], "on": f"{date.fromisoformat(facts['on']):%-d %B}"}


@register("hands.address")
class HelperAddress(Command):
    """An address for a helper while one is away, or its end; any older one no longer works."""

    scope, undo = "", False

    absence = Row(Absence)
    end = Flag()

    def carry_out(self, write: ChangeSet) -> None:
        absence, ends = self.cleaned_data["absence"], self.cleaned_data["end"]
        if not ends and absence.until < self.actor.today:
            raise Refused("", _("these days are over: an address for them would say nothing"))
        self.facts = {"ended": ends}
        same = {"garden": self.garden, "since": absence.since, "until": absence.until}
        HelpLink.objects.filter(**same).delete()
        if not ends:
            HelpLink.objects.create(expires=absence.until + timedelta(days=LINK_DAYS), **same)

    @classmethod
    def sentence(cls, facts: Facts, reader: Reader) -> str:
        return _("Ended the helper’s address") if facts["ended"] else _("Made an address for a helper")

    def told(self) -> str:
        if self.facts["ended"]:
            return _("The old address is dead.")
        return _("An address for your helper; any older one no longer works.")
