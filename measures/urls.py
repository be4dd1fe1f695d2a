"""The house's addresses and one that does nothing, behind the same door."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.template import Context, Template
from django.urls import path

from aestiva.gardens.access import garden_view
from aestiva.gardens.journal import note, noted
from aestiva.gardens.models import Garden, JournalEntry
from aestiva.urls import urlpatterns as house


@garden_view()
def nothing(request: Any) -> HttpResponse:
    return HttpResponse()


@garden_view("grower")
def one(request: Any) -> HttpResponse:
    """One journal entry written, one row of a list drawn."""
    text = request.POST["text"]
    with noted(request.garden):
        note(request.garden, request.user, text)
    return HttpResponse(Template(ROW).render(Context({"text": text, "entry": latest_note(request.garden)})))


def latest_note(garden: Garden) -> JournalEntry | None:
    return JournalEntry.objects.filter(garden=garden).defer("changes").first()


ROW = "<article><b>{{ text }}</b> {{ entry.day }} {{ entry.by }}<button>Take back</button></article>"
urlpatterns = [
    *house,
    path("g/<int:garden_id>/nothing/", nothing),
    path("g/<int:garden_id>/one/", one),
]
handler404 = "aestiva.frame.views.not_found"
