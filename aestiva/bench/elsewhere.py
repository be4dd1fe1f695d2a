"""Where else may it stand?  Places with room on a day that a batch bears, and what it loses there."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np

from aestiva.bench.ahead import BenchAhead
from aestiva.bench.stays import homes, zone_of
from aestiva.course.state import Item, SeasonState
from aestiva.season.models import Spot
from growing.bench.ahead import Overflow
from growing.chain.roomwarmth import factor
from growing.place.kinds import SHELTERED

LAMPS_FIRST_DAYS = 14  # after it is up it is sturdy enough for a sill or a frame
SUN_H = 6.0
HARDY = ("hardy", "half-hardy")
OUTSIDE_MARGIN_C = 2.0  # a frame or porch over the night outdoors: estimate
WHY = {
    "frame": "it bears cool nights; a cover at hand, open in sun.",
    "sill": "sturdy enough, with sun enough.",
    "lamp": "there is room, and light.",
}


def kind_of(spot: Spot) -> str:
    """“sill”, “frame” for all that is cold, or “lamp”."""
    zone = zone_of(spot)
    return "sill" if zone == "sill" else "frame" if zone in SHELTERED else "lamp"


def places_for(ahead: BenchAhead, over: Overflow, item: Item, since: date, waits: bool) -> list[Spot]:
    """One place a kind, with the most room until the lack is over, where it may stand.  waits: it is to go out on a day that is named."""
    up = item.raised.course.steps.get("up")
    sturdy = up is not None and (since - up.day).days >= LAMPS_FIRST_DAYS
    hardy = item.crop.hardiness in HARDY and sturdy and bears(ahead.now, item, since)
    found: dict[str, Spot] = {}
    until = over.until + timedelta(days=1)
    for place in sorted(ahead.places, key=lambda p: -ahead.free(p, since, until)):
        spot = ahead.bench.places[place.key].spot
        zone = zone_of(spot)
        if not zone or zone in ("mat", over.zone.key) or zone in found:
            continue
        if zone in SHELTERED and not hardy:
            continue
        if zone == "sill" and not (sturdy and (spot.sun_h or 0.0) >= SUN_H):
            continue
        if zone in ("lamp", "shelf") and waits:
            continue
        found[zone] = spot
    return list(found.values())


def bears(now: SeasonState, item: Item, since: date) -> bool:
    """Does the usual coldest night from that day on spare it, a little warmer than outdoors?"""
    normals = now.place.normals
    if normals is None:
        return item.crop.hardiness == "hardy"
    k = (since - now.place.span_start).days
    nights = np.asarray(normals.night_c)[max(0, k) : k + 14]
    if not len(nights) or np.isnan(nights).all():
        return item.crop.hardiness == "hardy"
    return float(np.nanmin(nights)) + OUTSIDE_MARGIN_C > item.crop.number("damage_c") + 3.0


def days_slower(ahead: BenchAhead, item: Item, spot: Spot, since: date) -> float:
    """Days that it falls behind there, by how much warmer it stands now; none once it hardens."""
    shared = ahead.now.shared
    harden = item.raised.course.day("harden")
    if shared is None or (harden is not None and since >= harden):
        return 0.0
    there = shared.dating.room_at(spot.pk)
    home = homes(item, ahead.ground)[1][1] or item.planting.raised_at_id
    here = None if not home else shared.dating.room_at(home)
    if there is None:
        return 0.0
    until = harden or item.raised.dates.out_on
    days = max(0, (until - since).days)
    slow = factor(item.crop, there.months_c[since.month - 1])
    usual = 1.0 if here is None else factor(item.crop, here.months_c[since.month - 1])
    return round(max(0.0, days * (1 - usual / slow)), 1)
