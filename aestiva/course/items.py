"""One planting or batch of the season as the rules see it: its rows, dates, course, accounts, the warmth it had."""

from __future__ import annotations

from collections.abc import Hashable, Mapping
from datetime import date, timedelta
from typing import NamedTuple

from aestiva.course.facts import SeasonFacts
from aestiva.course.item import Item, SeasonShared
from aestiva.course.known import known, values_of
from aestiva.course.warmth import Had
from aestiva.season.crops import how_of
from aestiva.season.models import Batch, Planting
from aestiva.season.trouble import CANNOT
from aestiva.seeds.queries import had
from growing.batch.climb import ladder_ahead, stressed
from growing.batch.facts import BatchFacts, hardens
from growing.batch.history import BatchState, Sown, replay_planting
from growing.batch.outlook import share_by_warmth
from growing.batch.planned import sowing_of
from growing.chain.course import Course, course
from growing.chain.dates import PlantingDates
from growing.chain.happened import Facts
from growing.chain.leaves import out_later
from growing.chain.standing import standing
from growing.crops import Crop
from growing.ladders.ahead import LadderCase, ahead, limits_of, nights_out
from growing.ladders.ladder import Ladder, LadderProgress, progress
from growing.seeds.clock import Advance
from growing.seeds.sowing import NoCount, Seed
from growing.seeds.viability import InHand


class Known(NamedTuple):
    """A planting worked out: what the rules see of it and of its living batches (None: of what is still to be sown), and what cannot be
    said, of which batch."""

    facts: tuple[tuple[int | None, BatchFacts], ...]
    wrong: tuple[tuple[int, Exception], ...]


def items_of(planting: Planting, crop: Crop, at: SeasonShared, found: SeasonFacts) -> list[Item]:
    """One planting as the rules see it: its living batches, and itself while something is still to be sown for it."""
    batches = {b.pk: b for b in at.rows.batches.get(planting.pk, ())}
    warm = {pk: had for pk, b in batches.items() if (had := at.warmth.had(planting, b, crop)) is not None}
    found.warm |= warm
    sows = _still_to_sow(planting, at, batches)
    one = known(
        _follows_from(planting, crop, at, batches, warm, sows),
        lambda: _worked_out(planting, crop, at, batches, warm, sows),
    )
    for pk, error in one.wrong:
        found.trouble(planting, batches[pk], error)
    grows_at = at.rows.code(planting.spot_id)
    return [
        Item(planting, None, crop, facts.anew(), grows_at, grows_at)
        if pk is None
        else Item(planting, batches[pk], crop, facts.anew(), at.rows.stands.get(pk, ("", ""))[1], grows_at)
        for pk, facts in one.facts
    ]


def _follows_from(
    planting: Planting, crop: Crop, at: SeasonShared, batches: Mapping[int, Batch], warm: Mapping[int, Had], sows: bool
) -> tuple[Hashable, ...]:
    """All that what is worked out of a planting follows from, by value."""
    dating, rows = at.dating, at.rows
    links = tuple(link for link in rows.links if link.child in batches)
    told = dict.fromkeys((*batches, *(link.parent for link in links)))
    of_batches = tuple(
        (
            values_of(b),
            dating.choice(planting, b.sown_on) if b.failed_on is None else None,
            at.packet_key(b.lot_id),
            warm[pk].of if pk in warm else None,
            rows.stands.get(pk),
            at.stages.get(pk),
            at.held.get(pk),
        )
        for pk, b in batches.items()
    )
    lot = dating.lot(planting)
    return (
        at.follows_from,
        crop,
        values_of(planting),
        dating.choice(planting) if sows else None,
        dating.path(planting),
        dating.covers.get(planting.spot_id) if planting.spot_id is not None else None,
        None if lot is None else at.packet_key(lot.pk),
        rows.code(planting.spot_id),
        rows.kind(planting.spot_id),
        tuple(rows.goes.get(planting.pk, ())),
        of_batches,
        links,
        tuple((pk, *rows.events.get(pk, ())) for pk in told),
    )


def _still_to_sow(planting: Planting, at: SeasonShared, batches: Mapping[int, Batch]) -> bool:
    """Is something still to be sown for it: nothing of it lives, or its sowing was done in part?"""
    failed = sum(b.failed_on is not None for b in batches.values())
    mark = at.rows.marks.get(f"p{planting.pk}.sow.{failed}")
    return failed == len(batches) or (mark is not None and mark.done_on is None and mark.count_done is not None)


def _worked_out(
    planting: Planting, crop: Crop, at: SeasonShared, batches: Mapping[int, Batch], warm: Mapping[int, Had], sows: bool
) -> Known:
    living = [b for b in batches.values() if b.failed_on is None]
    failed = len(batches) - len(living)
    sown = {
        pk: Sown(b.sown_on, b.sown_in, b.cells, _mean_c(b, warm.get(pk)), at.how(crop, b).clump)
        for pk, b in batches.items()
    }
    links = [link for link in at.rows.links if link.child in sown]
    begun = _open_facts(planting, crop, at, failed, bool(living)) if sows else None

    def to_sow(secured: int) -> int:
        return 0 if begun is None else max(0, _places_wanted(begun) - secured) * begun.how.clump

    state = replay_planting(
        crop, planting.wanted, sown, [b.pk for b in living], at.rows.events, links, to_sow if living else None
    )
    facts: list[tuple[int | None, BatchFacts]] = []
    wrong: list[tuple[int, Exception]] = []
    if begun is not None:
        begun.secured = state.secured if living else 0
        facts.append((None, begun))
    for batch in living:
        one = state.batches[batch.pk]
        if one.wrong is not None:
            wrong.append((batch.pk, one.wrong))
        try:
            facts.append((batch.pk, _batch_facts(planting, batch, crop, one, at, warm.get(batch.pk))))
        except CANNOT as error:
            wrong.append((batch.pk, error.with_traceback(None)))
    return Known(tuple(facts), tuple(wrong))


def _mean_c(batch: Batch, had: Had | None) -> float | None:
    """The warmth of its mix so far, where it was measured; otherwise as somebody typed it, if anybody did."""
    return had.of.mean_c if had is not None and had.of.measured else batch.temperature_c


def _seed(at: SeasonShared, crop: Crop, batch: Batch, clock: Advance | None, warmth: float | None) -> Seed | None:
    """What its lot does at the warmth that the batch had, and has; past that, as the place is taken to have been."""
    if clock is None:
        return at.seed(crop, batch.lot_id, warmth)
    known = None if batch.lot_id is None else at.known.get(batch.lot_id)
    ratio = share_by_warmth(crop, clock)
    if known is None:
        return Seed(crop.number("fresh_germination") * ratio, None, ratio)
    return Seed(known.mean * ratio, (known.a, known.b), ratio)


def _open_facts(planting: Planting, crop: Crop, at: SeasonShared, failed: int, begun: bool) -> BatchFacts:
    """The planting itself, with what is still to be sown for it."""
    dating = at.dating
    dates = dating.dates(planting, crop)
    how, lot, room = how_of(planting, crop), dating.lot(planting), dating.room(planting)
    warmth = None if room is None else room.germinates_c(dates.sow_on)
    speed = dating.speed_of(planting, crop, dates.sow_on, warmth)
    return BatchFacts(
        ref=f"p{planting.pk}",
        crop=crop,
        wanted=planting.wanted,
        dates=dates,
        course=course(
            crop,
            dates,
            at.ladder(crop),
            how=how,
            speed=speed,
            hardening=hardens(planting.method, planting.stood),
            path=dating.path(planting),
        ),
        facts=Facts(),
        ladder=at.ladder(crop),
        how=how,
        grows_in=at.rows.kind(planting.spot_id),
        has_seed=lot is not None or begun,
        attempt=failed,
        stood=planting.stood,
        planned_on=planting.planned_on,
        away=dating.place.away,
        accepted_risk=dating.place.accepted_risk,
        seed=at.seed(crop, None if lot is None else lot.pk, warmth),
        packet=None if lot is None or lot.pk not in at.known else InHand(at.known[lot.pk], had(lot)),
    )


def _places_wanted(raised: BatchFacts) -> int:
    """Cells, blocks or seeds that the whole sowing takes; as many as plants where the seed gives no count."""
    try:
        return sowing_of(raised).places
    except NoCount:
        return raised.wanted


def _batch_facts(
    planting: Planting, batch: Batch, crop: Crop, state: BatchState, at: SeasonShared, had: Had | None
) -> BatchFacts:
    dating, facts, stage = at.dating, state.facts, at.stages.get(batch.pk)
    climbs, ladder = hardens(planting.method, planting.stood), at.ladder(crop, batch)
    hardened = None
    if climbs:
        hardened = progress(ladder, facts.outings, at.today, stressed(facts.days), facts.days.get("sheltered", ()))
    kind, code = at.rows.stands.get(batch.pk, ("", ""))
    dates = _as_they_stand(planting, batch, crop, facts, hardened, at)
    warmth, room = batch.temperature_c, dating.room(planting)
    if warmth is None and room is not None and batch.sown_on is not None:
        warmth = room.germinates_c(batch.sown_on)
    speed = dating.speed_of(planting, crop, batch.sown_on or dates.sow_on, warmth)
    how, clock = at.how(crop, batch), None if had is None else had.of
    normals = dating.place.normals

    def walked(dates: PlantingDates, hardens_for: date | None = None) -> Course:
        path = dating.path(planting)
        return course(crop, dates, ladder, facts, how, speed, climbs, path, clock, stage, hardens_for)

    raised = BatchFacts(
        ref=f"b{batch.pk}",
        crop=crop,
        wanted=state.wanted,
        dates=dates,
        course=walked(dates),
        stood=planting.stood,
        facts=facts,
        stage=stage,
        ladder=ladder,
        accounts=state.accounts,
        how=how,
        grows_in=at.rows.kind(planting.spot_id),
        cells=batch.cells,
        has_seed=True,
        stands=kind,
        stands_on=code,
        goes=tuple(at.rows.goes.get(planting.pk, ())),
        hardened=hardened,
        nights=at.nights,
        shift_c=at.shift_c,
        summer_night_c=None if normals is None else normals.summer_night_c,
        summer_day_c=None if normals is None else normals.summer_day_c,
        door=at.door,
        accepted_risk=dating.place.risk_for(crop.hardiness),
        seed=_seed(at, crop, batch, clock, warmth),
    )
    if batch.pk in at.held and not facts.outings and (climb := ladder_ahead(raised, at.today)) is not None:
        if climb.ready is not None and climb.ready > dates.out_on:  # it begins in time, and takes longer
            later = dating.choice(planting, batch.sown_on)._replace(out_on=climb.ready, out_because="waits")
            raised.dates = dating.dates(planting, crop, later)
            raised.course = walked(raised.dates, dates.out_on)
    return raised


def _as_they_stand(
    planting: Planting, batch: Batch, crop: Crop, facts: Facts, hardened: LadderProgress | None, at: SeasonShared
) -> PlantingDates:
    """The days of a batch on this day: chosen or by the rules; later where its leaves, its ladder or a gate hold it; as it happened."""
    dating = at.dating
    choice = dating.choice(planting, batch.sown_on)
    if facts.planted_on is not None:
        return dating.dates(planting, crop, choice._replace(out_on=facts.planted_on, out_because="happened"))
    dates = dating.dates(planting, crop, choice)
    small = out_later(at.stages.get(batch.pk), crop, dates.out_on)
    ready = None
    if hardened is not None and hardened.rung is not None and facts.outings:
        ready = _ready(crop, at.ladder(crop, batch), facts, hardened, at, at.rows.stands.get(batch.pk, ("", ""))[0])
    held = at.held.get(batch.pk)
    stands = standing(choice, dates, at.today, facts=facts, small=small, hardened=hardened, ready=ready, held=held)
    return dates if stands is choice else dating.dates(planting, crop, stands)


def _ready(
    crop: Crop, ladder: Ladder, facts: Facts, hardened: LadderProgress, at: SeasonShared, stands: str
) -> date | None:
    """The day on which its ladder is climbed, by the weather ahead and by who is at home."""
    normals, place = at.dating.place.normals, at.dating.place
    nights_c, days_c = (None, None) if normals is None else (normals.summer_night_c, normals.summer_day_c)
    limits = limits_of(crop, nights_c, days_c, place.risk_for(crop.hardiness), at.door.roof)
    last = max([o.day for o in facts.outings[-1:]] + ([facts.out.day] if facts.out is not None else []), default=None)
    since = at.today if last != at.today else at.today + timedelta(days=1)
    had = nights_out(facts.outings)
    case = LadderCase(ladder, hardened, had, None, since, limits, at.nights, at.today, at.shift_c, stands, at.door)
    return ahead(case).ready
