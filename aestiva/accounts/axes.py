"""Tries to log in are counted in the database; a log-in that succeeds does not wait for it to be written."""

from __future__ import annotations

from typing import Any

from axes.handlers.database import AxesDatabaseHandler
from django.contrib.auth.models import update_last_login

from aestiva.accounts.sessions import if_it_can_be_written


class Handler(AxesDatabaseHandler):
    def user_logged_in(self, *args: Any, **kwargs: Any) -> None:
        with if_it_can_be_written():
            super().user_logged_in(*args, **kwargs)

    def user_logged_out(self, *args: Any, **kwargs: Any) -> None:
        with if_it_can_be_written():
            super().user_logged_out(*args, **kwargs)


def note_log_in(sender: Any, user: Any, **kwargs: Any) -> None:
    """When somebody was last here, where that can be written."""
    with if_it_can_be_written():
        update_last_login(sender, user, **kwargs)
