from functools import partial
from typing import Any

from django.urls import path, reverse

from aestiva.care import commands, feed_views, moving_views, tool_views, trouble_views, views
from aestiva.care.things import FEED
from aestiva.gardens.commands import Command
from aestiva.gardens.posting import posts
from aestiva.season.commands import OfBatch


def round_or_tools(request: Any, done: Command) -> str:
    """Back to the page it was tapped on."""
    on_round = request.POST.get("next") == "care"
    return f"{reverse('care' if on_round else 'care_tools', args=[request.garden.pk])}{'#round' if on_round else ''}"


def stage(request: Any, done: commands.moving.Stage) -> str:
    """Back to the page it was tapped on, with what was open there."""
    moving = request.POST.get("next") == "moving"
    key = request.POST.get("open", "")
    opened = f"?open={key}" if key[1:].isdigit() and key[:1].isalpha() and not moving else ""
    return f"{reverse('care_moving' if moving else 'care', args=[request.garden.pk])}{opened}#round"


def moved(request: Any, done: OfBatch) -> str:
    return f"{reverse('care_moving', args=[request.garden.pk])}#b{done.of.pk}"


on_round = partial(posts, back="care", page=views.page, to="#round")
on_tools = partial(posts, back="care_tools", page=tool_views.page)
on_moving = partial(posts, back="care_moving", page=moving_views.page, to=moved)
on_trouble = partial(posts, back="care_trouble", page=trouble_views.page)

urlpatterns = [
    path("care/", views.care, name="care"),
    path("care/look/keep/", on_round(commands.round.Look), name="care_look"),
    path("care/stage/<int:batch_id>/keep/", on_round(commands.moving.Stage, to=stage), name="care_stage"),
    path("care/weigh/keep/", on_round(commands.round.Weigh), name="care_weigh"),
    path("care/over/keep/", on_round(commands.round.PouredOff), name="care_poured"),
    path("care/fine/keep/", on_round(commands.round.Fine), name="care_fine"),
    path("care/water.csv", views.water_csv, name="care_water_csv"),
    path("care/moving/", moving_views.moving, name="care_moving"),
    path("care/moving/<int:batch_id>/roots/keep/", on_moving(commands.moving.Roots), name="care_roots"),
    path("care/moving/<int:batch_id>/done/keep/", on_moving(commands.moving.MovedOn), name="care_work_done"),
    path("care/moving/<int:batch_id>/separate/keep/", on_moving(commands.moving.Separate), name="care_separate"),
    path("care/moving/<int:batch_id>/over/keep/", on_moving(commands.moving.WhatIsOver), name="care_over"),
    path("care/trouble/", trouble_views.trouble, name="care_trouble"),
    path("care/trouble/keep/", on_trouble(commands.trouble.TakenFor), name="trouble_keep"),
    path("care/trouble/<int:ailment_id>/ended/keep/", on_trouble(commands.trouble.TroubleEnded), name="trouble_ended"),
    path("care/troubles.csv", trouble_views.trouble_csv, name="trouble_csv"),
    path("care/tools/", tool_views.tools, name="care_tools"),
    path("care/tools/sprayer/keep/", on_tools(commands.tools.MeasureSprayer), name="care_sprayer"),
    path("care/tools/weights/keep/", on_tools(commands.tools.TrayWeights), name="care_weights"),
    path("care/tools/air/keep/", on_tools(commands.tools.Air, to=round_or_tools), name="care_air"),
    path("care/feed/", feed_views.feed, name="care_feed"),
    path("care/fed/keep/", posts(commands.feeds.Fed, back="care_feed", page=feed_views.page), name="care_fed"),
    *FEED.addresses("care/feed/"),
]
