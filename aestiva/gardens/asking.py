"""“Are you sure?”, asked once, with what would follow: before leaving, removing, giving up and cancelling."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.http import HttpResponse
from django.shortcuts import render
from django.urls import reverse


def is_sure(request: Any) -> bool:
    """Was it asked, and answered?"""
    return bool(request.POST.get("sure") == "yes")


def ask(request: Any, question: str, follows: Sequence[str], verb: str, back: str, *args: Any) -> HttpResponse:
    """The question, what would follow, and the same post again with the answer.  back: the page to go back to, by name."""
    context = {
        "question": question,
        "follows": follows,
        "verb": verb,
        "back": reverse(back, args=[request.garden.pk, *args]),
        "typed": [
            (name, value) for name, values in request.POST.lists() if name != "csrfmiddlewaretoken" for value in values
        ],
    }
    return render(request, "gardens/ask.html", context)
