"""The containers that a garden can use: the common kinds, and its own by their names."""

from __future__ import annotations

import math
from collections.abc import Sequence

from aestiva.gardens.models import Garden
from aestiva.season.models import Container
from growing.chain.path import Vessel
from growing.shelves.containers import Measures, containers


def measures_of(container: Container) -> Measures:
    """A container's measures, as the garden has them."""
    c = container
    sizes = (c.length_cm, c.width_cm, c.depth_cm, c.cell_ml)
    return Measures(c.name, c.cells, *sizes, c.drains, c.air_pruning)


def vessels_of(garden: Garden | None) -> dict[str, Vessel]:
    """Every container by its key: common kinds with the garden's measures where it has its own, then those of its own."""
    found = {key: Vessel(key, m) for key, m in containers().items()}
    if garden is not None:
        for one in Container.objects.filter(garden=garden):
            key = one.kind or one.name
            found[key] = Vessel(key, measures_of(one))
    return found


def own_vessels(garden: Garden) -> list[Vessel]:
    """What the garden itself has."""
    return [Vessel(c.kind or c.name, measures_of(c)) for c in Container.objects.filter(garden=garden).order_by("pk")]


def nearest(own: Sequence[Vessel], usual: Vessel) -> Vessel:
    """Of what there is the one most like the usual: as a box, cells or pots, by the mix in each; the usual itself where none is."""

    def alike(one: Vessel) -> bool:
        same = one.together == usual.together and (one.measures.cells == 1) == (usual.measures.cells == 1)
        return same and one.key.startswith("block") == usual.key.startswith("block")

    fits = [v for v in own if alike(v)]
    return min(fits, key=lambda v: abs(math.log(v.measures.cell_ml / usual.measures.cell_ml)), default=usual)
