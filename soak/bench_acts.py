"""What a walk does at the bench: trays, days, mixes, places, paths, plants that came."""

from __future__ import annotations

from typing import TYPE_CHECKING

from aestiva.bench.models import BenchDay
from aestiva.season.models import Planting, Spot, Tray

if TYPE_CHECKING:
    from soak.walk import Walk

TRAY_ACTS = (
    "marku", "marks", "markw", "markx", "markd", "lift", "pot", "again", "turn", "clear", "merge", "regroup", "lid", "nolid", "delete",
)  # fmt: skip


def tray(walk: Walk) -> None:
    """Something that hands do with the cells of a tray."""
    one = walk.pick(Tray.objects.filter(garden=walk.garden))
    if one is None:
        walk.post("bench/tray/new/", code=f"T{walk.random.randrange(50, 99)}", cells="24")
        return
    what = walk.pick(
        (
            "marku",
            "marks",
            "markw",
            "markx",
            "markd",
            "lift",
            "pot",
            "again",
            "turn",
            "clear",
            "merge",
            "regroup",
            "lid",
            "nolid",
            "delete",
        )
    )
    first = walk.random.randrange(1, 5)
    more = {"cells": f"A{first}–A{first + walk.random.randrange(3)}", "target": walk.pick(("new", f"t{one.pk}"))}
    others = Tray.objects.filter(garden=walk.garden).exclude(pk=one.pk)
    if others and walk.random.random() < 0.5:
        more["target"] = f"t{walk.pick(others).pk}"
    walk.post(f"bench/tray/{one.pk}/act/", what=what, revision=one.revision, per_cell="1", sure="yes", **more)


def put(walk: Walk) -> None:
    one, to = (
        walk.pick(Tray.objects.filter(garden=walk.garden)),
        walk.pick(Spot.objects.filter(garden=walk.garden, kind__in=("shelf", "frame", "porch"))),
    )
    if one is not None and to is not None:
        walk.post(
            "bench/put/", tray=one.pk, spot=to.pk, revision=one.revision, x=str(walk.random.randrange(200)), sure="yes"
        )


def sheet(walk: Walk) -> None:
    """A day at the bench: begun, gone on with, or dropped."""
    day = walk.pick(BenchDay.objects.filter(garden=walk.garden))
    if day is None or walk.random.random() < 0.15:
        walk.post("bench/days/", kind=walk.pick(("sow", "sow", "pot")), on=walk.today.isoformat())
        return
    line = walk.pick(day.lines.all())
    if line is None or walk.random.random() < 0.1:
        walk.post(f"bench/day/{day.pk}/stage/", what="leave")
        return
    to = walk.pick(Spot.objects.filter(garden=walk.garden, kind="shelf"))
    stage = walk.pick(("label", "fill", "seed", "cover", "pot", "place", "wash", "scald", "compost"))
    what = "evening" if stage in ("wash", "scald", "compost") else walk.pick(("done", "done", "done", "drop"))
    walk.post(f"bench/day/{day.pk}/stage/", what=what, line=line.pk, stage=stage, spot=to.pk if to else "")


def mix(walk: Walk) -> None:
    walk.post(
        "bench/mixes/new/", name=f"Mix {walk.random.randrange(9)}", use="seed", parts="2 coir, 1 sand", water_ml="100"
    )


def shelf(walk: Walk) -> None:
    one = walk.pick(Spot.objects.filter(garden=walk.garden, kind="shelf"))
    if one is not None:
        walk.post(
            f"spots/{one.pk}/edit/",
            code=one.code,
            kind="shelf",
            length_cm=str(walk.random.randrange(60, 200)),
            width_cm="56",
            revision=one.revision,
        )


def came(walk: Walk) -> None:
    walk.post(
        "bench/received/",
        crop=walk.pick(("kale", "cabbage")),
        count=str(walk.random.randrange(1, 9)),
        stood="glass",
        came="given",
    )


def path(walk: Walk) -> None:
    one = walk.pick(Planting.objects.filter(season__garden=walk.garden, cancelled_on=None))
    if one is not None:
        way = walk.pick(("flat_50", "flat_72", "usual", "flat_128|pot_9_round", "flat_50|pot_9_round"))
        walk.post(f"bench/path/{one.pk}/", path=way, revision=one.revision)


def mend(walk: Walk) -> None:
    """A repair of the first lack of room, if there is one."""
    from aestiva.bench.ahead import look_ahead
    from aestiva.bench.repairs import Mending
    from aestiva.bench.things import load_bench
    from aestiva.course.state import load
    from aestiva.gardens import clock

    now = load(walk.garden, clock.today(walk.garden))
    ahead = look_ahead(now, load_bench(now))
    offers = Mending(ahead, ahead.overflows[0]).offers if ahead.overflows else []
    if offers:
        walk.post("bench/room/repairs/", take=walk.pick(offers).key)
    walk.post("bench/room/repairs/", take="later-1-7")


def comes_up(walk: Walk) -> None:
    one = walk.pick(Planting.objects.filter(season__garden=walk.garden, cancelled_on=None))
    to = walk.pick(Spot.objects.filter(garden=walk.garden, kind__in=("shelf", "frame", "porch")))
    if one is not None and to is not None:
        do = walk.pick(({"do": "read", "reading": "14"}, {"sure": "yes"}, {}))
        walk.post(f"bench/comes-up/{one.pk}/", spot=walk.pick((to.pk, "")) or "", planting_revision=one.revision, **do)


def hands(walk: Walk) -> None:
    member, today = walk.garden.members.first(), walk.garden.simulated_on
    if member is None or today is None:
        return
    walk.post(
        "hands/minutes/keep/",
        member=member.pk,
        **{f"days-{k}-minutes": str(walk.random.randrange(90)) for k in range(1, 8)},
    )
    walk.post(
        "hands/turn/keep/",
        on=today.isoformat(),
        where=walk.pick(("bench", "door", "garden")),
        give=walk.pick(("", "1")),
    )
