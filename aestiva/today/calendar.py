"""All tasks as iCalendar: stable UIDs from the task keys, updated in place, with times and alarms where the hour matters.

What an event says is true on its own day: its text is what the task will say then, and what is overdue stands on today.
What is expected later, before there is a task for it, is there too and says so.
"""

from __future__ import annotations

from datetime import UTC, date, datetime, time, timedelta
from functools import lru_cache
from typing import Any
from zoneinfo import ZoneInfo

from icalendar import Alarm, Calendar, Event, vDatetime, vInt, vText

from aestiva.bench.days import timers
from aestiva.bench.models import Timer
from aestiva.course.placework import PlaceWork
from aestiva.course.state import SeasonState, Todo
from aestiva.frame import wording
from aestiva.gardens import clock
from aestiva.gardens.models import Garden
from aestiva.today.expected import Expected, expected
from growing.hardening.steps import BRING_IN, HARDEN, STAY_IN, Out, OutingDetail
from growing.plantingout.steps import WATCH_NIGHTS
from growing.steps import Task, TaskRef

BEFORE_DARK = time(16, 30)
AHEAD_OF_DARK = timedelta(minutes=30)
SHORTEST = timedelta(minutes=5)
TRANSPARENT = vText("TRANSPARENT")  # an event of a day, which does not fill it
FORECAST = timedelta(days=WATCH_NIGHTS)
COUNTS_DOWN = "days left"  # the input of a rule that counts from the day on which it speaks


def calendar(now: SeasonState, link: str = "") -> bytes:
    """The garden's open tasks and what is expected after them; all day, but for what has its hours."""
    garden = now.garden
    cal = Calendar()
    cal.add("prodid", "-//Aestiva//raising plants//EN")
    cal.add("version", "2.0")
    cal.add("method", "PUBLISH")
    cal.add("x-wr-calname", f"{garden.name}: sowing and planting")
    cal.add("x-wr-timezone", garden.timezone)
    cal.add("refresh-interval", timedelta(hours=6), parameters={"VALUE": "DURATION"})
    stamp = vDatetime(clock.instant().astimezone(UTC))
    shared = {
        "dtstamp": stamp,
        "last-modified": stamp,
        "sequence": vInt(garden.revision + garden.readings_revision - 1),
    }
    todos = now.todos(now.horizon)
    for todo in sorted(todos, key=lambda t: (t.due, t.task.key)):
        cal.add_component(_event(now, todo, shared, link))
    for timer in timers(garden):
        cal.add_component(_ring(garden, timer, shared, link))
    for one in expected(now, now.horizon, todos):
        cal.add_component(_later(garden, one, shared, link))
    return bytes(cal.to_ical())


def _event(now: SeasonState, todo: Todo, shared: dict[str, Any], link: str) -> Event:
    garden, day = now.garden, max(todo.due, now.today)
    task = on_its_day(now, todo)
    name = todo.subject.full_name
    count = task.count if task.count is not None else ""
    late = f"Due since {todo.due:%-d %B}. " if todo.due < now.today else ""
    event = _begun(garden, task.key, f"{name}: {count} {todo.name}".replace("  ", " "), shared)
    place = f"\n{todo.spot_code}" if todo.spot_code else ""
    text = f"{late}{wording.reason(task.why, garden.reader())}\n{wording.how(task, todo.crop, garden.reader())}{place}"
    event["DESCRIPTION"] = vText(text + (f"\n{link}" if link else ""))
    hours = _hours(garden, task, day)
    if hours is None:
        _all_day(event, day)
    else:
        begin, end = hours
        event.add("dtstart", begin)
        event.add("dtend", end)
        _alarms(event, task, name)
    if todo.spot_code:
        event.add("location", todo.spot_code)
    event.update(_under(task.where))
    return event


def _ring(garden: Garden, timer: Timer, shared: dict[str, Any], link: str) -> Event:
    """A soak or a wait that ends at an hour, and rings then."""
    soaks = timer.planting is not None
    rings = f"{timer.planting}: drain the soak" if soaks else timer.what[:1].upper() + timer.what[1:]
    event = _begun(garden, f"timer{timer.pk}", rings, shared)
    why = "It has soaked long enough: drain it and sow." if soaks else "It has stood long enough."
    event.add("description", f"{why}{chr(10) + link if link else ''}")
    event.add("dtstart", timer.due.astimezone(UTC))
    event.add("dtend", (timer.due + SHORTEST).astimezone(UTC))
    alarm = Alarm()
    alarm.add("action", "DISPLAY")
    alarm.add("description", rings)
    alarm.add("trigger", timedelta(0))
    event.add_component(alarm)
    event.update(_under("bench"))
    return event


def on_its_day(now: SeasonState, todo: Todo) -> Task:
    """The task as it will speak on the day it is for; as it speaks today where it is for today, or a rung, which knows its day."""
    task = todo.task
    if todo.due <= now.today or todo.moved or task.spec in (HARDEN, STAY_IN) or not _speaks_of_its_day(now, todo):
        return task
    ref, item = TaskRef.of(task.key), todo.subject
    if ref is None or isinstance(item, PlaceWork):
        return task
    return task.spec.find(item.raised, ref.ordinal, todo.due, now.horizon) or task


def _speaks_of_its_day(now: SeasonState, todo: Todo) -> bool:
    """Does it count from the day it is read on, or speak of a night that is forecast?"""
    near = todo.due - now.today <= FORECAST
    return near or any(value.name == COUNTS_DOWN for value in todo.task.why.inputs)


def _later(garden: Garden, one: Expected, shared: dict[str, Any], link: str) -> Event:
    """What is expected, and said to be."""
    event = _begun(garden, one.key, f"{one.name}: {one.word.lower()} (expected)", shared)
    text = f"Expected, not yet a task: it moves with what happens before. {wording.reason(one.why, garden.reader())}"
    event["DESCRIPTION"] = vText(text + (f"\n{link}" if link else ""))
    event.add("status", "TENTATIVE")
    _all_day(event, one.day)
    event.update(_under("expected"))
    return event


def _begun(garden: Garden, key: str, summary: str, shared: dict[str, Any]) -> Event:
    event = Event()
    event["UID"] = vText(f"{key}@garden-{garden.pk}.aestiva")
    event.update(shared)
    event["SUMMARY"] = vText(summary)
    return event


def _all_day(event: Event, day: date) -> None:
    event.add("dtstart", day)
    event.add("dtend", day + timedelta(days=1))
    event["TRANSP"] = TRANSPARENT


@lru_cache(maxsize=64)
def _under(category: str) -> dict[str, Any]:
    """What every event of one category says of that."""
    event = Event()
    event.add("categories", [category])
    return dict(event)


def _hours(garden: Garden, task: Task, day: date) -> tuple[datetime, datetime] | None:
    """From when to when, in universal time, where the hour matters: an outing, its end, what must be done before dark."""
    zone = ZoneInfo(garden.timezone)

    def at(text: str, on: date = day) -> datetime:
        hour, minute = (int(part) for part in text.split(":"))
        midnight = datetime.combine(on + timedelta(days=hour // 24), time(hour % 24, minute), tzinfo=zone)
        return midnight.astimezone(UTC)

    needs = max(SHORTEST, timedelta(minutes=task.minutes))
    if task.spec is HARDEN and isinstance(task.detail, OutingDetail):
        out, back = task.detail.begins, task.detail.ends
        return at(out), at(back, day + timedelta(days=1) if task.detail.night else day)
    if task.spec is BRING_IN and isinstance(task.detail, Out) and task.detail.by:
        ends = at(task.detail.by)
        return ends - needs, ends
    if task.spec.alarm:
        begin = datetime.combine(day, BEFORE_DARK, tzinfo=zone).astimezone(UTC)
        return begin, begin + needs
    return None


def _alarms(event: Event, task: Task, name: str) -> None:
    """A word when an outing begins and one when it ends; half an hour's warning of what must be done before dark."""
    if task.spec is HARDEN:
        _alarm(event, f"Carry out: {name}", timedelta(0))
        _alarm(event, f"Carry in: {name}", timedelta(0), from_end=True)
    elif task.spec is BRING_IN:
        _alarm(event, f"Carry in: {name}", timedelta(0))
    else:
        _alarm(event, f"Before dark: {name}", -AHEAD_OF_DARK)


def _alarm(event: Event, text: str, trigger: timedelta, from_end: bool = False) -> None:
    alarm = Alarm()
    alarm.update(_shown(trigger, from_end))
    alarm["DESCRIPTION"] = vText(text)
    event.add_component(alarm)


@lru_cache(maxsize=8)
def _shown(trigger: timedelta, from_end: bool) -> dict[str, Any]:
    """What alarms of one kind have in common."""
    alarm = Alarm()
    alarm.add("action", "DISPLAY")
    alarm.add("trigger", trigger, parameters={"RELATED": "END"} if from_end else {})
    return dict(alarm)
