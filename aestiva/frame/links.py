"""Addresses that leave the page: on labels, in mails, for devices, calendars, helpers, guests."""

from __future__ import annotations

from typing import Any

from django.conf import settings


def root(request: Any) -> str:
    """Where this is found from outside: the address that was set (AESTIVA_URL), or the one this page was asked under."""
    return settings.SITE_URL or str(request.build_absolute_uri("/")).rstrip("/")


def outside(request: Any, path: str) -> str:
    """A path of ours as somebody elsewhere opens it."""
    return f"{root(request)}{path}"
