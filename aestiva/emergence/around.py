"""What is around a batch that comes up: what is due, what was done, whom it shares a tray with, where it could go, who wants its mat."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from typing import NamedTuple

from aestiva.bench.ahead import look_ahead
from aestiva.bench.elsewhere import HARDY, bears
from aestiva.bench.stays import zone_of
from aestiva.bench.things import load_bench
from aestiva.course.state import Item, SeasonState
from aestiva.emergence.coming import SowingComing
from aestiva.frame import say
from aestiva.season.models import CellRun, Spot
from growing.batch.verdict import until
from growing.emergence.triggers import KINDS, MatOffer, Trigger, offer, triggers
from growing.place.kinds import SHELTERED, SURFACES
from growing.seeds.thermal_time import relative_share

WORDS = {
    "lamp": "Lamp on", "paper": "Paper off", "vents": "Vents open", "ajar": "Lid ajar", "lid": "Lid away", "mat": "Mat off",
    "below": "Water from below",
}  # fmt: skip
AHEAD_DAYS = 10
MARGIN_C = 2.0  # over what damages it, of a night of the forecast: estimate
WORTH_SETTING_C = 2.0  # from what it likes, from which a thermostat is worth setting
SLOWER_X = 0.4  # behind on the clock, from which another in the tray loses by it
MOST_PLACES, MOST_OFFERED, MOST_ELSEWHERE = 8, 3, 5


class ChangeSaid(NamedTuple):
    """One change as the page shows it: its kind, its word, when, “done”, “now” or “later”."""

    kind: str
    word: str
    when: str
    state: str


def around(one: SowingComing, today: date) -> list[ChangeSaid]:
    """All changes of a batch, done and to come."""
    return [ChangeSaid(t.kind, WORDS[t.kind], _when(t, today), _state(t)) for t in triggers(one.item.raised, today)]


def _state(one: Trigger) -> str:
    return "done" if one.done is not None else "now" if one.now else "later"


def _when(one: Trigger, today: date) -> str:
    if one.done is not None:
        return f"since {say.short_day(one.done)}"
    if one.now:
        return "now"
    if one.due is None:
        return "when you like"
    return "waits for more up" if one.due <= today else f"about {say.short_day(one.due)}"


def all_due(said: Sequence[ChangeSaid]) -> str:
    """“mat off, lamp on and lid away”; empty where nothing is due."""
    return say.listed([s.word.lower() for s in said if s.state == "now"])


def tray_mates(now: SeasonState, one: SowingComing, found: Sequence[SowingComing]) -> list[SowingComing]:
    """Others under the mix in the same tray that are far behind: they would lose its warmth or its lid."""
    trays = CellRun.objects.filter(batch=one.batch, until=None).values("tray")
    beside = set(CellRun.objects.filter(tray__in=trays, until=None).values_list("batch_id", flat=True))
    return [c for c in found if c.batch in beside and c.batch != one.batch and c.case.x < one.case.x - SLOWER_X]


class PlaceAround(NamedTuple):
    """A place it could go to: room there in flats, warmth of mix [°C] (None: nobody knows), half up by when (None: never), light."""

    spot: Spot
    free: float
    celsius: float | None
    half: date | None
    lit: str


LIGHT = {"lamp": "under a lamp", "window": "at a window"}


class AroundContext(NamedTuple):
    """A place that a batch may stand in: flats free there (None: its size is not known), and is there too little for it?"""

    spot: Spot
    free: float | None
    full: bool


def grounds(now: SeasonState, item: Item) -> list[AroundContext]:
    """Every place that a batch may stand in, with the room that is left there: the same for whoever asks."""
    assert item.batch is not None
    ahead = look_ahead(now, load_bench(now))
    held = {p.key: p for p in ahead.places}
    at, last = now.today.toordinal(), now.today + timedelta(days=AHEAD_DAYS)
    flats = max((s.flats for s in ahead.stays if s.batch == item.batch.pk and s.since <= at < s.until), default=0.3)
    own = {
        p.place: p.flats
        for p in ahead.pieces
        if (stay := ahead.stays[p.stay]).batch == item.batch.pk and stay.since <= last.toordinal()
    }  # it may have been given a place there already
    found = []
    for spot in Spot.objects.filter(garden=now.garden, kind__in=SURFACES).order_by("order", "code"):
        place = held.get(spot.pk)
        free = None if place is None else ahead.free(place, now.today, last) + own.get(spot.pk, 0.0)
        here = spot.code == item.spot_code
        if here or (zone_of(spot) and stands(now, item, spot)):
            found.append(AroundContext(spot, free, not here and free is not None and free < flats - 1e-6))
    return found


def places(now: SeasonState, item: Item, one: SowingComing | None) -> list[PlaceAround]:
    """Every place with room for it: for what is up the lit ones first, for what is not the soonest.  one: while it is under the mix."""
    found = []
    for spot, free, full in grounds(now, item):
        if spot.code == item.spot_code or full:
            continue
        celsius, half = warmth_of(now, item, spot.pk), None
        if celsius is not None and one is not None:
            half = until(one.case.of, one.case.x, 0.5, one.case.batch.sigma, celsius, now.today)
        found.append(PlaceAround(spot, free or 0.0, celsius, half, LIGHT.get(spot.lit, "no light")))
    some_up = one is None or one.up > 0
    found.sort(
        key=lambda p: (
            p.lit == "no light" if some_up else False,
            p.celsius is None,
            p.half is None,
            p.half or now.today,
            -p.free,
        )
    )
    return found[:MOST_PLACES]


def stands(now: SeasonState, item: Item, spot: Spot) -> bool:
    """May it stand there?  Indoors anything; in a porch, frame or tunnel what the usual coldest night of the next two weeks, and every
    night of the forecast, spares."""
    if zone_of(spot) not in SHELTERED:
        return True
    least = item.crop.number("damage_c") + MARGIN_C
    told = [n.tmin_c + now.shift_c for n in now.nights]
    return item.crop.hardiness in HARDY and bears(now, item, now.today) and min(told, default=least + 1) > least


class Elsewhere(NamedTuple):
    """What another place would do: its code, the warmth of mix there [°C], half up by when (None: never), how many come."""

    spot: Spot
    here: bool
    celsius: float
    half: date | None
    come: int
    set_so: bool = False  # the same place, its thermostat set to that
    full: bool = False  # no room there


def sows_anew(one: SowingComing) -> bool:
    """Is the question where to sow it again, not where to put what is sown?"""
    return one.verdict.sows or one.verdict.kind == "late"


def elsewhere(now: SeasonState, one: SowingComing) -> list[Elsewhere]:
    """Other places there are, the soonest first, those alike once; of what is to be sown again, as sown today."""
    anew = sows_anew(one)
    if now.shared is None or (one.case.x >= 1 and not anew):
        return []
    found, alike = [], set()
    for spot, _, full in sorted(grounds(now, one.item), key=lambda g: (g.spot.pk != one.had.spot, g.full)):
        celsius, here = warmth_of(now, one.item, spot.pk), spot.pk == one.had.spot
        if celsius is None or (not here and round(celsius) in alike):
            continue
        alike.add(round(celsius))
        half = until(one.case.of, 0.0 if anew else one.case.x, 0.5, one.case.batch.sigma, celsius, now.today)
        share = relative_share(one.item.crop, celsius)
        found.append(
            Elsewhere(
                spot,
                here,
                celsius,
                half,
                round(one.seeds * one.item.crop.number("fresh_germination") * share),
                full=full,
            )
        )
    found += _set_better(now, one, anew)
    return sorted(found, key=lambda f: (f.full, f.half is None, f.half, -f.come))[:MOST_ELSEWHERE]


def _set_better(now: SeasonState, one: SowingComing, anew: bool) -> list[Elsewhere]:
    """Where it lies on a mat with thermostat that is set otherwise than it likes: the same place, set to that."""
    spot = None if one.had.spot is None or now.shared is None else now.shared.dating.spot_at(one.had.spot)
    best = one.item.crop.number("germinate_c")
    if spot is None or spot.heated != "thermostat" or abs(one.had.last_c - best) < WORTH_SETTING_C:
        return []
    half = until(one.case.of, 0.0 if anew else one.case.x, 0.5, one.case.batch.sigma, best, now.today)
    come = round(one.seeds * one.item.crop.number("fresh_germination") * relative_share(one.item.crop, best))
    return [Elsewhere(spot, True, best, half, come, True)]


def warmth_of(now: SeasonState, item: Item, spot: int) -> float | None:
    """What the mix of a batch would have in a place [°C]: as somebody read it there, as it is assumed, or by a thermostat as the crop
    likes it; None: nobody knows."""
    assert now.shared is not None
    read = now.shared.warmth.lately(spot)
    if read is not None:
        return read
    room = now.shared.dating.room_at(spot)
    if room is None:
        return None
    given = room.germinates_c(now.today)
    return item.crop.number("germinate_c") if given is None else given


def who_gains(now: SeasonState, mat: Spot, found: Sequence[SowingComing]) -> list[tuple[SowingComing, MatOffer]]:
    """Who under the mix would come sooner on a mat that is free now, the greatest gain first."""
    gains = []
    for one in found:
        if one.had.spot == mat.pk or one.item.raised.stands == "mat":
            continue
        case, mat_c = one.case, warmth_of(now, one.item, mat.pk)
        if mat_c is None:
            continue
        made = offer(case.of, case.x, case.batch.sigma, case.rate or 0.0, mat_c, case.high_c, now.today)
        if made is not None:
            gains.append((one, made))
    gains.sort(key=lambda g: (g[1].here is not None, -((g[1].here or now.today) - g[1].there).days, g[0].name))
    return gains[:MOST_OFFERED]


assert set(WORDS) == set(KINDS)
