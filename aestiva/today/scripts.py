"""An address for scripts: what a page's form can do, as JSON under a key; and the season as it stands.

The form is the only definition: `openapi` says of every command what its fields say of themselves.
"""

from __future__ import annotations

import json
from datetime import timedelta
from typing import Any

from django.forms import Field
from django.utils.datastructures import MultiValueDict

from aestiva.course.items import Item
from aestiva.course.state import SeasonState, Todo
from aestiva.frame import wording
from aestiva.frame.fields import Lines, Objects, schema_of
from aestiva.frame.version import code_version
from aestiva.gardens.commands import Command, commands
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.place.keys import OPENS
from aestiva.season.models import BatchStand, CellRun, TrayStand, WarmReading

MOST_BYTES, MOST_PARTS, MOST_VALUES = 64 * 1024, 2_000, 8_000
AHEAD_DAYS = 14  # of tasks, and back of readings
KEY = {"type": "string", "description": "a word of your own, used once: the same again changes nothing"}


def as_posted(command: type[Command], sent: Any) -> MultiValueDict[str, str]:
    """JSON as a page would have posted it.  Raises Refused, naming what is no field of that command."""
    if not isinstance(sent, dict):
        raise Refused("", "send an object: names of fields and what is in them")
    data: MultiValueDict[str, str] = MultiValueDict()
    for name, value in sent.items():
        field = command.base_fields.get(name)
        if field is None:
            raise Refused(
                str(name)[:40], f"there is no field “{str(name)[:40]}”: give {', '.join(command.base_fields)}"
            )
        _put(data, name, field, value)
    return data


def _put(data: MultiValueDict[str, str], name: str, field: Field, value: Any) -> None:
    if isinstance(field, Objects):
        data[name] = json.dumps(value)
        return
    if isinstance(value, list) and isinstance(field, Lines):
        for number, line in enumerate(value, 1):
            if not isinstance(line, dict):
                raise Refused(name, f"{field.called} {number}: must be an object")
            for part, one in line.items():
                data[f"{name}-{number}-{str(part)[:40]}"] = _text(name, one)
    elif isinstance(value, list):
        data.setlist(name, [_text(name, one) for one in value])
    elif value is not None:
        data[name] = _text(name, value)


def _text(name: str, value: Any) -> str:
    if isinstance(value, list | dict):
        raise Refused(name, "give one value")
    return str(value).lower() if isinstance(value, bool) else "" if value is None else str(value)


def openapi(garden: Garden, root: str) -> dict[str, Any]:
    """Every command that a key may run, as OpenAPI 3.1 has it."""
    open_to = {code: command for code, command in commands().items() if command.scope in OPENS["everything"]}
    paths: dict[str, Any] = {f"/do/{code}/": {"post": _operation(code, command)} for code, command in open_to.items()}
    paths["/state.json"] = {
        "get": {
            "operationId": "state",
            "summary": "The season as it stands",
            "responses": _answers("200", "401", "403", "429"),
        }
    }
    return {
        "openapi": "3.1.0",
        "info": {"title": f"Aestiva: {garden.name}", "version": code_version()},
        "servers": [{"url": f"{root}/g/{garden.pk}"}],
        "security": [{"key": []}],
        "components": {"securitySchemes": {"key": {"type": "http", "scheme": "bearer"}}},
        "paths": paths,
    }


SAID = {
    "200": "Written; or done before under the same key, which changes nothing",
    "401": "The key is not known here, or was revoked",
    "403": "The key may not do that",
    "404": "There is no such garden, or no such command",
    "409": "What it is about was changed since, or no frost date is known",
    "422": "What is wrong, by field",
    "429": "Too much in an hour",
}


def _answers(*codes: str) -> dict[str, Any]:
    return {code: {"description": SAID[code] if code != "200" or len(codes) > 4 else "The season"} for code in codes}


def _operation(code: str, command: type[Command]) -> dict[str, Any]:
    takes = schema_of(command.base_fields)
    takes["properties"]["key"] = KEY
    summary = (command.__doc__ or code).strip().splitlines()[0]
    return {
        "operationId": code.replace(".", "_"),
        "summary": summary,
        "description": f"For keys that may: {command.scope}.",
        "requestBody": {"required": True, "content": {"application/json": {"schema": takes}}},
        "responses": _answers(*SAID),
    }


# ---------------------------------------------------------------- the season as it stands


def state(now: SeasonState) -> dict[str, Any]:
    """Tasks, plantings, batches, what stands where, what was read of late: on one day, in stored units."""
    garden, until = now.garden, now.today + timedelta(days=AHEAD_DAYS)
    return {
        "garden": {"number": garden.pk, "name": garden.name, "revision": garden.revision},
        "day": now.today.isoformat(),
        "until": until.isoformat(),
        "tasks": [_task(todo) for todo in now.todos(until)],
        "plantings": [_planting(item) for item in {item.planting.pk: item for item in now.items}.values()],
        "batches": [_batch(item) for item in now.items if item.batch is not None],
        "stands": _stands(garden),
        "readings": [
            {"place": code, "day": day.isoformat(), "hour": hour, "celsius": celsius, "most_c": most}
            for code, day, hour, celsius, most in WarmReading.objects.filter(
                garden=garden, day__gte=now.today - timedelta(days=AHEAD_DAYS)
            ).values_list("spot__code", "day", "hour", "celsius", "most_c")
        ],
        "cannot_be_said": [str(trouble) for trouble in now.troubles],
    }


def _task(todo: Todo) -> dict[str, Any]:
    return {
        "task": todo.task.key,
        "kind": todo.task.kind,
        "do": wording.STEPS[todo.task.kind].verb,
        "what": todo.subject.full_name,
        "count": todo.task.count,
        "unit": todo.task.unit,
        "due": todo.due.isoformat(),
        "where": todo.task.where,
        "minutes": todo.task.minutes,
        "planting": None if todo.planting is None else todo.planting.pk,
        "batch": None if todo.batch is None else todo.batch.pk,
    }


def _planting(item: Item) -> dict[str, Any]:
    row, dates = item.planting, item.raised.dates
    return {
        "planting": row.pk,
        "crop": item.crop.key,
        "name": item.full_name,
        "method": row.method,
        "wanted": row.wanted,
        "sow_on": dates.sow_on.isoformat(),
        "plant_out_on": dates.out_on.isoformat(),
        "first_from": dates.first.start.isoformat(),
        "revision": row.revision,
    }


def _batch(item: Item) -> dict[str, Any]:
    row, accounts = item.batch, item.raised.accounts
    assert row is not None
    return {
        "batch": row.pk,
        "planting": item.planting.pk,
        "sown_on": None if row.sown_on is None else row.sown_on.isoformat(),
        "stands": item.spot_code,
        "waiting": None if accounts is None else accounts.waiting,
        "indoors": None if accounts is None else accounts.indoors,
        "outdoors": None if accounts is None else accounts.outdoors,
        "plant_out_on": item.raised.dates.out_on.isoformat(),
        "revision": row.revision,
    }


def _stands(garden: Garden) -> list[dict[str, Any]]:
    """What stands where now: trays with what is in their cells, and batches that are in none."""
    cells: dict[int, list[dict[str, int]]] = {}
    for tray, batch, first, count in CellRun.objects.filter(tray__garden=garden, until=None).values_list(
        "tray_id", "batch_id", "first", "count"
    ):
        cells.setdefault(tray, []).append({"batch": batch, "first": first, "cells": count})
    trays = TrayStand.objects.filter(tray__garden=garden, until=None).values_list("tray_id", "tray__code", "spot__code")
    pots = BatchStand.objects.filter(spot__garden=garden, until=None).values_list("batch_id", "spot__code")
    return [
        *({"tray": code, "place": spot, "holds": cells.get(pk, [])} for pk, code, spot in trays),
        *({"batch": pk, "place": spot} for pk, spot in pots),
    ]
