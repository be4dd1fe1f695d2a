"""Does every place that shows a fact show the same?  Each fact is asked of the pages, exports and lists that have it; a difference is
a sentence that names them."""

from __future__ import annotations

import csv
import html
import io
import re
from collections import Counter, defaultdict
from collections.abc import Callable

from django.test import Client
from icalendar import Calendar

from aestiva.beds.queries import standing
from aestiva.care.round import the_round
from aestiva.course.known import forget
from aestiva.course.outlook import look_over
from aestiva.course.state import Item, SeasonState, load
from aestiva.emergence.boxes import boxes
from aestiva.frame import say
from aestiva.gardens.models import Garden
from aestiva.hardening.tonight import STAY, pots_tonight
from aestiva.plan import overview
from aestiva.plantingout.asked import at_the_gates
from aestiva.plantingout.tonight import tonight
from aestiva.today.listing import outside
from aestiva.today.week import week
from demo.walk import ghosts

REASONS = ("waits", "small", "held", "due", "happened")  # why a planting out may stand elsewhere than yesterday
Sees = Callable[[str], str]  # an address of the garden, and what is read there


def differences(garden: Garden, now: SeasonState, client: Client, most: int = 6) -> list[str]:
    """Every difference between two places that show one fact of the garden on its day; `most` plantings are opened one by one."""

    failed: list[str] = []

    def see(rest: str) -> str:
        answer = client.get(f"/g/{garden.pk}/{rest}")
        if answer.status_code != 200:
            failed.append(f"{rest} answers {answer.status_code}")
            return ""
        return answer.content.decode()

    found = [
        *out_days(now, see, most),
        *first_looks(now),
        *nothing_dead_is_tended(now),
        *nothing_alive_is_silent(now),
        *plants_outdoors(now, see),
        *the_night(now),
        *places(now, see),
        *tasks_and_minutes(now, see),
        *headlines(now, see),
        *parts_of_the_whole(now, most),
        *as_if_nobody_asked(now),
    ]
    return failed or found  # of a page that fails nothing can be compared


def _text(page: str) -> str:
    """A page as it is read: without marks, each run of white space one blank."""
    return re.sub(r"\s+", " ", html.unescape(re.sub(r"<(script|style).*?</\1>|<[^>]+>", " ", page, flags=re.S)))


def _rows(text: str) -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(text.lstrip("\ufeff"))))


def _h1(page: str) -> str:
    found = re.search(r"<h1[^>]*>(.*?)</h1>", page, flags=re.S)
    return _text(found[1]).strip() if found else ""


def _same(fact: str, said: dict[str, object]) -> list[str]:
    return [] if len(set(said.values())) < 2 else [f"{fact}: " + ", ".join(f"{k} {v}" for k, v in said.items())]


def out_days(now: SeasonState, see: Sees, most: int) -> list[str]:
    """The day of planting out: Plan and its file, beds, Planting out and its file, the calendar's file, the task, the planting's page."""
    found = []
    dates, on = now.dates(), {k: d.out_on for k, d in standing(now.garden).dates.items()}
    lines = {one.planting_id: one for one in overview.lines(now)}
    gates = {r.item.planting.pk: r for r in reversed(at_the_gates(now).rows)}
    first = {i.planting.pk: i for i in reversed(now.items)}
    text = see("calendar/tasks.ics")
    file = Calendar.from_ical(text).walk("VEVENT") if text else []
    events = {str(e["UID"]).split("@")[0]: e.decoded("DTSTART") for e in file}
    moved = {t.item.planting.pk for t in now.todos(now.horizon, ("plant",)) if t.moved}
    for n, (pk, own) in enumerate(dates.items()):
        item, ref = first[pk], first[pk].raised.ref
        said: dict[str, object] = {"the season": own.out_on, "Plan": lines[pk].days["out"], "Beds": on.get(pk)}
        if pk in gates and gates[pk].item.raised.ref == ref:
            said["Planting out"] = gates[pk].out_on
        event = events.get(f"{ref}.plant.0", events.get(f"{ref}.expected.out"))
        if event is not None and pk not in moved and own.out_on > now.today:
            said["the calendar"] = event
        if n < most:
            page = _text(see(f"plan/{pk}/"))
            shown = re.search(r"Plant out (\w{3} \d+ \w+)", page)
            if shown is not None:
                said["its page"] = own.out_on if shown[1] == say.day(own.out_on) else shown[1]
        found += _same(f"planting out of {item.full_name} ({ref})", said)
    found += _same(
        "planting out in files",
        {
            "season.csv": tuple(sorted(r["plant out"] for r in _rows(see("plan/season.csv")))),
            "the season": tuple(sorted(one.out_on.isoformat() for one in dates.values())),
        },
    )
    names = defaultdict(set)
    for item in now.items:
        names[item.full_name].add(item.raised.dates.out_on.isoformat())
    found += [
        f"gates.csv has {r['what']} on {r['plant_out']}, the season on {sorted(names[r['what']])}"
        for r in _rows(see("plantingout/gates.csv"))
        if r["plant_out"] not in names[r["what"]]
    ]
    return found


def first_looks(now: SeasonState) -> list[str]:
    """Emergence, the course and the task of the first look: one day."""
    found = []
    asked = {t.item.batch_pk: t.due for t in now.todos(now.horizon, ("look",)) if t.batch is not None and not t.moved}
    for batch, outlook in look_over(now).items():
        verdict, step = outlook.verdict, outlook.item.raised.course.steps["look"].due
        if verdict.kind not in ("soon", "warm") or batch not in asked:
            continue
        days = {"Emergence": verdict.by, "the course": max(step, now.today), "Today": max(asked[batch], now.today)}
        if len(set(days.values())) > 1:
            found.append(f"first look at b{batch} {outlook.item.full_name}: {days}")
    return found


def _alive(item: Item) -> bool:
    one = item.raised
    return item.batch is not None and one.alive and not (one.accounts is not None and one.accounts.spent)


def nothing_dead_is_tended(now: SeasonState) -> list[str]:
    """The round and the pots of tonight count what is alive, and nothing dead stands anywhere."""
    alive = {
        i.batch_pk
        for i in now.items
        if i.batch is not None and not (i.raised.accounts is not None and i.raised.accounts.spent)
    }
    found = [
        f"the round: {stop.code} {stop.who} holds nothing" for stop in the_round(now).stops if not stop.batches & alive
    ]
    found += [f"tonight: {one.item.full_name}" for one in pots_tonight(now).lines if one.item.batch_pk not in alive]
    return found + ghosts(now.garden, now)


def nothing_alive_is_silent(now: SeasonState) -> list[str]:
    """Whatever grows in trays, pots or a box is watered, or looked into: on the round, or among the boxes outdoors."""
    seen = {b for stop in the_round(now).stops for b in stop.batches} | {box.batch_pk for box in boxes(now)}
    return [
        f"{i.full_name} (b{i.batch_pk}) lives, and is neither on the round nor a box outdoors"
        for i in now.items
        if _alive(i) and i.raised.dates.method != "direct" and i.raised.stands != "bed" and i.batch_pk not in seen
    ]


def plants_outdoors(now: SeasonState, see: Sees) -> list[str]:
    """Today's headline and the lines of Tonight: the same plants, batch by batch."""
    lines: Counter[int] = Counter()
    for bed in tonight(now).lines:
        lines[bed.item.batch_pk] += bed.plants
    for pot in pots_tonight(now).lines:
        lines[pot.item.batch_pk] += pot.plants
    found, total = [], 0
    for item in now.items:
        here = outside(item.raised)
        total += here
        if item.batch is None or item.raised.facts.out is not None:  # out for the day: it comes in before the night
            continue
        if now.nights and here != lines[item.batch.pk]:
            found.append(f"{item.full_name}: {here} outdoors on Today, {lines[item.batch.pk]} on Tonight")
    shown = re.search(r"([\d,]+) plants? outdoors", _text(see("today/")))
    said = total if shown is None else int(shown[1].replace(",", ""))
    return found + _same("plants outdoors", {"Today": said, "the season": total})


def the_night(now: SeasonState) -> list[str]:
    """Who is to come in and who is to be covered tonight: the tasks and the lines of Tonight name the same."""
    stamp = now.today.isoformat()
    answered = {
        key.split(".")[0]
        for key, mark in now.rows.marks.items()
        if key.endswith(stamp) and (mark.done_on or mark.skipped_on or mark.moved_to)
    }
    asked: dict[str, set[str]] = defaultdict(set)
    for todo in now.todos(now.today, ("carry_in", "cover")):
        if todo.task.due == now.today:
            asked[todo.task.kind].add(todo.facts.ref)
    pots = {
        one.item.raised.ref for one in pots_tonight(now).lines if one.verdict != STAY and one.item.raised.outdoors_in
    }
    beds = {one.item.raised.ref for one in tonight(now).to_cover}

    def sides(kind: str, lines: set[str]) -> dict[str, object]:
        return {"Today": tuple(sorted(asked[kind] - answered)), "Tonight": tuple(sorted(lines - answered))}

    return [
        *_same("to carry in, or cover in pots, tonight", sides("carry_in", pots)),
        *_same("to cover in beds tonight", sides("cover", beds)),
    ]


def places(now: SeasonState, see: Sees) -> list[str]:
    """Where it stands: the rows, the round and its file."""
    found = []
    codes = {i.batch_pk: i.spot_code for i in now.items if i.batch is not None}
    stops = the_round(now).stops
    for stop in stops:
        for batch in stop.batches & codes.keys():
            if stop.spot is not None and codes[batch] and stop.spot.code != codes[batch] and len(stop.batches) == 1:
                found.append(f"b{batch} {stop.who}: the round has it in {stop.spot.code}, the season in {codes[batch]}")
    filed = Counter(r["place"] for r in _rows(see("care/water.csv")))
    walked = Counter(stop.place for stop in stops)
    sides: dict[str, object] = {"water.csv": tuple(sorted(filed.items())), "Care": tuple(sorted(walked.items()))}
    return found + _same("places of the round", sides)


def tasks_and_minutes(now: SeasonState, see: Sees) -> list[str]:
    """How much there is to do: Today's headline and list, the file of tasks, the week, and the minutes of them and the round."""
    due = now.todos(now.today)
    filed = [r for r in _rows(see("tasks.csv")) if r["day"] <= now.today.isoformat()]
    head = re.search(r"(\d+) things? to do", _h1(see("today/")))
    here = next(d for d in week(now, now.today) if d.day == now.today)
    said: dict[str, object] = {"the season": len(due), "tasks.csv": len(filed), "the week": len(here.todos)}
    if head is not None:
        said["Today"] = int(head[1])
    line = _text(see("today/round/"))
    minutes = re.search(r"about ([^·]+) of work", line)
    shown = say.minutes(now.minutes_on(now.today))
    sides: dict[str, object] = {"the season": shown, "the week": say.minutes(here.minutes)}
    if minutes is not None:
        sides["Today"] = minutes[1].strip()
    return [*_same("tasks of the day", said), *_same("minutes of the day", sides)]


def headlines(now: SeasonState, see: Sees) -> list[str]:
    """A headline is what its rows come to: numbers, names and days."""
    found = []
    care, the = _h1(see("care/")), the_round(now)
    trays = re.match(r"(\d+) trays?, (\d+) minutes?", care)
    if trays is not None:
        found += _same(
            "Care's headline", {"it says": (int(trays[1]), int(trays[2])), "its rows": (len(the.due), the.minutes)}
        )
    elif the.due:
        found.append(f"Care says “{care}” and {len(the.due)} trays are to be looked at")
    gate, rows = _h1(see("plantingout/")), at_the_gates(now).rows
    go = [r for r in rows if r.may_go and r.out_on <= now.today]
    if rows and (gate.startswith("Plant nothing")) != (not go):
        found.append(f"Planting out says “{gate}” and {len(go)} of its rows may go today")
    if rows and not go and say.day(min(r.out_on for r in rows)) not in gate:
        found.append(
            f"Planting out says “{gate}”, and the first of its rows goes on {say.day(min(r.out_on for r in rows))}"
        )
    asked = {t.item.batch_pk for t in now.todos(now.today, ("plant",)) if t.batch is not None and not t.moved}
    known, goes = {r.batch for r in rows}, {r.batch for r in go}
    found += _same("to be planted today", {"Today": tuple(sorted(asked & known)), "Planting out": tuple(sorted(goes))})
    ladder, door = _h1(see("hardening/")), _h1(see("door/"))
    out = [re.search(r"(\d+) plants? (?:go )?", ladder), re.search(r"Carry out (\d+) plants?", door)]
    if ladder.find("go out today") >= 0 and out[0] and out[1]:
        found += _same("plants that go out today", {"Hardening": int(out[0][1]), "the door": int(out[1][1])})
    return found


def as_if_nobody_asked(now: SeasonState) -> list[str]:
    """What was kept of each planting is what is worked out of it anew: what the rules see of it, and its tasks."""
    forget()
    anew = load(now.garden, now.today)
    was, is_ = ({i.raised.ref: i.raised.dates for i in one.items} for one in (now, anew))
    had, have = ({t.task.key: t.task for t in one.todos(now.today)} for one in (now, anew))
    found = [
        f"dates of {ref}: kept they are others than worked out anew"
        for ref in was.keys() | is_.keys()
        if was.get(ref) != is_.get(ref)
    ]
    return found + [
        f"task {key}: kept it is another than worked out anew"
        for key in had.keys() | have.keys()
        if had.get(key) != have.get(key)
    ]


def parts_of_the_whole(now: SeasonState, most: int) -> list[str]:
    """A planting asked for by itself, as pages and taps ask, is what it is in the whole season: its days and its tasks."""
    found = []
    dates, todos = now.dates(), now.todos(now.today)
    for pk in sorted(dates, key=lambda pk: (pk * 7919) % 101)[:most]:
        alone = load(now.garden, now.today, [pk])
        whole = {t.task.key: (t.due, t.task.count) for t in todos if t.planting is not None and t.planting.pk == pk}
        mine = {t.task.key: (t.due, t.task.count) for t in alone.todos(now.today)}
        name = next(i.full_name for i in now.items if i.planting.pk == pk)
        if whole != mine:
            odd = sorted(whole.items() ^ mine.items())
            found.append(f"tasks of {name}: by itself and in the season differ in {odd[:3]}")
        own = alone.dates().get(pk)
        found += _same(
            f"dates of {name}", {"the season": dates[pk].out_on, "by itself": None if own is None else own.out_on}
        )
    return found


def between(before: SeasonState, after: SeasonState) -> list[str]:
    """A day later, and nobody did anything: what moved without a word, and what is said to have been asked for when it was not."""
    found = []
    was, known = {i.raised.ref: i for i in before.items}, {t.task.key for t in before.todos(before.today)}
    for item in after.items:
        old = was.get(item.raised.ref)
        if old is None:
            continue
        here, there = old.raised.dates, item.raised.dates
        why = {here.out_because, there.out_because} & set(REASONS)
        if here.out_on != there.out_on and not why and here.sow_on == there.sow_on:
            found.append(f"{item.full_name}: out {here.out_on} yesterday, {there.out_on} today, without a word")
        if here.sow_on != there.sow_on and item.batch is None:
            found.append(f"{item.full_name}: to be sown {here.sow_on} yesterday, {there.sow_on} today, without a word")
    found += [
        f"{t.task.key} {t.subject.name}: due {t.due}, and first asked {after.today}"
        for t in after.todos(after.today)
        if t.due < after.today and t.task.key not in known and not t.moved
    ]
    return found
