"""Pages that count days say so while the place has no frost date."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.http import HttpResponse
from django.shortcuts import render

from aestiva.place.queries import NoFrostDate


def needs_frost(view: str) -> Callable[[Any], Any]:
    """Answer with the view's own word on it where a page asks for days that nobody can tell yet."""

    def around(page: Any) -> Any:
        @wraps(page)
        def wrapped(request: Any, *args: Any, **kwargs: Any) -> HttpResponse:
            try:
                return page(request, *args, **kwargs)
            except NoFrostDate:
                return render(request, f"{view}/no_frost.html", {"view": view})

        return wrapped

    return around
