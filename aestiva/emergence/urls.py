from functools import partial
from typing import Any

from django.urls import path

from aestiva.emergence import commands, views, warm_views
from aestiva.emergence.views import at_batch
from aestiva.gardens.posting import posts


def one(request: Any, done: Any) -> str:
    """The batch it was about, on the page of all that is coming."""
    return at_batch(request.garden, done.of.pk)


def fresh(request: Any, done: commands.SowAgain) -> str:
    return at_batch(request.garden, done.of.pk if done.fresh is None else done.fresh.pk)


def freed(request: Any, done: commands.MoveElsewhere) -> str:
    """Where it is said who gains by the mat that is free now."""
    mat = "" if done.freed is None else f"&freed={done.freed.pk}"
    return one(request, done).replace("#one", f"{mat}#one")


def asked(request: Any, done: Any) -> str:
    pk = request.POST.get("batch", "")
    return at_batch(request.garden, int(pk) if pk.isdecimal() else None)


keep = partial(posts, back="emergence")

urlpatterns = [
    path("emergence/", views.emergence, name="emergence"),
    path(
        "emergence/<int:batch_id>/count/keep/",
        keep(commands.CountUp, to=one),
        name="emergence_count",
    ),
    path(
        "emergence/<int:batch_id>/lifted/keep/",
        keep(commands.Lifted, to=one),
        name="emergence_lifted",
    ),
    path(
        "emergence/<int:batch_id>/trigger/keep/",
        keep(commands.Around, to=one),
        name="emergence_trigger",
    ),
    path("emergence/<int:batch_id>/move/", views.move, name="emergence_move"),
    path(
        "emergence/<int:batch_id>/move/keep/",
        keep(commands.MoveElsewhere, to=freed),
        name="emergence_moved",
    ),
    path("emergence/<int:batch_id>/warmth.csv", warm_views.warmth_csv, name="emergence_warmth"),
    path(
        "emergence/<int:batch_id>/again/keep/",
        keep(commands.SowAgain, to=fresh),
        name="emergence_again",
    ),
    path(
        "emergence/<int:batch_id>/stage/keep/",
        keep(commands.StageSeen, to="#up"),
        name="emergence_stage",
    ),
    path(
        "emergence/<int:batch_id>/grade/keep/",
        keep(commands.Grade, to="#up"),
        name="emergence_grade",
    ),
    path("emergence/log/", warm_views.log_read, name="log_read"),
    path("emergence/log/keep/", warm_views.probe_log, name="emergence_log"),
    path("emergence/reading/keep/", keep(commands.ReadTheMix, to=asked), name="emergence_reading"),
]
