"""What can still begin today, with a harvest worth its place?"""

from __future__ import annotations

from typing import Any, NamedTuple

from django.http import HttpResponse
from django.shortcuts import render

from aestiva.frame import say
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import NoFrostDate
from aestiva.place.dating import dating_of
from growing.chain.late import KINDS, Late, latest

SHOWN = 10
TITLES = {
    "raise": ("Sow in trays now", "raised indoors and planted out"),
    "place": ("Sow in place now", "where they will grow, for raising would come too late or does not suit them"),
    "buy": ("Better bought as plants", "from seed they would come too late"),
    "autumn": ("Left for autumn", "their spring is past, and another term is still to come"),
    "not yet": ("Not yet", "their window has not opened"),
    "not now": (
        "Not any more this season",
        "nothing worth its place would come of it, or it does not ripen in the open here",
    ),
}


class LateGroup(NamedTuple):
    """One way to begin: its title and reason, the first crops of it, and the rest."""

    kind: str
    title: str
    why: str
    first: list[Late]
    rest: list[Late]

    @property
    def size(self) -> int:
        return len(self.first) + len(self.rest)


@garden_view()
def late(request: Any) -> HttpResponse:
    """Every crop by how it is best begun on this day, what still gives most first."""
    today = clock.today(request.garden)
    try:
        dating = dating_of(request.garden)
        place = dating.place
    except NoFrostDate:
        return render(request, "plan/no_frost.html", {"view": "plan"})
    found = latest(dating.crops, place, today)
    groups = []
    for kind in KINDS:
        here = [one for one in found if one.kind == kind]
        if here:
            groups.append(LateGroup(kind, *TITLES[kind], here[:SHOWN], here[SHOWN:]))
    now = [one for one in found if one.kind in ("raise", "place", "buy")]
    headline = (
        f"{say.plural(len(now), 'crop')} can still begin today"
        if now
        else "Nothing is to be begun today: its time is past, or still to come"
    )
    context = {
        "view": "plan",
        "groups": groups,
        "headline": headline,
        "knows_end": any(o.worth is not None for o in found),
    }
    return render(request, "plan/late.html", context)
