"""What is done to a shelf's lamps: set otherwise, wiped, given new tubes; its trays turned."""

from __future__ import annotations

from datetime import date
from typing import Any

from aestiva.gardens.journal import ChangeSet
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import Finished
from aestiva.season.lamps import Rig, changes, rigs_of, set_lamp, tariff_of
from aestiva.season.models import Lamp, Spot, Tray, TrayStand
from growing.light.advice import LampChange
from growing.light.hours import cheapest
from growing.steps import TaskRef

HALF_TURN = 2


def rig_at(garden: Garden, pk: int) -> Rig:
    """The lamps over a place; Refused where there are none."""
    spot = Spot.objects.filter(garden=garden, pk=pk).first()
    rig = None if spot is None else rigs_of(garden, [spot]).get(pk)
    if rig is None:
        raise Refused("spot", "no lamp is said to hang there: say so under Places first")
    return rig


def _rig(done: Finished) -> Rig:
    ref = TaskRef.of(done.task.key)
    assert ref is not None and ref.subject == "place"
    return rig_at(done.write.garden, ref.pk)


def _set(done: Finished) -> None:
    """As the light asks for it: heights, per cent, hours."""
    rig, option = _rig(done), done.task.detail
    if isinstance(option, LampChange):
        set_lamp(done.write, rig, done.on, **changes(rig.setting(done.on), option.setting))


def _timer(done: Finished) -> None:
    rig, detail = _rig(done), done.task.detail
    if isinstance(detail, LampChange):
        _set(done)
    elif isinstance(detail, int | float):
        timer = cheapest(float(detail), 1.0, tariff_of(done.write.garden), rig.setting(done.on).timer)
        set_lamp(done.write, rig, done.on, on_h=timer.on_h, hours=timer.hours)


def _boxes(done: Finished) -> None:
    """Boxes under the short ones, and the lamp as it then hangs best."""
    option = done.task.detail
    if isinstance(option, LampChange):
        set_boxes(done.write, {s.tray: cm for s, cm in option.boxes if s.tray is not None})
        _set(done)


def set_boxes(write: ChangeSet, boxes: dict[int, float]) -> None:
    """So many centimetres under these trays, as they stand there now, more than there are already."""
    for stand in TrayStand.objects.filter(tray__in=boxes, until=None):
        stand.box_cm = round((stand.box_cm or 0.0) + boxes[stand.tray_id], 1) or None
        write.save(stand)


def _turn(done: Finished) -> None:
    turn_trays(done.write, _rig(done), done.on)


def turn_trays(write: ChangeSet, rig: Rig, on: date) -> int:
    """Every tray that stands there, and on its mats, end for end; how many."""
    spots = [rig.spot.pk, *Spot.objects.filter(parent=rig.spot, kind="mat").values_list("pk", flat=True)]
    trays = list(Tray.objects.filter(stands__until=None, stands__spot__in=spots).distinct())
    for tray in trays:
        tray = write.fresh(tray)
        tray.turns, tray.turned_on = (tray.turns + HALF_TURN) % 4, on
        write.save(tray)
    return len(trays)


def _clean(done: Finished) -> None:
    lamp = _lamp(done)
    lamp.wiped_on = done.on
    done.write.save(lamp)


def _tubes(done: Finished) -> None:
    new_tubes(done.write, _lamp(done), done.on)


def new_tubes(write: ChangeSet, lamp: Lamp, on: date) -> Lamp:
    """The old ones are taken down, the same anew hang from that day on."""
    values: dict[str, Any] = {
        f.attname: getattr(lamp, f.attname) for f in Lamp._meta.concrete_fields if f.attname not in ("id", "revision")
    }
    lamp.until = on
    write.save(lamp)
    return write.save(Lamp(**(values | {"new_on": on, "wiped_on": on, "until": None})))


def _lamp(done: Finished) -> Lamp:
    """The lamp that its key names last."""
    found = Lamp.objects.filter(spot__garden=done.write.garden, pk=int(done.task.key.rsplit("-", 1)[-1])).first()
    if found is None:
        raise Refused("lamp", "that lamp does not hang there any more")
    return found


COMPLETE = {
    "hang": _set,
    "dim": _set,
    "timer": _timer,
    "boxes": _boxes,
    "turn": _turn,
    "clean": _clean,
    "tubes": _tubes,
}
