"""What a walk does at the lamps: says which hang there, hangs and sets them, reads, wipes, prices."""

from __future__ import annotations

from typing import TYPE_CHECKING

from aestiva.season.models import Lamp, Spot

if TYPE_CHECKING:
    from soak.walk import Walk


def light(walk: Walk) -> None:
    """One of all that can be done there; some of it nonsense, which is refused."""
    shelf = walk.pick(Spot.objects.filter(garden=walk.garden, kind="shelf"))
    if shelf is None:
        return
    number = str(walk.random.choice((2, 18, 24, 30, 41, 600)))
    what = walk.pick(
        ("lamp", "lamp", "change", "down", "set", "set", "option", "hours", "care", "read", "hang", "current")
    )
    at = f"light/{shelf.pk}/"
    if what == "lamp":
        walk.post(
            f"{at}lamp/",
            kind=walk.pick(("strip", "thin", "panel", "filament")),
            number="2",
            watts=number,
            new_on=walk.day(),
        )
    elif what in ("change", "down"):
        one = walk.pick(Lamp.objects.filter(spot__garden=walk.garden))
        if one is not None and what == "change":
            walk.post(f"light/lamp/{one.pk}/edit/", kind=one.kind, number="3", umol=number, revision=one.revision)
        elif one is not None:
            walk.post(f"light/lamp/{one.pk}/remove/", revision=walk.pick((one.revision, one.revision - 1)))
    elif what == "set":
        walk.post(
            f"{at}set/keep/", left=number, right=walk.pick(("", number, "25")), revision=walk.pick((shelf.revision, ""))
        )
    elif what == "option":
        walk.post(
            f"{at}set/keep/",
            option=walk.pick(("raise", "lower", "dim", "boxes", "aslant", "longer")),
            revision=shelf.revision,
        )
    elif what == "hours":
        walk.post(f"{at}set/keep/", on=walk.pick(("5", "22:30", "25:00")), hours=walk.pick(("16", "24", "25", "0")))
    elif what == "care":
        walk.post(f"{at}care/keep/", what=walk.pick(("wiped", "turned", "tubes", "sung")))
    elif what == "read":
        walk.post(
            f"{at}read/keep/",
            what=walk.pick(("lux", "ppfd", "warm")),
            number=walk.pick(("9000", "150", "")),
            gap_cm=number,
        )
    elif what == "hang":
        hangs = walk.pick(("cord", "chain", "fixed", "wire"))
        walk.post(
            f"{at}hang/keep/",
            hangs_by=hangs,
            step_cm=walk.pick(("", "2.5")),
            white=walk.pick(("l", "b")),
            revision=shelf.revision,
        )
    else:
        walk.post("light/current/", price="0.3", cheap_price="0.1", spans=walk.pick(("0-7", "22–6, 13–16", "1-5, 4-8")))
