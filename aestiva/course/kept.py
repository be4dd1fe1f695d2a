"""The season as pages read it: loaded once for all of them, until anything of the garden changes.

Only requests that write nothing read it: what a change works on is loaded for it.  The key is what the season follows from:
every change of a garden raises one of its revisions.  It lives in the memory of one process and may be dropped at any
time; whoever empties the cache drops it in all of them.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from datetime import date
from typing import Any, TypeVar

from django.core.signals import request_finished, request_started

from aestiva.course.facts import SeasonFacts
from aestiva.frame.cache import emptied
from aestiva.gardens.kept import kept_key
from aestiva.gardens.models import Garden

MOST = 8  # seasons that a process keeps
_seasons: OrderedDict[tuple[str, str], SeasonFacts] = OrderedDict()
S = TypeVar("S", bound=SeasonFacts)
_lock = threading.Lock()
_local = threading.local()  # reads: does the request that this thread serves only read?


def begin(environ: dict[str, Any], **signal: object) -> None:
    _local.reads = environ.get("REQUEST_METHOD") in ("GET", "HEAD")


def end(**signal: object) -> None:
    _local.reads = False


request_started.connect(begin, dispatch_uid="seasons kept begin")
request_finished.connect(end, dispatch_uid="seasons kept end")


def at_hand(garden: Garden, today: date, kind: type[S]) -> S | None:
    """The garden's season on a day as another page read it; None where none did, or where this request may change it."""
    if not _reads():
        return None
    key = _key(garden, today)
    with _lock:
        if key in _seasons:
            _seasons.move_to_end(key)
        found = _seasons.get(key)
        return found if isinstance(found, kind) else None


def keep(garden: Garden, today: date, found: S) -> S:
    """The same season, for the pages that follow this one."""
    if _reads():
        with _lock:
            _seasons[_key(garden, today)] = found
            while len(_seasons) > MOST:
                _seasons.popitem(last=False)
    return found


def _reads() -> bool:
    return getattr(_local, "reads", False)


def _key(garden: Garden, today: date) -> tuple[str, str]:
    """What the season follows from."""
    return kept_key("season", garden, today), emptied()


def forget() -> None:
    """Drop every season that this process keeps."""
    with _lock:
        _seasons.clear()
