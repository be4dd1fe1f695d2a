"""On what day does it go out as things stand today?  The day planned, or what its leaves, its ladder or a gate make of it."""

from __future__ import annotations

from datetime import date

from growing.chain.choice import Choice, Held
from growing.chain.dates import PlantingDates
from growing.chain.days import NO_DAY, ordinal
from growing.chain.happened import Facts
from growing.chain.rearing import DUE, HELD, PLANNED, SMALL, WAITS, Delays, as_it_stands
from growing.ladders.ladder import LadderProgress

WORDS = {SMALL: "small", WAITS: "waits", HELD: "held", DUE: "due"}
NO_DELAYS = Delays(NO_DAY, NO_DAY, NO_DAY, False, NO_DAY, False)


def standing(
    choice: Choice,
    dates: PlantingDates,
    today: date,
    *,
    facts: Facts = Facts(),
    small: date | None = None,
    hardened: LadderProgress | None = None,
    ready: date | None = None,
    held: Held | None = None,
) -> Choice:
    """The choice as it stands today; itself where nothing moves it.

    dates: those that follow from it.  small: the day on which its leaves are enough, None: they do not hold it; what the grower pinned
    does not wait for them.  hardened: how far it is on its ladder.  ready: when that is climbed, by the weather ahead and by who is at
    home, of what has begun it; None: as soon as the rungs that are left allow, for what keeps them in on the first day is said then.
    held: what holds it beside; None: nobody asked.
    """
    delays = NO_DELAYS
    if choice.out_on is None:
        delays = delays._replace(small=ordinal(small))
    if hardened is not None and hardened.rung is not None and dates.method != "direct":
        least = today.toordinal() + hardened.rungs - hardened.climbed
        delays = delays._replace(ladder=ordinal(ready, least), least=least, begun=bool(facts.outings))
    if held is not None:  # what nothing holds may go today; where nobody knows when it will not, tomorrow
        until = today if not held.by else held.until or date.fromordinal(today.toordinal() + 1)
        delays = delays._replace(held=until.toordinal(), holds=bool(held.by))
    found = as_it_stands(dates.out_on.toordinal(), delays)
    if found.because == PLANNED:
        return choice
    by = held.by if held is not None and found.because == HELD else ()
    return choice._replace(out_on=date.fromordinal(found.day), out_because=WORDS[found.because], held_by=by)
