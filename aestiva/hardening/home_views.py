"""Who is at home when, what shelters the door, the garden's own ladders, and which ladder a batch climbs."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from aestiva.bench.hands_views import member_of
from aestiva.course.door import known_ladders
from aestiva.course.state import Item, SeasonState, load
from aestiva.emergence.views import batch_of
from aestiva.frame import say
from aestiva.frame.forms import clock_hour, decimal, whole_number
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import SHELTERS, Member
from aestiva.gardens.outcomes import NoFrostDate, Refused
from aestiva.hardening.ladders import ladders_ahead
from aestiva.season.models import Batch, OwnLadder
from growing.ladders.ladder import Ladder, ladders, own_ladder

DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
MOST_LADDERS, MOST_ROWS, MOST_NAME, MOST_SPARE = 99, 21, 40, 14
SUNS = ((0.0, "shade"), (0.25, "morning sun"), (0.5, "half sun"), (1.0, "open"))


@garden_view(back="home_hours")
def home_hours(request: Any) -> HttpResponse:
    return page(request)


def page(request: Any, refused: Refused | None = None, **kwargs: Any) -> HttpResponse:
    """The page of who is at home."""
    garden = request.garden
    members = list(Member.objects.filter(garden=garden).exclude(role="reader").select_related("user").order_by("pk"))
    own = list(OwnLadder.objects.filter(garden=garden))
    known = known_ladders(garden)
    edited = next((row for row in own if str(row.pk) == request.GET.get("ladder", "")), None)
    try:
        now = load(garden, clock.today(garden))
        on_ladder = [(r, offered(known, r.item)) for r in ladders_ahead(now).rows]
    except NoFrostDate:
        on_ladder = []
    typed = request.POST if refused is not None else {}
    context = {
        "view": "hardening",
        "members": [(m, [(DAYS[n], *_shown(m, n)) for n in range(7)]) for m in members],
        "me": request.user.pk,
        "shelters": SHELTERS,
        "own": own,
        "edited": edited,
        "rungs": rung_rows(edited, typed),
        "suns": SUNS,
        "kinds": ladders().values(),
        "ladders": known.values(),
        "on_ladder": on_ladder,
        "refused": refused,
        "typed": typed,
    }
    return render(request, "hardening/home.html", context, status=422 if refused else 200)


def _shown(member: Member, day: int) -> tuple[str, str]:
    one = None if member.at_home is None else member.at_home[day]
    return ("", "") if one is None else (say.clock_said(one[0]), say.clock_said(one[1]))


def rung_rows(edited: OwnLadder | None, typed: Any) -> list[tuple[int, str, float, bool]]:
    """Lines of the form: number, hours, sun, night; what was typed stays."""
    found = []
    for n in range(MOST_ROWS if edited is not None and len(edited.rungs) > 10 else 10):
        if typed.get("name") is not None:
            found.append(
                (n + 1, typed.get(f"h{n + 1}", ""), _sun(typed.get(f"s{n + 1}", "")), typed.get(f"n{n + 1}") == "1")
            )
        elif edited is not None and n < len(edited.rungs):
            hours, sun, night = edited.rungs[n]
            found.append((n + 1, say.number(hours), float(sun), bool(night)))
        else:
            found.append((n + 1, "", 0.0, False))
    return found


def _sun(text: str) -> float:
    """A share of sun as the list has it; none where somebody sent something else."""
    return next((share for share, _ in SUNS if text == say.number(share) or text == str(share)), 0.0)


def offered(known: Mapping[str, Ladder], item: Item) -> list[tuple[str, str, str]]:
    """Ladders that a batch may climb: key, name, why; the one that its raising speaks for first."""
    one = item.raised
    why = {
        "frame": "it stands in a frame" if one.stands == "frame" else "",
        "nursery": "bought from under glass" if one.stood == "glass" else "",
        "fresh": "it is just up" if one.facts.half_up is None and one.facts.first_up is not None else "",
    }
    return sorted(((key, ladder.name, why.get(key, "")) for key, ladder in known.items()), key=lambda k: not k[2])


@garden_view("grower", back="home_hours", page=page)
@require_POST
def hours_keep(request: Any) -> HttpResponse:
    """From when to when somebody is at home, day by day: one's own, or anybody's for an owner."""
    garden, post = request.garden, request.POST
    member = member_of(request)
    week: list[list[float] | None] | None = [_day(post, n) for n in range(7)]
    if post.get("unknown") == "1" or all(f"f{n}" not in post for n in range(7)):
        week = None
    with journal.change(garden, request.user, "Said who is at home when", post.get("key", "")) as write:
        member.at_home = week
        write.save(member)
    messages.success(
        request,
        "Kept: outings are planned for those hours."
        if week is not None
        else "Nobody said: somebody is taken to be there.",
    )
    return redirect("home_hours", garden.pk)


def _day(post: Any, n: int) -> list[float] | None:
    begin, end = post.get(f"f{n}", "").strip(), post.get(f"t{n}", "").strip()
    if not begin and not end:
        return None
    first, last = _hour(begin, DAYS[n], f"f{n}"), _hour(end, DAYS[n], f"t{n}")
    if last <= first:
        raise Refused(f"t{n}", f"{DAYS[n]}: {end} is not after {begin}: in comes after out")
    return [first, last]


def _hour(text: str, day: str, field: str) -> float:
    try:
        return round(clock_hour(text), 2)
    except ValueError as error:
        raise Refused(field, f"{day}: {error}") from error


@garden_view("grower", back="home_hours", page=page)
@require_POST
def shelter_keep(request: Any) -> HttpResponse:
    """What shelters the place at the door."""
    garden, shelter = request.garden, request.POST.get("shelter", "")
    if shelter not in dict(SHELTERS):
        raise Refused("shelter", "choose what shelters them")
    with journal.change(garden, request.user, "Said what shelters the door", request.POST.get("key", "")) as write:
        garden.shelter = shelter
        write.save(garden)
    messages.success(request, "Kept: the wind is reckoned behind it.")
    return redirect("home_hours", garden.pk)


@garden_view("grower", back="home_hours", page=page)
@require_POST
def ladder_keep(request: Any) -> HttpResponse:
    """An own ladder, new or changed."""
    garden, post = request.garden, request.POST
    name = " ".join(post.get("name", "").split())
    if not name or len(name) > MOST_NAME:
        raise Refused("name", f"give the ladder a name of up to {MOST_NAME} letters")
    spare = whole_number(post.get("spare", "").strip())
    if spare is None or spare > MOST_SPARE:
        raise Refused("spare", f"“{post.get('spare', '')[:12]}” is no number of days to spare: give 0 to {MOST_SPARE}")
    rungs = _rungs(post)
    try:
        own_ladder("", name, spare, rungs)
    except ValueError as error:
        raise Refused("rungs", str(error)) from None
    pk = whole_number(post.get("ladder"))
    with journal.change(garden, request.user, f"Own ladder: {name}", post.get("key", "")) as write:
        row = OwnLadder.objects.filter(garden=garden, pk=pk).first() if pk else None
        others = OwnLadder.objects.filter(garden=garden).exclude(pk=pk or 0).values_list("name", flat=True)
        if name.casefold() in {other.casefold() for other in others} | {k.name.casefold() for k in ladders().values()}:
            raise Refused("name", f"there is a ladder called {name} already: give this one another name")
        if row is None:
            taken = set(OwnLadder.objects.filter(garden=garden).values_list("number", flat=True))
            number = next((n for n in range(1, MOST_LADDERS + 1) if n not in taken), None)
            if number is None:
                raise Refused("name", f"{MOST_LADDERS} ladders are enough: change one that is there")
            row = OwnLadder(garden=garden, number=number)
        row.name, row.spare_days, row.rungs = name, spare, rungs
        write.save(row, seen=post.get("revision"))
    messages.success(request, f"Kept: {name}, {say.plural(len(rungs), 'rung')}.")
    return redirect("home_hours", garden.pk)


def _rungs(post: Any) -> list[list[float]]:
    """Rungs as typed, lines without hours left out; a line left out between others is named."""
    found: list[list[float]] = []
    empty = 0
    for n in range(1, MOST_ROWS + 1):
        text, night = post.get(f"h{n}", "").strip(), post.get(f"n{n}") == "1"
        if not text and not night:
            empty = empty or n
            continue
        if empty:
            raise Refused(f"h{empty}", f"rung {empty} is empty, but {n} is not: a rung is skipped")
        try:
            hours = 24.0 if night else decimal(text)
            sun = float(post.get(f"s{n}") or 0)
        except ValueError:
            raise Refused(f"h{n}", f"rung {n}: “{text[:12]}” is no number of hours") from None
        found.append([float(hours or 0.0), 1.0 if night else sun, 1.0 if night else 0.0])
    return found


@garden_view("grower", back="home_hours", page=page)
@require_POST
def ladder_remove(request: Any, ladder_id: int) -> HttpResponse:
    """An own ladder that nobody climbs any more."""
    garden = request.garden
    row = get_object_or_404(OwnLadder, pk=ladder_id, garden=garden)
    used = Batch.objects.filter(planting__season__garden=garden, ladder=row.key).count()
    if used or garden.ladder == row.key:
        who = "the garden" if garden.ladder == row.key else say.plural(used, "batch", "batches")
        raise Refused("", f"{row.name} is climbed by {who}: choose another for them first")
    with journal.change(
        garden, request.user, f"Own ladder {row.name} taken away", request.POST.get("key", "")
    ) as write:
        write.delete(row)
    messages.success(request, f"{row.name} is gone. It can be taken back.")
    return redirect("home_hours", garden.pk)


@garden_view("owner", back="home_hours", page=page)
@require_POST
def garden_ladder(request: Any) -> HttpResponse:
    """The ladder that all climb for which no other was chosen."""
    garden, key = request.garden, request.POST.get("ladder", "")
    known = known_ladders(garden)
    if key not in known:
        raise Refused("ladder", "there is no such ladder here: choose one of the list")
    with journal.change(
        garden, request.user, f"Hardened off by: {known[key].name}", request.POST.get("key", "")
    ) as write:
        garden.ladder = key
        write.save(garden)
    messages.success(request, f"Kept: {known[key].name}, for all that have no other.")
    return redirect("home_hours", garden.pk)


@garden_view("grower", back="home_hours", page=page)
@require_POST
def climbs(request: Any, batch_id: int) -> HttpResponse:
    """The ladder that a batch climbs."""
    garden, post = request.garden, request.POST
    batch, key = batch_of(garden, batch_id), post.get("ladder", "")
    known = known_ladders(garden)
    if key and key not in known:
        raise Refused("ladder", "there is no such ladder here: choose one of the list")
    name = known[key].name if key else "as the garden does it"
    before = _out_on(load(garden, clock.today(garden), [batch.planting_id]), batch_id)
    with journal.change(
        garden, request.user, f"{batch.planting} hardened off by: {name}"[:250], post.get("key", "")
    ) as write:
        batch = write.touch(batch, post.get("revision"))
        batch.ladder = key
        write.save(batch)
    after = _out_on(load(garden, clock.today(garden), [batch.planting_id]), batch_id)
    moved = f" Planting out {after}, not {before}." if after != before else ""
    messages.success(request, f"{batch.planting}: {name}.{moved}")
    return redirect("home_hours", garden.pk)


def _out_on(now: SeasonState, batch: int) -> str:
    item = now.item_of(batch)
    return "" if item is None else say.day(item.raised.dates.out_on)
