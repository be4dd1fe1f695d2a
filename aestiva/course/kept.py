"""The season as pages read it: loaded once for all of them, until anything of the garden changes.

Only requests that write nothing read it: what a change works on is loaded for it.  The key is what the season follows from:
every change of a garden raises one of its revisions.  It lives in the memory of one process and may be dropped at any
time; whoever empties the cache drops it in all of them.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable
from datetime import date
from typing import TYPE_CHECKING, Any

from django.core.signals import request_finished, request_started
from django.db import connection

from aestiva.frame.cache import emptied
from aestiva.frame.version import code_version
from aestiva.gardens.models import Garden

if TYPE_CHECKING:
    from aestiva.course.state import SeasonState

MOST = 8  # seasons that a process keeps
_seasons: OrderedDict[tuple[object, ...], SeasonState] = OrderedDict()
_lock = threading.Lock()
_local = threading.local()  # reads: does the request that this thread serves only read?


def begin(environ: dict[str, Any], **signal: object) -> None:
    _local.reads = environ.get("REQUEST_METHOD") in ("GET", "HEAD")


def end(**signal: object) -> None:
    _local.reads = False


request_started.connect(begin, dispatch_uid="seasons kept begin")
request_finished.connect(end, dispatch_uid="seasons kept end")


def kept(garden: Garden, today: date, read: Callable[[], SeasonState]) -> SeasonState:
    """The garden's season on a day: as another page read it, where this request only reads."""
    key = _key(garden, today)
    if key is None:
        return read()
    found = _look(key) or read()
    with _lock:
        _seasons[key] = found
        while len(_seasons) > MOST:
            _seasons.popitem(last=False)
    return found


def at_hand(garden: Garden, today: date) -> SeasonState | None:
    """The same where it is at hand; None where it would have to be loaded."""
    key = _key(garden, today)
    return None if key is None else _look(key)


def _look(key: tuple[object, ...]) -> SeasonState | None:
    with _lock:
        if key in _seasons:
            _seasons.move_to_end(key)
        return _seasons.get(key)


def _key(garden: Garden, today: date) -> tuple[object, ...] | None:
    """What the season follows from; None where this request may change it."""
    if not getattr(_local, "reads", False):
        return None
    revisions = garden.revision, garden.readings_revision, garden.settings_revision
    return code_version(), emptied(), connection.settings_dict["NAME"], garden.pk, *revisions, today


def forget() -> None:
    """Drop every season that this process keeps."""
    with _lock:
        _seasons.clear()
