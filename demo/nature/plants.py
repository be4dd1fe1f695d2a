"""The hidden truth: every seed and plant of every group, and one day of its life.

A group is the plants of one sowing in one season; arrays are (plants × groups), or (groups,) where the tray is one.  What
chance decides of a plant is drawn once, from the names of its season and sowing, so that a rule that treats it better or worse
meets the same plant.  Dying is a dose that passes the plant's own threshold: nothing is drawn from day to day.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from demo.nature import hardening, outdoors, roots, seed, seedlings, water
from demo.nature.chance import stream
from demo.nature.kinds import Kind, Kinds
from demo.nature.rooms import Air, Airs

Array = NDArray[np.float32]
Groups = NDArray[np.bool_]
FELL_FOR_DAYS = 3.0
SICK_KILLS = 0.05
HEALS = 0.02
MOST_STALL_DAYS = 14.0
GROUND_N_MG = 1e6  # a bed is fed and watered


class Sowing(NamedTuple):
    """One group: its season's number and its name (both name its chance), its kind, seeds, and the lot's years and keeping.

    cell_ml, cell_cm2, across: of the container it is sown in, and how many cells in a row.  bought: plants, of so many leaves.
    wrong_light: covered though it needs light, or lit though it needs dark.
    """

    season: int
    name: str
    kind: Kind
    seeds: int
    age_years: float = 0.0
    keeping: float = 1.0
    cell_ml: float = 40.0
    cell_cm2: float = 21.0
    across: int = 6
    bought: float = 0.0
    wrong_light: bool = False


class Care(NamedTuple):
    """How each group is kept today, arrays (groups,): its place by number, what is over and under it, hours out and where,
    and whether it is watered a second time at noon."""

    place: NDArray[np.intp]
    lid: Groups
    mat: Groups
    out_h: NDArray[np.float32]
    out_place: NDArray[np.intp]
    noon: Groups


class Plants:
    """All groups of a run.  Only nature reads or writes what is in here.

    unharmed: cold, sun, wind and pests do nothing (the measure of what a season could have given).
    """

    def __init__(self, sowings: Sequence[Sowing], seed_: int, unharmed: bool = False) -> None:
        groups, most = len(sowings), max(s.seeds for s in sowings)
        row = lambda values: np.array(values, np.float32)  # noqa: E731
        self.unharmed, self.k = unharmed, Kinds([s.kind for s in sowings])
        self.season, self.across = np.array([s.season for s in sowings]), sowings[0].across
        self.cell_ml, self.cell_cm2 = row([s.cell_ml for s in sowings]), row([s.cell_cm2 for s in sowings])
        there = np.arange(most)[:, None] < row([s.seeds for s in sowings])
        self._draw(sowings, there, seed_)
        plant = lambda start=0.0: np.full((most, groups), start, np.float32)  # noqa: E731
        tray = lambda start=0.0: np.full(groups, start, np.float32)  # noqa: E731
        # of the tray
        self.sown, self.planted = np.zeros(groups, bool), np.zeros(groups, bool)
        self._bench = tray(1)  # 0 where it is planted out
        self.heat, self.seed_dose = tray(), tray()
        self.hard = np.zeros((3, groups), np.float32)  # tolerance of cold, sun and wind
        self.leggy, self.salts, self.soaked, self.root_harm = tray(), tray(1), tray(), tray()
        self.cold_hours, self.setting = tray(), tray(1)
        self.first_leaves, self._bolters = outdoors.leaves_at_first(self.k), self.k.bolt_hours > 0
        # of the plant
        self.up, self.living, self.up_at = np.zeros((most, groups), bool), plant(), plant(np.nan)
        # what vigour, health and life allow: known until one of them changes
        self._able, self._settled = plant(), False
        self.leaves, self.height, self.area, self.health = plant(), plant(), plant(), plant(1)
        self.wet, self.wilted = plant(water.MOISTENED), plant()
        self.nitrogen = plant() + water.MIX_N_MG_ML * self.cell_ml
        self.damp_dose, self.fell, self.eaten_dose = plant(), plant(), plant()
        self.stall, self.bound = plant(), plant()
        self._stalls = self._hurt = self._wilts = self._falls = False  # is there any of it anywhere?
        self._driest = 1.0
        self.harvest, self.harvested, self.bulb, self.bulb_size = plant(), plant(), plant(), plant()
        for g, s in enumerate(sowings):
            if s.bought:
                self.sown[g], self.up[:, g], self.living[:, g] = True, there[:, g], there[:, g]
                self.leaves[:, g], self.height[:, g] = s.bought, s.bought * s.kind.cm
                self.area[:, g] = s.kind.leaf_cm2 * s.bought**1.5
                self.hard[:, g] = 0.3

    def _draw(self, sowings: Sequence[Sowing], there: Groups, seed_: int) -> None:
        """What chance decides: of the lot and tray, and of each seed."""
        most, groups = there.shape
        share, base, dry = (np.ones(groups, np.float32) for _ in range(3))
        quick, chances = np.ones((3, groups), np.float32), np.full((4, most, groups), 0.5)
        grit = np.ones((3, most, groups))
        for g, s in enumerate(sowings):
            lot, own = stream(seed_, "lot", s.name, s.season), stream(seed_, "plants", s.name, s.season)
            share[g] = 1.0 if s.bought else seed.lot_share(s.kind, s.age_years, s.keeping, lot)
            if s.wrong_light and s.kind.light != "either":
                share[g] *= seed.WRONG_LIGHT
            base[g] = np.clip(lot.normal(0, seed.LOT_BASE_SD_C), -2, 2)
            dry[g], quick[:, g] = np.exp(own.normal(0, water.TRAY_SD)), own.uniform(*hardening.GAINS, 3)
            chances[:, : s.seeds, g] = own.random((s.seeds, 4)).T
            grit[:, : s.seeds, g] = own.exponential(1.0, (s.seeds, 3)).T
        self._base, self._quick = base, quick
        self.will_come = there & (chances[0] < share)
        self.need = seed.needs(self.k.spread, chances[1])
        self.most_need = np.max(self.need, axis=0, where=there, initial=0)
        self.tough = np.exp(0.6 * (chances[2] - 0.5)).astype(np.float32)
        self.vigour = np.exp(0.4 * (chances[3] - 0.5)).astype(np.float32)
        self.bolts = outdoors.bolts_after(self.k, np.clip((chances[2] + chances[3]) / 2, 0.02, 0.98))
        self.grit_seed, self.grit_damp, self.grit_eaten = grit.astype(np.float32)
        self.dries = np.ones((most, groups), np.float32) * dry
        column = np.arange(most) % self.across
        self.dries[(column == 0) | (column == self.across - 1) | (np.arange(most) < self.across)] *= water.EDGE

    @property
    def cold(self) -> Array:
        """How hard each tray is against cold, 0–1."""
        return np.asarray(self.hard[0])

    # -- what hands do -----------------------------------------------------------------------------------------------

    def give_water(self, where: Groups, to: float | Array = 1.0) -> None:
        """Water these groups until every cell holds `to` of what it can."""
        np.maximum(self.wet, to, out=self.wet, where=where)
        self.salts -= where * np.float32(water.FLUSHED) * (self.salts - 1)

    def give_food(self, where: Groups, n_mg_l: float | NDArray[np.float64], share: float = 0.8) -> None:
        """A feed of so many mg/l of nitrogen, `share` of what a cell holds; salts stay behind."""
        self.nitrogen += where * (share * water.HOLDS * n_mg_l / 1000) * self.cell_ml
        self.salts += where * np.float32(share * n_mg_l / 300)

    def pot_on(self, where: Groups, ml: Array, cm2: Array) -> None:
        """Into containers of their own: room, fresh mix, a day's check; deep ones bury half of what stretched."""
        self.nitrogen += np.where(where, water.MIX_N_MG_ML * np.maximum(ml - self.cell_ml, 0), 0)
        self.cell_ml = np.where(where, ml, self.cell_ml).astype(np.float32)
        self.cell_cm2 = np.where(where, cm2, self.cell_cm2).astype(np.float32)
        self.salts = np.where(where, np.float32(1), self.salts)
        self.stall, self._stalls = np.where(where, np.maximum(self.stall, 1), self.stall), True
        self.leggy = np.where(where & (self.k.bury > 0), self.leggy / 2, self.leggy)

    def plant_out(self, where: Groups) -> None:
        """Into the ground; a plant that filled its pot stands still the longer.  What is not up is left behind."""
        filled = self._filled()
        self.bound = np.where(where, filled, self.bound)
        self.wet = np.where(where, np.float32(0.7), self.wet)
        self.nitrogen = np.where(where, np.float32(GROUND_N_MG), self.nitrogen)
        self.stall, self._stalls = np.where(where, np.maximum(self.stall, roots.stall(filled)), self.stall), True
        self.leggy = np.where(where & (self.k.bury > 0), self.leggy / 2, self.leggy)
        self.planted |= where
        self._bench = (~self.planted).astype(np.float32)
        self.will_come &= self.up | ~where

    def remove(self, gone: Groups) -> None:
        """These plants and seeds (plants × groups) are taken away: thinned, given, left over."""
        self.living[gone], self._settled = 0, False
        self.will_come &= ~gone

    def move(self, group: int, to: int, plants: NDArray[np.intp]) -> None:
        """These plants of a group go into the first places of another, as they are, with what their tray has met."""
        rows = np.arange(len(plants))
        for name, values in vars(self).items():
            if not isinstance(values, np.ndarray) or name in ("season", "cell_ml", "cell_cm2", "dries"):
                continue
            if values.shape == self.living.shape:
                values[rows, to] = values[plants, group]
            elif values.shape == self.sown.shape and name not in ("sown", "planted", "most_need"):
                values[to] = values[group]
        self.living[plants, group], self._settled = 0, False

    def of_living(self, values: NDArray[np.generic]) -> Array:
        """The mean over a group's living plants, (groups,); 0 without any."""
        living = self.living > 0
        return np.asarray((values * living).sum(axis=0) / np.maximum(living.sum(axis=0), 1), np.float32)

    def felt(self) -> Array:
        """How wet a tray feels: the mean of the cells with plants in them, of all while there are none, (groups,)."""
        return np.asarray(np.where(self.living.any(axis=0), self.of_living(self.wet), self.wet.mean(axis=0)))

    def firm(self, group: int) -> Groups:
        """Which seeds of a group are alive, or were."""
        return np.asarray(self.will_come[:, group] & (self.grit_seed[:, group] > self.seed_dose[group]))

    def weakest(self, group: int, count: int) -> NDArray[np.intp]:
        """The so many smallest living plants of a group."""
        living = np.flatnonzero(self.living[:, group])
        return np.asarray(living[np.argsort(self.leaves[living, group], kind="stable")][:count])

    def _filled(self) -> Array:
        """Rooted volume against that of the container."""
        return np.asarray(self.area * (self.k.root_ml / (self.k.leaf_cm2 * self.cell_ml)))

    # -- a day ---------------------------------------------------------------------------------------------------------

    def day(self, air: Airs, care: Care, t: int) -> None:
        """One day at its places, and the night after it."""
        a = air.at(care.place, self.season)
        if care.out_h.any():
            a = a.with_outing(air.at(care.out_place, self.season), care.out_h)
        if (self.sown & (self.heat < self.most_need)).any():
            self._germinate(a, care.lid, care.mat, t)
        if self.sown.any():
            self._drink(a, care.lid, care.noon)
        if self.living.any():
            self._grow(a)
            self._meet(a)
            if self.planted.any():
                self._ripen(a)

    def _germinate(self, a: Air, lid: Groups, mat: Groups, t: int) -> None:
        mix = np.where(mat, a.mat_c, a.soil_c) + lid * a.lid_c
        damp = self.wet.mean(axis=0)
        rate = self.sown * seed.rate(self.k, mix, damp, self._base)
        before, self.heat = self.heat, self.heat + rate
        self.seed_dose += self.sown * seed.cold_dose(self.k, mix, damp)
        new = self.will_come & (self.need <= self.heat) & (self.grit_seed > self.seed_dose) & ~self.up
        if new.any():
            self.up |= new
            self.living[new], self._settled = 1, False
            self.up_at[new] = (t + (self.need - before) / np.maximum(rate, 1e-9))[new]

    def _drink(self, a: Air, lid: Groups, noon: Groups) -> None:
        """Water leaves the cells on the bench; those that are dry or soaked for days suffer."""
        thirst = water.demand(a.day_c, a.dli, a.gust_kmh, lid) * np.where(self.sown, self._bench, 0)
        if noon.any():
            thirst *= np.float32(0.5)
            self.wet = water.left(self.wet, self.area, self.cell_cm2, self.cell_ml, thirst, self.dries)
            self.give_water(noon)
        self.wet = water.left(self.wet, self.area, self.cell_cm2, self.cell_ml, thirst, self.dries)
        driest, wettest = self.wet.min(axis=0), self.wet.max(axis=0)
        self.soaked = (self.soaked + 1) * (driest > water.SOAKED)
        if (drowns := self.soaked >= water.SOAKED_DAYS).any() or self.root_harm.any():
            self.root_harm = ((self.root_harm + 0.08 * drowns) * 0.97).astype(np.float32)
        self._driest = float(driest.min())
        if self._driest < water.WILTS or self._wilts:
            self.wilted = (self.wilted + 1) * (self.wet < water.WILTS)
            self.living *= self.wilted < water.WILTED_KILLS
            self._wilts, self._settled = bool(self.wilted.any()), False
        if self._falls:
            np.maximum(self.fell - 1, 0, out=self.fell)
            self._falls = bool(self.fell.any())
        still = np.where(lid, np.float32(seedlings.UNDER_LID), a.still) * self._bench
        if ((still > 0.3) & (wettest > seedlings.DAMP_FROM)).any():
            self.damp_dose += seedlings.damping(self.wet, still, self.leaves, self.fell > 0, self.across)
            fallen = (self.damp_dose > self.grit_damp) & (self.living > 0)
            if fallen.any():
                self.fell[fallen], self.living[fallen], self._settled = FELL_FOR_DAYS, 0, False
                self._falls = True

    def _grow(self, a: Air) -> None:
        """Leaves, and the area and height that come of them, as far as roots, water, food, light and harm allow."""
        k, indoors = self.k, self._bench
        short = seedlings.stretch(k, a.dli) * indoors
        ground = (1 - indoors) * np.float32(outdoors.SOIL_SHARE)
        day_c, night_c = (air_c + ground * (a.soil_c - air_c) for air_c in (a.day_c, a.night_c))
        base = seedlings.leaf_rate(k, day_c, night_c, a.light_h, a.dli)
        base = base * np.where(
            indoors > 0,
            water.salted_share(self.salts) * np.maximum(1 - self.root_harm, 0.2),
            1 - 0.25 * np.minimum(self.leggy, 1),
        )
        if not self._settled:
            self._able, self._settled = self.vigour * self.health * self.living, True
        step = roots.growth_share(self._filled() * indoors)
        if self._driest < water.ENOUGH:
            step *= water.growth_share(self.wet)
        step *= water.fed_share(self.nitrogen, self.area)
        step *= self._able
        step *= base
        if self._stalls:
            step *= self.stall < 1
            np.maximum(self.stall - 1, 0, out=self.stall)
            self._stalls = bool(self.stall.any())
        grown = np.sqrt(self.leaves + 0.3)
        grown *= step
        grown *= 1.5 * k.leaf_cm2
        self.leaves += step
        self.area += grown
        grown *= np.float32(water.LEAF_N_MG_CM2)  # the ground has more than they can take
        self.nitrogen -= grown
        np.maximum(self.nitrogen, 0, out=self.nitrogen)
        layers = np.add.reduce(self.area, axis=0) / (len(self.area) * self.cell_cm2) * indoors
        step *= seedlings.taller(k, a.day_c, a.night_c, short, layers)
        self.height += step
        if short.any():
            self.height += seedlings.drawn(k, a.day_c, short) * self.living
            self.leggy += short * (24 / seedlings.LEGGY_FULL_H) * self.living.any(axis=0)

    def _meet(self, a: Air) -> None:
        """What the day and the night bring, against what they can stand."""
        met = hardening.met(np.minimum(a.low_c, a.night_c), a.sun_h, a.gust_kmh)
        if not self.unharmed:
            dose = (
                hardening.cold_dose(a.night, hardening.tolerance_c(self.k, self.cold)) / hardening.LETHAL_DEGREE_HOURS
            )
            leggy = 1 + np.minimum(self.leggy, 1)
            dose = dose + hardening.burnt(a.sun_h, self.hard[1]) + hardening.torn(a.gust_kmh, self.hard[2]) * leggy
            chill = np.maximum(self.k.chill_c[:, None] - a.night, 0).sum(axis=1) / hardening.CHILL_HOURS_A_DAY
            dose = dose + hardening.CHILL_HARM * chill + outdoors.HAIL_HARM * a.hail
            if dose.any():
                self.health -= dose * self.tough * self.living
                self.living *= self.health > SICK_KILLS
            if chill.any():
                self.stall = np.minimum(self.stall + chill, MOST_STALL_DAYS)
                self._stalls = True
            if dose.any() or self._hurt:
                self.health += np.float32(HEALS)
                np.minimum(self.health, 1, out=self.health)
                self._hurt, self._settled = bool(self.health.min() < 1), False
        # cold hours count once a tray has passed its juvenile size, wherever it stands; past the kind's measure for good
        old = (
            self._bolters & ((self.leaves * self.living).max(axis=0) > self.k.juvenile)
            if self._bolters.any()
            else self._bolters
        )
        if old.any():
            hours = self.cold_hours + outdoors.cold_hours(a.day_c, a.night) * old
            past = np.maximum(hours, self.cold_hours)
            self.cold_hours = np.where(hours < self.k.bolt_hours, np.maximum(hours, 0), past)
        self.hard = hardening.towards(self.hard, met, self._quick)

    def _ripen(self, a: Air) -> None:
        """In the ground: pests, flower before its time, bulbs, and the day's harvest."""
        k, out = self.k, self.living * self.planted
        if not self.unharmed:
            hazard = outdoors.eaten(a.rain_mm, a.low_c)
            if hazard.any():
                small = self.leaves * self.leaves
                small *= np.float32(0.06)
                small += 1
                self.eaten_dose += np.divide(hazard, small, out=small) * out
                self.living *= self.eaten_dose < self.grit_eaten
                self._settled = False
        good = self.health
        if (self.cold_hours > 0).any():
            good = good * (1 - np.float32(0.75) * (self.bolts < self.cold_hours))
        self.setting += 0.12 * self.planted * (outdoors.sets_fruit(k, a.day_c + 2) - self.setting)
        ripe = (self.leaves >= self.first_leaves) * out
        picks = (k.gives < outdoors.HEAD) * (a.day_c > k.grow_base_c + 2)
        if picks.any():
            today = ripe * picks
            today *= self.harvested < k.lasts_days
            self.harvested += today
            today *= self.setting
            today *= good
            self.harvest += today
        if (k.gives == outdoors.HEAD).any():
            heads = ripe * (k.gives == outdoors.HEAD) * (self.harvest == 0)
            self.harvest += heads * good * (0.5 + 0.5 * self.setting) * (1 - 0.5 * np.clip(self.bound - 1, 0, 1))
        if (k.gives == outdoors.BULB).any():
            bulbs = (k.gives == outdoors.BULB) * ((a.light_h >= k.bulb_h) | (self.bulb > 0)) * out
            self.bulb_size += (self.bulb == 0) * bulbs * np.minimum(self.leaves / 8, 1.3)
            self.bulb += bulbs * seedlings.beta(k, a.day_c) / outdoors.BULB_DAYS
            self.harvest += (self.bulb >= 1) * (self.harvest == 0) * out * good * self.bulb_size
