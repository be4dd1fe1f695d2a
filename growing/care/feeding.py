"""When is it fed next?  Not before its true leaves, every week or so from then on; fed mix begins the interval anew."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from math import ceil
from typing import NamedTuple

from growing.assumptions import whole
from growing.crops import Crop
from growing.shelves.shelf import LEAF_DAYS
from growing.working import Value, Working

EVERY_DAYS = 7  # weak, and once a week
FED_MIX_DAYS = whole("care.feeding.FED_MIX_DAYS")
GRANULES_DAYS = whole("care.feeding.GRANULES_DAYS")
FLUSH_AFTER, FLUSH_TIMES = (
    4,
    2.0,
)  # feeds of full strength without a flush or fresh mix, after which salts are washed out; one twice as strong: at once
PLAIN_MIX_DAYS = 7  # after potting into a mix that carries none


class NextFeed(NamedTuple):
    """The day on which it is fed next, None: not while it is raised; the working."""

    on: date | None
    working: Working


def next_feed(
    crop: Crop, leaves: float, today: date, fed_on: date | None, potted_on: date | None, fed_mix: bool | None, feeds_from: date | None = None,
    granules_on: date | None = None,
) -> NextFeed:  # fmt: skip
    """When.  fed_mix: does the mix it stands in carry feed; None: nobody said, taken as not.  feeds_from: since when it stands in that mix.
    granules_on: when granules were last given."""
    first = crop.maybe("first_feed_leaves")
    target = crop.number("feed_n_mg_l")
    if first is None or target <= 0:
        inputs: tuple[Value, ...] = (Value("name", crop.name),)
        return NextFeed(None, Working("care.feed_never", inputs, (), Value("feed", None)))
    each = crop.maybe("leaf_days") or LEAF_DAYS
    ready = today + timedelta(days=ceil(max(0.0, first - leaves) * each))
    held = ready
    since = max((d for d in (potted_on, feeds_from) if d is not None), default=None)
    if fed_mix and since is not None:
        held = max(held, since + timedelta(days=FED_MIX_DAYS))
    elif potted_on is not None:
        held = max(held, potted_on + timedelta(days=PLAIN_MIX_DAYS))
    if granules_on is not None:
        held = max(held, granules_on + timedelta(days=GRANULES_DAYS))
    if fed_on is not None:
        held = max(held, fed_on + timedelta(days=EVERY_DAYS))
    inputs = (
        Value("name", crop.name),
        Value("leaves", round(leaves, 1), "leaves", "estimate"),
        Value("from", first, "leaves", "crop"),
        Value("last fed", fed_on),
        Value("every", EVERY_DAYS, "days"),
        Value("potted", potted_on),
        Value("granules", granules_on),
    )
    return NextFeed(held, Working("care.feed_on", inputs, (), Value("feed", held)))


class Flush(NamedTuple):
    """Are salts to be washed out?  The strength fed since the last flush or fresh mix, in feeds of the crop's own; the working."""

    due: bool
    fed: float
    working: Working


def flush(crop: Crop, feeds: Sequence[tuple[date, float | None]], since: date | None) -> Flush:
    """feeds: days with nitrogen [mg/l] (None: not known, taken as the crop's own); since: the last flush, or into fresh mix."""
    target = crop.number("feed_n_mg_l") or 75.0
    times = [(mg or target) / target for day, mg in feeds if since is None or day > since]
    total, strongest = sum(times), max(times, default=0.0)
    due = total >= FLUSH_AFTER or strongest >= FLUSH_TIMES
    inputs = (
        Value("name", crop.name),
        Value("feeds", len(times)),
        Value("fed", round(total, 1), "×", "working"),
        Value("strongest", round(strongest, 1), "×", "working"),
        Value("since", since),
    )
    return Flush(
        due,
        total,
        Working("care.flush" if due else "care.no_flush", inputs, (), Value("flush", "now" if due else "not yet")),
    )


RULES = {
    **dict.fromkeys(("care.flush", "care.no_flush"), ("name", "feeds", "fed", "strongest", "since")),
    "care.feed_never": ("name",),
    "care.feed_on": ("name", "leaves", "from", "last fed", "every", "potted", "granules"),
}
