"""How often may somebody knock?  Counts by kind and sender, kept in the cache, in windows of an hour."""

from __future__ import annotations

import time
from hashlib import sha256
from threading import Lock
from typing import Any

from django.core.cache import cache
from django.http import HttpResponse
from django.shortcuts import render

WINDOW_S = 3600
# of one key, which a message every ten seconds does not reach, and readings in them
MESSAGES, READINGS = 400, 20_000
SIGN_UPS, RESETS, RESETS_OF_ONE, WRONG_KEYS = 20, 20, 5, 60  # an hour
_lock = Lock()


def too_many(kind: str, who: str, most: int, more: int = 1) -> bool:
    """Count so many more of this kind from this sender; True once there were more than `most` in the hour."""
    window = int(time.time() // WINDOW_S)
    key = f"limit-{kind}-{sha256(who.encode('utf-8', 'replace')).hexdigest()[:24]}-{window}"
    with _lock:
        count = int(cache.get(key, 0)) + 1
        cache.set(key, count, WINDOW_S)
    return count > most


def sender(request: Any) -> str:
    """Where a request comes from."""
    return str(request.META.get("REMOTE_ADDR", ""))


def slow_down(request: Any) -> HttpResponse:
    response = render(request, "429.html", status=429)
    response["Retry-After"] = str(WINDOW_S)
    return response
