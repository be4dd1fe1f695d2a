"""What was written down of a batch in the last fortnight: nights, light, water, feed, as the trouble finder weighs it and as it is drawn."""

from __future__ import annotations

from collections import defaultdict
from datetime import date, timedelta
from typing import NamedTuple

from aestiva.bench.things import Thing, load_bench
from aestiva.care.models import WaterLook
from aestiva.care.round import key_of, looks_of
from aestiva.course.light import growth_of, lights
from aestiva.course.state import Item, SeasonState
from aestiva.season.models import BatchEvent, WarmReading
from growing.care.steps import carries_until
from growing.care.trouble import LATELY_DAYS, Log
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
    looks: dict[date, WaterLook]
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
    feeds = _feeds(batch, first)
    nights, hot, mean = _warmth(now, batch, first)
    room = (
        None if thing is None or thing.spot is None or now.shared is None else now.shared.dating.room_at(thing.spot.pk)
    )
    air = mean if mean is not None else None if room is None or room.source == "assumed" else room.air_c(today)
    last_fed = max(facts.days.get("fed", ()), default=None)
    until, sown = carries_until(item.raised, today), facts.sown_on
    lying = facts.first_up is None and facts.first("received") is None
    warm = now.warm.get(batch)
    wanted = crop.maybe("first_feed_leaves")
    lately = [r for r in looks.values() if (today - r.day).days < WEEK]
    strong, target = feeds.get(last_fed) if last_fed is not None else None, crop.number("feed_n_mg_l")
    seed = item.raised.seed
    log = Log(
        lying=lying,
        night_c=sum(nights.values()) / len(nights) if nights else None,
        night_wants_c=crop.number("grow_night_c"),
        mean_c=air,
        likes_c=(2 * crop.number("day_c") + crop.number("grow_night_c")) / 3,
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
        wants_feed=None if wanted is None else leaves >= wanted and target > 0,
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


def _feeds(batch: int, first: date) -> dict[date, float | None]:
    """When it was fed, and how strong."""
    rows = BatchEvent.objects.filter(batch=batch, kind="fed").order_by("on").values_list("on", "data")
    return {on: (data or {}).get("n_mg_l") for on, data in rows}


def _warmth(now: SeasonState, batch: int, first: date) -> tuple[dict[date, float], int | None, float | None]:
    """The least of each day, days over 25 °C (None: nobody read), the mean; of the places where it stood, by what was read there."""
    stood = [s for s in now.rows.stood.get(batch, ()) if s.until is None or s.until >= first]
    spots = {s.spot for s in stood}
    if not spots:
        return {}, None, None
    rows = WarmReading.objects.filter(garden=now.garden, spot__in=spots, day__gte=first, day__lte=now.today)
    least: dict[date, float] = {}
    most: dict[date, float] = {}
    all_: dict[date, list[float]] = defaultdict(list)
    for spot, day, low, high in rows.values_list("spot_id", "day", "celsius", "most_c"):
        if not any(s.spot == spot and s.on(day) for s in stood):
            continue
        least[day] = min(least.get(day, low), low)
        most[day] = max(most.get(day, low), high if high is not None else low)
        all_[day] += [low, high] if high is not None else [low]
    if not least:
        return {}, None, None
    values = [c for day in all_.values() for c in day]
    return least, sum(c > HOT_C for c in most.values()), sum(values) / len(values)
