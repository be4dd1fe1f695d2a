"""Today's tasks done as a careful grower would: what she finds is what nature has there, and she writes down what died."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from typing import NamedTuple
from zlib import crc32

from django.db.models import QuerySet

from aestiva.accounts.models import User
from aestiva.course.state import Todo, load
from aestiva.gardens import journal
from aestiva.gardens.commands import Actor, run
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused, Repeated
from aestiva.season.actions import add_event, fail
from aestiva.season.ledgers import accounts_of
from aestiva.season.models import Batch, Container, Spot, TrayStand
from aestiva.season.places import stand
from aestiva.season.places import where as standing
from aestiva.today.commands import Finish
from demo.care import walk
from demo.history import histories
from demo.story import name_of, read, world_of
from demo.truth import Truth

FRAME_FROM_OUTING = 4
WARM_SEED_C = 23.0  # what germinates best from here on stands on a mat


class Habit(NamedTuple):
    """What a grower does in his own way with a planting: days its sowing is left waiting, plants fetched in one tray."""

    late: int = 0
    tray: int | None = None


AS_SAID = Habit()
REVISIONS = ["revision", "readings_revision"]


def truth_of(garden: Garden) -> Truth:
    """What has become of the garden's plants by this morning."""
    assert garden.simulated_on is not None
    return Truth(histories(garden), world_of(garden), garden.simulated_on)


def do_tasks(garden: Garden, user: User, key: str = "") -> int:
    """Today's tasks done for the grower; returns how many.  Raises Repeated for a key used before."""
    pressed = journal.stored_key("change", f"{key}-")
    if key and journal.JournalEntry.objects.filter(garden=garden, key__startswith=pressed).exists():
        raise Repeated
    done = live_day(garden, user, {}, key, lamps=True)
    return done + walk(garden, user, truth_of(garden).day, key)


def live_day(garden: Garden, user: User, habits: Mapping[int, Habit], key: str = "", lamps: bool = False) -> int:
    """Look at everything, then do what is due in the order of Today, each planting in its own way.

    lamps: the work of places too; in the story before today she hung them as the scenario has it.
    """
    assert garden.simulated_on is not None
    today, truth = garden.simulated_on, truth_of(garden)
    done = notice(garden, user, truth, key)
    tried: set[str] = set()
    for _ in range(3):  # what is done can bring up the next thing of the same day
        now = load(garden, today)
        now.whole = lamps
        todos = [t for t in now.todos(today) if t.task.key not in tried]
        if not todos:
            break
        for todo in todos:
            tried.add(todo.task.key)
            garden.refresh_from_db(fields=REVISIONS)  # what is kept by it is of what she wrote last, as a page's is
            habit = AS_SAID if todo.planting is None else habits.get(todo.planting.pk, AS_SAID)
            if todo.task.kind == "sow" and (today - todo.due).days < habit.late:
                continue
            done += _do(garden, user, todo, truth, f"{key}-{todo.task.key}" if key else "", habit)
    return done


def notice(garden: Garden, user: User, truth: Truth, key: str = "") -> int:
    """Plants that have died since the last look are written down, where anybody knows that they were there."""
    found = 0
    for one in truth.all:
        if truth.dead(one.ref) <= one.died:
            continue
        batch = Batch.objects.select_related("planting").get(pk=one.ref)
        with suppress(Repeated), journal.change(garden, user, key=f"{key}-d{one.ref}" if key else "") as write:
            now = accounts_of(batch)  # as it is by now: somebody else may have written it down
            lost = now.planted - now.outdoors
            kind, there = ("lost_outside", now.outdoors) if one.planted is not None else ("died", now.indoors or 0)
            count = min(truth.dead(one.ref) - now.died - lost, there)
            if count > 0:
                write.summary = f"{batch.planting.crop_key.replace('_', ' ')} {batch.planting.variety}: {count} died"
                add_event(write, write.touch(batch), kind, truth.day, truth.day, count=count)
                found += 1
    return found


def _do(garden: Garden, user: User, todo: Todo, truth: Truth, key: str, habit: Habit) -> bool:
    kind, today = todo.task.kind, truth.day
    count = habit.tray if kind == "buy" else None
    if kind in ("look", "count"):
        assert todo.batch is not None
        accounts = todo.item.raised.accounts
        known = (accounts.emerged or 0) if accounts else 0
        waiting = accounts.waiting if accounts else None
        count = truth.counted(todo.batch.pk, known)
        if waiting is not None:  # no more than the accounts can hold: some were written off
            count = min(count, known + waiting)
    elif kind == "pot" and todo.item.raised.plants is not None:
        count = todo.task.count
    with suppress(Repeated, Refused):  # what cannot be written stays on Today
        if run(Finish, Actor(garden, user), {"task": todo.task.key, "on": today, "count": count}, key).written:
            if kind == "lift":
                _found_gone(garden, user, todo, truth)
            _put_somewhere(garden, user, todo, truth)
            return True
    return False


def _found_gone(garden: Garden, user: User, todo: Todo, truth: Truth) -> None:
    """She has lifted one: where all that wait are soft or gone, they are written off, and the batch with them if nothing came."""
    batch, accounts = todo.batch, todo.item.raised.accounts
    if batch is None or accounts is None or not accounts.waiting or truth.waiting(batch.pk):
        return
    with journal.change(garden, user, f"{todo.subject.name}: what waits is soft or gone") as write:
        mine = write.touch(batch)
        if accounts.emerged:
            add_event(write, mine, "never_up", truth.day, truth.day, count=accounts.waiting)
        else:
            fail(write, mine, truth.day, truth.day, "soft or gone when lifted")


def _put_somewhere(garden: Garden, user: User, todo: Todo, truth: Truth) -> None:
    """Where she puts things: warm seed on a mat until half of it is up, other sowings on shelves without one, what was bought in
    the porch, what hardens in the frame from the fourth outing."""
    kind, spots = todo.task.kind, Spot.objects.filter(garden=garden)
    where: Spot | None = None
    batch = todo.batch
    if kind in ("sow", "again", "buy", "sow_winter"):
        batch = Batch.objects.filter(planting=todo.item.planting).order_by("-pk").first()
    if kind in ("sow", "again"):
        warm = todo.item.crop.number("germinate_c") >= WARM_SEED_C
        where = _one_of(todo, _mats(spots) if warm else _cool_shelves(garden, spots))
    elif kind == "sow_winter":
        where = spots.filter(kind="path").first()
    elif kind == "lid" and batch is not None:
        on = standing(batch)
        where = on.parent if on is not None and on.kind == "mat" else None
        if where is not None and _crowded(where):
            where = _one_of(todo, _cool_shelves(garden, spots))
    elif kind == "buy":
        where = spots.filter(kind="porch").first()
    elif kind == "harden" and len(todo.item.raised.facts.outings) + 1 >= FRAME_FROM_OUTING:
        where = spots.filter(kind="frame").first()
    if batch is not None and where is not None:
        with journal.change(garden, user, f"Put a batch on {where.code}") as write:
            stand(write, write.touch(batch), where, truth.day)
            if kind in ("sow", "again"):
                _in_a_container(write, garden, batch)


MOST_ON_A_SHELF = 4  # flats beside each other


def _crowded(shelf: Spot) -> bool:
    return TrayStand.objects.filter(spot=shelf, until=None).count() >= MOST_ON_A_SHELF


def _mats(spots: QuerySet[Spot]) -> list[Spot]:
    """Mats; where the garden has none, its shelves."""
    return list(spots.filter(kind="mat").select_related("parent")) or list(spots.filter(kind="shelf"))


def _cool_shelves(garden: Garden, spots: QuerySet[Spot]) -> list[Spot]:
    """Shelves without a mat that are not full; all of them where each is."""
    mats = read(name_of(garden))["nature"]["mats"]
    cool = [s for s in spots.filter(kind="shelf") if s.code not in mats] or list(spots.filter(kind="shelf"))
    free = [s for s in cool if not _crowded(s)]
    return free or [s for s in spots.filter(kind__in=("sill", "porch")) if not _crowded(s)] or cool


def _one_of(todo: Todo, places: list[Spot]) -> Spot | None:
    return (
        places[crc32(f"{todo.item.crop.key}/{todo.item.planting.variety}".encode()) % len(places)] if places else None
    )


def _in_a_container(write: journal.ChangeSet, garden: Garden, batch: Batch) -> None:
    """Its tray is the smallest flat that she has of so many cells; a box of seed an open one.  Lids go on until it is up."""
    own = list(Container.objects.filter(garden=garden).order_by("cells"))
    for cells in batch.runs.filter(until=None).select_related("tray"):
        box = batch.sown_in == "box"
        fits = [c for c in own if (c.kind == "open_flat") == box and c.cells >= cells.count and (box or c.cells > 1)]
        if fits and cells.tray.container_id is None:
            cells.tray.container, cells.tray.cells, cells.tray.lid = fits[0], fits[0].cells, "lid"
            write.save(cells.tray)
