"""Places, containers and mixes, as things of the garden."""

from __future__ import annotations

from typing import Any

from django.urls import reverse
from django.utils.translation import gettext_lazy

from aestiva.bench.commands.stock import (
    KeepContainer,
    KeepPlace,
    KeepRecipe,
    RemoveContainer,
    RemovePlace,
    RemoveRecipe,
)
from aestiva.bench.models import Recipe
from aestiva.gardens.things import Thing
from aestiva.season.models import Container, Spot
from growing.place.kinds import HOLDS
from growing.shelves.containers import containers


def _common(request: Any) -> dict[str, Any]:
    """The measures of the common kind that was chosen."""
    kind = request.GET.get("kind", "")
    return {} if kind not in containers() else {"kind": kind, **containers()[kind]._asdict()}


def _kinds(garden: Any, row: Any, of: int | None) -> dict[str, Any]:
    return {"kinds": [(k, one.name) for k, one in containers().items()], "before": "bench/_common_kinds.html"}


CONTAINER = Thing(
    "container",
    Container,
    KeepContainer,
    RemoveContainer,
    view="bench",
    back="stock",
    new=gettext_lazy("A container"),
    help=gettext_lazy(
        "Cells and mix in a cell say how long a plant can stay; length and width what room it takes. A pot is one cell."
        " “Planted with the plant” is for paper and peat."
    ),
    begins=_common,
    context=_kinds,
)
MIX = Thing(
    "mix",
    Recipe,
    KeepRecipe,
    RemoveRecipe,
    view="bench",
    back="mixes",
    to=lambda request, row: reverse("mix", args=[request.garden.pk, row.pk]),
    new=gettext_lazy("A mix"),
    help=gettext_lazy("One part a line: “2 coir”. A bought mix is one part."),
)
PLACE = Thing(
    "place",
    Spot,
    KeepPlace,
    RemovePlace,
    view="bench",
    back="spots",
    where={"kind__in": HOLDS},
    new=gettext_lazy("A new place"),
    help=gettext_lazy(
        "Only the short name and the kind are needed. Size tells what fits, clear height and lamp when leaves touch, heating and"
        " months how fast things come up. Electricity and water: lamps, mats and timers on a residual-current socket, cables off"
        " the floor."
    ),
    form="bench/_place_fields.html",
    begins=lambda request: {"kind": request.GET.get("kind", "shelf")},
)
