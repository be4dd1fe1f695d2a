"""Opening the demo with one click, where the server offers it."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth import login
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from aestiva.gardens.models import Garden, Member


@require_POST
def enter(request: HttpRequest) -> HttpResponse:
    """Log in as the demo's grower; only a demo server has this way in."""
    garden = Garden.objects.filter(is_demo=True).order_by("pk").first() if settings.DEMO else None
    if garden is None:
        raise Http404("There is no demo on this server.")
    owner = Member.objects.select_related("user").get(garden=garden, role="owner")
    login(request, owner.user, backend="django.contrib.auth.backends.ModelBackend")
    return redirect("today", garden.pk)
