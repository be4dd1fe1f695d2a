"""What every page knows: its garden, the day, where the reader is."""

from __future__ import annotations

from typing import Any

from django.conf import settings

from aestiva.gardens import clock, journal
from aestiva.gardens.providers import link

# The views in the order of work; a view not built is not shown.
VIEWS = (
    ("today", "Today"),
    ("place", "Place"),
    ("beds", "Beds"),
    ("seeds", "Seeds"),
    ("plan", "Plan"),
    ("bench", "Bench"),
    ("emergence", "Emergence"),
    ("light", "Light"),
    ("care", "Care"),
    ("hardening", "Hardening"),
    ("plantingout", "Planting out"),
    ("calendar", "Calendar"),
)
KEYS = "1234567890pk"  # one for each view
PHONE = (("today", "Today"), ("emergence", "Count"), ("care", "Care"), ("door", "Door"))


def frame(request: Any) -> dict[str, Any]:
    garden = getattr(request, "garden", None)
    if garden is None:
        return {"demo_mode": settings.DEMO, "sends_mail": settings.SENDS_MAIL}
    return {
        "demo_mode": settings.DEMO,
        "garden": garden,
        "role": request.role,
        "reader": request.reader,
        "may_write": request.role != "reader",
        "today": clock.today(garden),
        "views": [(name, text, key) for (name, text), key in zip(VIEWS, KEYS, strict=True)],
        "phone_views": PHONE,
        "journal_csv": link("journal_csv", garden.pk),
        "last_change": lambda: journal.latest(garden, request.user),
    }
