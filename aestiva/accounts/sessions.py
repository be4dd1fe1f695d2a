"""Who is logged in: in the database; where that cannot be written, signed in the cookie itself for an hour.

So a full disk or a busy database keeps nobody from reading and from taking their garden along.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager, suppress
from datetime import timedelta
from typing import Any

from django.contrib.sessions.backends.base import UpdateError
from django.contrib.sessions.backends.db import SessionStore as InDatabase
from django.core import signing
from django.db import OperationalError, transaction

LASTS = timedelta(hours=1)
SIGNED = "s."
_SALT = "session while nothing can be written"


@contextmanager
def if_it_can_be_written() -> Iterator[None]:
    """Around a write that nothing waits for: where the database refuses it, it is left."""
    with suppress(OperationalError), transaction.atomic():
        yield


class SessionStore(InDatabase):
    def load(self) -> dict[str, Any]:
        key = self.session_key or ""
        if not key.startswith(SIGNED):
            return super().load()
        try:
            found: dict[str, Any] = signing.loads(key.removeprefix(SIGNED), salt=_SALT, max_age=LASTS)
            return found
        except signing.BadSignature:
            self._session_key = None
            return {}

    def save(self, must_create: bool = False) -> None:
        if (self.session_key or "").startswith(SIGNED):
            self._data()  # read before its key is gone
            self._session_key = None
        try:
            super().save(must_create)
        except (OperationalError, UpdateError) as error:
            if isinstance(error, UpdateError) and not isinstance(error.__context__, OperationalError):
                raise  # it was ended elsewhere
            self._session_key = SIGNED + signing.dumps(self._data(), salt=_SALT, compress=True)

    def _data(self) -> dict[str, Any]:
        found: dict[str, Any] = self._session  # type: ignore[attr-defined]
        return found

    def delete(self, session_key: str | None = None) -> None:
        with if_it_can_be_written():  # where not, it ends by itself
            super().delete(session_key)

    @classmethod
    def get_model_class(cls) -> Any:
        return InDatabase.get_model_class()
