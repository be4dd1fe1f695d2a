"""What a walk does at the door and at the gates: out, in, early, looks, frames; ladders, hours at home; planting, beds, covers, losses."""

from __future__ import annotations

from typing import TYPE_CHECKING

from aestiva.course.state import load
from aestiva.gardens import clock
from aestiva.gardens.models import Member
from aestiva.plantingout.models import CoverAtHand
from aestiva.season.models import Batch, OwnLadder, Spot

if TYPE_CHECKING:
    from soak.walk import Walk

DOOR = ("out", "out", "in", "in", "early", "look", "done")
HOME = ("hours", "shelter", "ladder", "unladder", "climbs", "all")
GATES = ("planted", "bed", "cover", "uncover", "covered", "lost")


def door(walk: Walk) -> None:
    """One of all that can be done there; some of it nonsense, which is refused."""
    what = walk.pick((*DOOR, *HOME, *GATES))
    if what in DOOR:
        at_the_door(walk, what)
    elif what in HOME:
        at_home(walk, what)
    else:
        at_the_gates(walk, what)


def _keys(walk: Walk, *kinds: str) -> list[str]:
    now = load(walk.garden, clock.today(walk.garden))
    found = [t.task.key for t in now.todos(now.today) if t.task.kind in kinds]
    return [*found, "b999999.harden.1"][: walk.pick((1, 3, 40))]


def at_the_door(walk: Walk, what: str) -> None:
    if what == "out":
        walk.post("door/out/keep/", task=",".join(_keys(walk, "harden")))
    elif what in ("in", "early"):
        reason = "" if what == "in" else walk.pick(("wilting", "cold", "wind", "rain", "boredom"))
        walk.post(
            "door/in/keep/",
            task=",".join(_keys(walk, "bring_in")),
            reason=reason,
            hours=walk.pick(("", "1.5", "30", "soon")),
        )
    elif what == "look":
        pks = Batch.objects.filter(planting__season__garden=walk.garden).values_list("pk", flat=True)
        looked = walk.pick(("looked_fine", "looked_limp", "looked_bleached", "purple"))
        walk.post("door/looked/keep/", look=looked, batch=",".join(str(pk) for pk in pks))
    else:
        walk.post("door/done/keep/", task=",".join(_keys(walk, "stay_in", "carry_in", "vent", "shut")))


def at_home(walk: Walk, what: str) -> None:
    batch = walk.pick(Batch.objects.filter(planting__season__garden=walk.garden))
    row = walk.pick(OwnLadder.objects.filter(garden=walk.garden))
    if what == "hours":
        member = walk.pick(Member.objects.filter(garden=walk.garden))
        begins, ends = walk.pick((("7:00", "21:00"), ("9:00", "8:00"), ("6:30", "8:30"), ("x", "")))
        if member is not None:
            days = {f"days-{n}-begin": begins for n in range(1, 7)} | {f"days-{n}-end": ends for n in range(1, 7)}
            walk.post("hardening/people/hours/keep/", member=member.pk, **days)
    elif what == "shelter":
        walk.post("hardening/people/shelter/keep/", shelter=walk.pick(("", "none", "hedge", "corner", "igloo")))
    elif what == "ladder":
        first, second = walk.pick((("2", "6"), ("6", "2"), ("x", "3"), ("3", "")))
        known = {} if row is None else {"row": row.pk, "revision": row.revision}
        walk.post(
            "hardening/people/ladder/keep/",
            name=walk.pick(("Quick", "")),
            spare_days="2",
            **{
                "rungs-1-hours": first,
                "rungs-1-sun": "0",
                "rungs-2-hours": second,
                "rungs-2-sun": "0.5",
                "rungs-3-night": "1",
            },
            **known,
        )
    elif what == "unladder" and row is not None:
        walk.post(f"hardening/people/ladder/{row.pk}/remove/")
    elif what == "climbs" and batch is not None:
        key = walk.pick(("", "five", "nursery", "own1", "rope"))
        walk.post(f"hardening/batch/{batch.pk}/climbs/keep/", ladder=key, revision=batch.revision)
    elif what == "all":
        walk.post("hardening/people/garden/keep/", ladder=walk.pick(("seven", "ten", "own1", "rope")))


def at_the_gates(walk: Walk, what: str) -> None:
    batch = walk.pick(Batch.objects.filter(planting__season__garden=walk.garden))
    if what == "planted" and batch is not None:
        more = {
            "count": walk.pick(("", "1", "3", "999", "x")),
            "note": walk.pick(("", "it is sheltered")),
            "dipped": walk.pick(("", "1")),
        }
        walk.post(f"plantingout/{batch.pk}/planted/keep/", revision=batch.revision, litres="0.5", **more)
    elif what == "bed":
        spot = walk.pick(Spot.objects.filter(garden=walk.garden))
        walk.post(
            "plantingout/bed/keep/",
            spot="" if spot is None else spot.pk,
            state=walk.pick(("ready", "wet", "busy", "lovely")),
        )
    elif what == "cover":
        kind = walk.pick(("fleece17", "double", "cloche", "tarpaulin"))
        walk.post(
            "tonight/covers/keep/", kind=kind, length=walk.pick(("12", "far")), width="2", pieces=walk.pick(("6", ""))
        )
    elif what == "uncover":
        row = walk.pick(CoverAtHand.objects.filter(garden=walk.garden))
        if row is not None:
            walk.post(f"tonight/covers/{row.pk}/remove/")
    elif what == "covered":
        walk.post("tonight/covered/keep/", task=_keys(walk, "cover", "uncover", "carry_in"))
    elif batch is not None:
        spare = walk.pick(Batch.objects.filter(planting__season__garden=walk.garden))
        walk.post(
            f"tonight/lost/{batch.pk}/keep/", count=walk.pick(("", "1", "99")), fill=walk.pick(("", "1")),
            spare="" if spare is None else spare.pk, revision=batch.revision,
        )  # fmt: skip
