"""What was worked out of one planting, by all that it follows from: a change of one leaves the others known.

It lives in the memory of one process and may be dropped at any time: the same is worked out anew.  Nothing in it is of one garden
or one request, and nobody writes to it: what a page sets on a batch is set on a copy.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Hashable
from operator import itemgetter
from typing import Any, TypeVar

from django.db.models import JSONField, Model

Answer = TypeVar("Answer")
MOST = 1500  # answers asked for lately, and as many before them: the plantings of a few large gardens, or of many small ones
_lately: dict[Hashable, Any] = {}
_before: dict[Hashable, Any] = {}
_lock = threading.Lock()
_readers: dict[tuple[object, ...], tuple[Callable[[dict[str, Any]], tuple[Hashable, ...]], tuple[str, ...]]] = {}


def known(follows_from: Hashable, make: Callable[[], Answer]) -> Answer:
    """The answer to what follows from these values alone, worked out the first time it is asked."""
    found: Any = _lately.get(follows_from, _lately)
    if found is _lately:
        found = _before.get(follows_from, _lately)
        if found is _lately:
            found = make()
        _remember(follows_from, found)
    return found


def _remember(follows_from: Hashable, answer: object) -> None:
    global _lately, _before
    with _lock:
        if len(_lately) >= MOST:
            _lately, _before = {}, _lately
        _lately[follows_from] = answer


def values_of(row: Model) -> tuple[Hashable, ...]:
    """Everything that a row says, but for what nobody has read of it."""
    values = row.__dict__
    shape = (row.__class__, *values)
    if shape not in _readers:
        own = {f.attname: isinstance(f, JSONField) for f in row._meta.concrete_fields if f.attname in values}
        plain, lists = (tuple(name for name in own if own[name] is json) for json in (False, True))
        _readers[shape] = itemgetter(*plain), lists
    read, lists = _readers[shape]
    return (*read(values), *(repr(values[name]) for name in lists))


def forget() -> None:
    """Drop all that this process knows."""
    with _lock:
        _lately.clear()
        _before.clear()
