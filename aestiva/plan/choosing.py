"""Raised, sown in place or bought? The three ways for one planting, in days, plants and money."""

from __future__ import annotations

from datetime import date

from aestiva.gardens.models import Garden
from aestiva.place.dating import Dating
from aestiva.plan.models import Price
from aestiva.season.models import Lot, Planting
from aestiva.seeds.queries import lot_known, seed_of
from growing.crops import Crop
from growing.plan.options import Prices, WayToBegin, options


def prices_for(garden: Garden, crop: Crop, lot: Lot | None) -> Prices:
    """What was typed of mix, current and plants, and what a seed of the packet cost."""
    typed = {(p.kind, p.crop_key): p.amount for p in Price.objects.filter(garden=garden)}
    seed = None if lot is None or lot.price is None or not lot.packet_seeds else lot.price / lot.packet_seeds
    plant = typed.get(("plant", crop.key), typed.get(("plant", "")))
    return Prices(typed.get(("mix", "")), typed.get(("kwh", "")), plant, seed)


def ways_for(garden: Garden, dating: Dating, planting: Planting, crop: Crop, today: date) -> list[WayToBegin]:
    """The three ways from today on; nothing is written."""
    choice = dating.choice(planting)
    seed = seed_of(crop, lot_known(planting, dating, crop, today, garden.year))
    prices = prices_for(garden, crop, dating.lot(planting))
    return options(crop, dating.place_of(planting), choice, today, planting.wanted, seed, prices)
