"""What a walk does in care: looks, waters, weighs, feeds; sees leaves and roots, moves plants on; finds troubles and says what became of them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from aestiva.care.models import Ailment, Feed, Sprayer, TrayWeight
from aestiva.season.models import Batch, Spot, Tray

if TYPE_CHECKING:
    from soak.walk import Walk

WATER = ("look", "look", "look", "fine", "over", "weigh", "weights", "air", "sprayer")
FOOD = ("feed", "change", "remove", "fed")
MOVING = ("stage", "stage", "stage", "roots", "done", "separate", "over_plants")
TROUBLE = ("keep", "keep", "ended")


def care(walk: Walk) -> None:
    """One of all that can be done there; some of it nonsense, which is refused."""
    what = walk.pick((*WATER, *FOOD, *MOVING, *TROUBLE))
    batch = walk.pick(Batch.objects.filter(planting__season__garden=walk.garden))
    if what in WATER:
        water(walk, what, batch)
    elif what in FOOD:
        food(walk, what, batch)
    elif batch is not None and what in MOVING:
        moving(walk, what, batch)
    elif what in TROUBLE:
        trouble(walk, what, batch)


def water(walk: Walk, what: str, batch: Batch | None) -> None:
    tray = walk.pick(Tray.objects.filter(garden=walk.garden))
    stop = walk.pick(("t999999", "x", "" if tray is None else f"t{tray.pk}", "b" if batch is None else f"b{batch.pk}"))
    mine = stop if tray is None else f"t{tray.pk}"
    if what == "look":
        found = walk.pick(("wet", "fair", "pale", "light", "limp", "purple"))
        walk.post("care/look/keep/", stop=mine, found=found, watered=walk.pick(("", "1")))
    elif what == "fine":
        walk.post("care/fine/keep/", stop=stop)
    elif what == "over":
        walk.post("care/over/keep/", stop=mine, over=walk.pick(("none", "some", "much", "all")))
    elif what == "weigh":
        walk.post("care/weigh/keep/", stop=mine, grams=walk.pick(("2500", "1990", "5", "much")))
    elif what == "weights" and tray is not None:
        known = TrayWeight.objects.filter(tray=tray).first()
        revision = "" if known is None else known.revision
        drained, dry = walk.pick((("3000", "2000"), ("2000", "3000"), ("x", "2000")))
        walk.post("care/tools/weights/keep/", tray=tray.pk, drained=drained, dry=dry, revision=revision)
    elif what == "sprayer":
        row = Sprayer.objects.filter(garden=walk.garden).first()
        walk.post(
            "care/tools/sprayer/keep/",
            ml=walk.pick(("60", "0", "")),
            seconds="30",
            revision="" if row is None else row.revision,
        )
    elif what == "air":
        spot = walk.pick(Spot.objects.filter(garden=walk.garden))
        at = "all" if spot is None else walk.pick(("all", str(spot.pk)))
        walk.post(
            "care/tools/air/keep/",
            spot=at,
            what=walk.pick(("fan on", "fan off", "brushed", "humidity")),
            number=walk.pick(("55", "140")),
        )


def food(walk: Walk, what: str, batch: Batch | None) -> None:
    if what == "feed":
        walk.post("care/feed/new/", **label(walk))
    elif what in ("change", "remove"):
        one = walk.pick(Feed.objects.filter(garden=walk.garden))
        if one is not None and what == "change":
            walk.post(f"care/feed/{one.pk}/edit/", revision=one.revision, **label(walk))
        elif one is not None:
            walk.post(f"care/feed/{one.pk}/remove/", revision=walk.pick((one.revision, one.revision - 1)))
    elif batch is not None:
        given = walk.pick(("fed", "granules", "flushed", "tea"))
        walk.post("care/fed/keep/", batch=batch.pk, what=given, n=walk.pick(("75", "", "9999", "much")))


def moving(walk: Walk, what: str, batch: Batch) -> None:
    at = f"care/moving/{batch.pk}/"
    if what == "stage":
        fewer = walk.pick(("", "1"))
        leaves, cm = walk.pick(("0", "1", "2", "3", "5", "many")), walk.pick(("", "6", "900"))
        walk.post(f"care/stage/{batch.pk}/keep/", leaves=leaves, cm=cm, fewer=fewer, revision=batch.revision)
    elif what == "roots":
        seen = walk.pick(("none", "at the holes", "circling", "green"))
        walk.post(f"{at}roots/keep/", roots=seen, crowded=walk.pick(("", "1")), revision=batch.revision)
    elif what == "done":
        kind = walk.pick(("thin", "prick", "pot", "fill", "pinch", "trim", "dance"))
        walk.post(f"{at}done/keep/", kind=kind, count=walk.pick(("", "2", "x")), revision=batch.revision)
    elif what == "separate":
        walk.post(f"{at}separate/keep/", revision=batch.revision)
    else:
        way = walk.pick(("keep", "give", "sell", "snip", "eat"))
        walk.post(f"{at}over/keep/", way=way, count=walk.pick(("1", "2", "0", "900")), revision=batch.revision)


def trouble(walk: Walk, what: str, batch: Batch | None) -> None:
    if what == "keep" and batch is not None:
        cause, act = walk.pick(
            (("wet", "let dry"), ("dampingoff", "removed with mix"), ("hungry", "nothing"), ("curse", "burned"))
        )
        product = walk.pick(({}, {}, {"product": "Soap"}, {"product": "Soap", "on_label": "1", "wait_days": "3"}))
        walk.post(
            "care/trouble/keep/", batch=batch.pk, revision=batch.revision, s=walk.pick(("yellow", "fallen", "blue")), cause=cause, act=act,
            taken=walk.pick(("", "1", "-1", "900")), **product,
        )  # fmt: skip
        return
    row = walk.pick(Ailment.objects.filter(batch__planting__season__garden=walk.garden))
    if row is not None:
        outcome = walk.pick(("better", "same", "lost", "gone"))
        walk.post(
            f"care/trouble/{row.pk}/ended/keep/", outcome=outcome, lost=walk.pick(("", "1", "900")), cause=walk.pick((row.cause, "rot", "x")),
            revision=walk.pick((row.revision, row.revision - 1)),
        )  # fmt: skip


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
