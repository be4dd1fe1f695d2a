"""Keys for devices and scripts, and what a device sends."""

from __future__ import annotations

import json
import secrets
from zoneinfo import ZoneInfo

from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.accounts import limits
from aestiva.accounts.models import User
from aestiva.frame.fields import Choice, Objects, Row, Text
from aestiva.frame.say import Reader
from aestiva.gardens import clock
from aestiva.gardens.changeset import ChangeSet
from aestiva.gardens.commands import Actor, Command, Facts, register, run
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Repeated
from aestiva.place.actions import receive
from aestiva.place.keys import NotAdmitted, digest_of, too_chatty
from aestiva.place.models import Feed
from growing.place.feed import MOST_BYTES, MOST_READINGS, read_post

MOST_NAME = 20


@register("key.make")
class MakeKey(Command):
    """A key with which a device or a script may write, or read; it is not kept, and can be shown only now."""

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

    def told(self) -> str:
        return ""  # the page shows the key


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

    def told(self) -> str:
        return ""


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
