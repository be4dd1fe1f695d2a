"""Template tags that say numbers, days and workings; no arithmetic happens in templates."""

from __future__ import annotations

import math
import uuid
from datetime import date, timedelta
from typing import Any

from django import template
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString, mark_safe

from aestiva.frame import say, values, wording
from aestiva.frame.say import Reader
from growing.calendar import cold_season_start
from growing.working import Working

register = template.Library()

register.filter("day", say.day)
register.filter("short_day", say.short_day)
register.filter("percent", say.percent)
register.filter("chance", say.chance)
register.filter("of_years", say.of_years)
register.filter("odds", say.odds)
register.filter("source", values.source)
register.filter("label", values.label)
register.filter("in_parts", say.in_parts)
register.filter("latitude", say.latitude)


@register.filter
def away(value: date | None, today: date) -> str:
    return "" if value is None else say.away(value, today)


@register.filter
def span(window: Any) -> str:
    return say.span(window.start, window.end)


@register.filter
def from_ordinal(day: int) -> date:
    """A day that the rules count."""
    return date.fromordinal(day)


@register.filter
def days_said(days: int) -> str:
    """“+7 days”, “−1 day”."""
    return f"{'+' if days > 0 else say.MINUS}{abs(days)} day{'s' if abs(days) != 1 else ''}"


@register.filter
def names(things: Any) -> str:
    """The names of things, listed."""
    return say.listed([thing.name for thing in things])


@register.filter
def number(value: float) -> str:
    return say.number(value)


@register.filter
def readable(name: str) -> str:
    """A field's name as a person reads it."""
    return name.replace("_", " ").replace("-", " ")


@register.filter
def tenth(value: float) -> str:
    """At most one decimal."""
    return say.number(float(value))


@register.filter
def whole(value: float) -> str:
    return say.number(value, 0)


@register.filter
def at_clock(moment: Any, garden: Any) -> str:
    """“15:40, 12 Apr”: by the clocks of the garden."""
    return say.at_clock(moment, garden.timezone, garden.reader())


@register.filter
def left_from(moment: Any, now: Any) -> str:
    """“0:26” from now to then; “now” when it is over."""
    return say.left(moment, now)


@register.filter
def minutes_of(hours: float) -> int:
    return round(hours * 60)


@register.filter
def roundup(value: float) -> int:
    """A whole number, no less than it is."""
    return math.ceil(value - 1e-9)


@register.filter
def lookup(mapping: Any, key: Any) -> Any:
    return mapping.get(key, "") if mapping else ""


@register.filter
def lookup_index(items: Any, index: int) -> Any:
    return items[index]


@register.filter
def hours(value: float) -> str:
    """“16 h 38”."""
    minutes = round(value * 60)
    return f"{minutes // 60} h {minutes % 60:02d}"


@register.filter
def last_day(season: Any, southern: bool) -> date:
    """The day of a cold season's last frost."""
    return cold_season_start(season.year, southern) + timedelta(days=season.last)


@register.filter
def first_day(season: Any, southern: bool) -> date:
    """The day of a cold season's first frost."""
    return cold_season_start(season.year, southern) + timedelta(days=season.first)


@register.filter
def season_days(days: float | None) -> str:
    """“152 days”; a season without end says so."""
    if days is None:
        return "–"
    return "all year" if days == float("inf") else f"{round(days)} days"


@register.filter
def as_percent(share: float) -> str:
    """A share as a form wants it back, in per cent."""
    return f"{share * 100:.6g}"


@register.filter
def packet_label(field: str) -> str:
    """What a packet says, by the name of its field."""
    return say.PACKET_FIELDS.get(field, field)


@register.simple_tag(takes_context=True)
def packet_value(context: Any, reading: Any) -> str:
    """A reading of a packet in the reader's units."""
    return say.packet(reading.field, reading.value, _reader(context))


@register.simple_tag
def warm(found: Any) -> str:
    """A `WarmFrom` in words."""
    return say.warm(found.verdict, found.day, found.kind in ("nights", "chill"))


def _reader(context: Any) -> say.Reader:
    found = context.get("reader")
    return found if isinstance(found, say.Reader) else say.METRIC


@register.simple_tag(takes_context=True)
def at_hour(context: Any, hour: float) -> str:
    """An hour of the day by the reader's clock: “7:30”."""
    return say.hour_of_day(hour, _reader(context))


@register.simple_tag(takes_context=True)
def degrees(context: Any, value: float | None) -> str:
    return "–" if value is None else say.degrees(value, _reader(context))


@register.simple_tag(takes_context=True)
def amount(context: Any, value: float, unit: str, places: int = 1) -> str:
    return say.amount(value, unit, _reader(context), places)


@register.simple_tag(takes_context=True)
def thing(context: Any, name: str) -> str:
    """The name of a kind of container in the reader's units."""
    return say.thing(name, _reader(context))


@register.simple_tag(takes_context=True)
def money(context: Any, value: float) -> str:
    return say.money(value, _reader(context))


@register.simple_tag(takes_context=True)
def colder(context: Any, difference: float) -> str:
    """A difference in words: “0.7 °C colder”."""
    return say.colder(difference, _reader(context))


@register.simple_tag(takes_context=True)
def said(context: Any, value: Any) -> str:
    """A `Value` in the reader's units."""
    return values.said(value, _reader(context))


@register.simple_tag(takes_context=True)
def how(context: Any, todo: Any) -> str:
    """How a task is done, in one line."""
    return wording.how(todo.task, todo.crop, _reader(context))


@register.simple_tag(takes_context=True)
def reason(context: Any, working: Working) -> str:
    return wording.reason(working, _reader(context))


@register.simple_tag(takes_context=True)
def headline(context: Any, working: Working) -> str:
    return wording.headline(working, _reader(context))


@register.simple_tag(takes_context=True)
def line(context: Any, working: Working) -> str:
    return wording.line(working, _reader(context))


@register.simple_tag
def problem(item: Any) -> str:
    return wording.problem(item.code, item.days, item.day, item.share)


@register.simple_tag(takes_context=True)
def working(context: Any, item: Working) -> SafeString:
    """A working, opened: each rule's headline, its line of arithmetic, its inputs with sources, its steps."""
    return _render(item, _reader(context), set())


def _render(item: Working, reader: Reader, seen: set[Working]) -> SafeString:
    table: SafeString = mark_safe("")
    listed = [r for r in wording.rows(item, reader) if r["source"]]
    if listed:
        table = format_html(
            "<ul class='inputs'>{}</ul>",
            format_html_join(
                "", "<li>{} <b>{}</b> <i>{}</i></li>", ((r["label"], r["value"], r["source"]) for r in listed)
            ),
        )
    steps: SafeString = mark_safe("")
    fresh = [s for s in item.steps if s not in seen]
    seen.update(fresh)
    if fresh:
        steps = format_html_join("", "{}", ((_render(s, reader, seen),) for s in fresh))
    return format_html(
        "<div class='rule'><b>{}</b><span class='why'>{}</span>{}{}</div>",
        wording.headline(item, reader),
        wording.line(item, reader),
        table,
        steps,
    )


@register.simple_tag
def one_use_key() -> SafeString:
    """A key that lets a post happen only once."""
    return format_html('<input type="hidden" name="key" value="{}">', uuid.uuid4().hex)


@register.simple_tag
def seen(row: Any) -> SafeString:
    """The revision of the row that this form shows: whoever changes it in the meantime is not overwritten."""
    revision = getattr(row, "settings_revision", None) or getattr(row, "revision", None)
    return format_html('<input type="hidden" name="revision" value="{}">', revision if row and row.pk else "")
