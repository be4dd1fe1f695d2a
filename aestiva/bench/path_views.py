"""The container path of a planting, chosen beside its rivals."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date, timedelta
from typing import Any, NamedTuple

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from aestiva.bench.silhouettes import HATCH
from aestiva.bench.supplies import begins_of, standing_in, way_of
from aestiva.course.state import Item, SeasonState, load
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.season.models import Planting
from aestiva.season.things import own_vessels, vessels_of
from growing.bench.paths import MOST_RIVALS, Rival, rival, rivals
from growing.chain.path import Vessel

COMMON = ("flat_50", "flat_72", "flat_128", "pot_9_round", "pot_10_round", "pot_13_round")


def _fits(vessel: Vessel, sown_in: str) -> bool:
    """Is it what this planting is sown in: a box, blocks, or cells of a tray?"""
    if sown_in == "box":
        return vessel.together
    if sown_in == "blocks":
        return vessel.key.startswith("block")
    return vessel.measures.cells > 1 and not vessel.key.startswith(("block", "row_flat"))


class PathContext(NamedTuple):
    """What a path is reckoned on: the days it goes through, how many cells and plants, moves that have happened."""

    sow: date
    up: date
    out: date
    cells: int
    plants: int
    moved: tuple[date, ...]


def _ground(item: Item) -> PathContext:
    raised, dates = item.raised, item.raised.dates
    plants = raised.plants or raised.wanted
    return PathContext(
        *begins_of(item),
        dates.out_on,
        raised.cells or max(plants, raised.wanted),
        plants,
        tuple(raised.facts.days.get("potted", ())),
    )


def path_now(now: SeasonState, item: Item, own: Sequence[Vessel], stands_in: Mapping[int, Vessel]) -> Rival | None:
    """The path that a planting has; None where it is not raised in containers, or its raising time is not known."""
    dates, g = item.raised.dates, _ground(item)
    if dates.method != "raised" or item.crop.maybe("raise_max") is None or g.out <= g.sow:
        return None
    return rival(item.crop, way_of(now, item, own, stands_in), *g)


def offers(
    now: SeasonState, item: Item, known: Sequence[Vessel], stands_in: Mapping[int, Vessel]
) -> tuple[Rival, list[Rival]]:
    """The path it has, and those that the garden's own containers could give it; the common ones where it has none of its own."""
    vessels, g = vessels_of(now.garden), _ground(item)
    firsts = [v for v in known if _fits(v, item.planting.sown_in)]
    pots = [v for v in known if v.measures.cells == 1 and not v.together]
    if not firsts:
        firsts = [v for k, v in vessels.items() if k in COMMON and _fits(v, item.planting.sown_in)]
    if not firsts:
        firsts = [v for v in vessels.values() if _fits(v, item.planting.sown_in)][:3]
    if item.planting.sown_in == "box":  # pricked out into cells, or straight into pots
        pots += [v for v in known if _fits(v, "cells")]
    if not pots:
        pots = [vessels[k] for k in COMMON if k.startswith("pot")]
    has = rival(item.crop, way_of(now, item, known, stands_in), *g)
    found = [r for r in rivals(item.crop, firsts, pots, *g) if r.keys != has.keys]
    return has, found[:MOST_RIVALS]


@garden_view(no_frost="bench", back="paths")
def paths(request: Any, planting_id: int) -> HttpResponse:
    garden, post = request.garden, request.POST
    planting = get_object_or_404(Planting.objects.select_related("season"), pk=planting_id, season__garden=garden)
    now = load(garden, clock.today(garden), plantings=[planting.pk])
    item = next(iter(now.items), None)
    context: dict[str, Any] = {"view": "bench", "planting": planting, "item": item}
    if item is None or item.raised.dates.method != "raised" or item.crop.maybe("raise_max") is None:
        return render(request, "bench/paths.html", context, status=422 if request.method == "POST" else 200)
    has, found = offers(now, item, own_vessels(garden), standing_in(garden))
    if request.method == "POST":
        wanted = post.get("path", "")
        keys = [] if wanted == "usual" else wanted.split("|")
        if keys and tuple(keys) not in {r.keys for r in [has, *found]}:
            raise Refused("path", "this path is not offered any more: look again")
        with journal.change(
            garden, request.user, f"Chose the containers of {planting}"[:250], post.get("key", "")
        ) as write:
            planting.path = keys
            write.save(planting, post.get("revision"))
        messages.success(
            request, "Its days, tasks, mix and labels follow this path." if keys else "It follows the usual path again."
        )
        return redirect("paths", garden.pk, planting.pk)
    longest = max((r.standings[-1].until for r in [has, *found]), default=item.raised.dates.out_on)
    begins = has.standings[0].since
    context |= {
        "has": has,
        "rivals": found,
        "bars": {r.keys: bars(r, begins, max(longest, begins + timedelta(days=1))) for r in [has, *found]},
        "chosen": bool(planting.path),
    }
    return render(request, "bench/paths.html", context)


def bars(one: Rival, since: Any, until: Any) -> str:
    """A path as a line of containers: as long as it stands in each, as deep as it is, dotted to where it would carry."""
    wide, span = 420.0, max(1, (until - since).days)
    out = []
    for s in one.standings:
        assert s.vessel is not None
        x, x1 = ((d - since).days / span * (wide - 60) for d in (s.since, s.until))
        carries = min((s.carries_until - since).days / span * (wide - 60), wide - 8)
        deep = min(26.0, 6.0 + s.vessel.measures.depth_cm * 1.4)
        fill = "url(#over)" if s.short_days else "#dcc093"
        out.append(
            f'<rect x="{x:.1f}" y="8" width="{max(2.0, x1 - x):.1f}" height="{deep:.1f}" fill="{fill}" stroke="#6a4c36"/>'
            f'<path d="M{x1:.1f} {8 + deep / 2:.1f}H{max(x1, carries):.1f}" stroke="#22302a" stroke-dasharray="4 3"/>'
            f'<path d="M{max(x1, carries):.1f} {4 + deep / 2:.1f}v8" stroke="#22302a"/>'
        )
    return (
        f'<svg class="pathbar" viewBox="0 0 {wide:.0f} 40" width="{wide:.0f}" height="40" aria-hidden="true"><defs>{HATCH}</defs>'
        f'<path d="M0 8H{wide:.0f}" stroke="#6a4c36" stroke-width="2"/>{"".join(out)}</svg>'
    )
