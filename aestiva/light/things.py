"""Lamps, and what current costs."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.utils.translation import gettext as _
from django.utils.translation import gettext_lazy

from aestiva.gardens.things import Thing
from aestiva.light.commands import KeepLamp, KeepTariff, TakeDown
from aestiva.season.models import Lamp, Spot, Tariff
from growing.light.lamps import kinds
from growing.place.kinds import LAMPS


def its_shelf(request: Any, lamp: Lamp) -> str:
    return f"{reverse('light', args=[request.garden.pk])}?shelf={lamp.spot_id}#lamps"


def _usual(garden: Any, row: Lamp | None, of: int | None) -> dict[str, Any]:
    """What lamps of each kind are like, and over which place this one hangs."""
    spot = row.spot if row is not None else get_object_or_404(Spot, pk=of, garden=garden, kind__in=LAMPS)
    title = (
        _("Which lamp hangs over %s?") % spot.code
        if row is None
        else _("%(lamp)s over %(code)s") % {"lamp": row, "code": spot.code}
    )
    return {
        "title": title,
        "kinds": [k for k in kinds().values() if not k.mostly_heat],
        "leave": f"{reverse('light', args=[garden.pk])}?shelf={spot.pk}",
        "ended": row is not None and row.until is not None,
    }


LAMP = Thing(
    "lamp",
    Lamp,
    KeepLamp,
    TakeDown,
    view="light",
    back="light",
    garden="spot__garden",
    parent="spot",
    to=its_shelf,
    new=gettext_lazy("Which lamp hangs there?"),
    verb=gettext_lazy("Taken down"),
    why=gettext_lazy(
        "The number that matters most is printed as µmol/s; next best are lumen with the colour, then watts."
        " What you leave empty is taken as usual for its kind, and said so."
    ),
    help=gettext_lazy(
        "Kind and one number are enough; length and place tell how far its ends reach. “New on” tells its age, “last wiped” its"
        " dust: both take light off. Electricity near water: residual-current device, plugs above the trays, drip loops; a licensed"
        " electrician for fixed wiring."
    ),
    about="light/_usual_lamps.html",
    context=_usual,
)
TARIFF = Thing(
    "light_current",
    Tariff,
    KeepTariff,
    None,
    view="light",
    back="light",
    single=True,
    new=gettext_lazy("What current costs"),
    help=gettext_lazy(
        "With a price each week is said in money; with cheap hours the timer is proposed where it burns cheapest, across midnight too."
    ),
    context=lambda garden, row, of: {"title": _("What current costs")},
)
