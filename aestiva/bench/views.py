"""One batch: what has happened, both ledgers, what comes next; and everything that can be written about it."""

from __future__ import annotations

from datetime import date
from typing import Any, NamedTuple

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.bench.commands.plants import GiveUp, MoveBatch, RecordEvent, SplitBatch
from aestiva.course.state import Item, load
from aestiva.frame import wording
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.asking import ask, is_sure
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.posting import carry_out, posts
from aestiva.gardens.providers import Record, link, records
from aestiva.season.commands import OfBatch
from aestiva.season.ledgers import balance_of, counted, ledger_words
from aestiva.season.models import Batch, BatchLink, Spot, Tray
from aestiva.season.places import where
from growing.batch.facts import BatchFacts
from growing.batch.outlook import moved_on
from growing.chain.course import Course, Step


def _mine(request: Any, batch_id: int) -> Batch:
    return get_object_or_404(
        Batch.objects.select_related("planting__season", "planting__spot"),
        pk=batch_id,
        planting__season__garden=request.garden,
    )


def _item(request: Any, batch: Batch, today: date) -> tuple[Any, Item | None]:
    now = load(request.garden, today, plantings=[batch.planting_id])
    return now, now.item_of(batch.pk)


@garden_view()
def batch(request: Any, batch_id: int) -> HttpResponse:
    return _page(request, None, batch_id)


def _page(request: Any, refused: Refused | None, batch_id: int) -> HttpResponse:
    mine, today = _mine(request, batch_id), clock.today(request.garden)
    now, item = _item(request, mine, today)
    accounts, wrong, error = balance_of(mine)
    likely = request.POST.get("kind") or _likely(None if item is None else item.raised)
    context: dict[str, Any] = {
        "view": "plan",
        "batch": mine,
        "planting": mine.planting,
        "crop_name": now.name_of(mine.planting),
        "crop_yields": item.crop.word("yields") if item is not None else "",
        "wrong": wrong,
        "wrong_words": None if error is None else ledger_words(error),
        "wrong_entry": None if wrong is None or wrong.row is None else journal.entry_of(wrong.row),
        "troubles": [t for t in now.troubles if t.batch != mine.pk or wrong is None],
        "events": _happened(mine),
        "accounts": accounts,
        "spot": where(mine),
        "spots": Spot.objects.filter(garden=request.garden),
        "trays": Tray.objects.filter(runs__batch=mine, runs__until=None).distinct().order_by("pk"),
        "filled": mine.filled.select_related("recipe").order_by("-on", "-pk")[:1],
        "came_from": list(mine.links_in.order_by("on", "pk")),
        "children": [link.child for link in mine.links_out.select_related("child").order_by("on", "pk")],
        "records": _likely_first(likely),
        "likely": likely,
        "ages": _ages(mine, item, today),
        "refused": refused,
        "typed": request.POST,
        "kinds": wording.EVENTS,
    }
    if mine.failed_on is not None:
        again = next((i for i in now.items if i.planting.pk == mine.planting_id and i.batch is None), None)
        context["today"] = today
        context["again"] = None if again is None else again.raised
        context["too_late"] = again is not None and _too_late(again.raised, today)
    if item is not None:
        course = item.raised.course
        made = {k: date.fromisoformat(v) for k, v in mine.planting.made.items()}
        planned = {"sow": made.get("sow_on"), "out": made.get("out_on")}
        context["steps"] = [(name, step, planned.get(step.kind)) for name, step in _named(course)]
        context["dates"] = item.raised.dates
        context["item"] = item
        context["light_had"] = link("light_had", request.garden.pk, mine.pk) if item.raised.growing else ""
        context |= {
            name: link(name, request.garden.pk, mine.pk)
            for name in ("trouble_of", "moving_of", "gate_of")
            if item.raised.growing
        }
        context["moved_on"] = moved_on(item.raised.facts)
        todos = sorted((t for t in now.todos(now.horizon) if t.subject is item), key=lambda t: t.due)
        context["coming"] = [(t, link("task", request.garden.pk, t.task.key)) for t in todos[:6]]
    return render(request, "bench/batch.html", context, status=422 if refused else 200)


TOO_LATE = ("too_late", "late_unknown")


def _too_late(one: BatchFacts, today: date) -> bool:
    """Is the last useful day to sow it past?"""
    return today > one.dates.sow_closes or any(problem.code in TOO_LATE for problem in one.dates.problems)


def _likely(raised: BatchFacts | None) -> str:
    """What is most likely to be written down next of a batch like this."""
    if raised is None or raised.facts.planted_on is not None:
        return "lost_outside"
    if raised.facts.half_up is None and raised.facts.sown_on is not None:
        return "up"
    thins = raised.course.steps.get("thin")
    return "thinned" if thins is not None and thins.happened is None and not raised.facts.outings else "died"


def _likely_first(likely: str) -> list[Record]:
    """What can be written down: the likely one first, a plain note last."""
    return sorted(records(), key=lambda r: (r.kind != likely, not r.counts))


class Ages(NamedTuple):
    """Days since it was sown, and since it came up; None: not yet, or nobody knows."""

    sown: int | None
    up: int | None


def _ages(mine: Batch, item: Item | None, today: date) -> Ages:
    if item is None:  # given up, or of another season: as it was written down
        up = mine.events.filter(kind="up", count__gt=0).order_by("on").values_list("on", flat=True).first()
    else:
        up = item.raised.facts.first_up
    return Ages(
        None if mine.sown_on is None else (today - mine.sown_on).days, None if up is None else (today - up).days
    )


def _happened(mine: Batch) -> list[Any]:
    """Everything that happened to a batch, splits and what came of them included, in the order of days."""
    moved = [one for one in counted(mine) if isinstance(one.row, BatchLink)]
    return sorted([*mine.events.all(), *moved], key=lambda one: one.on)


@garden_view()
def card(request: Any, batch_id: int) -> HttpResponse:
    """A card to stand in the tray: what it is, when it was sown, what comes."""
    mine, today = _mine(request, batch_id), clock.today(request.garden)
    _, item = _item(request, mine, today)
    if item is None:
        return redirect("batch", request.garden.pk, mine.pk)  # which says why nothing can be said of it
    crop = item.crop
    steps = _named(item.raised.course)
    cautions = [wording.poisonous(crop)] if crop.poison else []
    context = {
        "view": "plan",
        "batch": mine,
        "planting": mine.planting,
        "crop": crop,
        "steps": steps,
        "cautions": cautions,
    }
    return render(request, "bench/card.html", context)


def _named(course: Course) -> list[tuple[str, Step]]:
    """The steps of a batch's course by name, in the order of work."""
    return [(name, course.steps[kind]) for kind, name in wording.COURSE.items() if kind in course.steps]


def _name(mine: Batch) -> str:
    return str(mine.planting)


record = posts(RecordEvent, back="batch", page=_page, to=lambda request, done: _address(request, done.of.pk))
DOES: dict[str, type[OfBatch]] = {"move": MoveBatch, "split": SplitBatch, "fail": GiveUp}


def _address(request: Any, batch: int) -> str:
    return reverse("batch", args=[request.garden.pk, batch])


@garden_view("grower", back="batch", page=_page)
@require_POST
def change(request: Any, batch_id: int) -> HttpResponse:
    """Move to a spot, split, or give the whole batch up, which is asked once."""
    command = DOES.get(request.POST.get("what", ""))
    if command is None:
        raise Http404("There is nothing of that kind to do.")
    if command is GiveUp and not is_sure(request):
        mine = _mine(request, batch_id)
        follows = [
            "Its plants and tasks go; what happened to it stays written.",
            "The sowing is back on Today while its window lasts.",
            "It can be taken back in the journal.",
        ]
        return ask(request, f"Give up this batch of {_name(mine)}?", follows, "Give it up", "batch", mine.pk)
    done = carry_out(command, request, {"batch_id": batch_id})
    return redirect(_address(request, done.child.pk if isinstance(done, SplitBatch) else batch_id))
