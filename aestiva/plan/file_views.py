"""Lists in and out: plantings from a CSV with a preview; lots, tasks and the journal as CSV."""

from __future__ import annotations

from datetime import timedelta
from typing import Any, NamedTuple

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render

from aestiva.course.state import load
from aestiva.frame import wording
from aestiva.frame.files import csv_response
from aestiva.frame.upload import Refusal, received
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import JournalEntry
from aestiva.gardens.outcomes import NoFrostDate
from aestiva.place.dating import dating_of
from aestiva.place.filewords import problem_words
from aestiva.plan import actions
from aestiva.season.crops import Crops, method_of, too_many_unknown
from aestiva.season.models import Planting
from growing.crops import Crop
from growing.plan.plantingfile import PlantingRow, read_plantings


class Match(NamedTuple):
    """One row of the file with the crop it means, or those it might mean."""

    row: PlantingRow
    crop: Crop | None
    like: list[Crop]


def _match(crops: Crops, row: PlantingRow, chosen: dict[str, str]) -> Match:
    """A crop of exactly that name, or the grower's choice; near misses are only suggested."""
    key = chosen.get(row.crop.lower(), "")
    if key and key in crops:
        return Match(row, crops[key], [])
    found = crops.named(row.crop)
    return Match(row, found.crop, list(found.like))


@garden_view("grower", back="plan")
def plantings_import(request: Any) -> HttpResponse:
    """Plantings from a CSV: what it holds and which crops it means first, then all of it or nothing."""
    problems: list[str] = []
    context: dict[str, Any] = {"view": "plan"}
    if request.method == "POST":
        try:
            data, context["sealed"], again = received(request, f"plantings {request.garden.pk}")
            context |= _preview(request, data, problems)
            if not problems and again and not context["open"]:
                return _keep(request, context["matches"])
        except Refusal as refusal:
            problems.append(str(refusal))
        except NoFrostDate:
            return render(request, "plan/no_frost.html", {"view": "plan"})
    context["problems"] = problems
    return render(request, "plan/import.html", context, status=422 if problems else 200)


_SAY = {
    "no_crop_column": "No column is called “crop” (found: {value}): name it in the first row.",
    "no_wanted_column": "No column is called “wanted” or “plants” (found: {value}): name it in the first row.",
    "too_many_rows": "The list has more than {value} rows: cut it into several.",
    "broken_row": "the row cannot be read: is a quotation mark missing?",
    "no_crop": "no crop is named.",
    "bad_count": "“{value}” is not a count between 1 and 20 000.",
    "bad_word": "“{value}” is not known: method is raised, direct or bought; term spring, autumn or overwinter.",
}


def _preview(request: Any, data: bytes, problems: list[str]) -> dict[str, Any]:
    found = read_plantings(data)
    for p in ([found.fatal] if found.fatal else []) + list(found.problems[:20]):
        said = _SAY[p.code].format(value=p.value) if p.code in _SAY else problem_words(p._replace(row=0))
        problems.append(f"Row {p.row}: {said}" if p.row else said)
    today = clock.today(request.garden)
    crops = Crops(request.garden)
    chosen = {k.removeprefix("means-"): v for k, v in request.POST.items() if k.startswith("means-")}
    matches = [_match(crops, row, chosen) for row in found.rows]
    for m in matches:
        if m.row.sow is not None and abs((m.row.sow - today).days) > 500:
            problems.append(f"Row {m.row.row}: {m.row.sow:%-d %B %Y} is not in this season.")
    open_ = {m.row.crop.lower(): m.like for m in matches if m.crop is None}
    problems += too_many_unknown(open_)
    return {"matches": matches, "open": open_, "all_crops": list(crops) if open_ else [], "today": today}


def _keep(request: Any, matches: list[Match]) -> HttpResponse:
    garden, today = request.garden, clock.today(request.garden)
    dating = dating_of(garden)
    rows = []
    for m in matches:
        assert m.crop is not None
        planting = Planting(
            crop_key=m.crop.key,
            variety=m.row.variety,
            wanted=m.row.wanted,
            method=method_of(m.crop, m.row.method),
            term=m.row.term,
        )
        _, dates = actions.propose(planting, dating, today, m.row.sow)
        planting.chosen_sow = dates.sow_on if dates.sow_because == "chosen" else None
        planting.made = actions.made(dates)
        rows.append(planting)
    said = f"Brought in {len(rows)} plantings"
    with journal.change(garden, request.user, said, request.POST.get("key", "")) as write:
        season = actions.season_of(garden)
        for planting in rows:
            planting.season = season
        write.insert(rows)
    messages.success(request, f"{len(rows)} plantings are in the plan.")
    return redirect("plan", garden.pk)


@garden_view()
def tasks_csv(request: Any) -> HttpResponse:
    """Every task that lies ahead, a year of it."""
    today = clock.today(request.garden)
    try:
        todos = load(request.garden, today).todos(today + timedelta(days=365))
    except NoFrostDate as error:
        raise Http404("There are no tasks before a frost date is known.") from error
    todos.sort(key=lambda t: (t.due, t.task.key))
    columns = ("day", "where", "task", "count", "crop", "variety", "place", "minutes", "why")
    rows = [(t.due.isoformat(), t.task.where, t.name, "" if t.task.count is None else t.task.count, t.item.name, t.item.variety,
             t.item.spot_code, t.task.minutes, wording.reason(t.task.why, request.units)) for t in todos]  # fmt: skip
    return csv_response("tasks.csv", columns, rows)


@garden_view()
def journal_csv(request: Any) -> HttpResponse:
    entries = (
        JournalEntry.objects.filter(garden=request.garden).order_by("pk").values_list("day", "at", "by", "summary")
    )
    rows = [(day.isoformat(), at.isoformat(timespec="minutes"), by, summary) for day, at, by, summary in entries]
    return csv_response("journal.csv", ("day", "written", "by", "what"), rows)
