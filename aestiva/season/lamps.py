"""Lamps over places as the rules see them: what hangs there, how it is set on any day, what a meter said; and the one way to set it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date, timedelta

import numpy as np

from aestiva.gardens.journal import ChangeSet
from aestiva.gardens.models import Garden
from aestiva.season.models import Lamp, LampSetting, LightReading, Spot, Tariff
from growing.light import hours as rules
from growing.light import lamps as core
from growing.light.height import step_of
from growing.light.plane import WHITE, Hung, Sides, ppfd
from growing.light.reading import Reading, read
from growing.light.shelf import Board, LampAsSet, LampReach, Stand, highest_cm

USUAL_HOURS, USUAL_ON = 16.0, 5.0  # taken while nobody said what the timer is set to
USUAL_GAP_CM = 30.0  # and while nobody said how high it hangs
DEEP_CM, WIDER_CM = 45.0, 6.0  # of a place whose size nobody gave: so deep, and so much longer than its lamp
APART_CM = 8.0  # lamps beside each other that were given one middle
LEAST_NEAR_CM = 1.0
LONG_AGO = timedelta(days=200)  # longer than anything is raised


@dataclass
class Rig:
    """One place under lamps: those that hang there, how they were set, what was read."""

    spot: Spot
    lamps: list[Lamp] = field(default_factory=list)
    settings: list[LampSetting] = field(default_factory=list)
    readings: list[LightReading] = field(default_factory=list)

    @property
    def known(self) -> bool:
        """Did anybody say what hangs there?"""
        return bool(self.lamps)

    @property
    def timer_said(self) -> bool:
        """Did anybody say for how long it burns?"""
        return bool(self.settings) and self.settings[-1].hours is not None

    def row_on(self, day: date) -> LampSetting | None:
        """How it was set on that day; before the first that was written down, as in that."""
        before = [s for s in self.settings if s.since <= day]
        return before[-1] if before else self.settings[0] if self.settings else None

    def setting(self, day: date) -> LampAsSet:
        """How it is set on a day; as is usual where nobody said."""
        row = self.row_on(day)
        if row is None:
            cm = self.spot.lamp_cm or USUAL_GAP_CM
            return LampAsSet(cm, cm, 100.0, rules.LampTimer(USUAL_ON, USUAL_HOURS))
        hours = USUAL_HOURS if row.hours is None else row.hours
        return LampAsSet(
            row.left_cm, row.right_cm, row.per_cent, rules.LampTimer(USUAL_ON if row.on_h is None else row.on_h, hours)
        )

    @property
    def wide_cm(self) -> float:
        longest = max((self.of(row).long_cm for row in self.lamps), default=115.0)
        return self.spot.length_cm or longest + WIDER_CM

    @property
    def deep_cm(self) -> float:
        return self.spot.width_cm or DEEP_CM

    @property
    def sides(self) -> Sides:
        white = self.spot.white
        return Sides(*(WHITE if letter in white else 0.0 for letter in "lrbf"))

    def hours_run(self, row: Lamp, day: date) -> float | None:
        """Hours that a lamp has burnt by a day, by the timer; None where nobody said when it was new."""
        if row.new_on is None or row.new_on > day:
            return None
        burnt, begins = 0.0, row.new_on
        for one, after in zip([None, *self.settings], [*self.settings, None], strict=True):
            ends = min(day, after.since) if after is not None else day
            said = one.hours if one is not None else self.settings[0].hours if self.settings else None
            hours = USUAL_HOURS if said is None else said
            burnt += max(0, (ends - begins).days) * hours
            begins = max(begins, ends)
        return burnt

    def of(self, row: Lamp, day: date | None = None, measured: float | None = None) -> core.DescribedLamp:
        """A lamp as the rules see it, on a day: with its age and dust; without a day as new."""
        hours = None if day is None else self.hours_run(row, day)
        dusty = None if day is None or row.wiped_on is None or row.wiped_on > day else (day - row.wiped_on).days
        sizes = (row.length_cm, row.width_cm)
        return core.DescribedLamp(
            row.kind, row.umol, row.lumen, row.kelvin, row.watts, *sizes, row.reflector, row.number, hours, dusty, measured=measured
        )  # fmt: skip

    def hanging(self, day: date) -> list[Lamp]:
        """Those that hang there on a day."""
        return [row for row in self.lamps if row.until is None or row.until > day]

    def board(self, day: date, stands: Iterable[Stand] = (), daylight: float = 0.0, read_too: bool = True) -> Board:
        """The place as the rules see it on a day: lamps at full power as old and dusty as they are."""
        times = self.times(day) if read_too else None
        hung, watts = [], 0.0
        rows = self.hanging(day)
        loose = sum(row.number for row in rows if row.y_cm is None)
        n = 0
        for row in rows:
            lamp = self.of(row, day, times)
            found = core.flux(lamp)
            watts += found.watts
            for k in range(row.number):
                if row.y_cm is None:
                    y, n = (n + 0.5) / loose * self.deep_cm, n + 1
                else:
                    y = row.y_cm + (k - (row.number - 1) / 2) * max(APART_CM, lamp.wide_cm)
                x = self.wide_cm / 2 if row.x_cm is None else row.x_cm
                hung.append(Hung(found.umol / row.number, lamp.long_cm, lamp.wide_cm, x, y, 0.0, 0.0))
        return Board(
            self.wide_cm, self.deep_cm, tuple(hung), watts, self.limits(day), tuple(stands), self.sides, daylight,
            str(self.spot.code),
        )  # fmt: skip

    def limits(self, day: date) -> LampReach:
        """How it can be hung there."""
        spot, rows = self.spot, self.hanging(day)
        warm = max((core.kinds()[row.kind].warm_cm for row in rows), default=2.0)
        hand = [r for r in self.readings if r.what == "warm" and r.day <= day]
        if hand:
            warm = max(LEAST_NEAR_CM, hand[-1].gap_cm)
        name, usual = step_of(spot.hangs_by)
        top = highest_cm(spot.clear_cm)
        now = self.setting(day)
        if spot.hangs_by == "fixed":
            top = now.lowest_cm
        highest = max(top, now.left_cm, now.right_cm)
        return LampReach(highest, spot.step_cm or usual, name, warm, bool(rows) and all(row.dims for row in rows))

    def times(self, day: date) -> float | None:
        """What the last reading that is sure says of the lamps: times what is reckoned of them; None: nobody read."""
        found = self.last_reading(day)
        return None if found is None else found[1].times

    def last_reading(self, day: date) -> tuple[LightReading, Reading] | None:
        """The last meter reading since the newest lamp was hung, and what it says."""
        rows = self.hanging(day)
        new = max((row.new_on for row in rows if row.new_on is not None), default=None)
        for one in reversed(self.readings):
            if one.what != "warm" and one.day <= day and (new is None or one.day >= new) and rows:
                return one, self.said(one)
        return None

    def said(self, one: LightReading) -> Reading:
        """What a reading says, against what the lamps should have given there that day."""
        rows = self.hanging(one.day)
        board, setting = self.board(one.day, read_too=False), self.setting(one.day)
        x = board.wide_cm / 2 if one.x_cm is None else one.x_cm
        leaf = max(0.0, setting.lowest_cm - one.gap_cm)
        light = ppfd(
            board.hung(setting),
            np.array([x]),
            np.array([board.deep_cm / 2]),
            leaf,
            board.wide_cm,
            board.deep_cm,
            board.sides,
        )
        kind = rows[0].kind if rows else "strip"
        return read(one.number or 0.0, one.what, kind, float(light[0, 0]))


def rigs_of(garden: Garden, spots: Iterable[Spot] | None = None) -> dict[int, Rig]:
    """Every place under a lamp, by its key, in the order of places."""
    if spots is None:
        spots = Spot.objects.filter(garden=garden, lit="lamp")
    found = {spot.pk: Rig(spot) for spot in spots if spot.lit == "lamp"}
    if not found:
        return found
    for lamp in Lamp.objects.filter(spot__in=found).order_by("pk"):
        found[lamp.spot_id].lamps.append(lamp)
    for setting in LampSetting.objects.filter(spot__in=found).order_by("since"):
        found[setting.spot_id].settings.append(setting)
    for reading in LightReading.objects.filter(spot__in=found).order_by("day", "pk"):
        found[reading.spot_id].readings.append(reading)
    return found


def tariff_of(garden: Garden) -> rules.CurrentPrice:
    """What current costs there, as far as anybody said."""
    row = Tariff.objects.filter(garden=garden).first()
    if row is None:
        return rules.CurrentPrice()
    return rules.CurrentPrice(row.price, row.cheap_price, tuple((a, b) for a, b in row.spans))


def changes(now: LampAsSet, to: LampAsSet) -> dict[str, float]:
    """What is to be written where a lamp is to be set otherwise: only what is not so already."""
    found = {n: getattr(to, n) for n in ("left_cm", "right_cm", "per_cent") if getattr(to, n) != getattr(now, n)}
    if to.timer != now.timer:
        found |= {"on_h": to.timer.on_h, "hours": to.timer.hours}
    return found


def set_lamp(write: ChangeSet, rig: Rig, since: date, **to: float) -> LampSetting:
    """The lamp is set otherwise from a day on; what is not named stays.  Where it hangs is the place's own height as well.

    With the first setting how it hung before is written down too, so that what was stays true.
    """
    before = rig.row_on(since)
    row = LampSetting.objects.filter(spot=rig.spot, since=since).first()
    if before is None:
        cm = rig.setting(since).left_cm
        began = min((lamp.new_on for lamp in rig.lamps if lamp.new_on is not None), default=since - LONG_AGO)
        before = LampSetting(spot=rig.spot, since=min(began, since - LONG_AGO), left_cm=cm, right_cm=cm)
        write.save(before)
    if row is None:
        row = LampSetting(spot=rig.spot, since=since)
        for name in ("left_cm", "right_cm", "per_cent", "on_h", "hours"):
            setattr(row, name, getattr(before, name))
    for name, value in to.items():
        setattr(row, name, value)
    write.save(row)
    hangs = min(row.left_cm, row.right_cm)
    if rig.spot.lamp_cm != hangs and not LampSetting.objects.filter(spot=rig.spot, since__gt=since).exists():
        spot = write.fresh(rig.spot)
        spot.lamp_cm = hangs
        rig.spot = write.save(spot)
    return row


def hung_anew(write: ChangeSet, spot: Spot, day: date) -> None:
    """The place says another height than its lamp's last setting: that is a setting from today on."""
    rig = rigs_of(spot.garden, [spot]).get(spot.pk)
    if rig is None or not rig.settings or not spot.lamp_cm:
        return
    if rig.setting(day).lowest_cm != spot.lamp_cm:
        set_lamp(write, rig, day, left_cm=spot.lamp_cm, right_cm=spot.lamp_cm)
