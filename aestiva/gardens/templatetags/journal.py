"""What was done, as its reader has it said."""

from __future__ import annotations

from django import template

from aestiva.frame.say import METRIC, Reader
from aestiva.gardens import commands
from aestiva.gardens.models import JournalEntry

register = template.Library()


@register.filter
def entry_said(entry: JournalEntry, reader: Reader | None) -> str:
    return commands.sentence(entry, reader or METRIC)
