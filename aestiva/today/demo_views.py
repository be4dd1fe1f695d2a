"""A simulated garden: opened with one click where the server offers it, its days passed by hand."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from aestiva.gardens import journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Garden, Member
from aestiva.gardens.providers import simulation

STEPS = {"day": 1, "week": 7}


@require_POST
def enter(request: HttpRequest) -> HttpResponse:
    """Log in as the demo's grower; only a demo server has this way in."""
    garden = Garden.objects.filter(is_demo=True).order_by("pk").first() if settings.DEMO else None
    if garden is None:
        raise Http404("There is no demo on this server.")
    owner = Member.objects.select_related("user").get(garden=garden, role="owner")
    login(request, owner.user, backend="django.contrib.auth.backends.ModelBackend")
    return redirect("today", garden.pk)


def step(garden: Garden, days: int, key: str = "") -> None:
    """Forward by so many days: one journal entry by the simulation; the grower's tasks stay undone."""
    offered = simulation()
    if offered is None:
        raise Http404("Nothing simulates gardens here.")
    with journal.change(garden, None, f"{days} {'day' if days == 1 else 'days'} went by", key) as write:
        row = Garden.objects.get(pk=garden.pk)
        assert row.simulated_on is not None
        row.simulated_on += timedelta(days=days)
        write.save(row)
        offered.simulate(row, row.simulated_on)
    garden.simulated_on = row.simulated_on


@garden_view("grower")
@require_POST
def clock_step(request: Any) -> HttpResponse:
    """In a simulated garden: the next day or week, or today's tasks done for me."""
    garden, what, key = request.garden, request.POST.get("what", ""), request.POST.get("key", "")
    offered = simulation()
    if garden.simulated_on is None or not garden.is_demo or offered is None:
        raise Http404("This garden lives in real time.")
    if what == "tasks":
        done = offered.work(garden, request.user, key)
        messages.success(request, f"{done} done for you; each can be taken back.")
    elif what in STEPS:
        step(garden, STEPS[what], key)
    return redirect("today", garden.pk)
