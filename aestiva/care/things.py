"""Things of care that a garden has."""

from __future__ import annotations

from typing import Any

from django.urls import reverse
from django.utils.translation import gettext_lazy

from aestiva.care.commands.feeds import KeepFeed, RemoveFeed
from aestiva.care.models import Feed
from aestiva.gardens.things import Thing


def _its_can(request: Any, feed: Feed) -> str:
    return f"{reverse('care_feed', args=[request.garden.pk])}?feed={feed.pk}"


FEED = Thing(
    "feed",
    Feed,
    KeepFeed,
    RemoveFeed,
    view="care",
    back="care_feed",
    to=_its_can,
    new=gettext_lazy("A feed, by its label"),
    help=gettext_lazy(
        "Weigh a level spoon once: grams of a millilitre make every dose right. Of a home-made feed say that nobody knows what is in it."
    ),
)
