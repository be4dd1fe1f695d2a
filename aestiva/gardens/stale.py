"""Two people, one row: what is there now beside what was typed, and who changed it in the meantime."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.db import models

from aestiva.frame import say
from aestiva.gardens.changeset import REVISIONS, revision_of
from aestiva.gardens.models import JournalEntry, JournalTouch
from aestiva.gardens.outcomes import Stale

MOST_SHOWN = 5
LONGEST = 120


def context(request: Any, overtaken: Stale, typed: list[tuple[str, str]]) -> dict[str, Any]:
    """Everything that the page of both states shows."""
    row, wanted = overtaken.row, overtaken.wanted
    name = revision_of(type(row))
    there = type(row)._base_manager.filter(pk=row.pk).exists()
    touches = JournalTouch.objects.filter(model=row._meta.label, row=row.pk, entry__garden=request.garden)
    seen = request.POST.get("revision", "")
    behind = getattr(row, name) - int(seen) if seen.isdecimal() and len(seen) < 9 else 1
    entries = JournalEntry.objects.filter(pk__in=touches.values("entry")).defer("changes")
    return {
        "what": row._meta.verbose_name,
        "there": there,
        "differences": differences(row, wanted) if there and wanted is not None else [],
        "since": entries[: min(max(1, behind), MOST_SHOWN)],
        "typed": typed,
        "revision": getattr(row, name, ""),
        "address": request.get_full_path(),
    }


def differences(row: models.Model, wanted: models.Model) -> list[tuple[str, str, str]]:
    """Each field in which the two differ: its name, as it is, as it was typed."""
    found = []
    for field in row._meta.concrete_fields:
        if field.attname in REVISIONS or field.primary_key:
            continue
        now, then = getattr(row, field.attname), getattr(wanted, field.attname)
        if now != then:
            found.append((str(field.verbose_name), _said(row, field), _said(wanted, field)))
    return found


def _said(row: models.Model, field: models.Field[Any, Any]) -> str:
    value = getattr(row, field.attname)
    if value in (None, ""):
        return "–"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if field.choices:
        return str(dict(field.flatchoices).get(value, value))
    if field.is_relation:
        return str(getattr(row, field.name))
    if isinstance(value, date):
        return say.day(value, year=True)
    return str(value)[:LONGEST]
