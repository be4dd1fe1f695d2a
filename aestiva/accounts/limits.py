"""How often may somebody knock?  Counts by kind and sender in windows of an hour, kept where all who serve see them."""

from __future__ import annotations

import time
from hashlib import sha256
from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import F
from django.http import HttpResponse
from django.shortcuts import render

from aestiva.accounts.models import Knocks

WINDOW_S = 3600
# of one key, which a message every ten seconds does not reach, and readings in them
MESSAGES, READINGS = 400, 20_000
SIGN_UPS, RESETS, RESETS_OF_ONE, WRONG_KEYS = 20, 20, 5, 60  # an hour


def too_many(kind: str, who: str, most: int, more: int = 1) -> bool:
    """Count so many more of this kind from this sender; True once there were more than `most` in the hour."""
    window = int(time.time() // WINDOW_S)
    name = f"{kind}-{sha256(who.encode('utf-8', 'replace')).hexdigest()[:24]}"
    here = Knocks.objects.filter(name=name, window=window)
    if not here.update(count=F("count") + more):
        Knocks.objects.filter(window__lt=window).delete()
        try:
            with transaction.atomic():
                Knocks.objects.create(name=name, window=window, count=more)
        except IntegrityError:  # another was quicker to begin it
            here.update(count=F("count") + more)
    return (here.values_list("count", flat=True).first() or 0) > most


def sender(request: Any) -> str:
    """Where a request comes from: behind a proxy that is trusted, the visitor (`frame.middleware.Proxies`)."""
    return str(request.META.get("REMOTE_ADDR", ""))


def slow_down(request: Any) -> HttpResponse:
    response = render(request, "429.html", status=429)
    response["Retry-After"] = str(WINDOW_S)
    return response
