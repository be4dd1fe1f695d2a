"""Scale, sprayer, fan, brush, hygrometer: what is measured once, and what is done with one tap."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.care.models import AIR, AirLook, Sprayer, TrayLook, TrayWeight
from aestiva.care.round import the_round
from aestiva.care.views import page as round_page
from aestiva.care.weigh import keep_weights
from aestiva.course.state import load
from aestiva.frame import say
from aestiva.frame.forms import decimal, whole_number
from aestiva.frame.say import shown, stored
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.season.models import Spot, Tray
from growing.care.spray import seconds
from growing.care.water import by_weight

EXAMPLES_ML = (1.0, 2.5, 5.0, 10.0)


def number(text: str, what: str) -> float:
    """A number that must be there; Refused otherwise."""
    try:
        found = decimal(text)
    except ValueError as error:
        raise Refused(what, f"{what}: {error}") from None
    if found is None:
        raise Refused(what, f"{what}: give a number")
    if not -1e6 < found < 1e6:
        raise Refused(what, f"{what}: {text.strip()[:20]} cannot be")
    return found


@garden_view(no_frost="care")
def tools(request: Any) -> HttpResponse:
    return page(request)


def page(request: Any, refused: Refused | None = None) -> HttpResponse:
    garden, units = request.garden, request.reader
    found = the_round(load(garden, clock.today(garden)))
    trays = [s.thing.tray for s in found.stops if s.thing.tray is not None]
    weights = {w.tray_id: w for w in TrayWeight.objects.filter(tray__garden=garden)}
    sprayer = Sprayer.objects.filter(garden=garden).first()
    spots = {s.spot.pk: s.spot for s in found.stops if s.spot is not None}
    context = {
        "view": "care",
        "refused": refused,
        "typed": request.POST if refused else {},
        "trays": [(t, weights.get(t.pk)) for t in trays],
        "sprayer": sprayer,
        "examples": []
        if sprayer is None
        else [(ml, round(seconds(ml, sprayer.ml, sprayer.seconds), 1)) for ml in EXAMPLES_ML],
        "airs": [(spot, found.air.get(pk)) for pk, spot in spots.items()],
        "gram": shown(1, "g", units)[1],
        "ml": shown(1, "ml", units)[1],
    }
    return render(request, "care/tools.html", context, status=422 if refused else 200)


def _back(request: Any) -> HttpResponse:
    return redirect(reverse("care_tools", args=[request.garden.pk]))


@garden_view("grower", back="care_tools", page=page)
@require_POST
def sprayer(request: Any) -> HttpResponse:
    """What came out of it in a time: measured once."""
    garden, post = request.garden, request.POST
    ml = stored(number(post.get("ml", ""), "measure"), "ml", request.reader)
    took = number(post.get("seconds", ""), "seconds")
    try:
        seconds(1.0, ml, took)
    except ValueError as error:
        raise Refused("ml", str(error)) from error
    with journal.change(garden, request.user, "Measured the sprayer", post.get("key", "")) as write:
        row = Sprayer.objects.filter(garden=garden).first()
        row = Sprayer(garden=garden) if row is None else write.touch(row, post.get("revision"))
        row.ml, row.seconds = round(ml, 2), round(took, 2)
        write.save(row)
    messages.success(request, "The sprayer is measured; doses stand in seconds from now on.")
    return _back(request)


@garden_view("grower", back="care_tools", page=page)
@require_POST
def weights(request: Any) -> HttpResponse:
    """What a tray weighs drained and dry."""
    garden, post = request.garden, request.POST
    tray = Tray.objects.filter(pk=whole_number(post.get("tray")) or 0, garden=garden).first()
    if tray is None:
        raise Refused("tray", "choose a tray that is here")
    drained = stored(number(post.get("drained", ""), "drained"), "g", request.reader)
    dry = stored(number(post.get("dry", ""), "dry"), "g", request.reader)
    try:
        by_weight(drained, dry, drained)
    except ValueError as error:
        raise Refused("dry", str(error)) from error
    if drained > 200_000:
        raise Refused("drained", "nobody lifts that: give what it weighs in grams")
    with journal.change(
        garden, request.user, f"{tray.code}: what it weighs drained and dry", post.get("key", "")
    ) as write:
        row = TrayWeight.objects.filter(tray=tray).first()
        row = TrayWeight(tray=tray) if row is None else write.touch(row, post.get("revision"))
        row.drained_g, row.dry_g = round(drained, 1), round(dry, 1)
        write.save(row)
    messages.success(request, f"{tray.code}: watered again at half between those two weights.")
    return _back(request)


@garden_view("grower", back="care", page=round_page)
@require_POST
def weigh(request: Any) -> HttpResponse:
    """What a tray weighs now: a look, without lifting by hand."""
    garden, post = request.garden, request.POST
    pk = whole_number(post.get("stop", "")[1:]) if post.get("stop", "")[:1] == "t" else None
    tray = Tray.objects.filter(pk=pk or 0, garden=garden).first()
    if tray is None:
        raise Refused("stop", "weights are of trays: choose one that is here")
    grams = stored(number(post.get("grams", ""), "weight"), "g", request.reader)
    at = (clock.today(garden), round(clock.hour(garden), 2))
    with journal.change(garden, request.user, f"{tray.code} weighed", post.get("key", "")) as write:
        for row in keep_weights(write, tray, [(*at, grams)]):
            write.summary = f"{tray.code} weighed: {row.found}"
            left = "watered since" if row.watered else f"{say.percent(row.left or 0.0)} left"
            messages.success(request, f"{tray.code}: {left}.")
    return redirect(f"{reverse('care', args=[garden.pk])}#round")


@garden_view("grower", back="care", page=round_page)
@require_POST
def over(request: Any) -> HttpResponse:
    """What was poured off of the last dose of a tray: the next one is less."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    share = {"none": 0.0, "some": 0.3, "much": 0.6}.get(post.get("over", ""))
    if share is None:
        raise Refused("over", "how much was poured off: none, some, much?")
    pk = whole_number(post.get("stop", "")[1:]) or 0
    row = (
        TrayLook.objects.filter(tray__pk=pk, tray__garden=garden, day=today, watered=True).select_related("tray").last()
    )
    if row is None:
        raise Refused("stop", "that tray was not watered today: nothing to pour off")
    with journal.change(
        garden, request.user, f"{row.tray.code}: {post['over']} poured off", post.get("key", "")
    ) as write:
        row.over = share
        write.save(row)
    messages.success(request, f"{row.tray.code}: its next dose is {'as before' if not share else 'less'}.")
    return redirect(f"{reverse('care', args=[garden.pk])}#round")


@garden_view("grower", back="care_tools", page=page)
@require_POST
def air(request: Any) -> HttpResponse:
    """The fan on or off, brushed, the humidity read: of one place, or of all where something stands."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    what = post.get("what", "")
    if what not in AIR:
        raise Refused("what", f"what was it: {', '.join(AIR)}?")
    percent = None
    if what == "humidity":
        percent = number(post.get("number", ""), "humidity")
        if not 1 <= percent <= 100:
            raise Refused("number", f"{percent:g} % cannot be: a hygrometer shows 1 to 100")
    if post.get("spot") == "all":
        stops = the_round(load(garden, today)).stops
        spots = list({s.spot.pk: s.spot for s in stops if s.spot is not None}.values())
    else:
        spots = list(Spot.objects.filter(pk=whole_number(post.get("spot")) or 0, garden=garden))
    if not spots:
        raise Refused("spot", "choose a place on which something stands")
    said = {"fan on": "Fan on", "fan off": "Fan off", "brushed": "Brushed", "humidity": f"{percent or 0:g} % humidity"}[
        what
    ]
    where = spots[0].code if len(spots) == 1 else say.plural(len(spots), "place")
    with journal.change(garden, request.user, f"{said}: {where}", post.get("key", "")) as write:
        for spot in spots:
            write.save(AirLook(spot=spot, day=today, hour=round(clock.hour(garden), 2), what=what, number=percent))
    messages.success(request, f"{said}: {where}.")
    return redirect(f"{reverse('care', args=[garden.pk])}#round") if post.get("next") == "care" else _back(request)
