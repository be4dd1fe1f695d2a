"""What is to be ordered, how much and by when?  What the plan needs against what the packets hold."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from math import ceil
from typing import NamedTuple

from growing.working import Value, Working

ORDER_AHEAD_DAYS = 21  # seed is found or ordered three weeks before it is needed: extension practice


class SeedWanted(NamedTuple):
    """Seeds that one planting takes, the day it is sown, and how they were counted."""

    seeds: int
    sow_on: date
    working: Working | None


class PacketStock(NamedTuple):
    """What is there of a packet, and what another would hold and cost.

    seeds: in hand, None where nobody counted.  packet_seeds, price: of a new one, None where not known.
    """

    seeds: int | None
    packet_seeds: int | None = None
    price: float | None = None


class Order(NamedTuple):
    """Something to buy: seeds, in so many packets, for so much (None: not known), by when, and why."""

    seeds: int
    packets: int | None
    cost: float | None
    by: date
    why: Working


def in_hand(seeds: int | None, grams: float | None, seeds_per_g: float | None, used_up: bool = False) -> int | None:
    """Seeds in a packet: counted, or by weight [g, seeds/g]; None where nobody knows, 0 once it is used up."""
    if used_up:
        return 0
    if seeds is not None:
        return seeds
    return None if grams is None or seeds_per_g is None else round(grams * seeds_per_g)


def order(wanted: Sequence[SeedWanted], packets: Sequence[PacketStock]) -> Order | None:
    """What is missing of one crop and variety; None where nothing is, or where nobody counted what is there.

    packets: those it would be sown from; another like the first is bought.
    """
    counts = [p.seeds for p in packets]
    known = [n for n in counts if n is not None]
    if len(known) < len(counts) or not wanted:
        return None
    needed, there = sum(w.seeds for w in wanted), sum(known)
    if there >= needed:
        return None
    like = packets[0] if packets else PacketStock(0)
    bought = ceil((needed - there) / like.packet_seeds) if like.packet_seeds else None
    cost = bought * like.price if bought and like.price else None
    first = min(w.sow_on for w in wanted)
    inputs = (
        Value("needed", needed, "seeds", "working"),
        Value("had", there, "seeds", "lot"),
        Value("first sowing", first),
        Value("ahead", ORDER_AHEAD_DAYS, "days", "working"),
    )
    steps = tuple(w.working for w in wanted if w.working is not None)
    why = Working("seeds.order", inputs, steps, Value("order", needed - there, "seeds"))
    return Order(needed - there, bought, cost, first - timedelta(days=ORDER_AHEAD_DAYS), why)
