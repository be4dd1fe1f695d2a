"""Does the demo, lived by what Today says, ever harm a plant, contradict itself or lose one from sight?

Looked at each day before its tasks are done and again in the evening; every fault is a sentence.  The arithmetic of frost
is worked out here once more, from the forecast as it stands in the rows.
"""

from __future__ import annotations

import re
from collections import defaultdict
from datetime import date, timedelta
from itertools import pairwise
from statistics import NormalDist

from django.test import Client

from aestiva.care.round import the_round
from aestiva.course.outlook import look_over
from aestiva.course.state import Item, SeasonState, Todo, load
from aestiva.gardens.models import Garden
from aestiva.place.models import ForecastNight
from aestiva.season.models import BatchStand, CellRun, TrayStand
from growing.batch.climb import night_limit_c
from growing.batch.harm import harm
from growing.batch.verdict import LIFT_DAYS
from growing.hardening.steps import OutingDetail
from growing.place.kinds import OUTDOORS, SHELTERED

NIGHT_H = 20.0
SHELTER_C = {"frame": 2.0, "tunnel": 1.5, "porch": 3.0}
PAGES = ("today/", "calendar/", "emergence/")
EVENING = ("care/", "care/moving/", "care/feed/", "care/trouble/", "hardening/", "door/", "plantingout/", "tonight/")
ASKS = ("look", "count", "lift", "again")
_MISSING = re.compile(r">\s*–\s*<|\bNone\b|\bnan\b")
CONTRADICT = (("harden", "stay_in"), ("harden", "plant"), ("stay_in", "plant"))


def at_plant(garden: Garden, on: date, shift_c: float, stands: str) -> tuple[float, float] | None:
    """The temperature at the plant tonight and its error, from the row of the forecast; None without one."""
    row = ForecastNight.objects.filter(garden=garden, day=on).first()
    if row is None:
        return None
    clear, calm = row.cloud is None or row.cloud < 0.3, row.wind_kmh is None or row.wind_kmh < 7.2
    dull = (row.cloud or 0) > 0.8 or (row.wind_kmh or 0) > 18
    loss = 3.0 if clear and calm else 0.0 if dull else 1.0
    return row.tmin_c + shift_c - loss + SHELTER_C.get(stands, 0.0), 1.5


def faults(garden: Garden, client: Client, evening: bool) -> list[str]:
    """What is wrong on the garden's day, in words; empty where all is well."""
    today = garden.simulated_on
    assert today is not None
    now = load(garden, today)
    todos = now.todos(today)
    found = [f"trouble: {t.name} {t.words}" for t in now.troubles]
    found += _ordered_out(garden, now, todos, today)
    found += _contradictions(todos)
    found += _lost(now, today)
    found += _nights_had(garden, now, today) if evening else []
    found += _left_out(garden, now, todos, today, evening)
    found += _silent(now, todos, today)
    found += _set_back(now, todos, today)
    found += ghosts(garden, now)
    if evening:
        found += [f"{s.code or s.key} {s.who}: not seen on the round" for s in the_round(now).due]
    for page in (*PAGES, *EVENING) if evening else PAGES:
        text = client.get(f"/g/{garden.pk}/{page}").content.decode()
        found += [f"{page}: “{hit.group(0)}”" for hit in _MISSING.finditer(re.sub(r"<script.*?</script>", "", text))][
            :3
        ]
    return [f"{today} {'evening' if evening else 'morning'}: {fault}" for fault in found]


def _ordered_out(garden: Garden, now: SeasonState, todos: list[Todo], today: date) -> list[str]:
    """Outings, and nights out, that the forecast of the day forbids at the accepted risk."""
    found = []
    row = ForecastNight.objects.filter(garden=garden, day=today).first()
    for todo in todos:
        out = todo.task.detail
        if todo.task.kind != "harden" or not isinstance(out, OutingDetail):
            continue
        one = todo.item.raised
        less = (
            1.0
            if one.crop.hardiness == "hardy" and any(kind in SHELTERED for _, kind in now.rows.spots.values())
            else 0.0
        )
        if row is not None and row.tmax_c is not None and row.tmax_c < one.crop.number("day_out_c") - less:
            found.append(f"{todo.subject.name} ordered out at {row.tmax_c} °C")
        if out.night and (night := at_plant(garden, today, now.shift_c, one.stands)) is not None:
            chance = NormalDist(night[0], night[1]).cdf(night_limit_c(one))
            if chance > one.accepted_risk + 1e-9 or night[0] <= one.crop.number("damage_c"):
                found.append(f"{todo.subject.name} ordered out for a night of {night[0]:.1f} °C, chance {chance:.2f}")
    return found


def _nights_had(garden: Garden, now: SeasonState, today: date) -> list[str]:
    """In the evening: what went out and did not come in, and what stays out for a night that the forecast forbids."""
    found = []
    for item in now.items:
        one = item.raised
        if item.batch is None or not one.growing:
            continue
        if one.facts.out is not None:
            found.append(f"{one.ref} {item.name}: carried out on {one.facts.out.day}, and not in by the evening")
        tonight = [o for o in one.facts.outings if o.day == today and o.hours >= NIGHT_H]
        night = at_plant(garden, today, now.shift_c, one.stands)
        if not tonight or night is None:
            continue
        before = night_limit_c(one) + (2.0 if one.crop.hardiness == "hardy" else 0.0)  # as it was before this night
        if (
            NormalDist(night[0], night[1]).cdf(min(before, 2.0) if one.crop.hardiness == "hardy" else before)
            > one.accepted_risk + 1e-9
        ):
            found.append(f"{one.ref} {item.name}: stays out for a night of {night[0]:.1f} °C")
    return found


def _contradictions(todos: list[Todo]) -> list[str]:
    """Two tasks of one batch that cannot both be done, and a planting out that says nothing on a night that harms."""
    kinds: dict[str, dict[str, Todo]] = defaultdict(dict)
    for todo in todos:
        kinds[todo.facts.ref][todo.task.kind] = todo
    found = []
    for ref, here in kinds.items():
        found += [f"{ref} {here[a].item.name}: {a} and {b}" for a, b in CONTRADICT if a in here and b in here]
        out = here.get("harden")
        stays = out is not None and isinstance(out.task.detail, OutingDetail) and out.task.detail.night
        if stays and "carry_in" in here:
            found.append(f"{ref} {here['harden'].item.name}: stay out tonight, and carry in")
    return found


def _lost(now: SeasonState, today: date) -> list[str]:
    """Living plants without a place, or without a task until the end of the season."""
    ahead = {t.facts.ref for t in now.todos(today + timedelta(days=400))}
    found = []
    for item in now.items:
        if item.batch is None or not _alive(item):
            continue
        if not item.raised.stands:
            found.append(f"{item.raised.ref} {item.name}: {item.raised.plants} plants stand nowhere")
        if item.raised.ref not in ahead:
            found.append(f"{item.raised.ref} {item.name}: {item.raised.plants} plants without a task")
    return found


def _alive(item: Item) -> bool:
    """Are plants of it on hand, still to be planted out or given away?"""
    accounts = item.raised.accounts
    return bool(item.raised.growing or (accounts is not None and accounts.indoors))


def _left_out(garden: Garden, now: SeasonState, todos: list[Todo], today: date, evening: bool) -> list[str]:
    """What stands outdoors on a night that comes near its harm, or went out for the day, and no task says so."""
    said: dict[str, set[str]] = defaultdict(set)
    for todo in todos:
        said[todo.facts.ref].add(todo.task.kind)
    found = []
    for item in now.items:
        one = item.raised
        if item.batch is None:
            continue
        if one.facts.out is not None and one.growing and "bring_in" not in said[one.ref]:
            found.append(f"{one.ref} {item.name}: out, and nobody is told to bring it in")
        outside = one.accounts.outdoors if one.accounts and one.stands == "bed" else one.plants
        night = at_plant(garden, today, now.shift_c, one.stands)
        if not outside or one.stands not in OUTDOORS or night is None or (evening and "bring_in" in said[one.ref]):
            continue
        if night[0] <= harm(one).told_c and not said[one.ref] & {"carry_in", "cover", "bring_in"}:
            carried = today in [o.day for o in one.facts.outings]
            if not (evening and _answered(now, one.ref, today)) and not carried:
                found.append(f"{one.ref} {item.name}: {night[0]:.1f} °C tonight, and nothing is said")
    return found


def _silent(now: SeasonState, todos: list[Todo], today: date) -> list[str]:
    """Batches of which nothing is up, and of which neither a day to look on nor a task says what now."""
    asked = {todo.facts.ref for todo in todos if todo.task.kind in ASKS}
    found = []
    for outlook in look_over(now).values():
        facts, verdict, ref = outlook.item.raised.facts, outlook.verdict, outlook.item.raised.ref
        if verdict.up or ref in asked:
            continue
        ahead = verdict.by is not None and verdict.by >= today and verdict.kind in ("soon", "wait", "warm")
        lifted = facts.days.get("lifted", (date.min,))[-1]
        if not ahead and max(lifted, facts.last_count or date.min) < today - timedelta(days=LIFT_DAYS):
            found.append(f"{ref} {outlook.item.name}: nothing up, {verdict.kind}, and nothing is asked")
    return found


SET_BACK = {"pricked": "pricked out", "potted": "potted up", "pinched": "pinched", "trimmed": "cut back"}
DAYS_BETWEEN = 2


def _set_back(now: SeasonState, todos: list[Todo], today: date) -> list[str]:
    """Plants set back twice within two days, or asked to be."""
    found = []
    for item in now.items:
        facts = item.raised.facts
        had = sorted((day, word) for kind, word in SET_BACK.items() for day in set(facts.days.get(kind, ())))
        if facts.outings:
            had = sorted([*had, (facts.outings[0].day, "out for the first time")])
        for (a, one), (b, two) in pairwise(had):
            if b == today and (b - a).days <= DAYS_BETWEEN:
                found.append(f"{item.raised.ref} {item.name}: {one} on {a}, {two} on {b}")
        asked = {
            t.task.kind
            for t in todos
            if t.facts.ref == item.raised.ref and t.task.kind in ("prick", "pot", "pinch", "trim")
        }
        if len(asked) > 1:
            found.append(f"{item.raised.ref} {item.name}: {' and '.join(sorted(asked))} on one day")
    return found


def ghosts(garden: Garden, now: SeasonState) -> list[str]:
    """Cells, trays and places that nothing alive is in, and batches that were all lost and go on."""
    here = {i.batch.pk: i for i in now.items if i.batch is not None}
    runs = CellRun.objects.filter(tray__garden=garden, until=None).values_list("batch_id", "tray__code")
    stands = BatchStand.objects.filter(spot__garden=garden, until=None).values_list("batch_id", "spot__code")
    found = []
    for batch, where in [*runs, *stands]:
        if batch not in here or ((accounts := here[batch].raised.accounts) is not None and accounts.spent):
            outdoors = batch in here and accounts is not None and accounts.outdoors
            found += [] if outdoors else [f"b{batch} in {where}: nothing of it is alive"]
    empty = TrayStand.objects.filter(tray__garden=garden, until=None).exclude(tray__runs__until=None)
    found += [
        f"{stand.tray.code} stands, and holds nothing" for stand in empty.filter(tray__runs__isnull=False).distinct()
    ]
    found += [f"b{pk} {i.name}: all of it was lost, and it goes on" for pk, i in here.items() if _lost_and_not_over(i)]
    return found


def _lost_and_not_over(item: Item) -> bool:
    accounts = item.raised.accounts
    return accounts is not None and accounts.lost


def _answered(now: SeasonState, ref: str, today: date) -> bool:
    """Was tonight's watch over this batch done?"""
    marks = (now.rows.marks.get(f"{ref}.{kind}.{today.isoformat()}") for kind in ("watch", "carry_in"))
    return any(mark is not None and (mark.done_on is not None or mark.skipped_on is not None) for mark in marks)
