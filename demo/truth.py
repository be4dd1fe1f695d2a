"""What has become of the demo's plants?  Nature lived again from the first sowing on, by what the garden's rows say was done.

Nothing of it is stored: what the grower takes back never happened.  What Aestiva has no task for yet, nature's grower does by a
stated habit: lids and mats until the first is up, water where a tray feels light or hangs limp, at noon again what stands
outdoors, a feed a week from the first true leaf or four weeks after sowing.
"""

from __future__ import annotations

from collections import defaultdict
from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from demo.history import CELL, History, first_day
from demo.nature import grower
from demo.nature.chance import stream
from demo.nature.plants import Care, Plants, Sowing
from demo.nature.rooms import World
from demo.nature.season import ACROSS, FEED_N_MG_L, MAT_FROM_C, NOON_H, pot_ml, top_cm2

LEAST_POT_ML = 100.0
LID_DAYS, BOUGHT_LEAVES = 14, 6.0
INDOORS = ("shelf", "sill")


class Truth:
    """The plants of one garden on the morning of `day`; what can be asked is what a grower can see."""

    def __init__(self, all_of_them: list[History], world: World, day: date) -> None:
        self.world, self.day, self.seed = world, day, world.weather.seed
        self.all = all_of_them
        self.index = {one.ref: g for g, one in enumerate(self.all)}
        self._taken = np.zeros(len(self.all), int)
        self.first_up: dict[int, date] = {}
        self._lived: dict[date, NDArray[np.int64]] = {}
        self.plants: Plants | None = None
        if not self.all:
            return
        sowings = [
            Sowing(
                0, o.name, o.kind, max(1, o.seeds), o.age_years, o.keeping, *o.cell, ACROSS, BOUGHT_LEAVES * (o.bought_on is not None),
                o.wrong_light(day),
            )
            for o in self.all
        ]  # fmt: skip
        self.plants = Plants(sowings, self.seed)
        for g, one in enumerate(self.all):
            if one.bought_on is not None or one.parent is not None:  # not there yet
                self.plants.sown[g] = False
                self.plants.living[:, g], self.plants.up[:, g] = 0, False
                if one.parent is not None:
                    self.plants.will_come[:, g] = False
        self._live(first_day(self.all, day), day)

    # -- what can be seen ------------------------------------------------------------------------------------------

    def up(self, ref: int) -> int:
        """How many of a batch's seeds have come up, dead ones too."""
        return int(self._of(ref, "up"))

    def living(self, ref: int) -> int:
        """How many plants of it live."""
        return int(self._of(ref, "living"))

    def waiting(self, ref: int) -> int:
        """How many of its seeds are firm when lifted: alive, and not yet up."""
        g = self.index.get(ref)
        if g is None or self.plants is None:
            return 0
        return int((self.plants.firm(g) & ~self.plants.up[:, g]).sum())

    def dead(self, ref: int) -> int:
        """How many came up, or were brought, and have died where they stood."""
        g = self.index.get(ref)
        return 0 if g is None else max(0, self.up(ref) - self.living(ref) - int(self._taken[g]))

    def counted(self, ref: int, known: int) -> int:
        """What a count of all that came up says today: wrong by a few of a hundred, never less than was known."""
        g = self.index.get(ref)
        if g is None:
            return known
        wrong = stream(self.seed, "count", self.all[g].name, self.day).normal(0, grower.COUNTS_WRONG)
        said = grower.counted(np.float32(self.up(ref)), np.float32(wrong), np.float32(self.all[g].seeds))  # type: ignore[arg-type]
        return max(known, int(said))

    def up_on(self, ref: int, on: date) -> int:
        """How many had come up by the morning of a day that is past."""
        assert self.plants is not None
        return int((self.plants.up_at[:, self.index[ref]] < self.world.weather.index(on)).sum())

    def living_on(self, ref: int, on: date) -> int:
        """How many lived on the evening of a day that is past."""
        return int(self._lived[on][self.index[ref]])

    def _of(self, ref: int, name: str) -> float:
        g = self.index.get(ref)
        return 0.0 if g is None or self.plants is None else float(getattr(self.plants, name)[:, g].sum())

    # -- how it came to be -----------------------------------------------------------------------------------------

    def _live(self, first: date, day: date) -> None:
        """From the first sowing on, or from the first day that there is weather for."""
        assert self.plants is not None
        begins_at, weather = self.world.weather.start, self.world.weather
        start, ends = weather.index(max(first, begins_at)), weather.index(day)
        if ends <= start:
            return
        # by the day of the world, so that one sowing more or less changes nothing for the others
        skips: NDArray[np.bool_] = grower.chances(self.seed, [(0, one.name) for one in self.all], ends).skips
        begins: dict[date, list[int]] = defaultdict(list)
        for g, one in enumerate(self.all):
            if one.begins is not None:
                begins[max(one.begins, begins_at)].append(g)
        for t in range(start, ends):
            on, skipped = begins_at + timedelta(days=t), np.asarray(skips[t])
            for g in begins.get(on, ()):
                self._begin(g)
            self._hands(on, skipped)
            self.plants.day(self.world.air(t), self._care(on, skipped), t)
            self._note(on)

    def _note(self, on: date) -> None:
        assert self.plants is not None
        self._lived[on] = self.plants.living.sum(axis=0).astype(int)
        for g in np.flatnonzero(self.plants.up.any(axis=0)):
            self.first_up.setdefault(int(g), on)

    def _begin(self, g: int) -> None:
        """A batch begins: its seeds are sown, its plants fetched, or taken from another."""
        one, plants = self.all[g], self.plants
        assert plants is not None
        plants.sown[g] = True
        if one.bought_on is not None:
            plants.up[: one.seeds, g], plants.living[: one.seeds, g] = True, 1
        elif one.parent is not None:
            ref, count, _ = one.parent
            parent = self.index.get(ref)
            if parent is None:
                return
            best = np.flatnonzero(plants.living[:, parent])
            best = best[np.argsort(-plants.leaves[best, parent], kind="stable")][:count]
            plants.move(parent, g, best)
            self._taken[parent] += len(best)

    def _hands(self, on: date, skipped: NDArray[np.bool_]) -> None:
        """What the grower did on that day: by the rows, and by habit."""
        plants = self.plants
        assert plants is not None
        cells = np.full(len(self.all), CELL[0], np.float32)
        for name, ml in (("pricked", cells), ("potted", np.maximum(pot_ml(plants.k), LEAST_POT_ML))):
            which = np.array([on in getattr(one, name) for one in self.all])
            if which.any():
                size = np.maximum(ml, plants.cell_ml)
                plants.pot_on(which, size, top_cm2(size))
        for g, one in enumerate(self.all):
            if taken := one.gone[on]:
                weakest = plants.weakest(g, taken)
                gone = np.zeros(plants.living.shape, bool)
                gone[weakest, g] = True
                plants.remove(gone)
                self._taken[g] += len(weakest)
        out = np.array([one.planted == on for one in self.all])
        if out.any():
            plants.plant_out(out)
        bench = plants.sown & ~plants.planted
        limp = (plants.wilted * plants.living).any(axis=0)  # which is seen in passing
        plants.give_water(bench & (((grower.lifted(plants.felt()) == grower.DRY) & ~skipped) | limp))
        if on.toordinal() % 7 == 0:
            old = np.array([one.begins is not None and (on - one.begins).days >= 28 for one in self.all])
            plants.give_food(bench & ~skipped & ((plants.of_living(plants.leaves) >= 1) | old), FEED_N_MG_L)

    def _care(self, on: date, skipped: NDArray[np.bool_]) -> Care:
        """Where everything stands that day and the night after it."""
        groups, code, places = len(self.all), self.world.code, self.world.places
        indoors = next((n for n, p in enumerate(places) if p.kind == "shelf"), len(places) - 1)
        shelter = next((n for n, p in enumerate(places) if p.kind == "porch"), indoors)
        bed = next((n for n, p in enumerate(places) if p.kind == "bed"), indoors)
        assert self.plants is not None
        up = np.asarray(self.plants.up.any(axis=0))
        place, out_h, out_place = np.full(groups, indoors), np.zeros(groups, np.float32), np.full(groups, shelter)
        lid, mat = np.zeros(groups, bool), np.zeros(groups, bool)
        for g, one in enumerate(self.all):
            here = code.get(one.at(on), indoors)
            if one.planted is not None and one.planted <= on:
                here = here if places[here].kind in ("bed", "tunnel") else bed
            elif on in one.outings:
                hours, night = one.outings[on]
                out_h[g] = hours
                here = shelter if night and places[here].kind in INDOORS else here
            place[g] = here
            mat[g] = (
                one.parent is None
                and not up[g]
                and one.kind.ceiling_c > MAT_FROM_C
                and (one.mat_off is None or on < one.mat_off)
            )
            lid[g] = one.parent is None and (on < one.lid_off if one.lid_off is not None else self._waits(g, on))
        outdoors = np.array([p.kind not in INDOORS for p in places])[place] | (out_h >= NOON_H)
        noon = outdoors & self.plants.sown & ~self.plants.planted & ~skipped
        return Care(place, lid, mat, out_h, out_place, noon)

    def _waits(self, g: int, on: date) -> bool:
        """Is a lid that nobody took off by the rows still on?  By habit it is off a fortnight after the first is up."""
        first = self.first_up.get(g)
        return first is None or (on - first).days < LID_DAYS
