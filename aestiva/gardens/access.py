"""Nobody in who does not belong, and one answer to every way in which a change can end.

Every object is reached through its garden and the reader's role; what `journal` and the stages raise is answered here.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.core.exceptions import PermissionDenied
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import NoReverseMatch, reverse

from aestiva.frame.forms import own_page
from aestiva.gardens import jobs, journal, stale
from aestiva.gardens.models import Member
from aestiva.gardens.outcomes import NoFrostDate, Refused, Repeated, Stale

_RANK = {"reader": 0, "grower": 1, "owner": 2}
_TECHNICAL = frozenset(("csrfmiddlewaretoken", "key", "revision", "next"))


UNFIT = 422
View = Callable[..., HttpResponse]
LAST_GARDEN, A_YEAR = "garden", 365 * 24 * 3600  # the cookie that names it


def garden_view(
    role: str = "reader",
    *,
    readers_post: bool = False,
    back: str = "today",
    page: Callable[..., HttpResponse] | None = None,
    no_frost: str = "",
) -> Callable[[View], View]:
    """Admit members of at least this role; to everybody else the garden does not exist.

    Posting needs a grower wherever reading needs only a reader, but for what is everybody's own (`readers_post`).
    A change done before (Repeated) leads to the page `back`; one that cannot be (Refused) shows `page(request, refused,
    …)` again with what was typed; an overtaken one (Stale) shows both states; without a frost date `no_frost` says so.
    """

    def wrap(view: View) -> View:
        @wraps(view)
        def gate(request: Any, garden_id: int, *args: Any, **kwargs: Any) -> HttpResponse:
            if not request.user.is_authenticated:
                return login_required(view)(request, garden_id, *args, **kwargs)  # sends to the log-in page
            found = Member.objects.select_related("garden").filter(garden_id=garden_id, user=request.user).first()
            if found is None:
                raise Http404("There is no such garden here.")
            needed = max(_RANK[role], 1 if request.method == "POST" and not readers_post else 0)
            if _RANK[found.role] < needed:
                raise PermissionDenied(f"A {found.role} of {found.garden} cannot do this; ask an owner.")
            request.garden, request.role = found.garden, found.role
            request.reader = found.garden.reader(found.units)
            key = request.POST.get("key", "") if request.method == "POST" else ""
            try:
                if journal.done_before(request.garden, key):
                    raise Repeated  # before a form finds that what it brings is there already
                response = view(request, *args, **kwargs)
                if response.status_code == UNFIT and journal.done_before(request.garden, key):
                    raise Repeated  # the other half of a double tap was quicker
                return _remembered(request, response)
            except jobs.Waits as waits:
                return redirect("job", waits.job.key)
            except Repeated:
                return _repeated(request, _address(back, garden_id, kwargs))
            except Stale as overtaken:
                if request.htmx and not request.POST.get("revision"):
                    messages.info(request, "Somebody was quicker: this is how it stands now. Nothing was written.")
                    return refresh_page()
                context = stale.context(request, overtaken, _typed(request))
                context["back"] = _address(back, garden_id, kwargs)
                return render(request, "gardens/stale.html", context, status=409)
            except Http404:
                if journal.done_before(request.garden, key):  # the other half of a double tap took it away
                    return _repeated(request, _address(back, garden_id, kwargs))
                raise
            except Refused as refused:
                if journal.done_before(request.garden, key):
                    return _repeated(request, _address(back, garden_id, kwargs))
                if page is not None:
                    return page(request, refused, *args, **kwargs)
                context = {"refused": refused, "typed": _typed(request), "back": _address(back, garden_id, kwargs)}
                return render(request, "gardens/refused.html", context, status=422)
            except NoFrostDate:
                if no_frost:
                    own = [f"{no_frost}/no_frost.html", "gardens/no_frost.html"]
                    return render(request, own, {"view": no_frost})
                return redirect("place", garden_id)

        return gate

    return wrap


def _remembered(request: Any, response: HttpResponse) -> HttpResponse:
    """The answer, with which garden it is of: the way in leads there the next time."""
    if request.COOKIES.get(LAST_GARDEN) != str(request.garden.pk):
        secure = settings.SESSION_COOKIE_SECURE
        response.set_cookie(
            LAST_GARDEN, str(request.garden.pk), max_age=A_YEAR, secure=secure, httponly=True, samesite="Lax"
        )
    return response


def _repeated(request: Any, back: str) -> HttpResponse:
    """What was carried out already: on to where it led the first time."""
    return refresh_page() if request.htmx else redirect(safe_next(request) or back)


def refresh_page() -> HttpResponse:
    """Have the page that one is on fetched anew."""
    return HttpResponse(status=204, headers={"HX-Refresh": "true"})


def _address(name: str, garden_id: int, kwargs: dict[str, Any]) -> str:
    """The address of that name, for the same thing where it is about one."""
    for known in (kwargs, *({key: value} for key, value in kwargs.items()), {}):
        try:
            return reverse(name, kwargs={"garden_id": garden_id, **known})
        except NoReverseMatch:
            continue
    return reverse("today", args=[garden_id])


def _typed(request: Any) -> list[tuple[str, str]]:
    """What a person sent, without what the page added by itself."""
    return [(n, v) for n, values in request.POST.lists() if n not in _TECHNICAL for v in values]


def safe_next(request: Any) -> str:
    """The page to go back to, if it is one of ours."""
    return own_page(request.POST.get("next", ""))
