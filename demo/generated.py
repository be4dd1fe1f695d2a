"""Gardens nobody planned: two frost dates, a few places or none, up to twenty plantings in every state there is; the same for a seed."""

from __future__ import annotations

from datetime import date, timedelta
from random import Random

from aestiva.accounts.models import User
from aestiva.gardens import journal
from aestiva.gardens.commands import Actor, run
from aestiva.gardens.models import Garden, Member
from aestiva.place.dating import dating_of
from aestiva.place.models import ForecastNight, Frost
from aestiva.plan import actions
from aestiva.plantingout.models import CoverAtHand
from aestiva.season.actions import add_event
from aestiva.season.models import Batch, BedArea, Planting, Season, Spot
from aestiva.season.places import stand
from aestiva.today.commands import Finish
from growing.place.covers import COVERS

CROPS = (
    *("tomato", "pepper", "lettuce", "kale", "broccoli", "leek", "onion", "basil", "squash", "cucumber"),
    *("snapdragon", "zinnia", "cosmos", "sweet_pea", "larkspur", "parsley", "celery", "stock"),
)
PLACES = (("sill", "Window"), ("shelf", "Rack 1"), ("mat", "Mat"), ("frame", "Frame"), ("porch", "Porch"))
YEAR = 2026


def garden_of(seed: int, most: int = 20) -> Garden:
    """A garden of that seed with its season begun, on a day of its spring."""
    chance = Random(seed)
    last = date(YEAR, 4, 1) + timedelta(days=chance.randrange(50))
    today = last + timedelta(days=chance.randrange(-45, 25))
    owner = User.objects.create_user(f"grower{seed}@garden.example", f"Grower {seed}", "a long pass phrase")
    garden = Garden.objects.create(
        name=f"Garden {seed}",
        latitude=round(chance.uniform(38, 60), 1),
        year=YEAR,
        simulated_on=today,
        sowing_days="0,1,2,3,4,5,6",
    )
    Member.objects.create(garden=garden, user=owner, role="owner")
    Frost.objects.create(
        garden=garden, last_on=last, last_meaning="average", first_on=date(YEAR, 10, 1), first_meaning="average"
    )
    spots = [Spot.objects.create(garden=garden, kind=k, code=c) for k, c in PLACES if chance.random() < 0.6]
    bed = Spot.objects.create(garden=garden, kind="bed", code="Bed", length_cm=400, width_cm=120)
    if chance.random() < 0.5:
        CoverAtHand.objects.create(garden=garden, kind=chance.choice([*COVERS]), length_cm=500, width_cm=200)
    if chance.random() < 0.7:
        for n in range(7):
            ForecastNight.objects.create(
                garden=garden, day=today + timedelta(days=n), tmin_c=round(chance.uniform(-6, 12), 1), tmax_c=round(chance.uniform(8, 26), 1),
                cloud=round(chance.random(), 1), wind_kmh=round(chance.uniform(0, 30)),
            )  # fmt: skip
    Season.objects.get_or_create(garden=garden, year=YEAR)
    for n in range(chance.randrange(most // 2, most + 1)):
        _planting(chance, garden, owner, spots, bed, n)
    return garden


def _planting(chance: Random, garden: Garden, owner: User, spots: list[Spot], bed: Spot, n: int) -> None:
    today = garden.simulated_on
    assert today is not None
    dating = dating_of(garden)
    method = chance.choices(("raised", "direct", "bought", "winter"), (16, 2, 2, 1))[0]
    planting = Planting(
        crop_key=chance.choice(CROPS),
        wanted=chance.randrange(2, 25),
        method=method,
        spot=bed if chance.random() < 0.7 else None,
    )
    crop, dates = actions.propose(planting, dating, today)
    day = dates.sow_on if chance.random() < 0.3 else today - timedelta(days=chance.randrange(-30, 75))
    crop, dates = actions.propose(planting, dating, today, day if method != "bought" else None)
    actions.keep(garden, owner, planting, crop, dates, f"plan-{n}")
    if chance.random() < 0.4:
        x = float(chance.randrange(0, 300))
        BedArea.objects.create(planting=planting, spot=bed, x_cm=x, y_cm=0.0, length_cm=80.0, width_cm=100.0)
    if method in ("bought", "direct") or day > today:
        return
    sown = {"task": f"p{planting.pk}.sow.0", "on": day}
    if run(Finish, Actor(garden, owner), sown, f"sow-{n}").written is None:
        return
    batch = Batch.objects.filter(planting=planting).first()
    if batch is not None:
        _life(chance, garden, owner, batch, spots, day, today, n)


def _life(
    chance: Random, garden: Garden, owner: User, batch: Batch, spots: list[Spot], sown: date, today: date, n: int
) -> None:
    """What became of it, as far as anybody wrote it down."""
    age, cells = (today - sown).days, batch.cells or 6
    with journal.change(garden, owner, f"life {n}", f"life-{n}") as write:
        if spots and chance.random() < 0.8:
            stand(write, batch, chance.choice(spots), sown)
        if age < 12 or chance.random() < 0.2:
            return
        up = chance.randrange(0, cells + 1)
        add_event(write, batch, "up", sown + timedelta(days=12), today, count=up)
        if up > 2 and chance.random() < 0.3:
            add_event(
                write, batch, "died", min(today, sown + timedelta(days=13)), today, count=chance.randrange(1, up + 1)
            )
        elif up > 2 and age > 30 and chance.random() < 0.3:
            add_event(write, batch, "given", sown + timedelta(days=30), today, count=1)
        elif up > 1 and age > 50 and chance.random() < 0.5:
            add_event(write, batch, "planted", sown + timedelta(days=50), today, count=chance.randrange(1, up + 1))
