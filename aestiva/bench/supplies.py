"""What the season takes of trays, pots, lids, mix and labels, against what there is; and the list two weeks before the first sowing."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from datetime import date, timedelta
from typing import NamedTuple

from aestiva.bench.models import Store
from aestiva.course.state import Item, SeasonState
from aestiva.frame import say
from aestiva.frame.say import Reader
from aestiva.gardens.models import Garden
from aestiva.season.models import CellRun, Container, Spot
from aestiva.season.things import measures_of, nearest, own_vessels, vessels_of
from growing.batch.planned import sowing_of
from growing.bench.mix import litres_for
from growing.bench.paths import trays_of
from growing.bench.stock import PREPARE_DAYS, StockUse, Supply, in_use, prepare_from, supply, used_up
from growing.chain.kinds import POTS
from growing.chain.path import ContainerStay, Vessel, usual_vessels, walk
from growing.seeds.sowing import NoCount
from growing.shelves.room import BOX_SEEDS

UP_UNKNOWN_DAYS = 10  # of a course without emergence: estimate


class SupplyNeed(NamedTuple):
    """A thing against its use; row: what the garden wrote of it, None: it never said that it has any."""

    name: str
    row: Container | Store | None
    supply: Supply
    curve: str
    unit: str = ""


class Taken(NamedTuple):
    """A planting or batch in a container from a day to another."""

    key: str
    since: date
    until: date
    things: int
    litres: float
    lid_until: date | None
    flats: float = 0.0  # ground, in full flats
    depth_cm: float = 0.0


def standing_in(garden: Garden) -> dict[int, Vessel]:
    """The containers of the trays that batches stand in, as far as anybody said, by batch."""
    runs = CellRun.objects.filter(tray__garden=garden, until=None, tray__container__isnull=False)
    return {
        r.batch_id: Vessel(r.tray.container.kind or r.tray.container.name, measures_of(r.tray.container))
        for r in runs.select_related("tray__container")
        if r.tray.container is not None
    }


def way_of(now: SeasonState, item: Item, own: Sequence[Vessel], stands_in: Mapping[int, Vessel]) -> list[Vessel]:
    """The containers of a planting or batch: as chosen, else as usual by what there is; what it stands in is what it stands in."""
    pot = item.raised.course.steps.get("pot")
    chosen = [] if now.shared is None else list(now.shared.dating.path(item.planting))
    usual = usual_vessels(item.crop, item.raised.how, pot is not None and pot.day < item.raised.dates.out_on)
    found = chosen or [nearest(own, v) for v in usual]
    if item.batch is not None and item.batch.pk in stands_in:
        here = stands_in[item.batch.pk]
        later = [
            v for v in found if v.measures.cell_ml > here.measures.cell_ml and v.measures.cells == 1 and not v.together
        ]
        potted = here.measures.cells == 1 and not here.together
        found = [here, *(later if chosen else [])] if potted else [here, *(later or found[1:])]
    return found


def begins_of(item: Item) -> tuple[date, date]:
    """The day it is sown and the day half of it is up, as they happened or are expected."""
    sow, up = item.raised.facts.sown_on or item.raised.dates.sow_on, item.raised.course.steps.get("up")
    return sow, up.day if up is not None else sow + timedelta(days=UP_UNKNOWN_DAYS)


def taken_by(
    now: SeasonState,
    item: Item,
    own: Sequence[Vessel],
    stands_in: Mapping[int, Vessel],
    put_off: date | None = None,
) -> list[Taken]:
    """The containers of one planting or batch, from now on; own: what there is.  stands_in: what batches stand in, by their key.

    put_off: the day to which its next potting might be put off.
    """
    raised, dates = item.raised, item.raised.dates
    if dates.method not in ("raised", "winter") or raised.facts.planted_on is not None or now.shared is None:
        return []
    if item.crop.maybe("raise_max") is None:
        return []
    sow, up_on = begins_of(item)
    if dates.out_on <= sow:
        return []
    cells = raised.cells or 0
    if not cells:
        try:
            cells = sowing_of(raised).places
        except NoCount:
            cells = raised.wanted
    plants = min(raised.plants or raised.wanted, max(raised.wanted, 1) * 2)
    vessels = way_of(now, item, own, stands_in)
    standings: list[ContainerStay] = walk(
        item.crop, vessels, sow, up_on, dates.out_on, moves_of(now, item, vessels, put_off)
    )
    found = []
    for n, s in enumerate(standings):
        assert s.vessel is not None
        m = s.vessel.measures
        count = cells if n == 0 else plants
        if n == 0 and (s.vessel.together or item.planting.sown_in == "box"):
            count = max(1, math.ceil(cells / BOX_SEEDS))
        things = max(1, math.ceil(count / m.cells))
        mix, ground = litres_for(count, m.cell_ml), trays_of(s.vessel, count)
        lid = up_on if n == 0 else None
        found.append(Taken(s.vessel.key, s.since, s.until, things, mix, lid, ground, m.depth_cm))
    return found


def moves_of(now: SeasonState, item: Item, vessels: Sequence[Vessel], put_off: date | None = None) -> list[date]:
    """The days on which it goes from each of these containers into the next: as it happened, as somebody put it off, as planned."""
    steps, prick = item.raised.course.steps, item.raised.course.steps.get("prick")
    moves = [] if prick is None else [prick.day]
    for n, kind in enumerate(POTS):
        step = steps.get(kind)
        if step is None:
            break
        mark = None if item.batch is None else now.rows.marks.get(f"b{item.batch.pk}.pot.{n}")
        later = None if mark is None or step.happened is not None else mark.moved_to
        if put_off is not None and step.happened is None:
            later, put_off = put_off, None
        moves.append(later or step.day)
    after = len(vessels) - 1
    return moves[-after:] if after else []


def needs(now: SeasonState) -> list[SupplyNeed]:
    """Containers in use, lids, mix and labels of the season from today on."""
    start = now.today
    days = max(30, (now.horizon - start).days)
    uses: dict[str, list[StockUse]] = defaultdict(list)
    lids: list[StockUse] = []
    mix: list[tuple[date, float]] = []
    labels: list[tuple[date, float]] = []
    own = own_vessels(now.garden)
    stands_in = standing_in(now.garden)
    for item in now.items:
        for taken in taken_by(now, item, own, stands_in):
            uses[taken.key].append(StockUse(taken.since, taken.until, taken.things))
            if taken.lid_until is not None:
                lids.append(StockUse(taken.since, taken.lid_until, taken.things))
            mix.append((taken.since, taken.litres))
            labels.append((taken.since, float(taken.things)))
    vessels = vessels_of(now.garden)
    rows = {c.kind or c.name: c for c in Container.objects.filter(garden=now.garden)}
    found = []
    for key in dict.fromkeys([*rows, *uses]):
        row, name = rows.get(key), vessels[key].measures.name if key in vessels else key
        owned, wash = (row.owned, row.to_wash) if row is not None else (None, 0)
        found.append(
            SupplyNeed(
                name, row, supply(uses.get(key, []), start, days, owned, wash), _curve(uses.get(key, []), start, owned)
            )
        )
    stores = {s.thing: s for s in Store.objects.filter(garden=now.garden)}
    lid, bag, paper = stores.get("lid"), stores.get("mix"), stores.get("label")
    found.append(
        SupplyNeed(
            "Lids",
            lid,
            supply(lids, start, days, lid.owned if lid else None, lid.to_wash if lid else 0),
            _curve(lids, start, lid.owned if lid else None),
        )
    )
    found.append(SupplyNeed("Mix, loose", bag, used_up(mix, start, bag.owned if bag else None), "", "l"))
    found.append(SupplyNeed("Labels", paper, used_up(labels, start, paper.owned if paper else None), ""))
    return found


def _curve(uses: list[StockUse], start: date, owned: float | None) -> str:
    """How many are in use over the next months, and how many there are."""
    span, wide, high = 150, 150.0, 26.0
    used = in_use(uses, start, span)
    top = max(float(used.max()), owned or 0.0, 1.0)
    steps = "".join(f"H{k / span * wide:.1f}V{high - used[k] / top * (high - 4):.1f}" for k in range(0, span, 3))
    line = ""
    if owned is not None:
        y = high - owned / top * (high - 4)
        line = f'<path class="owned" d="M0 {y:.1f}H{wide:.0f}"/>'
    return (
        f'<svg class="usecurve" viewBox="0 0 {wide:.0f} {high:.0f}" width="{wide:.0f}" height="{high:.0f}" aria-hidden="true">'
        f'<path class="used" d="M0 {high:.0f}{steps}V{high:.0f}Z"/>{line}</svg>'
    )


class Ready(NamedTuple):
    """A thing to see to before the first sowing, and why."""

    act: str
    why: str


def preparing(now: SeasonState, found: list[SupplyNeed], reader: Reader) -> tuple[date, date, list[Ready]] | None:
    """From when it is time to get ready, for which sowing, and what there is to do; None: nothing more is sown."""
    sowings = [
        i.raised.dates.sow_on for i in now.items if i.batch is None and i.raised.dates.method in ("raised", "winter")
    ]
    begins = prepare_from(sowings, now.today)
    if begins is None:
        return None
    first = begins + timedelta(days=PREPARE_DAYS)
    acts = []
    wash = [n for n in found if n.row is not None and n.row.to_wash]
    if wash:
        said = ", ".join(f"{say.thing(n.name, reader).lower()} ({n.row.to_wash:g})" for n in wash if n.row is not None)
        acts.append(
            Ready(
                f"Wash: {said}", "Soap and water, then a disinfectant as its label says, rinse: spores stay in corners."
            )
        )
    spots = list(Spot.objects.filter(garden=now.garden))
    lamps = [s.code for s in spots if s.lit == "lamp"]
    if lamps:
        acts.append(
            Ready(
                "Check timers and lamps",
                f"A timer that sticks costs a week of light: {', '.join(lamps)}. Dry hands, plug out.",
            )
        )
        acts.append(
            Ready(
                "Check hangers and chains",
                "A lamp that falls into wet trays is dangerous: pull at each before plants stand under it.",
            )
        )
    mats = [s.code for s in spots if s.kind == "mat" or s.heated in ("mat", "thermostat")]
    if mats:
        acts.append(
            Ready(
                "Run the mats for a day",
                f"Probe in moist mix, {', '.join(mats)}: the dial is not the mix. Use a residual-current socket.",
            )
        )
    for need in found:
        if need.supply.short and need.supply.short_from is not None:
            short = need.supply.short
            much = say.amount(short, need.unit, reader) if need.unit else str(math.ceil(short))
            acts.append(
                Ready(
                    f"Order: {say.thing(need.name, reader).lower()}, {much}",
                    f"Short from {need.supply.short_from:%-d %B}.",
                )
            )
    return begins, first, acts
