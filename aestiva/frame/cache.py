"""What is kept between requests, in a folder; where that cannot be written or read, nothing is kept, and nothing fails."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from django.core.cache import cache
from django.core.cache.backends.filebased import FileBasedCache


class FolderCache(FileBasedCache):
    """A full disk is no cache; a file that was cut off holds nothing."""

    def get(self, key: Any, default: Any = None, version: Any = None) -> Any:
        try:
            return super().get(key, default, version)
        except Exception:  # the folder, or whatever a broken file makes the reader stumble over
            return default

    def set(self, *args: Any, **kwargs: Any) -> None:
        try:
            super().set(*args, **kwargs)
        except OSError:
            pass


def emptied() -> str:
    """A mark that is another one whenever the cache was emptied: what a process remembers by itself goes with it."""
    found: str | None = cache.get("emptied")
    if found is None:
        cache.add("emptied", uuid4().hex, None)
        found = cache.get("emptied")
    return found or ""
