"""Is the warmth right?  What a place should be set to for what comes up on it, who does not agree, and what is wrong now or soon."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from growing.assumptions import real, whole
from growing.batch.outlook import FIRST_DAYS, INJURY_C, is_warm_seed
from growing.crops import Crop
from growing.place.kinds import GLAZED
from growing.place.nights import Night
from growing.seeds.thermal_time import relative_share
from growing.shelves.laying import laying
from growing.working import Value, Working

Array = NDArray[np.float64]
DORMANT_SHARE = 0.6  # of what comes at best, at the warmest of a day, under which warmth itself holds seed back
COLD_MAT_C = real("emergence.alarms.COLD_MAT_C")
SUN_SWING_C = real("emergence.alarms.SUN_SWING_C")
SUNNY_C, SUN_H, CLEAR = 10.0, 3.0, 0.5  # outdoors by day, hours of direct sun, cloud: from which a closed lid heats up
MILD_C = real("emergence.alarms.MILD_C")
MILD_DAYS = whole("emergence.alarms.MILD_DAYS")
FRESH_DAYS = 3  # a reading speaks for
KINDS = ("injury", "under", "over", "mat", "lid_sun", "mild", "apart")


class SownThere(NamedTuple):
    """One sowing on a place: its crop and name, days since it was sown, is anything up, its last 24 hours [°C] and are they measured;
    lidded: does a lid lie on it, None: nobody said."""

    name: str
    crop: Crop
    days: int
    up: bool
    last_c: Array
    measured: bool
    lidded: bool | None = None


class HeatSite(NamedTuple):
    """A place with what comes up on it.

    kind, heated, lit: as the place says.  set_c: of its thermostat, None: not said.  gives_c: what mix is taken to have there, None: as
    the crop likes it.  room_c: the air around it.  sun_h: hours of direct sun.  read_days: since somebody read it, None: never.
    """

    code: str
    kind: str
    heated: str
    lit: str
    set_c: float | None
    gives_c: float | None
    room_c: float | None
    sun_h: float | None
    read_days: int | None
    sown: tuple[SownThere, ...]


class Alarm(NamedTuple):
    """Something that is wrong, or will be: its kind, of whom (a sowing's name, or the place's), and its arithmetic."""

    kind: str
    name: str
    working: Working

    @property
    def pressing(self) -> int:
        return KINDS.index(self.kind)


class MixSetting(NamedTuple):
    """What the mix should have: low to high that suits all, and the best for most; apart: those who cannot be suited together with the
    first, by name.  off: may the heat be off by now, as the room does it alone?"""

    low_c: float
    high_c: float
    set_c: float
    apart: tuple[str, ...]
    room_does: bool


def setting(site: HeatSite) -> MixSetting | None:
    """From the crops on it of which something is still to come up; None where none is."""
    waiting = [s for s in site.sown if not s.up] or list(site.sown)
    if not waiting:
        return None
    ranges = [(laying(s.crop).low_c, laying(s.crop).high_c, s.crop.number("germinate_c"), s.name) for s in waiting]
    low, high, kept, apart = ranges[0][0], ranges[0][1], [ranges[0][2]], []
    for least, most, best, name in ranges[1:]:
        if max(low, least) <= min(high, most):
            low, high = max(low, least), min(high, most)
            kept.append(best)
        else:
            apart.append(name)
    best = min(high, max(low, float(np.median(kept))))
    does = site.room_c is not None and low <= site.room_c <= high
    return MixSetting(low, high, best, tuple(apart), does)


def alarms(site: HeatSite, nights: Sequence[Night], usual_c: float | None) -> list[Alarm]:
    """All that is wrong with the warmth of one place, the worst first.

    nights: the forecast from tonight on.  usual_c: the mean of a day at this time of the year outdoors, None: not known.
    """
    found = [alarm for one in site.sown for alarm in _of_seed(one)]
    found += [*_of_mat(site), *_of_lid(site, nights), *_of_days_ahead(site, nights, usual_c)]
    wanted = setting(site)
    if wanted is not None and wanted.apart:
        others = next(s.name for s in site.sown if s.name not in wanted.apart)
        inputs = (Value("suits", others), Value("from", wanted.low_c, "°C"), Value("to", wanted.high_c, "°C"))
        found.append(
            Alarm("apart", " and ".join(wanted.apart), Working("emergence.alarm_apart", inputs, (), inputs[0]))
        )
    return sorted(found, key=lambda a: a.pressing)


def _of_seed(one: SownThere) -> list[Alarm]:
    """Colder than it moves, hotter than it bears, or injured in its first days."""
    crop, last = one.crop, one.last_c
    if one.up or not len(last):
        return []
    mean, most, found = float(last.mean()), float(last.max()), []
    source = "readings" if one.measured else "assumed"
    least = crop.number("min_c")
    had = Value("mix", round(mean, 1), "°C", source)
    if is_warm_seed(crop) and one.days <= FIRST_DAYS and mean < INJURY_C:
        early = had, Value("limit", INJURY_C, "°C", "estimate"), Value("days", one.days, "days")
        found.append(Alarm("injury", one.name, Working("emergence.alarm_injury", early, (), had)))
    elif mean < least:
        cold = had, crop.values["min_c"]._replace(name="limit")
        found.append(Alarm("under", one.name, Working("emergence.alarm_under", cold, (), had)))
    share = relative_share(crop, most) / max(1e-9, relative_share(crop, crop.number("germinate_c")))
    if most > crop.number("max_c") or (most > crop.number("high_c") and share < DORMANT_SHARE):
        inputs = (
            Value("mix", round(most, 1), "°C", source),
            crop.values["high_c"]._replace(name="limit"),
            Value("share", round(share, 2), "share"),
        )
        found.append(Alarm("over", one.name, Working("emergence.alarm_over", inputs, (), inputs[0])))
    return found


def _of_mat(site: HeatSite) -> list[Alarm]:
    """“The mat is on but the mix is at 15”: measured there, far under what it should give."""
    if site.heated not in ("mat", "thermostat") or site.kind != "mat":
        return []
    should = site.set_c if site.heated == "thermostat" else site.gives_c
    read = [s for s in site.sown if s.measured and len(s.last_c)]
    if should is None or not read:
        return []
    mean = float(np.mean([s.last_c.mean() for s in read]))
    if mean > should - COLD_MAT_C:
        return []
    source = "assumed" if site.set_c is None else "garden"
    inputs = Value("mix", round(mean, 1), "°C", "readings"), Value("should give", round(should), "°C", source)
    return [Alarm("mat", site.code, Working("emergence.alarm_mat", inputs, (), inputs[0]))]


def _of_lid(site: HeatSite, nights: Sequence[Night]) -> list[Alarm]:
    """A closed lid in sun: seen in the mix at noon, or to be feared where sun comes in on a bright day."""
    lidded = [s for s in site.sown if s.lidded is not False and not s.up]
    sunny = site.lit == "window" or site.kind == "sill" or site.kind in GLAZED
    if not lidded or not sunny:
        return []
    hot = [s for s in lidded if s.measured and len(s.last_c) and float(s.last_c.max() - s.last_c.mean()) > SUN_SWING_C]
    day = next(iter(nights), None)
    bright = day is not None and day.cloud is not None and day.cloud < CLEAR and (day.tmax_c or 0.0) >= SUNNY_C
    if not hot and not (bright and site.sun_h is not None and site.sun_h >= SUN_H):
        return []
    most = max((float(s.last_c.max()) for s in hot), default=None)
    inputs = (
        Value("mix", None if most is None else round(most, 1), "°C", "readings"),
        Value("sun", site.sun_h, "h"),
        Value("cloud", None if day is None else day.cloud, "share"),
    )
    rule = "lid_sun" if hot else "lid_sun_ahead"
    return [Alarm("lid_sun", lidded[0].name, Working(f"emergence.alarm_{rule}", inputs, (), inputs[0]))]


def _of_days_ahead(site: HeatSite, nights: Sequence[Night], usual_c: float | None) -> list[Alarm]:
    """Mild days ahead: a heated room may be cooler than it is taken to be, and nobody has read it lately."""
    waits = [s for s in site.sown if not s.up]
    if site.heated not in ("room", "mat") or usual_c is None or not waits:
        return []
    if site.read_days is not None and site.read_days <= FRESH_DAYS:
        return []
    ahead = [(n.tmin_c + n.tmax_c) / 2 for n in nights[:MILD_DAYS] if n.tmax_c is not None]
    if len(ahead) < MILD_DAYS or float(np.mean(ahead)) < usual_c + MILD_C:
        return []
    inputs = (
        Value("ahead", round(float(np.mean(ahead)), 1), "°C", "forecast"),
        Value("usual", round(usual_c, 1), "°C", "station"),
        Value("mix", None if site.gives_c is None else round(site.gives_c), "°C", "assumed"),
    )
    return [Alarm("mild", site.code, Working("emergence.alarm_mild", inputs, (), inputs[0]))]


RULES = {
    "emergence.alarm_injury": ("mix", "limit", "days"),
    "emergence.alarm_under": ("mix", "limit"),
    "emergence.alarm_over": ("mix", "limit", "share"),
    "emergence.alarm_mat": ("mix", "should give"),
    "emergence.alarm_lid_sun": ("mix", "sun", "cloud"),
    "emergence.alarm_lid_sun_ahead": ("mix", "sun", "cloud"),
    "emergence.alarm_mild": ("ahead", "usual", "mix"),
    "emergence.alarm_apart": ("suits", "from", "to"),
}
