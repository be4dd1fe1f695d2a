"""Who is at home when, what shelters the door, the garden's own ladders, and which ladder a batch climbs."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.http import HttpResponse
from django.shortcuts import render

from aestiva.course.door import known_ladders
from aestiva.course.state import Item, load
from aestiva.frame import say
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import SHELTERS, Member
from aestiva.gardens.outcomes import NoFrostDate, Refused
from aestiva.hardening.commands.home import MOST_ROWS, SUNS
from aestiva.hardening.ladders import ladders_ahead
from aestiva.season.models import OwnLadder
from growing.ladders.ladder import Ladder, ladders


@garden_view(back="home_hours")
def home_hours(request: Any) -> HttpResponse:
    return page(request)


def page(request: Any, refused: Refused | None = None, **kwargs: Any) -> HttpResponse:
    """The page of who is at home."""
    garden = request.garden
    members = list(Member.objects.filter(garden=garden).exclude(role="reader").select_related("user").order_by("pk"))
    own = list(OwnLadder.objects.filter(garden=garden))
    known = known_ladders(garden)
    edited = next((row for row in own if str(row.pk) == request.GET.get("ladder", "")), None)
    try:
        now = load(garden, clock.today(garden))
        on_ladder = [(r, offered(known, r.item)) for r in ladders_ahead(now).rows]
    except NoFrostDate:
        on_ladder = []
    typed = request.POST if refused is not None else {}
    context = {
        "view": "hardening",
        "members": [(m, [(say.WEEKDAYS[n], *_shown(m, n)) for n in range(7)]) for m in members],
        "me": request.user.pk,
        "shelters": SHELTERS,
        "own": own,
        "edited": edited,
        "rungs": rung_rows(edited, typed),
        "suns": SUNS,
        "kinds": ladders().values(),
        "ladders": known.values(),
        "on_ladder": on_ladder,
        "refused": refused,
        "typed": typed,
    }
    return render(request, "hardening/home.html", context, status=422 if refused else 200)


def _shown(member: Member, day: int) -> tuple[str, str]:
    one = None if member.at_home is None else member.at_home[day]
    return ("", "") if one is None else (say.clock_said(one[0]), say.clock_said(one[1]))


def rung_rows(edited: OwnLadder | None, typed: Any) -> list[tuple[int, str, float, bool]]:
    """Lines of the form: number, hours, sun, night; what was typed stays."""
    found = []
    for n in range(MOST_ROWS if edited is not None and len(edited.rungs) > 10 else 10):
        if typed.get("name") is not None:
            found.append(
                (
                    n + 1,
                    typed.get(f"rungs-{n + 1}-hours", ""),
                    _sun(typed.get(f"rungs-{n + 1}-sun", "")),
                    typed.get(f"rungs-{n + 1}-night") == "1",
                )
            )
        elif edited is not None and n < len(edited.rungs):
            hours, sun, night = edited.rungs[n]
            found.append((n + 1, say.number(hours), float(sun), bool(night)))
        else:
            found.append((n + 1, "", 0.0, False))
    return found


def _sun(text: str) -> float:
    """A share of sun as the list has it; none where somebody sent something else."""
    return next((share for share, _ in SUNS if text == say.number(share) or text == str(share)), 0.0)


def offered(known: Mapping[str, Ladder], item: Item) -> list[tuple[str, str, str]]:
    """Ladders that a batch may climb: key, name, why; the one that its raising speaks for first."""
    one = item.raised
    why = {
        "frame": "it stands in a frame" if one.stands == "frame" else "",
        "nursery": "bought from under glass" if one.stood == "glass" else "",
        "fresh": "it is just up" if one.facts.half_up is None and one.facts.first_up is not None else "",
    }
    return sorted(((key, ladder.name, why.get(key, "")) for key, ladder in known.items()), key=lambda k: not k[2])
