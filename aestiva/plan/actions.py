"""Adding, changing, moving, copying and cancelling plantings."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from typing import Any

from aestiva.accounts.models import User
from aestiva.frame import say
from aestiva.gardens import clock, journal
from aestiva.gardens.models import Garden
from aestiva.gardens.outcomes import Stale
from aestiva.place.dating import Dating
from aestiva.plan.moving import Change
from aestiva.plan.nextyear import NextYearPlanting, kind_of, planned_in, season_in
from aestiva.plan.replan import Proposal
from aestiva.plan.succession import AskedSuccession
from aestiva.season.models import Planting, Season
from growing.chain.dates import PlantingDates
from growing.crops import Crop


def made(dates: PlantingDates) -> dict[str, Any]:
    """The dates as they were when the planting was confirmed; frozen."""
    days = {
        "sow_on": dates.sow_on,
        "out_on": dates.out_on,
        "sow_from": dates.sow.start,
        "sow_to": dates.sow.end,
        "out_from": dates.out.start,
        "out_to": dates.out.end,
        "first": dates.first.start,
        "last": dates.last,
    }
    return {name: day.isoformat() for name, day in days.items()}


def propose(planting: Planting, dating: Dating, today: date, sow_on: date | None = None) -> tuple[Crop, PlantingDates]:
    """Dates for a planting not yet kept: the chosen day, or the rules' best one from today on."""
    return dating.proposed(planting, today, sow_on)


def keep(
    garden: Garden,
    user: User,
    planting: Planting,
    crop: Crop,
    dates: PlantingDates,
    key: str = "",
    seen: str | None = None,
) -> Planting:
    """Write a new or changed planting with the dates proposed for it; raises Stale when it is another by now.

    The day is kept where somebody chose it; a proposal follows from the place again, and from the day it was made on.
    """
    planting.chosen_sow = dates.sow_on if dates.sow_because == "chosen" else None
    name = f"{crop.name} {planting.variety}".strip()
    new = planting.pk is None
    summary = f"{'Planned' if new else 'Changed'} {planting.wanted} {name}, to sow {say.day(dates.sow_on)}"
    with journal.change(garden, user, summary, key) as write:
        if new:
            planting.season = season_of(garden)
            planting.made, planting.planned_on = made(dates), clock.today(garden)
        write.save(planting, seen)
    return planting


def moves_said(found: Sequence[Change]) -> str:
    """“Moved the sowing of Tomato to Sat 18 April”; of several how many."""
    if not found:
        return "Nothing moved"
    if len(found) == 1:
        return f"Moved the sowing of {found[0].name} to {say.day(found[0].item.raised.dates.sow_on)}"
    return f"Moved {len(found)} sowing days: {say.listed([c.name for c in found], 3)}"


def keep_moves(
    garden: Garden, user: User, found: Sequence[Change], wanted: Mapping[int, date | None], post: Mapping[str, str]
) -> None:
    """Pin or let go every sowing day that was tried, as one entry; raises Stale where one of them is another by now."""
    seen = dict(part.split(".", 1) for part in post.get("seen", "").split(",") if "." in part)
    rows = {p.pk: p for p in Planting.objects.filter(pk__in=[c.item.planting.pk for c in found])}
    with journal.change(garden, user, moves_said(found), post.get("key", "")) as write:
        for pk, row in rows.items():
            if str(pk) in seen and seen[str(pk)] != str(row.revision):
                raise Stale(row, row)
            row.chosen_sow = wanted[pk]
        write.update_many(list(rows.values()), ["chosen_sow"])


def keep_again(garden: Garden, user: User, found: AskedSuccession, key: str = "") -> None:
    """Every planting of a succession, as one entry."""
    days = sorted({part.dates.sow_on for part in found.parts})
    span = f"{say.day(days[0])} to {say.day(days[-1])}" if len(days) > 1 else say.day(days[0])
    said = f"Planned {found.plants} {found.crop.name} in {say.plural(len(found.parts), 'planting')}, sown {span}"
    season, today = season_of(garden), clock.today(garden)
    rows = []
    for part in found.parts:
        row = part.planting
        row.season, row.made, row.planned_on = season, made(part.dates), today
        rows.append(row)
    with journal.change(garden, user, said, key) as write:
        write.insert(rows)


def accept(
    garden: Garden, user: User, found: Sequence[Proposal], seen: Mapping[str, str] | None = None, key: str = ""
) -> int:
    """Keep the proposed days as one entry; raises Stale where a planting is another by now.  Returns how many moved.

    seen: the revisions that the reader's page showed, by proposal.
    """
    moving = [p for p in found if p.after is not None]
    rows = {p.pk: p for p in Planting.objects.filter(pk__in={p.item.planting.pk for p in moving})}
    said = f"Replanned {say.plural(len(moving), 'day')}: {say.listed([p.name for p in moving], 3)}"
    with journal.change(garden, user, said, key) as write:
        for one in moving:
            row = rows[one.item.planting.pk]
            if seen is not None and seen.get(one.key, str(row.revision)) != str(row.revision):
                raise Stale(row, row)
            if one.what == "sow":
                row.chosen_sow = one.after
            else:
                row.chosen_out = one.after
        write.update_many(list(rows.values()), ["chosen_sow", "chosen_out"])
    return len(moving)


def make_next(
    garden: Garden,
    user: User,
    year: int,
    found: Sequence[NextYearPlanting],
    chosen: set[int],
    reasons: Mapping[int, str],
    go_on: bool,
    key: str = "",
) -> int:
    """The chosen plantings in the next season, and why others are not grown again, as one entry.  Returns how many."""
    season, today = season_in(garden, year), clock.today(garden)
    rows, why = [], []
    asked_twice = {kind_of(one.new) for one in found if one.there}  # ticked though it is there already
    for one in found:
        if one.old.pk in chosen and one.dates is not None:
            row = one.new
            row.season, row.made, row.planned_on = season, made(one.dates), today
            rows.append(row)
        reason = reasons.get(one.old.pk, "").strip()[:200]
        if one.old.pk not in chosen and reason != one.old.not_again:
            one.old.not_again = reason
            why.append(one.old)
    said = f"Made the season {year} from {garden.year}: {say.plural(len(rows), 'planting')}"
    with journal.change(garden, user, said, key) as write:
        since = planned_in(garden, year) - asked_twice  # another was quicker to make them
        rows = [row for row in rows if kind_of(row) not in since]
        write.insert(rows)
        write.update_many(why, ["not_again"])
        if go_on:
            row_ = Garden.objects.get(pk=garden.pk)
            row_.year = year
            write.save(row_)
    return len(rows)


def may_follow(garden: Garden) -> list[Planting]:
    """Plantings whose sowing day is the one that was proposed when they were planned, and of which nothing is sown yet.

    Asked once, of gardens from a time when keeping a proposal pinned it.
    """
    if garden.follow_asked:
        return []
    here = Planting.objects.filter(season__garden=garden, season__year=garden.year, cancelled_on=None, batches=None)
    return [p for p in here if p.chosen_sow is not None and p.chosen_sow.isoformat() == p.made.get("sow_on")]


def follow(garden: Garden, user: User, let: bool, key: str = "") -> int:
    """Let those days follow frost and gates, or leave them pinned; either way it is not asked again.  Returns how many follow."""
    plantings = may_follow(garden) if let else []
    for planting in plantings:
        planting.chosen_sow = None
    row = Garden.objects.get(pk=garden.pk)
    row.follow_asked = True
    said = f"Let {say.plural(len(plantings), 'sowing day')} follow" if let else "Left sowing days pinned"
    with journal.change(garden, user, said, key) as write:
        write.update_many(plantings, ["chosen_sow"])
        write.save(row)
    return len(plantings)


def season_of(garden: Garden) -> Season:
    """The garden's season in hand, made when first needed; it belongs to no entry."""
    return season_in(garden, garden.year)


def cancel(
    garden: Garden, user: User, planting: Planting, name: str, today: date, key: str = "", seen: str | None = None
) -> None:
    planting.cancelled_on = today
    with journal.change(garden, user, f"Cancelled {name}", key) as write:
        write.save(planting, seen)


def differences(before: PlantingDates, after: PlantingDates) -> list[tuple[str, date, date, int]]:
    """What a change moves: step, old day, new day, days; only steps that move."""
    steps = (
        ("Sow", before.sow_on, after.sow_on),
        ("Plant out", before.out_on, after.out_on),
        ("First harvest or bloom", before.first.start, after.first.start),
        *([("Its end", before.last, after.last)] if before.last_known and after.last_known else []),
    )
    return [(name, old, new, (new - old).days) for name, old, new in steps if old != new]
