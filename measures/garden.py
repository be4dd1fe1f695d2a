"""A large garden for the measures: 400 plantings in every stage, typed frost dates, made with as few rules as possible."""

from __future__ import annotations

from datetime import date, timedelta

from aestiva.accounts.models import User
from aestiva.gardens.models import Garden, Member
from aestiva.place.models import ForecastNight, Frost
from aestiva.place.queries import place_year
from aestiva.plan.queries import Dating
from aestiva.season.crops import Crops
from aestiva.season.models import Batch, BatchEvent, BatchStand, Planting, Season, Spot
from growing.crops import library
from growing.season import date_planting

TODAY = date(2026, 4, 12)


def make(plantings: int, name: str) -> Garden:
    """A garden with so many plantings; those whose sowing day is past have a batch with its events."""
    user, _ = User.objects.get_or_create(email="measure@garden.example", defaults={"name": "Measure"})
    garden = Garden.objects.create(name=name, latitude=52.0, year=2026, simulated_on=TODAY, sowing_days="0,1,2,3,4,5,6")
    Member.objects.create(garden=garden, user=user, role="owner")
    Frost.objects.create(garden=garden, last_on=date(2026, 5, 9), last_meaning="average", first_on=date(2026, 10, 4))
    for n in range(7):
        ForecastNight.objects.create(
            garden=garden, day=TODAY + timedelta(days=n), tmin_c=-1 + n, tmax_c=9, cloud=0.4, wind_kmh=9
        )
    shelf = Spot.objects.create(garden=garden, kind="shelf", code="R1·1")
    frame = Spot.objects.create(garden=garden, kind="frame", code="Frame")
    season = Season.objects.create(garden=garden, year=2026)
    dating, keys = Dating(place_year(garden), Crops(garden)), sorted(library())
    for n in range(plantings):
        crop = library()[keys[n % len(keys)]]
        dates = date_planting(crop, dating.place)
        sow = dates.sow_on + timedelta(days=(n // len(keys)) % 9 - 4)
        planting = Planting.objects.create(
            season=season,
            crop_key=crop.key,
            variety=f"Row {n}",
            wanted=6 + n % 20,
            chosen_sow=sow,
            made={"sow_on": sow.isoformat()},
        )
        if sow < TODAY:
            _raise(planting, sow, 10 + n % 20, crop.number("best_days"), shelf if n % 3 else frame)
    return garden


def _raise(planting: Planting, sow: date, cells: int, days: float, spot: Spot) -> None:
    batch = Batch.objects.create(planting=planting, sown_on=sow, cells=cells, per_cell=2)
    events = [
        ("sown", 0, cells * 2),
        ("lamp", 3, None),
        ("up", days, cells),
        ("up", days * 1.4, cells * 2 - 3),
        ("lid", days * 1.5, None),
    ]
    BatchEvent.objects.bulk_create(
        BatchEvent(batch=batch, kind=k, on=on, count=c)
        for k, after, c in events
        if (on := sow + timedelta(days=round(after))) <= TODAY
    )
    BatchStand.objects.create(batch=batch, spot=spot, since=sow)
