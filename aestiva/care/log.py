"""What was written down of a batch in the last fortnight: nights, light, water, feed, as the trouble finder weighs it and as it is drawn."""

from __future__ import annotations

from collections import defaultdict
from datetime import date, timedelta
from typing import NamedTuple

from aestiva.bench.things import Thing, load_bench
from aestiva.care.round import Looked, key_of, looks_of
from aestiva.course.light import growth_of, lights, likes_c, up_since
from aestiva.course.state import Item, SeasonState
from aestiva.season.models import BatchEvent
from growing.care.steps import carries_until
from growing.care.trouble import LATELY_DAYS, UNFED_DAYS, Log
from growing.care.water import WANTS
from growing.light.targets import band

WEEK = 7
HOT_C = 25.0


class Fortnight(NamedTuple):
    """The log in numbers, and day by day for the drawing: the least of each night, light, what was found and watered, feeds."""

    log: Log
    first: date
    nights: dict[date, float]
    dli: dict[date, float]
    looks: dict[date, Looked]
    feeds: dict[date, float | None]
    wants_night_c: float
    low_dli: float


def fortnight(now: SeasonState, item: Item) -> Fortnight:
    """Of one batch."""
    today, batch = now.today, item.batch_pk
    first = today - timedelta(days=LATELY_DAYS - 1)
    facts, crop = item.raised.facts, item.crop
    thing = _thing(now, batch)
    lit = lights(now).get(batch)
    leaves = growth_of(item, today, lights(now)).leaves
    low = band(crop, leaves).low
    had = {} if lit is None else {lit.start + timedelta(days=k): float(v) for k, v in enumerate(lit.dli) if v == v}
    dli = {day: value for day, value in had.items() if day >= first}
    looks = {
        r.day: r
        for r in (looks_of(now.garden, today).get(key_of(thing), []) if thing is not None else [])
        if r.day >= first
    }
    feeds = _feeds(batch)
    nights, hot, mean = _warmth(now, batch, first)
    room = (
        None if thing is None or thing.spot is None or now.shared is None else now.shared.dating.room_at(thing.spot.pk)
    )
    air = mean if mean is not None else None if room is None or room.source == "assumed" else room.air_c(today)
    last_fed = max(facts.days.get("fed", ()), default=None)
    until, sown = carries_until(item.raised), facts.sown_on
    lying = up_since(item) is None
    warm = now.warm.get(batch)
    wanted = crop.maybe("first_feed_leaves")
    lately = [r for r in looks.values() if (today - r.day).days < WEEK]
    strong, target = feeds.get(last_fed) if last_fed is not None else None, crop.number("feed_n_mg_l")
    seed, up = item.raised.seed, up_since(item)
    long_up = last_fed is not None or (up is not None and (today - up).days > UNFED_DAYS)
    log = Log(
        lying=lying,
        night_c=sum(nights.values()) / len(nights) if nights else None,
        night_wants_c=crop.number("grow_night_c"),
        mean_c=air,
        likes_c=likes_c(crop),
        dli=sum(dli.values()) / len(dli) if dli else None,
        low_dli=low,
        gap_cm=None
        if thing is None or thing.headroom is None or thing.headroom.under != "lamp"
        else thing.headroom.gap_cm,
        looks=len(lately),
        watered_days=sum(r.watered for r in lately),
        wet_looks=sum(r.found == "wet" for r in lately),
        dry_looks=sum(r.found in WANTS[1:] for r in lately),
        fed_days=None if last_fed is None else (today - last_fed).days,
        fed_times=strong / target if strong and target else None,
        wants_feed=None if wanted is None else leaves >= wanted and target > 0 and long_up,
        lid=None if thing is None or thing.tray is None else thing.lidded,
        out_days=(today - facts.outings[0].day).days if facts.outings else None,
        age_share=(today - sown).days / max(1, (until - sown).days) if until is not None and sown is not None else None,
        hot_days=hot,
        mix_c=warm.of.mean_c if warm is not None and lying else None,
        least_c=crop.number("min_c"),
        seed_share=None
        if seed is None or not lying
        else seed.mean / max(0.01, seed.ratio * crop.number("fresh_germination")),
        light_seed=crop.word("light") == "light",
        lit=None if thing is None or thing.spot is None else bool(thing.spot.lit) or facts.first("lamp") is not None,
        x=warm.of.by_day[-1] if warm is not None and lying else None,
        dark_days=None if lit is None else lit.dark_days,
    )
    return Fortnight(log, first, nights, dli, looks, feeds, crop.number("grow_night_c"), low)


def _thing(now: SeasonState, batch: int) -> Thing | None:
    """The tray or pots in which most of it stands."""
    bench = load_bench(now)
    here = [t for one in bench.places.values() for t in one.things] + bench.nowhere
    of = [(len(p.cells), n, t) for n, t in enumerate(here) for p in t.parts if p.batch == batch]
    return max(of, key=lambda one: (one[0], -one[1]))[2] if of else None


def _feeds(batch: int) -> dict[date, float | None]:
    """When it was fed, and how strong."""
    rows = BatchEvent.objects.filter(batch=batch, kind="fed").order_by("on").values_list("on", "data")
    return {on: (data or {}).get("n_mg_l") for on, data in rows}


def _warmth(now: SeasonState, batch: int, first: date) -> tuple[dict[date, float], int | None, float | None]:
    """The least of each day, days over 25 °C (None: nobody read), the mean; of the places where it stood, by what was read there."""
    stood = [s for s in now.rows.stood.get(batch, ()) if s.until is None or s.until >= first]
    assert now.shared is not None
    read: dict[date, list[tuple[float, float, float]]] = defaultdict(list)
    for back in range((now.today - first).days + 1):
        day = now.today - timedelta(days=back)
        for s in stood:
            if s.on(day) and (found := now.shared.warmth.range_on(s.spot, day)) is not None:
                read[day].append(found)
    if not read:
        return {}, None, None
    least = {day: min(low for low, _, _ in own) for day, own in read.items()}
    hot = sum(max(high for _, high, _ in own) > HOT_C for own in read.values())
    means = [mean for own in read.values() for _, _, mean in own]
    return least, hot, sum(means) / len(means)
