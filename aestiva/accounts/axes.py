"""Tries to log in are counted in the database; a log-in that succeeds does not wait for it to be written."""

from __future__ import annotations

from typing import Any

from axes.handlers.database import AxesDatabaseHandler
from django.contrib.auth.models import update_last_login
from django.db import OperationalError, transaction


class Handler(AxesDatabaseHandler):
    def user_logged_in(self, *args: Any, **kwargs: Any) -> None:
        try:
            with transaction.atomic():
                super().user_logged_in(*args, **kwargs)
        except OperationalError:
            pass

    def user_logged_out(self, *args: Any, **kwargs: Any) -> None:
        try:
            with transaction.atomic():
                super().user_logged_out(*args, **kwargs)
        except OperationalError:
            pass


def note_log_in(sender: Any, user: Any, **kwargs: Any) -> None:
    """When somebody was last here, where that can be written."""
    try:
        with transaction.atomic():
            update_last_login(sender, user, **kwargs)
    except OperationalError:
        pass
