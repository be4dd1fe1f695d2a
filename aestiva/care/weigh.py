"""What a tray weighs, typed or posted by a scale: how much of its water is left; that it was watered where it is heavier than before."""

from __future__ import annotations

from contextlib import suppress
from datetime import date

from aestiva.care.models import TrayLook, TrayWeight
from aestiva.gardens import journal
from aestiva.gardens.journal import Write
from aestiva.gardens.outcomes import Refused
from aestiva.place.models import Feed
from aestiva.season.models import Tray
from growing.care.water import by_weight, seems
from growing.place.feed import BadPost, Post

HEAVIER = 0.25  # of what it holds, from which it was watered since


def weight_of(tray: Tray) -> TrayWeight:
    """Its two weights; Refused where nobody gave them."""
    found = TrayWeight.objects.filter(tray=tray).first()
    if found is None:
        raise Refused(
            "grams",
            f"{tray.code}: nobody said what it weighs drained and dry; give both once under “scale and sprayer”",
        )
    return found


def look_by_weight(tray: Tray, grams: float, day: date, hour: float) -> TrayLook:
    """The look that a weight is.  Raises Refused for weights that cannot be."""
    known = weight_of(tray)
    try:
        left = by_weight(known.drained_g, known.dry_g, grams)
    except ValueError as error:
        raise Refused("grams", str(error)) from error
    last = TrayLook.objects.filter(tray=tray).order_by("-day", "-hour", "-pk").first()
    before = None if last is None else 1.0 if last.watered else last.left
    watered = before is not None and left > before + HEAVIER
    return TrayLook(
        tray=tray, day=day, hour=hour, found=seems(left), watered=watered, left=None if watered else round(left, 3)
    )


def keep_weight(write: Write, row: TrayLook) -> bool:
    """Write it, where nobody wrote the same hour down already."""
    if TrayLook.objects.filter(tray=row.tray, day=row.day, hour=row.hour).exists():
        return False
    write.save(row)
    return True


def from_scale(feed: Feed, post: Post, key: str) -> int:
    """What a scale sent, as one entry; raises BadPost for a tray that is not here, or has no weights yet."""
    tray = Tray.objects.filter(garden=feed.garden, code=post.place).first()
    if tray is None:
        raise BadPost(f"“tray” is {post.place[:20]!r}: this garden has no tray of that name.")
    taken = 0
    with suppress(journal.Repeated):
        try:
            with journal.change(
                feed.garden, None, f"{feed.name} weighed {tray.code}", key, feed.name, "device"
            ) as write:
                for r in post.readings:
                    taken += keep_weight(write, look_by_weight(tray, r.celsius, r.day, r.hour))
        except Refused as error:
            raise BadPost(f"{error}.") from error
        return taken
    return 0
