"""A page's post runs one command: `posts(MeasureSprayer, back="care_tools", page=tools)` is the whole view."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.gardens.access import View, garden_view, safe_next
from aestiva.gardens.commands import Actor, Command, Done, run
from aestiva.gardens.outcomes import NotHere

Page = Callable[..., HttpResponse]
To = Callable[[Any, Any], str]


def actor_of(request: Any) -> Actor:
    """Who posts."""
    return Actor(request.garden, request.user, request.role, request.reader)


def field_of(command: type[Command], name: str) -> str:
    """The field that a part of the address fills: of `batch_id` “batch”, or “row” where the command has none of that name."""
    field = name.removesuffix("_id")
    return field if field in command.base_fields else "row"


def posted(command: type[Command], request: Any, about: Mapping[str, Any]) -> Any:
    """What was posted, and what the address is about."""
    data = request.POST.copy()
    for name, value in about.items():
        data[field_of(command, name)] = str(value)
    return data


def carry_out(command: type[Done], request: Any, about: Mapping[str, Any]) -> Done:
    """Run the command of a post, and say what was done.  What the address is about, and is not here, does not exist."""
    try:
        done = run(command, actor_of(request), posted(command, request, about), request.POST.get("key", ""))
    except NotHere as refused:
        if any(field_of(command, name) == refused.field for name in about):
            raise Http404("There is no such thing here.") from refused
        raise
    if said := done.told():
        messages.success(request, said)
    return done


def kept(request: Any, form: Command) -> bool:
    """Was a page's form carried out?  What was done is said; what is wrong stands at its fields."""
    if not form.is_valid():
        return False
    form.perform(request.POST.get("key", ""))
    if said := form.told():
        messages.success(request, said)
    return True


def posts(command: type[Command], *, back: str, page: Page | None = None, to: str | To = "") -> View:
    """The view of a post that runs one command.

    back: the page it leads to, by name, or where it was done before.  to: where it leads otherwise: a part of that page
    (“#round”), or of (request, what was done) an address.  page: what shows it again, with the fault, where it is refused.
    """

    @garden_view(command.role, back=back, page=page)
    @require_POST
    def view(request: Any, **about: Any) -> HttpResponse:
        done = carry_out(command, request, about)
        if callable(to):
            return redirect(to(request, done))
        return redirect(safe_next(request) or f"{reverse(back, args=[request.garden.pk])}{to}")

    return view
