"""Letting a simulated season unfold: weather and forecasts arrive, seedlings come up, a stand-in grower works.

Everything depends only on the garden's seed and the day, so a season can be lived again exactly.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from contextlib import suppress
from datetime import date, timedelta
from typing import NamedTuple

import numpy as np

from aestiva.accounts.models import User
from aestiva.course.state import Todo, load
from aestiva.gardens import journal
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Refused, Repeated
from aestiva.place.actions import take_weather
from aestiva.place.models import Station
from aestiva.season.ledgers import accounts_of
from aestiva.season.models import Batch, Lot, Spot
from aestiva.season.places import stand
from aestiva.seeds.queries import germination_of
from aestiva.today import actions
from demo.story import of, weather_of
from growing.crops import Crop
from growing.emergence.thermal_time import emergence_days, relative_share, share_coming
from growing.place.station import SimulatedStation, Weather

FRAME_FROM_OUTING = 4


def put_weather(garden: Garden, weather: Weather, today: date) -> None:
    """What the simulated station saw up to yesterday, and its forecast as of `today`, by the way any source goes."""
    station = Station.objects.filter(owner=garden, simulated=True).first()
    take_weather(garden, SimulatedStation(weather, garden.seed), today, station)


def step(garden: Garden, days: int, key: str = "") -> None:
    """Forward by so many days: one journal entry by the simulation; the grower's tasks stay undone."""
    weather = weather_of(of(garden))
    with journal.change(garden, None, f"{days} {'day' if days == 1 else 'days'} went by", key) as write:
        row = Garden.objects.get(pk=garden.pk)
        assert row.simulated_on is not None
        today = row.simulated_on + timedelta(days=days)
        if not 0 <= weather.index(today) < len(weather.tmin) - 8:
            raise Refused("clock", "the simulated weather ends here: reset the demo")
        row.simulated_on = today
        write.save(row)
        put_weather(row, weather, today)
    garden.simulated_on = today


def do_tasks(garden: Garden, user: User, key: str = "") -> int:
    """Today's tasks done as a careful grower would; returns how many.  Raises Repeated for a key used before."""
    pressed = journal.stored_key("change", f"{key}-")
    if key and journal.JournalEntry.objects.filter(garden=garden, key__startswith=pressed).exists():
        raise Repeated
    return live_day(garden, user, {}, key)


class Habit(NamedTuple):
    """What a grower does in his own way with a planting: days its sowing is left waiting, plants fetched in one tray."""

    late: int = 0
    tray: int | None = None


AS_SAID = Habit()


def live_day(garden: Garden, user: User, habits: Mapping[int, Habit], key: str = "") -> int:
    """Do what is due, in the order of Today, each planting in its own way."""
    assert garden.simulated_on is not None
    today, done = garden.simulated_on, 0
    tried: set[str] = set()
    for _ in range(3):  # what is done can bring up the next thing of the same day
        todos = [t for t in load(garden, today).todos(today) if t.task.key not in tried]
        if not todos:
            break
        for todo in todos:
            tried.add(todo.task.key)
            habit = habits.get(todo.item.planting.pk, AS_SAID)
            if todo.task.kind == "sow" and (today - todo.due).days < habit.late:
                continue
            done += _do(garden, user, todo, today, f"{key}-{todo.task.key}" if key else "", habit)
    return done


def _do(garden: Garden, user: User, todo: Todo, today: date, key: str, habit: Habit) -> bool:
    count = habit.tray if todo.task.kind == "buy" else None
    kind = todo.task.kind
    if kind in ("look", "count"):
        count = max(up_by(garden, todo, today), _known(todo))
    elif kind == "pot" and todo.item.raised.plants is not None:
        count = todo.task.count
    with suppress(Repeated):
        if actions.finish(garden, user, todo.task.key, today, today, count, key):
            _put_somewhere(garden, user, todo, today)
            return True
    return False


def _known(todo: Todo) -> int:
    accounts = todo.item.raised.accounts
    return (accounts.emerged or 0) if accounts else 0


def up_by(garden: Garden, todo: Todo, today: date) -> int:
    """How many of a batch's seeds have come up by `today`: each seed has its own day, drawn once."""
    batch, crop = todo.item.batch, todo.item.crop
    assert batch is not None and batch.sown_on is not None
    warmth = crop.number("germinate_c") if batch.temperature_c is None else batch.temperature_c
    half, _ = emergence_days(crop, warmth)
    seeds = accounts_of(batch).sown or 0
    coming = share_coming(crop, warmth) if batch.lot is None else _share(batch.lot, crop, warmth, today, garden.year)
    name = f"{crop.key}/{todo.item.variety}/{batch.sown_on.isoformat()}"
    random = np.random.default_rng([garden.seed, *name.encode()])
    days = half * np.exp(random.normal(0, crop.number("sigma"), seeds)) * math.exp(random.normal(0, 0.08))
    alive = random.random(seeds) < coming
    return int(np.sum(alive & (days <= (today - batch.sown_on).days)))


def _share(lot: Lot, crop: Crop, warmth: float, today: date, year: int) -> float:
    """Seeds of a packet that really come: as its age makes likely, whatever the grower's tests said of it."""
    return germination_of(lot, crop, (), today, year).mean * relative_share(crop, warmth)


def _put_somewhere(garden: Garden, user: User, todo: Todo, today: date) -> None:
    """The stand-in grower's habits: sowings on a shelf, hardening trays in the frame from the fourth outing."""
    kind = todo.task.kind
    if kind in ("sow", "again"):
        batch = Batch.objects.filter(planting=todo.item.planting).order_by("-pk").first()
        shelves = list(Spot.objects.filter(garden=garden, kind="shelf"))
        if batch is not None and shelves:
            _stand(garden, user, batch, shelves[todo.item.planting.pk % len(shelves)], today)
    elif kind == "buy":
        batch = Batch.objects.filter(planting=todo.item.planting).order_by("-pk").first()
        porch = Spot.objects.filter(garden=garden, kind="porch").first()
        if batch is not None and porch is not None:
            _stand(garden, user, batch, porch, today)
    elif kind == "harden" and todo.item.batch is not None:
        if len(todo.item.raised.facts.outings) + 1 >= FRAME_FROM_OUTING:
            frame = Spot.objects.filter(garden=garden, kind="frame").first()
            if frame is not None:
                _stand(garden, user, todo.item.batch, frame, today)


def _stand(garden: Garden, user: User, batch: Batch, spot: Spot, today: date) -> None:
    with journal.change(garden, user, f"Put a batch on {spot.code}") as write:
        stand(write, write.touch(batch), spot, today)
