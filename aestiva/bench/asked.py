"""What a form at the bench asks for."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404

from aestiva.frame.forms import whole_number
from aestiva.season.models import Spot
from growing.place.kinds import HOLDS


def spot_asked(request: Any, field: str = "spot") -> Spot | None:
    """A place of this garden where things stand; None where none was chosen, Http404 where it is not of this garden."""
    number = whole_number(request.POST.get(field))
    return None if number is None else get_object_or_404(Spot, pk=number, garden=request.garden, kind__in=HOLDS)
