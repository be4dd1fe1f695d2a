"""Something is wrong with these."""

from typing import Any

from django.http import HttpResponse

from aestiva.gardens.access import garden_view


@garden_view(no_frost="care")
def trouble(request: Any) -> HttpResponse:
    return HttpResponse("")
