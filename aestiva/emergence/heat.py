"""Is the warmth right, place by place?  What it should be set to, until when, whom it does not suit, what is wrong."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from datetime import date
from typing import NamedTuple

from aestiva.course.state import SeasonState
from aestiva.emergence.coming import SowingComing
from aestiva.frame import say, wording
from aestiva.frame.say import Reader
from aestiva.season.models import Spot
from growing.emergence.alarms import Alarm, HeatSite, MixSetting, SownThere, alarms, setting
from growing.seeds.clock import HOURS

OVER_C = 1.0  # of what suits, that a setting may be off before it is said
HEATS = ("mat", "thermostat")


class HeatedPlace(NamedTuple):
    """One place with what comes up on it."""

    spot: Spot
    site: HeatSite
    wanted: MixSetting | None
    alarms: list[Alarm]
    now_c: float
    measured: bool
    coming: list[SowingComing]

    @property
    def names(self) -> list[str]:
        """Of what comes up on it, each once."""
        return list(dict.fromkeys(c.name for c in self.coming))

    @property
    def who(self) -> str:
        return say.listed(self.names, 3)


def heats(now: SeasonState, found: Sequence[SowingComing]) -> list[HeatedPlace]:
    """Every place on which something is under the mix, the worst first."""
    by_place: dict[int, list[SowingComing]] = defaultdict(list)
    for one in found:
        if one.had.spot is not None:
            by_place[one.had.spot].append(one)
    if now.shared is None or not by_place:
        return []
    usual, made = _usual(now), []
    for pk, here in by_place.items():
        spot = now.shared.dating.spot_at(pk)
        if spot is None:
            continue
        site = _site(now, spot, here)
        latest = max((c for c in here), key=lambda c: c.had.start)
        wrong = alarms(site, now.nights, usual)
        measured = any(c.had.source[-HOURS:].any() for c in here)
        made.append(HeatedPlace(spot, site, setting(site), wrong, latest.had.last_c, measured, here))
    return sorted(made, key=lambda h: (min((a.pressing for a in h.alarms), default=99), h.spot.order, h.spot.code))


def _site(now: SeasonState, spot: Spot, here: list[SowingComing]) -> HeatSite:
    assert now.shared is not None
    room = now.shared.dating.room_at(spot.pk)
    read = now.shared.warmth.read_on(spot.pk)
    return HeatSite(
        spot.code,
        spot.kind,
        "" if room is None else room.heated,
        spot.lit,
        spot.set_c,
        None if room is None else room.germinates_c(now.today),
        None if room is None else room.air_c(now.today),
        spot.sun_h,
        None if read is None else (now.today - read).days,
        tuple(_sown(now, one) for one in _alike(here)),
    )


def _alike(here: list[SowingComing]) -> list[SowingComing]:
    """One of each that had the same warmth, is as far, and lies under a lid or does not."""
    return list({(c.name, id(c.had), c.up > 0, c.item.raised.facts.first("lid")): c for c in here}.values())


def _sown(now: SeasonState, one: SowingComing) -> SownThere:
    last, measured = one.had.hourly_c[-HOURS:], bool(one.had.source[-HOURS:].any())
    here = now.rows.here(one.batch)
    lid = "" if here is None else here.lid
    off = one.item.raised.facts.first("lid") is not None or lid == "none"
    return SownThere(
        one.name, one.item.crop, one.day, one.up > 0, last, measured, False if off else True if lid else None
    )


def _usual(now: SeasonState) -> float | None:
    """The mean of a day at this time of the year [°C]; None where nobody knows it."""
    normals = now.place.normals
    if normals is None:
        return None
    k = (now.today - now.place.span_start).days
    return float(normals.day_c[k]) if 0 <= k < len(normals.day_c) and normals.day_c[k] == normals.day_c[k] else None


def advice(heat: HeatedPlace, today: date, reader: Reader) -> str:
    """“Set it to 24°; off when half of Tomato are up, about Wed 15 April.”"""
    wanted, site = heat.wanted, heat.site
    if wanted is None:
        return ""
    suits = say.between(wanted.low_c, wanted.high_c, "°C", reader)
    if site.heated not in HEATS or heat.spot.kind != "mat":
        fine = wanted.low_c - OVER_C <= heat.now_c <= wanted.high_c + OVER_C
        return f"{suits} suits{': it has that' if fine else f': {_named(heat)} would come better elsewhere'}"
    return f"{_set(heat, wanted, suits, reader)}; {_off(heat, wanted, today)}"


def _set(heat: HeatedPlace, wanted: MixSetting, suits: str, reader: Reader) -> str:
    site, best = heat.site, say.degrees(wanted.set_c, reader, 0)
    if site.heated == "thermostat":
        if site.set_c is None:
            return f"set it to {best}"
        fine = wanted.low_c - OVER_C <= site.set_c <= wanted.high_c + OVER_C
        return (
            f"{say.degrees(site.set_c, reader, 0)} is set, which suits" if fine else f"set it to {best}: {suits} suits"
        )
    if heat.now_c > wanted.high_c + OVER_C:
        return f"it runs warmer than {suits}: a thermostat, or a rack of 2 cm under the tray"
    return f"{suits} suits, it runs as it likes: read it"


def _off(heat: HeatedPlace, wanted: MixSetting, today: date) -> str:
    if wanted.room_does:
        return "the room alone is warm enough: it may be off"
    first = min(heat.coming, key=lambda c: c.item.raised.course.day("up") or today)
    day = first.item.raised.course.day("mat") or first.item.raised.course.day("lid")
    when = "" if day is None or day <= today else f", about {say.day(day)}"
    return f"off when {_WAYS[_way(first)]} of {first.name} are up{when}"


def _way(one: SowingComing) -> str:
    own = one.item.crop.word("mat_way")
    return one.item.crop.word("lid_way") if own == "lid" else own


_WAYS = {"first": "the first", "third": "three in ten", "half": "half", "most": "three in four", "all": "all"}


def _named(heat: HeatedPlace) -> str:
    return say.listed(heat.names, 2)


def said(alarm: Alarm, reader: Reader) -> str:
    """“Tomato: the mix has 9°, under the 11° at which it moves”."""
    return f"{alarm.name}: {wording.headline(alarm.working, reader)}"
