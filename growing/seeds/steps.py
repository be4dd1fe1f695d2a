"""At the table: is the seed in hand, and does it want a soak or a chill first?"""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import date, timedelta

from growing.chain.course import SEED_DAYS
from growing.steps import Raised, Task
from growing.working import Value, Working


def tasks(one: Raised, today: date, until: date) -> Iterator[Task]:
    """Find or order seed three weeks before sowing; soak the evening before, chill so that it ends on sowing day."""
    if one.facts.sown_on is not None or one.dates.method == "bought":
        return
    sow = one.dates.sow_on
    crop = one.crop
    soak, chill = crop.values["soak_h"], crop.values["chill_days"]
    chill_days = int(crop.number("chill_days"))
    begin = sow - timedelta(days=SEED_DAYS + chill_days)
    if not one.has_seed and begin <= until:
        why = Working("seed", (Value("sow", sow), Value("ahead", SEED_DAYS, "days", "estimate")), (), Value("by", sow))
        yield Task(f"{one.ref}.seed.{one.attempt}", "seed", begin, one.wanted, "plants", why, int(begin < today))
    if chill_days:
        start = sow - timedelta(days=chill_days)
        if start <= until:
            why = Working("chill", (Value("sow", sow), chill), (), Value("chill from", start))
            yield Task(f"{one.ref}.chill.{one.attempt}", "chill", start, chill_days, "days", why, int(start <= today))
    hours = crop.number("soak_h")
    if hours:
        start = sow - timedelta(days=max(1, math.ceil(hours / 24)))
        if start <= until:
            why = Working("soak", (Value("sow", sow), soak), (), Value("soak from", start))
            yield Task(f"{one.ref}.soak.{one.attempt}", "soak", start, int(hours), "h", why, int(start <= today))
