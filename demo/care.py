"""The rounds of the last days and what is in the feed cupboard, on the scenario's day."""

from __future__ import annotations

import json
from datetime import date, timedelta

from aestiva.accounts.models import User
from aestiva.care.models import Feed, PotLook, TrayLook, TrayWeight, WaterLook
from aestiva.care.round import Stop, the_round
from aestiva.care.stages import asks
from aestiva.course.state import load
from aestiva.gardens import journal
from aestiva.gardens.models import Garden
from aestiva.place.actions import receive
from aestiva.place.commands import make_key
from aestiva.place.models import Feed as Device
from aestiva.season.actions import add_event
from aestiva.season.models import Batch, Tray
from growing.care.water import WANTS, seems
from growing.place.feed import read_post

DAYS = 12  # of rounds
HOUR = 7.5
OWN = (0.7, 0.85, 1.0, 1.15, 1.4)  # how thirsty the trays are against what the balance says, in turn
FED_DAYS_AGO = 9
FED_N = 75.0
PACES = (1.0, 0.85, 1.1, 1.0, 0.9)  # how far they are against what is reckoned, in turn
LOOKED_DAYS_AGO = ((8, 1), (6,), (8, 2), (9,))
HUNGRY_LEAVES = 4.0  # from which she has fed


def rounds(garden: Garden, user: User, today: date) -> None:
    """She looked every morning and watered what was pale; two feeds stand in the cupboard, and the largest were fed once."""
    stops = the_round(load(garden, today)).stops
    with journal.change(garden, user, f"The rounds of {DAYS} mornings") as write:
        for n, stop in enumerate(s for s in stops if not s.rests):
            for row in _looks(stop, OWN[n % len(OWN)], today):
                write.save(row)
    with journal.change(garden, user, "Described two feeds") as write:
        write.save(Feed(garden=garden, name="Green salts", n=20, p=20, k=20, g_per_ml=1.0, urea=0.5, not_with="lime"))
        write.save(Feed(garden=garden, name="Nettle brew", liquid=True, analysis=False))
    fed = {p.batch for s in stops if s.tray.leaves >= HUNGRY_LEAVES for p in s.thing.parts if p.item is not None}
    on = today - timedelta(days=FED_DAYS_AGO)
    with journal.change(garden, user, "Fed the largest") as write:
        for batch in Batch.objects.filter(pk__in=fed, sown_on__lt=on - timedelta(days=21)).order_by("pk"):
            add_event(write, batch, "fed", on, today, data={"n_mg_l": FED_N})


def leaves_seen(garden: Garden, user: User, today: date) -> None:
    """She said how far most of them were, a week ago and some of them again yesterday; a few come more slowly than the book has it."""
    with journal.change(garden, user, "Looked at the leaves") as write:
        for n, ask in enumerate(sorted(asks(load(garden, today)), key=lambda a: a.batch)):
            pace, each = PACES[n % len(PACES)], ask.item.crop.maybe("leaf_days") or 7.0
            for days in LOOKED_DAYS_AGO[n % len(LOOKED_DAYS_AGO)]:
                on = today - timedelta(days=days)
                if on > ask.one.up and (ask.item.batch is not None):
                    count = int(max(0.0, ask.growth.leaves - days / each) * pace)
                    add_event(write, ask.item.batch, "stage", on, today, data={"leaves": count})


SCALE = "Scale"
DRAINED_G, DRY_G = 4600.0, 2900.0
WEIGHED_AT = 6.0


def scale_under(garden: Garden, user: User, today: date) -> None:
    """The thirstiest tray stands on a scale that posts every morning."""
    stops = [s for s in the_round(load(garden, today)).stops if s.thing.tray is not None and not s.lying]
    if not stops:
        return
    stop = max(stops, key=lambda s: s.tray.falls)
    assert stop.thing.tray is not None
    with journal.change(garden, user, f"A scale under {stop.code}") as write:
        write.save(TrayWeight(tray=Tray.objects.get(pk=stop.thing.tray.pk), drained_g=DRAINED_G, dry_g=DRY_G))
    make_key(garden, user, SCALE)


def weigh(garden: Garden, day: date) -> None:
    """What the scale says this morning, posted the way any device posts it."""
    device = Device.objects.filter(garden=garden, name=SCALE, revoked=False).first()
    weights = {w.tray_id: w for w in TrayWeight.objects.filter(tray__garden=garden)} if device is not None else {}
    if device is None or not weights:
        return
    for stop in the_round(load(garden, day)).stops:
        known = weights.get(stop.thing.tray.pk) if stop.thing.tray is not None else None
        if known is None or not stop.looks:
            continue
        last = stop.looks[-1]
        left = max(0.0, last.after - OWN[0] * stop.tray.falls * (day.toordinal() + WEIGHED_AT / 24 - last.at))
        grams = round(known.dry_g + left * (known.drained_g - known.dry_g))
        message = {"kind": "scale", "tray": stop.code, "readings": [{"at": f"{day}T06:00", "grams": grams}]}
        body = json.dumps(message).encode()
        receive(device, read_post(body, day), body)


def walk(garden: Garden, user: User, today: date, key: str = "") -> int:
    """The round of a morning as it is reckoned, and a look at the leaves where one is due; how many trays and batches were seen."""
    now = load(garden, today)
    due = the_round(now).due
    asked = [a for a in asks(now) if a.due]
    if not due and not asked:
        return 0
    with journal.change(garden, user, "The round, and a look at the leaves", f"{key}-round" if key else "") as write:
        for stop in due:
            seen = "pale" if stop.next.left is None else stop.next.expects
            write.save(_look(stop, today, seen))
        for ask in asked:
            assert ask.item.batch is not None
            had = 0 if ask.one.seen is None else ask.one.seen.leaves
            add_event(
                write, Batch.objects.get(pk=ask.batch), "stage", today, today, data={"leaves": max(had, ask.likely)}
            )
    return len(due) + len(asked)


def _look(stop: Stop, day: date, seen: str) -> WaterLook:
    """What was found and done at one tray."""
    row: WaterLook = (
        TrayLook(tray=Tray.objects.get(pk=stop.thing.tray.pk))
        if stop.thing.tray is not None
        else PotLook(batch_id=stop.thing.parts[0].batch)
    )
    row.day, row.hour, row.found, row.watered = day, HOUR, seen, seen in WANTS
    if row.watered:
        row.given_ml = round(stop.tray.dose_ml(seen))
    return row


def _looks(stop: Stop, own: float, today: date) -> list[WaterLook]:
    """What a tray of that thirst shows of a morning, from the day it was sown."""
    first = max(today - timedelta(days=DAYS), stop.since or today)
    left, found = 1.0, list[WaterLook]()
    day = first
    while day < today:
        row = _look(stop, day, seems(left))
        found.append(row)
        left = max(0.0, (1.0 if row.watered else left) - own * stop.tray.falls)
        day += timedelta(days=1)
    return found
