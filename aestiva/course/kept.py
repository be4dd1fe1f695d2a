"""The season as pages read it: loaded once for all of them, until anything of the garden changes.

Only requests that write nothing read it: what a change works on is loaded for it.  The key is what the season follows from:
every change of a garden raises one of its revisions.  It lives in the memory of one process and may be dropped at any
time; whoever empties the cache drops it in all of them.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from dataclasses import replace
from datetime import date
from typing import Any, TypeVar

from django.core.signals import request_finished, request_started

from aestiva.course.facts import SeasonFacts
from aestiva.frame.cache import emptied
from aestiva.gardens.cache_keys import kept_key
from aestiva.gardens.models import Garden

MOST = 8  # seasons that a process keeps
_seasons: OrderedDict[tuple[str, str], SeasonFacts] = OrderedDict()
_carried: OrderedDict[tuple[str, str], SeasonFacts] = OrderedDict()
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


def at_hand_to_change(garden: Garden, today: date, kind: type[S]) -> S | None:
    """The same for a request that is about to change something, and has changed nothing yet: what is not of the rows that it works on is
    taken from there.  Whether that is still true is asked of the database, in the transaction that changes it."""
    now = Garden.objects.filter(pk=garden.pk).values_list("revision", "readings_revision").first()
    if now != (garden.revision, garden.readings_revision):
        return None
    key = _key(garden, today)
    with _lock:
        found = _seasons.get(key) or _carried.get(key)
    return found if isinstance(found, kind) else None


def carry(garden: Garden, today: date, found: SeasonFacts, of_seed: bool) -> None:
    """After a change that wrote of batches alone: what else the season follows from is as it was, for the next change.

    garden: with the revision that the change raised it to.  of_seed: it may have changed what sowings say of their packets: that is
    asked anew, as their pace is.
    """
    _put(_carried, _key(garden, today), replace(found, known={} if of_seed else found.known, paces=None))


def keep(garden: Garden, today: date, found: S) -> S:
    """The same season, for the pages that follow this one."""
    if _reads():
        _put(_seasons, _key(garden, today), found)
    return found


def _put(seasons: OrderedDict[tuple[str, str], SeasonFacts], key: tuple[str, str], found: SeasonFacts) -> None:
    with _lock:
        seasons[key] = found
        while len(seasons) > MOST:
            seasons.popitem(last=False)


def _reads() -> bool:
    return getattr(_local, "reads", False)


def _key(garden: Garden, today: date) -> tuple[str, str]:
    """What the season follows from."""
    return kept_key("season", garden, today), emptied()


def forget() -> None:
    """Drop every season that this process keeps."""
    with _lock:
        _seasons.clear()
        _carried.clear()
