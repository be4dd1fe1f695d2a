"""Which key knocks, and may it?  For devices and scripts, who have no session."""

from __future__ import annotations

from hashlib import sha256
from typing import Any

from django.http import HttpRequest, JsonResponse

from aestiva.accounts import limits
from aestiva.gardens.commands import Command
from aestiva.place.models import Feed

OPENS = {"read": (), "readings": ("readings",), "tasks": ("tasks",), "everything": ("tasks", "readings", "everything")}
READS = ("read", "tasks", "everything")


class NotAdmitted(Exception):
    """Carries the answer."""

    def __init__(self, said: str, status: int, wait: bool = False) -> None:
        self.answer = problem(said, status, wait=wait)


def problem(said: str, status: int, wait: bool = False, **more: Any) -> JsonResponse:
    """What is wrong, in words."""
    headers = {"Retry-After": str(limits.WINDOW_S)} if wait else None
    return JsonResponse({"problem": said, **more}, status=status, headers=headers)


def digest_of(token: str) -> str:
    return sha256(token.encode()).hexdigest()


def key_of(request: HttpRequest) -> Feed:
    """The key that a request comes with.  Raises NotAdmitted for one that is not known, or knocks too often."""
    scheme, _, token = request.headers.get("Authorization", "").partition(" ")
    found = None
    if scheme.lower() == "bearer" and token:
        known = Feed.objects.filter(digest=digest_of(token.strip()), revoked=False)
        found = known.select_related("garden").first()
    if found is None:
        if limits.too_many("key", limits.sender(request), limits.WRONG_KEYS):
            raise NotAdmitted("Too many wrong keys from here: wait an hour, then try again.", 429, wait=True)
        raise NotAdmitted("The key is not known here, or was revoked.", 401)
    if limits.too_many("messages", str(found.pk), limits.MESSAGES):
        raise too_chatty()
    return found


def too_chatty() -> NotAdmitted:
    said = "This key has sent too much in an hour: send less often, or several readings in one message."
    return NotAdmitted(said, 429, wait=True)


def may(key: Feed, command: type[Command]) -> bool:
    """May whoever has that key run that command?"""
    return command.scope in OPENS[key.scope]
