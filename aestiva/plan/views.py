"""Plan: adding, changing, moving and cancelling plantings; the dates answer while somebody types."""

from __future__ import annotations

from datetime import date
from typing import Any, NamedTuple

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.course.state import load
from aestiva.frame import say
from aestiva.frame.forms import whole_number
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.asking import ask, is_sure
from aestiva.gardens.outcomes import NoFrostDate
from aestiva.gardens.providers import link
from aestiva.place.dating import Dating, dating_of
from aestiva.plan import actions, answer, overview
from aestiva.plan.forms import PlantingForm
from aestiva.season.beginning import begun
from aestiva.season.models import Planting
from aestiva.season.trouble import CANNOT, Trouble, words_of
from growing.chain.dates import PlantingDates
from growing.crops import CropError

# what another page may offer to plan, as the address says it
OFFERED = ("crop", "variety", "wanted", "method", "term", "sow_on", "chosen_out", "lot", "spot")


def _mine(request: Any, planting_id: int) -> Planting:
    return get_object_or_404(
        Planting.objects.select_related("season", "spot", "lot"), pk=planting_id, season__garden=request.garden
    )


def _form_page(
    request: Any,
    form: PlantingForm,
    dating: Dating,
    planting: Planting | None,
    status: int = 200,
    more: dict[str, Any] | None = None,
) -> HttpResponse:
    said = _answer(form, dating, planting) if form.is_bound and form.is_valid() else {}
    context = {"view": "plan", "form": form, "planting": planting, "crops": list(dating.crops), **(more or {}), **said}
    if planting is not None:
        context["crop_name"] = dating.name_of(planting)
        context["batches"] = list(planting.batches.order_by("pk"))
        context["first_planned"] = _first_planned(planting, said.get("dates"))
    return render(request, "plan/planting.html", context, status=status)


def _first_planned(planting: Planting, dates: PlantingDates | None) -> date | None:
    """The sowing day when it was first kept, where it has moved since."""
    day = planting.made.get("sow_on")
    first = date.fromisoformat(day) if day else None
    return None if dates is None or first == dates.sow_on else first


def _answer(form: PlantingForm, dating: Dating, saved: Planting | None) -> dict[str, Any]:
    """The dates for what is typed, and how they differ from what is kept."""
    planting = form.planting()
    try:
        crop, dates = actions.propose(planting, dating, form.today, form.cleaned_data.get("sow_on"))
    except CropError as error:
        form.add_error(None, str(error))
        return {}
    said: dict[str, Any] = {
        "crop": crop,
        "dates": dates,
        "wanted": planting.wanted,
        "relevant": list(dates.problems),
    }
    said |= answer.ways_out_of(dating, planting, crop, dates) | answer.packets_of(dating, planting)
    said["own"] = answer.own_values(dating, crop)
    said |= answer.options_of(form.garden, dating, planting, crop, form.today, dates)
    if planting.method == "raised":
        said |= answer.counted(planting, crop, dating, form.today, form.garden.year)
    said |= answer.before_sowing(planting, crop, dating, dates)
    if saved is not None:
        before = load(form.garden, form.today, [saved.pk]).dates().get(saved.pk)
        if before is not None:  # otherwise what is kept cannot be reckoned with: that is why it is changed
            said["differences"] = actions.differences(before, dates)
    return said


def _dating(request: Any) -> Dating:
    return dating_of(request.garden)


@garden_view(back="plan")
def add(request: Any) -> HttpResponse:
    """Add a planting; the dates answer while you type (`preview`)."""
    today = clock.today(request.garden)
    try:
        dating = _dating(request)
    except NoFrostDate:
        return render(request, "plan/no_frost.html", {"view": "plan"})
    copied = whole_number(request.GET.get("copy"))
    initial: dict[str, Any] = {"wanted": 6} | {name: request.GET[name] for name in OFFERED if name in request.GET}
    if copied is not None:
        old = _mine(request, copied)
        initial = {
            f: getattr(old, f)
            for f in (
                "variety",
                "wanted",
                "method",
                "term",
                "sown_in",
                "surplus",
                "per_cell",
                "spot",
                "raised_at",
                "note",
            )
        }
        initial["crop"] = dating.name_of(old)
        if old.packet:
            initial |= {f"packet_{k.removeprefix('weeks_').removesuffix('_weeks')}": v for k, v in old.packet.items()}
    form = PlantingForm(request.POST or None, garden=request.garden, crops=dating.crops, today=today, initial=initial)
    if request.method == "POST" and form.is_valid():
        said = _answer(form, dating, None)
        if said:
            key = request.POST.get("key", "")
            planting = actions.keep(request.garden, request.user, form.planting(), said["crop"], said["dates"], key)
            messages.success(request, f"{planting.wanted} {said['crop'].name} planned.")
            if request.POST.get("then") == "another":
                kept = ".".join([*_kept(request), str(planting.pk)][-MOST_KEPT:])
                return redirect(f"{reverse('planting_add', args=[request.garden.pk])}?kept={kept}")
            return redirect("planting", request.garden.pk, planting.pk)
    beginning = begun(request.garden)
    more: dict[str, Any] = {"kept": ".".join(_kept(request)), "so_far": _so_far(request, dating, beginning)}
    more |= {"begun": beginning, "calendar": link("calendar", request.garden.pk)}
    if beginning and not form.is_bound:
        planned = {k.planting.crop_key for k in more["so_far"]}
        found = overview.sample(dating.place, dating.crops, today)
        more["sample"] = [(crop, dates) for crop, dates in found if crop.key not in planned]
    return _form_page(request, form, dating, None, 422 if form.errors else 200, more)


MOST_KEPT = 30


def _kept(request: Any) -> list[str]:
    """The plantings kept one after the other, as the address carries them."""
    return [part for part in request.GET.get("kept", "").split(".") if whole_number(part) is not None][-MOST_KEPT:]


class PlanKept(NamedTuple):
    """A planting already kept, with its dates; None where they cannot be said."""

    planting: Planting
    name: str
    dates: PlantingDates | None


def _so_far(request: Any, dating: Dating, beginning: bool) -> list[PlanKept]:
    """What was planned in this go; in a garden that is being begun, all of it."""
    here = Planting.objects.filter(season__garden=request.garden, season__year=request.garden.year, cancelled_on=None)
    found = here if beginning else here.filter(pk__in=_kept(request))
    shown = list(found.order_by("-pk")[:MOST_KEPT])
    dates = load(request.garden, clock.today(request.garden), [p.pk for p in shown]).dates() if shown else {}
    return [PlanKept(p, f"{dating.name_of(p)} {p.variety}".strip(), dates.get(p.pk)) for p in shown]


@garden_view()
def preview(request: Any, planting_id: int | None = None) -> HttpResponse:
    """The answer beside the form while it is typed; writes nothing."""
    saved = _mine(request, planting_id) if planting_id else None
    try:
        dating = _dating(request)
    except NoFrostDate:
        return HttpResponse("")
    instance = _mine(request, planting_id) if planting_id else None
    form = PlantingForm(
        request.GET, garden=request.garden, crops=dating.crops, today=clock.today(request.garden), instance=instance
    )
    said = _answer(form, dating, saved) if form.is_valid() else {}
    return render(request, "plan/_answer.html", {"form": form, "bound": True, **said})


@garden_view(back="planting")
def planting(request: Any, planting_id: int) -> HttpResponse:
    """One planting: its dates with their working; changing it shows the differences before “Keep”."""
    saved = _mine(request, planting_id)
    today = clock.today(request.garden)
    try:
        dating = _dating(request)
    except NoFrostDate:
        return render(request, "plan/no_frost.html", {"view": "plan"})
    form = PlantingForm(
        request.POST or None,
        garden=request.garden,
        crops=dating.crops,
        today=today,
        instance=_mine(request, planting_id),
    )
    if request.method == "POST":
        said = _answer(form, dating, saved) if form.is_valid() else {}
        if not said:
            return _form_page(request, form, dating, saved, 422)
        post = request.POST
        wanted, seen = form.planting(), post.get("revision")
        actions.keep(request.garden, request.user, wanted, said["crop"], said["dates"], post.get("key", ""), seen)
        messages.success(request, "Kept.")
        return redirect("planting", request.garden.pk, planting_id)
    context: dict[str, Any] = {"view": "plan", "form": form, "planting": saved, "crop_name": dating.name_of(saved)}
    context["containers"] = link("paths", request.garden.pk, saved.pk)
    now = load(request.garden, today, [saved.pk])
    try:
        crop = dating.crop(saved)
        if now.items:
            dates, sown_on = now.items[0].raised.dates, now.items[0].raised.facts.sown_on
        else:  # cancelled, or of another season: as the rules would date it
            dates, sown_on = dating.dates(saved, crop), None
        context |= {"crop": crop, "dates": dates, "relevant": list(dates.problems), "sown_on": sown_on}
        context |= answer.ways_out_of(dating, saved, crop, dates)
        context["own"] = answer.own_values(dating, crop)
        context |= answer.before_sowing(saved, crop, dating, dates)
        if sown_on is None:
            context |= answer.options_of(request.garden, dating, saved, crop, today, dates)
        if saved.method == "raised":
            context |= answer.counted(saved, crop, dating, today, request.garden.year)
    except CANNOT as error:
        context["troubles"] = [Trouble(context["crop_name"], words_of(error))]
    context |= {
        "wanted": saved.wanted,
        "crops": list(dating.crops),
        "batches": list(saved.batches.order_by("pk")),
        "areas": list(saved.areas.select_related("spot").order_by("pk")),
        "first_planned": _first_planned(saved, context.get("dates")),
    }
    return render(request, "plan/planting.html", context)


@garden_view("grower", back="plan")
@require_POST
def follow(request: Any) -> HttpResponse:
    """Let sowing days that were only kept as proposed follow frost and gates, or leave them."""
    let = request.POST.get("let") == "yes"
    count = actions.follow(request.garden, request.user, let, request.POST.get("key", ""))
    messages.success(request, f"{say.plural(count, 'sowing day')} now follow." if let else "They stay as they are.")
    return redirect("plan", request.garden.pk)


def _follows(saved: Planting) -> list[str]:
    """What cancelling a planting means."""
    living = saved.batches.filter(failed_on=None).count()
    alive = [f"Its {say.plural(living, 'living batch', 'living batches')} and their tasks go out of sight, too."]
    return [
        "Its tasks and dates go from Today, plan and calendar.",
        *(alive if living else []),
        *(["The ground laid out for it in the beds becomes free."] if saved.areas.exists() else []),
        "It can be taken back here or in the journal.",
    ]


@garden_view("grower", back="plan")
@require_POST
def cancel(request: Any, planting_id: int) -> HttpResponse:
    saved = _mine(request, planting_id)
    name = f"{dating_of(request.garden, waits=False).name_of(saved)} {saved.variety}".strip()
    today, post = clock.today(request.garden), request.POST
    if not is_sure(request):
        return ask(request, f"Cancel {name}?", _follows(saved), "Cancel it", "planting", saved.pk)
    actions.cancel(request.garden, request.user, saved, name, today, post.get("key", ""), post.get("revision"))
    messages.success(request, f"{name} is cancelled. It can be taken back.")
    return redirect("plan", request.garden.pk)
