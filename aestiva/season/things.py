"""The containers that a garden can use: the common kinds, and its own by their names."""

from __future__ import annotations

from aestiva.gardens.models import Garden
from aestiva.season.models import Container
from growing.bench.containers import Measures, containers
from growing.chain.path import Vessel


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
