"""Frames and tunnels with something in them: opened on sunny days, shut before dusk."""

from __future__ import annotations

from collections import defaultdict

from aestiva.course.placework import PlaceWork
from aestiva.course.state import SeasonState
from growing.batch.facts import BatchFacts
from growing.hardening.frames import SHUT, VENT, opens, shuts
from growing.hardening.steps import HARDEN
from growing.place.kinds import GLAZED
from growing.place.nights import at_plant
from growing.steps import Task, place_ref

STAMP = "%Y%m%d"


def places(now: SeasonState) -> list[PlaceWork]:
    """What is to be opened today, and shut once it was opened."""
    inside: dict[int, int] = defaultdict(int)
    stays: dict[int, int] = defaultdict(int)  # of those, the plants that are not carried out of it today
    kinds = {pk: kind for pk, (_, kind) in now.rows.spots.items() if kind in GLAZED}
    if not kinds or now.shared is None:
        return []
    night = now.night
    sunny = {kind: opens(night, kind) is not None for kind in GLAZED}
    for item in now.items:
        if item.batch is None:
            continue
        here, one = now.rows.here(item.batch.pk), item.raised
        if here is not None and here.spot in kinds:
            outdoors = one.accounts.outdoors if one.accounts is not None else 0
            plants = (one.plants or 0) if one.growing else (outdoors or 0)
            inside[here.spot] += plants
            if sunny[kinds[here.spot]] and not _goes_out(now, one):
                stays[here.spot] += plants
    found = []
    for pk, plants in sorted(inside.items()):
        spot = now.shared.dating.spot_at(pk)
        if not plants or spot is None:
            continue
        task = _task(now, place_ref(spot.pk), kinds[pk], spot.code, plants, stays[pk])
        if task is not None:
            found.append(PlaceWork(spot, plants, (task,)))
    return found


def _goes_out(now: SeasonState, one: BatchFacts) -> bool:
    """Is it carried out today, or out now?  Once it is in again, what is asked of the frame is asked for it too."""
    if one.facts.out is not None:
        return True
    tasks = [t for t in HARDEN.due(one, now.today, now.today) if t.kind == HARDEN.kind]
    return any(
        (mark := now.rows.marks.get(t.key)) is None or (mark.skipped_on is None and mark.done_on is None) for t in tasks
    )


def _task(now: SeasonState, ref: str, kind: str, code: str, plants: int, stay: int) -> Task | None:
    night = now.night
    stamp = f"{now.today:{STAMP}}"
    opened = now.rows.marks.get(VENT.key_of(ref, stamp))
    if opened is not None and opened.done_on is not None:
        plant_c = None if night is None else at_plant(night, now.today, now.shift_c, kind).celsius
        return Task(
            SHUT.key_of(ref, stamp), SHUT, now.today, plants, "plants", shuts(night, kind, plant_c), 1, detail=code
        )
    why = opens(night, kind) if stay else None
    return None if why is None else Task(VENT.key_of(ref, stamp), VENT, now.today, stay, "plants", why, 1, detail=code)
