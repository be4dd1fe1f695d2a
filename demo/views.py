"""The demo: opened with one click where the server offers it, its days passed by hand."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Garden, Member
from demo.simulation import do_tasks, step


@require_POST
def enter(request: HttpRequest) -> HttpResponse:
    """Log in as the demo's grower; only a demo server has this way in."""
    garden = Garden.objects.filter(is_demo=True).order_by("pk").first() if settings.DEMO else None
    if garden is None:
        raise Http404("There is no demo on this server.")
    owner = Member.objects.select_related("user").get(garden=garden, role="owner")
    login(request, owner.user, backend="django.contrib.auth.backends.ModelBackend")
    return redirect("today", garden.pk)


@garden_view("grower")
@require_POST
def clock_step(request: Any) -> HttpResponse:
    """In a simulated garden: the next day or week, or today's tasks done for me."""
    garden = request.garden
    if garden.simulated_on is None:
        raise Http404("This garden lives in real time.")
    what = request.POST.get("what", "")
    if what == "tasks":
        done = do_tasks(garden, request.user, request.POST.get("key", ""))
        messages.success(request, f"{done} done for you; each can be taken back.")
    elif what in ("day", "week"):
        step(garden, 7 if what == "week" else 1, request.POST.get("key", ""))
    return redirect("today", garden.pk)
