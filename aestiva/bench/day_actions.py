"""What a tap at the bench writes: a stage once, a sowing and a potting into the history, a soak with its hour."""

from __future__ import annotations

from datetime import date, timedelta

from aestiva.accounts.models import User
from aestiva.bench.days import recipe_for, recipes_of
from aestiva.bench.models import SOAK, BenchDay, DayLine, Filled, StageDone, Store, Timer
from aestiva.bench.placing import spot_for
from aestiva.bench.things import grid, load_bench
from aestiva.course.finishing import write_done
from aestiva.course.state import SeasonState, Todo, load
from aestiva.gardens import clock, journal
from aestiva.gardens.journal import ChangeSet
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused
from aestiva.season.actions import add_event, split
from aestiva.season.contents import contents_of, open_runs, put
from aestiva.season.models import Container, Planting, Spot
from aestiva.season.places import move_on, place_tray, stand
from growing.bench import day as core
from growing.bench.cells import SPENT, UNSEEN, listed
from growing.bench.mix import scald_wrong


def finish_stage(
    garden: Garden,
    user: User,
    day: BenchDay,
    line_id: int,
    stage: str,
    today: date,
    key: str,
    count: int | None = None,
    spot: Spot | None = None,
    rest: Spot | None = None,
    skipped: bool = False,
) -> StageDone | None:
    """One stage of one line is done: written once, by whoever taps first; sowing and potting go into the history.

    None: somebody has done it already.  rest: where plants stay that were not potted.
    """  # fmt: skip
    with journal.change(garden, user, "", key) as write:
        line = DayLine.objects.select_related("planting", "tray", "batch").filter(day=day, pk=line_id).first()
        if line is None or stage not in core.stages_of(day.kind):
            raise Refused("stage", "this sheet has no such line: look again")
        if StageDone.objects.filter(line=line, stage=stage).exists():
            return None
        day = write.touch(BenchDay.objects.select_related("recipe", "garden").get(pk=day.pk))
        for other in _beside(day, line, stage):
            write.save(StageDone(day=day, line=other, stage=stage, at=clock.instant(), skipped=skipped, by=user))
        done = write.save(StageDone(day=day, line=line, stage=stage, at=clock.instant(), skipped=skipped, by=user))
        what = f"Left out “{stage}”" if skipped else f"{STAGE_DONE[stage]}"
        code = line.tray.code if line.tray is not None else ""
        write.summary = f"{what}: {code} {line.planting}".replace("  ", " ")[:250]
        if skipped and stage == core.CLOCK[day.kind]:
            raise Refused(
                "stage", "that stage cannot be left out: put the sowing off on Today, or take the line off this sheet"
            )
        if not skipped and stage == core.CLOCK[day.kind]:
            if day.kind == "sow":
                _sown(write, garden, user, day, line, today, count)
            else:
                _potted(write, user, day, line, today, count, rest)
        if not skipped and stage == core.STANDS:
            _placed(write, garden, line, today, spot)
    return done


STAGE_DONE = {
    "label": "Labels", "fill": "Filled", "firm": "Firmed", "dib": "Dibbed", "seed": "Sowed", "cover": "Covered", "mist": "Misted",
    "place": "Placed", "lift": "Lifted", "pot": "Potted", "water": "Watered",
}  # fmt: skip


def _beside(day: BenchDay, line: DayLine, stage: str) -> list[DayLine]:
    """Other lines of the same tray for which one tap does as well: filling a tray fills it whole."""
    if line.tray_id is None or stage in (core.CLOCK[day.kind], "label", "dib", "cover"):
        return []
    done = StageDone.objects.filter(day=day, stage=stage).values("line")
    return list(day.lines.filter(tray=line.tray_id).exclude(pk=line.pk).exclude(pk__in=done))


def _todo(garden: Garden, line: DayLine, today: date) -> tuple[SeasonState, Todo | None]:
    now = load(garden, today, plantings=[line.planting_id])
    return now, now.find(line.task)


def _sown(
    write: ChangeSet, garden: Garden, user: User, day: BenchDay, line: DayLine, today: date, count: int | None
) -> None:
    """The sowing itself: a batch, in its cells, in the mix of the day."""
    if day.on > today:
        raise Refused("stage", f"this sheet is for {day.on:%-d %B}: what can be done before is on it, sowing is not")
    now, todo = _todo(garden, line, today)
    if todo is None:
        raise Refused("stage", "this sowing is done already, or no longer needed: take the line off this sheet")
    tray = line.tray
    box = tray is not None and line.places > tray.cells
    places = line.places if count is None else count
    if not 1 <= places <= 20_000:
        raise Refused("count", f"{places} is not a number to sow: give 1 or more")
    if tray is not None and not box and line.first + places - 1 > tray.cells:
        raise Refused(
            "count",
            f"{tray.code} has {tray.cells - line.first + 1} cells from {grid(tray).name(line.first)} on: sow the others in another tray",
        )
    batch = write_done(write, now, user, todo, today, today, places)
    assert batch is not None
    if batch.per_cell != line.per_cell and not box:
        raise Refused(
            "per_cell", "seeds in a cell have changed since the sheet was begun: take this line off and begin again"
        )
    line.batch, line.places = batch, places
    write.save(line)
    if tray is not None:
        tray = write.touch(tray)
        held = contents_of(open_runs(tray))
        cells = range(1, tray.cells + 1) if box else range(line.first, line.first + places)
        taken = [c for c in cells if c in held and held[c][1] not in SPENT]
        if taken:
            raise Refused("cells", f"{listed(taken, grid(tray))} of {tray.code} are booked already: choose other cells")
        put(
            write,
            tray,
            {c: v for c, v in held.items() if c not in cells} | dict.fromkeys(cells, (batch.pk, UNSEEN)),
            today,
        )
    mix = recipe_for(day, recipes_of(day), todo.item)
    if mix is not None:
        write.save(Filled(batch=batch, recipe=mix, on=today))


def _potted(
    write: ChangeSet, user: User, day: BenchDay, line: DayLine, today: date, count: int | None, rest: Spot | None
) -> None:
    """Potted up, whole or in part: those potted are a batch of their own where others stay behind."""
    assert line.batch is not None
    now, todo = _todo(day.garden, line, today)
    if todo is None or todo.batch is None:
        raise Refused("stage", "these are potted already, or gone: take the line off this sheet")
    all_of = todo.item.raised.plants or line.places
    number = line.places if count is None else count
    if not number >= 1:
        raise Refused("count", f"{number} potted cannot be: give 1 or more, or take the line off this sheet")
    if number > max(all_of, todo.task.count or 0):
        raise Refused("count", f"{number} are more than there are ({all_of}): count again")
    batch = write.touch(todo.batch)
    if number < all_of:
        batch_of = split(write, batch, number, today, today)
        add_event(write, batch_of, "potted", today, today, count=number)
        move_on(write, batch_of, today)
        if rest is not None:
            stand(write, batch, rest, today)
        line.batch = batch_of
    else:
        made = write_done(write, now, user, todo, today, today, None)
        assert made is not None
        line.batch = made
    line.places = number
    write.save(line)
    mix = recipe_for(day, recipes_of(day), todo.item)
    if mix is not None:
        write.save(Filled(batch=line.batch, recipe=mix, on=today))


def _placed(write: ChangeSet, garden: Garden, line: DayLine, today: date, spot: Spot | None) -> None:
    if spot is None:
        raise Refused("spot", "choose where it stands")
    if line.tray is None:
        if line.batch is not None:
            stand(write, write.touch(line.batch), spot, today, potted=True)
        return
    bench = load_bench(load(garden, today))
    tray = write.touch(line.tray)
    thing = bench.thing(tray)
    at = spot_for(thing, bench.places[spot.pk], None) if spot.pk in bench.places else None
    place_tray(write, tray, spot, today, at)


def drop_line(garden: Garden, user: User, day: BenchDay, line_id: int, key: str) -> None:
    """A line off the sheet; its tray goes back where nothing is in it and nobody else's line needs it."""
    with journal.change(garden, user, "", key) as write:
        line = DayLine.objects.select_related("tray", "planting").filter(day=day, pk=line_id).first()
        if line is None:
            raise Refused("", "this line is gone already")
        if StageDone.objects.filter(line=line, stage=core.CLOCK[day.kind]).exists():
            raise Refused("", "this is sown or potted already: take that back in the journal instead")
        write.summary = f"Took {line.planting} off the sheet of {day.on:%-d %B}"[:250]
        for done in StageDone.objects.filter(line=line):
            write.delete(done)
        tray = line.tray
        write.delete(line)
        if tray is not None and not (tray.runs.exists() or tray.stands.exists() or tray.bench_lines.exists()):
            write.delete(tray)


def leave(garden: Garden, user: User, day: BenchDay, key: str) -> None:
    """A sheet of which nothing is sown or potted goes, with the trays that were only meant."""
    with journal.change(garden, user, f"Dropped the sheet of {day.on:%-d %B}", key) as write:
        day = write.touch(BenchDay.objects.get(pk=day.pk))
        if StageDone.objects.filter(day=day, stage=core.CLOCK[day.kind]).exists():
            raise Refused("", "something of this sheet is sown or potted: it stays, as part of what happened")
        for done in StageDone.objects.filter(day=day):
            write.delete(done)
        trays = {}
        for line in day.lines.select_related("tray"):
            if line.tray is not None:
                trays[line.tray.pk] = line.tray
            write.delete(line)
        for tray in trays.values():
            if not (tray.runs.exists() or tray.stands.exists() or tray.bench_lines.exists()):
                write.delete(tray)
        write.delete(day)


def evening_done(garden: Garden, user: User, day: BenchDay, stage: str, key: str) -> None:
    """Something of the evening before is done; heat after compost is refused."""
    if stage not in core.EVENING:
        raise Refused("stage", "there is nothing of that kind to do")
    with journal.change(garden, user, f"The evening before {day.on:%-d %B}: {EVENING_SAID[stage]}", key) as write:
        done = set(StageDone.objects.filter(day=day, line=None).values_list("stage", flat=True))
        if stage in done:
            return
        day = write.touch(BenchDay.objects.select_related("recipe").get(pk=day.pk))
        if stage == "scald":
            living = day.recipe is not None and day.recipe.living
            if wrong := scald_wrong(living, "compost" in done):
                raise Refused("stage", wrong)
        write.save(StageDone(day=day, line=None, stage=stage, at=clock.instant(), by=user))
        if stage == "wash":
            for one in Container.objects.filter(garden=garden, to_wash__gt=0):
                one.to_wash = 0
                write.save(one)
            for store in Store.objects.filter(garden=garden, to_wash__gt=0):
                store.to_wash = 0
                write.save(store)


EVENING_SAID = {
    "wash": "trays and lids washed", "scald": "mix scalded", "compost": "compost mixed in", "wet": "mix wetted",
    "squeeze": "trays filled and drained",
}  # fmt: skip


def start_timer(garden: Garden, user: User, day: BenchDay, planting: Planting, minutes: int, key: str) -> Timer:
    """A soak begins: its end is known to the server, to Today and to the calendar."""
    if not 1 <= minutes <= 96 * 60:
        raise Refused("minutes", "give 1 minute to 4 days")
    at = clock.instant()
    with journal.change(garden, user, f"Put {planting} to soak"[:250], key) as write:
        write.touch(day)
        if Timer.objects.filter(garden=garden, planting=planting, done_at=None).exists():
            raise Refused("", "it soaks already")
        return write.save(
            Timer(
                garden=garden,
                kind=SOAK,
                what="soak",
                planting=planting,
                started=at,
                due=at + timedelta(minutes=minutes),
            )
        )


def end_timer(garden: Garden, user: User, timer: Timer, key: str) -> None:
    with journal.change(garden, user, f"Drained {timer.planting or timer.what}"[:250], key) as write:
        timer = write.fresh(timer)
        if timer.done_at is None:
            timer.done_at = clock.instant()
            write.save(timer)
