"""Nobody in who does not belong: every object is reached through its garden and the reader's role."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.contrib.auth.decorators import login_required
from django.core.exceptions import PermissionDenied
from django.http import Http404, HttpResponse

from aestiva.gardens.models import Member

_RANK = {"reader": 0, "grower": 1, "owner": 2}


View = Callable[..., HttpResponse]


def member(least: str = "reader", readers_post: bool = False) -> Callable[[View], View]:
    """Admit members of at least this role; to everybody else the garden does not exist.

    Posting needs a grower wherever reading needs only a reader, but for what is everybody's own (`readers_post`).
    """

    def wrap(view: View) -> View:
        @wraps(view)
        def gate(request: Any, garden_id: int, *args: Any, **kwargs: Any) -> HttpResponse:
            if not request.user.is_authenticated:
                return login_required(view)(request, garden_id, *args, **kwargs)  # sends to the log-in page
            found = Member.objects.select_related("garden").filter(garden_id=garden_id, user=request.user).first()
            if found is None:
                raise Http404("There is no such garden here.")
            needed = max(_RANK[least], 1 if request.method == "POST" and not readers_post else 0)
            if _RANK[found.role] < needed:
                raise PermissionDenied(f"A {found.role} of {found.garden} cannot do this; ask an owner.")
            request.garden, request.role = found.garden, found.role
            request.units = found.units or found.garden.units
            return view(request, *args, **kwargs)

        return gate

    return wrap
