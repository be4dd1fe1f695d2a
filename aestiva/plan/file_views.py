"""Lists in and out: plantings from a CSV with a preview; lots, tasks and the journal as CSV."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any, NamedTuple

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render

from aestiva.course.state import load
from aestiva.frame import say, wording
from aestiva.frame.files import csv_response
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import JournalEntry
from aestiva.gardens.outcomes import NoFrostDate, Refused
from aestiva.place.dating import dating_of
from aestiva.plan import actions
from aestiva.season import sheets
from aestiva.season.crops import method_of
from aestiva.season.models import Planting, Season
from aestiva.season.trouble import CANNOT, words_of
from growing.chain.choice import Problem
from growing.chain.dates import PlantingDates
from growing.crops import Crop
from growing.files.days import order_of
from growing.files.sheet import Sheet
from growing.plan.plantingfile import MEANINGS, MOST_ROWS, NAMES, PlantingRow, read_plantings

SHEET = "plantings"
NEAR_DAYS = 60  # a day without a year lies nearest to so many days from today: more of a list lies ahead than behind


class Proposed(NamedTuple):
    """One row of the list as it would be kept: its dates, and what they say against it."""

    row: PlantingRow
    crop: Crop
    dates: PlantingDates
    problems: list[Problem]

    def planting(self, season: Season, today: date) -> Planting:
        """The row to be kept."""
        row, dates = self.row, self.dates
        return Planting(
            season=season,
            crop_key=self.crop.key,
            variety=row.variety,
            wanted=row.wanted,
            method=method_of(self.crop, row.method),
            term=row.term,
            note=row.note,
            chosen_sow=dates.sow_on if dates.sow_because == "chosen" else None,
            chosen_out=row.out,
            made=actions.made(dates),
            planned_on=today,
        )


SAID = {
    "bad_count": "“{value}” is not a whole count between 1 and 20 000.",
    "bad_method": "“{value}” is not known: a planting is raised, direct or bought.",
    "bad_term": "“{value}” is not known: the term is spring, autumn or overwinter.",
    "out_first": "it would be planted out, on {value}, before it is sown.",
    "far_off": "{value} is not in this season.",
}
MOST_DAYS_OFF = 500


@garden_view("grower", back="plan")
def plantings_import(request: Any) -> HttpResponse:
    """A list of plantings: its columns, crops, dates and problems first, then all of it or nothing."""
    context: dict[str, Any] = {"view": "plan"}
    if request.method == "POST" or "job" in request.GET:
        try:
            sheet, context["sealed"], again = sheets.received(request, SHEET, MOST_ROWS)
            look = _PlantingsLook(request, sheet)
        except Refused as refused:
            return _import_page(request, context | {"problems": [sheets.sentence(refused)]})
        except NoFrostDate:
            return render(request, "plan/no_frost.html", {"view": "plan"})
        if request.POST.get("what") == "problems":
            return sheets.problems_file(look.row_problems)
        if again and request.POST.get("what") == "keep" and look.ready:
            return look.keep()
        context |= look.context()
    return _import_page(request, context)


def _import_page(request: Any, context: dict[str, Any]) -> HttpResponse:
    return render(request, "plan/import.html", context, status=422 if context.get("problems") else 200)


class _PlantingsLook:
    """A list of plantings as this garden reads it, and what was said about it."""

    def __init__(self, request: Any, sheet: Sheet) -> None:
        garden = request.garden
        self.request, self.garden, self.today = request, garden, clock.today(garden)
        self.said = sheets.told(request)
        self.found = read_plantings(
            sheet,
            self.today + timedelta(days=NEAR_DAYS),
            self.said.columns or None,
            sheets.known_columns(garden, SHEET),
            self.said.order,
            garden.week_starts,
        )
        self.dating = dating_of(garden)
        written = [row.crop for row in self.found.rows]
        self.names = sheets.names_of(garden, self.dating.crops, written, self.said.names)
        self.row_problems = sheets.in_words(self.found.problems, SAID)
        self.proposed: list[Proposed] = []
        self._asked = Planting()
        for row in self.found.rows:
            crop = self.names.crops.get(row.crop.lower())
            if crop is not None and row.row not in self.said.leave:
                self._propose(row, crop)

    def _propose(self, row: PlantingRow, crop: Crop) -> None:
        for day in (row.sow, row.out):
            if day is not None and abs((day - self.today).days) > MOST_DAYS_OFF:
                text = SAID["far_off"].format(value=f"{day:%-d %B %Y}")
                self.row_problems.append(sheets.SheetProblem(row.row, text))
                return
        asked = self._asked  # one for all: a row of the model apiece would take as long as dating it
        asked.crop_key, asked.variety, asked.chosen_out = crop.key, row.variety, row.out
        asked.method, asked.term = method_of(crop, row.method), row.term
        try:
            _, dates = self.dating.proposed(asked, self.today, row.sow)
        except CANNOT as error:
            self.row_problems.append(sheets.SheetProblem(row.row, f"its dates cannot be said: {words_of(error)}"))
            return
        self.proposed.append(Proposed(row, crop, dates, list(dates.problems)))

    @property
    def ready(self) -> bool:
        """Can it be kept: every question answered, and no problem that was not left out?"""
        problems = self.row_problems and not self.said.bad
        asked = self.found.missing or self.found.ask_order or self.names.open
        return bool(self.proposed) and not (problems or asked or self.found.fatal)

    def context(self) -> dict[str, Any]:
        whole = sheets.stops(self.found.fatal, SAID)
        problems = [*whole, *sorted(self.row_problems)]
        shown = sheets.context_of(
            SHEET, self.found.layout, self.found.missing, self.names, problems, MEANINGS, self.dating.crops, self.said
        )
        rows = sorted(self.proposed, key=lambda one: (not one.problems, one.row.row))
        return shown | {
            "rows": rows[: sheets.MOST_ROWS_SHOWN],
            "more_rows": max(0, len(rows) - sheets.MOST_ROWS_SHOWN),
            "count": len(rows),
            "plants": sum(one.row.wanted for one in rows),
            "warned": sum(bool(one.problems) for one in rows),
            "ready": self.ready,
            "ask_order": self._example() if self.found.ask_order else "",
        }

    def _example(self) -> str:
        """A day of the list that could be read in two ways."""
        layout = self.found.layout
        assert layout is not None
        cells = (layout.cell(line, name) for line in layout.body for name in ("sow", "out"))
        return next((cell for cell in cells if order_of([cell]) == "?"), "")

    def keep(self) -> HttpResponse:
        """All of it in one entry: plantings, crops of one’s own, and what headings mean."""
        said = f"Brought in {say.plural(len(self.proposed), 'planting')}"
        with journal.change(self.garden, self.request.user, said, self.request.POST.get("key", "")) as write:
            sheets.keep_said(write, self.garden, SHEET, self.found.layout, self.names, self.said, NAMES)
            season = actions.season_of(self.garden)
            write.insert([one.planting(season, self.today) for one in self.proposed])
        left = sheets.left_out(self.row_problems, self.said)
        messages.success(self.request, f"{say.plural(len(self.proposed), 'planting')} in the plan.{left}")
        return redirect("plan", self.garden.pk)


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
    rows = [(t.due.isoformat(), t.task.where, t.name, "" if t.task.count is None else t.task.count, t.subject.name, t.variety,
             t.spot_code, t.task.minutes, wording.reason(t.task.why, request.reader)) for t in todos]  # fmt: skip
    return csv_response("tasks.csv", columns, rows)


@garden_view()
def journal_csv(request: Any) -> HttpResponse:
    entries = (
        JournalEntry.objects.filter(garden=request.garden).order_by("pk").values_list("day", "at", "by", "summary")
    )
    rows = [(day.isoformat(), at.isoformat(timespec="minutes"), by, summary) for day, at, by, summary in entries]
    return csv_response("journal.csv", ("day", "written", "by", "what"), rows)
