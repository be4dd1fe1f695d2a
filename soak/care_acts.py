"""What a walk does on the round and at the can: looks, waters, describes feeds, feeds."""

from __future__ import annotations

from typing import TYPE_CHECKING

from aestiva.care.models import Feed
from aestiva.season.models import Batch, Tray

if TYPE_CHECKING:
    from soak.walk import Walk


def care(walk: Walk) -> None:
    """One of all that can be done there; some of it nonsense, which is refused."""
    what = walk.pick(("look", "look", "look", "fine", "feed", "change", "remove", "fed"))
    tray = walk.pick(Tray.objects.filter(garden=walk.garden))
    batches = Batch.objects.filter(planting__season__garden=walk.garden)
    stop = walk.pick(("t999999", "x", "" if tray is None else f"t{tray.pk}", f"b{batches[0].pk}" if batches else "b"))
    if what == "look":
        walk.post(
            "care/look/keep/",
            stop=stop if tray is None else f"t{tray.pk}",
            found=walk.pick(("wet", "fair", "pale", "limp", "purple")),
            watered=walk.pick(("", "1")),
        )
    elif what == "fine":
        walk.post("care/fine/keep/", stop=stop)
    elif what == "feed":
        walk.post("care/feed/new/", **label(walk))
    elif what in ("change", "remove"):
        one = walk.pick(Feed.objects.filter(garden=walk.garden))
        if one is not None and what == "change":
            walk.post(f"care/feed/{one.pk}/edit/", revision=one.revision, **label(walk))
        elif one is not None:
            walk.post(f"care/feed/{one.pk}/remove/", revision=walk.pick((one.revision, one.revision - 1)))
    elif batches:
        walk.post("care/fed/keep/", batch=batches[0].pk, n=walk.pick(("75", "", "9999", "much")))


def label(walk: Walk) -> dict[str, str]:
    """A label, sometimes one that cannot be."""
    return {
        "name": walk.pick(("Salts", "Brew", "Fish")),
        "n": walk.pick(("20", "5.5", "101", "")),
        "p": walk.pick(("20", "90")),
        "k": "20",
        "oxides": "on",
        "analysis": walk.pick(("on", "")),
        "urea": walk.pick(("0", "0.5", "2")),
        "g_per_ml": walk.pick(("", "1.1", "9")),
    }
