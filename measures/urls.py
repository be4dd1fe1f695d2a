"""The house's addresses and one that does nothing, behind the same door."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.urls import path

from aestiva.gardens.access import garden_view
from aestiva.urls import urlpatterns as house


@garden_view()
def nothing(request: Any) -> HttpResponse:
    return HttpResponse()


urlpatterns = [*house, path("g/<int:garden_id>/nothing/", nothing)]
handler404 = "aestiva.frame.views.not_found"
