"""What a tray weighs, typed or posted by a scale: how much of its water is left; that it was watered where it is heavier than before."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from django.db.models import Q

from aestiva.care.models import TrayLook, TrayWeight
from aestiva.gardens import devices
from aestiva.gardens.journal import ChangeSet
from aestiva.gardens.outcomes import Refused
from aestiva.place.models import Feed
from aestiva.season.models import Tray
from growing.care.water import SPAN, by_weight, seems
from growing.place.feed import BadPost, Post

EVERY_H, LAST_HOUR = 0.25, 23.75  # of what a scale posts, one look a quarter of an hour
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


def keep_weights(write: ChangeSet, tray: Tray, weights: Sequence[tuple[date, float, float]]) -> list[TrayLook]:
    """Looks for weights [g] at a day and hour; an hour that somebody wrote down already stays.  Returns the new ones.

    Whether it was watered follows from the look before that time, whenever the message came; so what was weighed after it is
    asked anew.  Raises Refused for weights that cannot be.
    """
    known = weight_of(tray)
    looks = {(row.day, row.hour): row for row in _from(tray, *min((day, hour) for day, hour, _ in weights))}
    fresh: list[TrayLook] = []
    for day, hour, grams in weights:
        try:
            left = round(by_weight(known.drained_g, known.dry_g, grams), 3)
        except ValueError as error:
            raise Refused("grams", str(error)) from error
        if (day, hour) not in looks:
            looks[day, hour] = row = TrayLook(tray=tray, day=day, hour=hour, found=seems(left), left=left)
            fresh.append(row)
    if not fresh:
        return []
    changed: list[TrayLook] = []
    begin = min((row.day, row.hour) for row in fresh)
    before: TrayLook | None = None
    for at in sorted(looks):
        row = looks[at]
        if row.left is not None and at >= begin:
            watered = before is not None and row.left > _most_left(before) + HEAVIER
            if row.pk is not None and watered != row.watered:
                changed.append(row)
            row.watered = watered
        before = row
    write.update_many(changed, ["watered"])
    write.insert(fresh)
    return fresh


def _from(tray: Tray, day: date, hour: float) -> list[TrayLook]:
    """Its looks from that hour on, and the one before."""
    mine = TrayLook.objects.filter(tray=tray)
    later = mine.filter(Q(day__gt=day) | Q(day=day, hour__gte=hour))
    earlier = mine.filter(Q(day__lt=day) | Q(day=day, hour__lt=hour)).order_by("-day", "-hour", "-pk")[:1]
    return [*earlier, *later.order_by("-pk")]


def _most_left(look: TrayLook) -> float:
    """The most that it can have held after that look, of what it holds."""
    if look.left is not None:
        return look.left
    return 1.0 if look.watered else SPAN[look.found][1]


def from_scale(feed: Feed, post: Post) -> int:
    """What a scale sent; raises BadPost for a tray that is not here, or has no weights yet."""
    tray = Tray.objects.filter(garden=feed.garden, code=post.place).first()
    if tray is None:
        raise BadPost(f"“tray” is {post.place[:20]!r}: this garden has no tray of that name.")
    device = devices.Device(feed.name, f"{feed.pk}.scale.{tray.pk}")

    def said(count: int) -> str:
        return f"{feed.name} weighed {tray.code}{'' if count == 1 else f', {count} times'}"

    try:
        with devices.heard(feed.garden, device, said) as write:
            weights = [(r.day, min(LAST_HOUR, round(r.hour / EVERY_H) * EVERY_H), r.celsius) for r in post.readings]
            return len(keep_weights(write, tray, weights))
    except Refused as error:
        raise BadPost(f"{error}.") from error
