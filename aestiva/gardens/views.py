"""Gardens: the way in, settings, the journal and taking back."""

from __future__ import annotations

import json
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.core.exceptions import PermissionDenied
from django.core.paginator import Paginator
from django.db import IntegrityError, transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.accounts.models import User
from aestiva.frame.forms import one_line, whole_number
from aestiva.gardens import clock, commands, journal, portable
from aestiva.gardens import undo as undoing
from aestiva.gardens.access import LAST_GARDEN, garden_view, safe_next
from aestiva.gardens.forms import ZONES, BeginForm, SettingsForm, habits
from aestiva.gardens.models import Garden, JournalEntry, Member
from growing.calendar import cold_season_of
from growing.place.zones import zone_place


def home(request: Any) -> HttpResponse:
    """Straight to the garden used last; without one, what this is and how to begin."""
    if request.user.is_authenticated:
        mine = Member.objects.filter(user=request.user).order_by("pk")
        last = whole_number(request.COOKIES.get(LAST_GARDEN)) or 0
        found = mine.filter(garden_id=last).first() or mine.first()
        return redirect("today", found.garden_id) if found else redirect("garden_new")
    return render(request, "gardens/welcome.html")


@login_required
def garden_new(request: Any) -> HttpResponse:
    form = BeginForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        garden = form.save(commit=False)
        garden.year = growing_year(garden)
        garden = begin(garden, request.user, request.POST.get("key", ""))
        return redirect("place_typed", garden.pk)
    status = 422 if form.errors else 200
    mine = Member.objects.filter(user=request.user).select_related("garden")
    context = {"form": form, "zones": ZONES, "mine": mine} | _where(form["timezone"].value() or "", form)
    return render(request, "gardens/new.html", context, status=status)


@login_required
def zone(request: Any) -> HttpResponse:
    """The fields of where a garden lies, filled in roughly from its time zone; what was typed by hand stays."""
    name = request.GET.get("timezone", "").strip().replace(" ", "_")
    rough = zone_place(name)
    given = {field: request.GET.get(field, "") for field in ("latitude", "longitude") if request.GET.get("by_hand")}
    initial = habits(rough) | ({} if rough is None else {"latitude": rough.latitude, "longitude": rough.longitude})
    form = BeginForm(initial=initial | {field: value for field, value in given.items() if value})
    return render(request, "gardens/_where.html", {"form": form} | _where(name, form))


def _where(name: str, form: BeginForm) -> dict[str, Any]:
    """What a zone says of the place: its latitude and the half of the year; whether it must be asked for."""
    rough = zone_place(name)
    try:
        latitude = float(form["latitude"].value())
    except (TypeError, ValueError):
        latitude = None
    return {"rough": rough, "zone": name, "southern": None if latitude is None else latitude < 0, "latitude": latitude}


def begin(garden: Garden, user: User, key: str) -> Garden:
    """A new garden of this person; the one begun before where the one-use key was used already."""
    garden.name, garden.town = one_line(garden.name), one_line(garden.town)
    garden.begun_with = journal.stored_key(f"u{user.pk}", key)
    try:
        with transaction.atomic():
            garden.save()
            Member.objects.create(garden=garden, user=user, role="owner")
    except IntegrityError:
        return Garden.objects.get(begun_with=garden.begun_with)
    return garden


def growing_year(garden: Garden) -> int:
    """The season to plan first: the cold season that is running, or the coming one once its spring is past."""
    today = clock.today(garden)
    return cold_season_of(today, garden.southern)


@login_required
def gardens(request: Any) -> HttpResponse:
    """My gardens: switch, begin another, bring one in."""
    mine = Member.objects.filter(user=request.user).select_related("garden").order_by("garden__name")
    return render(request, "gardens/gardens.html", {"mine": mine})


@garden_view()
def garden_file(request: Any) -> HttpResponse:
    """The whole garden as JSON."""
    text = json.dumps(portable.export(request.garden), ensure_ascii=False, separators=(",", ":"))
    response = HttpResponse(text, content_type="application/json; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="garden-{request.garden.pk}.json"'
    return response


@garden_view("owner")
@require_POST
def live(request: Any) -> HttpResponse:
    """Let a garden that stands on a simulated day go on in real time."""
    garden = request.garden
    with journal.change(garden, request.user, "Let the garden live in real time", request.POST.get("key", "")) as write:
        row = write.fresh(garden)
        row.simulated_on = None
        write.save(row)
    return redirect("today", garden.pk)


@garden_view("owner", back="settings")
def settings(request: Any) -> HttpResponse:
    form = SettingsForm(request.POST or None, instance=Garden.objects.get(pk=request.garden.pk))
    if request.method == "POST" and form.is_valid():
        post = request.POST
        with journal.change(
            request.garden, request.user, "Changed the garden’s settings", post.get("key", "")
        ) as write:
            write.save(form.instance, post.get("revision"))
        messages.success(request, "Kept. Dates follow the new settings; sowing days already chosen stay.")
        return redirect("settings", request.garden.pk)
    context = {"view": "settings", "form": form, "zones": ZONES}
    return render(request, "gardens/settings.html", context, status=422 if form.errors else 200)


@garden_view()
def journal_page(request: Any) -> HttpResponse:
    entries = JournalEntry.objects.filter(garden=request.garden).select_related("undone_by", "user").defer("changes")
    text = request.GET.get("find", "").strip()
    if text:
        entries = entries.filter(summary__icontains=text)
    by = request.GET.get("by", "")
    people = sorted(set(JournalEntry.objects.filter(garden=request.garden).values_list("by", flat=True)))
    if by:
        entries = entries.filter(by=by)
    page = Paginator(entries, 40).get_page(request.GET.get("page"))
    return render(
        request, "gardens/journal.html", {"view": "journal", "page": page, "text": text, "by": by, "people": people}
    )


@garden_view(readers_post=True)
@require_POST
def undo(request: Any, entry_id: int) -> HttpResponse:
    """Take an entry back: anyone their own (of a reader's the notes), an owner any."""
    entry = get_object_or_404(JournalEntry.objects.defer("changes"), pk=entry_id, garden=request.garden)
    if entry.kind == "days":
        raise PermissionDenied("Simulated days only go forward: make demo-reset begins again.")
    if entry.user_id != request.user.pk and request.role != "owner":
        raise PermissionDenied(f"{entry.by} did this: they or an owner can take it back.")
    if request.role == "reader" and not journal.is_readers(entry):
        raise PermissionDenied("A reader takes back notes; ask an owner for the rest.")
    try:
        if entry.can_be_taken_back:
            done = undoing.undo(entry, request.user, request.POST.get("key", ""))
            messages.success(request, f"{commands.sentence(done, request.reader)}.")
        elif not entry.is_undone:
            messages.info(request, "This was only noted: there is nothing to take back.")
    except journal.CannotUndo as error:
        messages.error(request, f"This cannot be taken back: {error}.")
    return redirect(safe_next(request) or reverse("today", args=[request.garden.pk]))
