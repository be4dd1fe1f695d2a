"""All tasks as iCalendar: stable UIDs from the task keys, updated in place, an alarm where plants must come in."""

from __future__ import annotations

from datetime import UTC, datetime, time, timedelta
from typing import Any

from icalendar import Alarm, Calendar, Event, vDatetime, vInt

from aestiva.course.state import SeasonState, Todo
from aestiva.frame import wording
from aestiva.gardens import clock
from aestiva.gardens.models import Garden

CARRY_IN_AT = time(16, 30)


def calendar(now: SeasonState, link: str = "") -> bytes:
    """The garden's open tasks, all-day except for what must be carried in or covered before dark."""
    garden = now.garden
    cal = Calendar()
    cal.add("prodid", "-//Aestiva//raising plants//EN")
    cal.add("version", "2.0")
    cal.add("method", "PUBLISH")
    cal.add("x-wr-calname", f"{garden.name}: sowing and planting")
    cal.add("x-wr-timezone", garden.timezone)
    cal.add("refresh-interval", timedelta(hours=6), parameters={"VALUE": "DURATION"})
    stamp = vDatetime(clock.instant().astimezone(UTC))
    shared = {"dtstamp": stamp, "last-modified": stamp, "sequence": vInt(garden.revision)}
    for todo in sorted(now.todos(now.horizon), key=lambda t: (t.due, t.task.key)):
        cal.add_component(_event(garden, todo, shared, link))
    return bytes(cal.to_ical())


def _event(garden: Garden, todo: Todo, shared: dict[str, Any], link: str) -> Event:
    task, item = todo.task, todo.item
    event = Event()
    event.add("uid", f"{task.key}@garden-{garden.pk}.aestiva")
    event.update(shared)
    name = f"{item.name} {item.variety}".strip()
    event.add("summary", f"{name}: {task.count if task.count is not None else ''} {todo.name}".replace("  ", " "))
    place = f"\n{item.spot_code}" if item.spot_code else ""
    text = f"{wording.reason(task.why, garden.units)}\n{wording.STEPS[task.kind].instruction}{place}"
    event.add("description", text + (f"\n{link}" if link else ""))
    if task.spec.alarm:
        begin = datetime.combine(todo.due, CARRY_IN_AT)
        event.add("dtstart", begin)
        event.add("dtend", begin + timedelta(minutes=max(5, task.minutes)))
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", f"Before dark: {name}")
        alarm.add("trigger", timedelta(minutes=-30))
        event.add_component(alarm)
    else:
        event.add("dtstart", todo.due)
        event.add("dtend", todo.due + timedelta(days=1))
        event.add("transp", "TRANSPARENT")
    if item.spot_code:
        event.add("location", item.spot_code)
    event.add("categories", [task.where])
    return event
