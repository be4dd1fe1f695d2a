"""What is written down at a lamp: how it hangs and burns from today on, what was wiped or turned, what a meter says, how it hangs at all."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.views.decorators.http import require_POST

from aestiva.beds.forms import Length
from aestiva.frame import say
from aestiva.frame.forms import whole_number
from aestiva.frame.say import Reader
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view, safe_next
from aestiva.gardens.outcomes import Refused
from aestiva.light import words
from aestiva.light.actions import new_tubes, rig_at, set_boxes, turn_trays
from aestiva.light.forms import MeterForm
from aestiva.light.shelves import Shelf
from aestiva.light.tries import asked_setting
from aestiva.light.views import page, shelf_at
from aestiva.season.actions import typed_day
from aestiva.season.lamps import changes, set_lamp
from aestiva.season.models import FACING_SAID, HANGS, Lamp, LightReading, Spot
from growing.light.hours import cheapest
from growing.light.shelf import LampAsSet

SIDES = "lrbf"


def back(request: Any, spot_id: int) -> HttpResponse:
    return redirect(safe_next(request) or f"{reverse('light', args=[request.garden.pk])}?shelf={spot_id}")


@garden_view("grower", back="light", page=page)
@require_POST
def set_keep(request: Any, spot_id: int) -> HttpResponse:
    """The lamp hangs, burns or is dimmed so from today on: as typed, as moved, or as was proposed."""
    post, today = request.POST, clock.today(request.garden)
    one = shelf_at(request, spot_id)
    since = typed_day(post.get("since", ""), "since", today)
    if since > today:
        raise Refused("since", f"{since:%-d %B} is still to come: give today or an earlier day")
    to, boxes = _asked(request, one)
    with journal.change(request.garden, request.user, _said(one, to, request.reader), post.get("key", "")) as write:
        spot = write.touch(one.spot, post.get("revision"))
        one.rig.spot = spot
        changed: dict[str, float] = dict(changes(one.setting, to))
        if "hours" in post and not one.rig.timer_said:
            changed |= {"on_h": to.timer.on_h, "hours": to.timer.hours}
        if not changed and not boxes and since == today:
            raise Refused("left", "it hangs and burns like that already")
        if boxes:
            set_boxes(write, boxes)
        set_lamp(write, one.rig, since, **changed)
    messages.success(request, f"{_said(one, to, request.reader)}. Take it back if it is not so.")
    return back(request, spot_id)


def _asked(request: Any, one: Shelf) -> tuple[LampAsSet, dict[int, float]]:
    """The setting that was typed, or that of the option whose button was pressed."""
    kind = request.POST.get("option", "")
    if kind:
        found = next((o for o in (one.advice.first, *one.advice.others) if o.kind == kind), None)
        if found is None:
            raise Refused("option", "that is not what the light asks for any more: look at it once more")
        return found.setting, {s.tray: cm for s, cm in found.boxes if s.tray is not None}
    setting, problem = asked_setting(request.POST, one.setting, one.board.limits, request.reader)
    if problem:
        raise Refused("left", problem)
    if request.POST.get("cheapest"):
        setting = setting._replace(timer=cheapest(setting.timer.hours, one.board.watts, one.tariff, setting.timer))
    return setting, {}


def _said(one: Shelf, to: LampAsSet, units: Reader) -> str:
    """“R1·2: lamp at 24 cm, 16 h from 5:00 to 21:00”"""
    parts, now = [], one.setting
    if (to.left_cm, to.right_cm) != (now.left_cm, now.right_cm):
        left, right = say.amount(to.left_cm, "cm", units), say.amount(to.right_cm, "cm", units)
        parts.append(f"lamp at {left}" if to.level else f"lamp aslant, {left} left and {right} right")
    if to.per_cent != now.per_cent:
        parts.append(f"dimmed to {say.number(to.per_cent)} %")
    if to.timer != now.timer or not parts:
        parts.append(f"{say.number(to.timer.hours)} h, {words.timer_words(to.timer, units)}")
    return f"{one.code}: {', '.join(parts)}"


@garden_view("grower", back="light", page=page)
@require_POST
def care(request: Any, spot_id: int) -> HttpResponse:
    """Wiped, turned, given new tubes."""
    post, today = request.POST, clock.today(request.garden)
    rig, what = rig_at(request.garden, spot_id), post.get("what", "")
    said = {"wiped": "wiped the lamps", "turned": "turned the trays", "tubes": "changed the tubes"}.get(what)
    if said is None:
        raise Refused("what", "choose what was done: wiped, turned, or new tubes")
    with journal.change(request.garden, request.user, f"{rig.spot.code}: {said}", post.get("key", "")) as write:
        write.touch(rig.spot, post.get("revision"))
        _care(write, rig, what, today)
    messages.success(request, f"{rig.spot.code}: {said}.")
    return back(request, spot_id)


def _care(write: journal.ChangeSet, rig: Any, what: str, today: date) -> None:
    lamps: list[Lamp] = rig.hanging(today)
    if what == "turned":
        if not turn_trays(write, rig, today):
            raise Refused("what", "no tray stands there to be turned")
        return
    worn = [lamp for lamp in lamps if what == "wiped" or rig.of(lamp).of.wears_out]
    if not worn:
        raise Refused("what", "no such lamp hangs there: say first which it is")
    for lamp in worn:
        if what == "wiped":
            lamp.wiped_on = today
            write.save(lamp)
        else:
            new_tubes(write, lamp, today)


@garden_view("grower", back="light", page=page)
@require_POST
def reading(request: Any, spot_id: int) -> HttpResponse:
    """What a meter says under the lamp, or how far a hand feels it warm: the shelf is reckoned by it from now on."""
    rig, today = rig_at(request.garden, spot_id), clock.today(request.garden)
    if not rig.known:
        raise Refused("what", "say first which lamp hangs there")
    form = MeterForm(request.POST, units=request.reader)
    if not form.is_valid():
        raise Refused(*next((name, str(errors[0]).rstrip(".")) for name, errors in form.errors.items()))
    typed = form.cleaned_data
    number = None if typed["what"] == "warm" else typed["number"]
    row = LightReading(spot=rig.spot, day=today, what=typed["what"], number=number, gap_cm=typed["gap_cm"])
    kind = {"warm": "felt how warm the lamp is"}.get(typed["what"], "read the light")
    with journal.change(request.garden, request.user, f"{rig.spot.code}: {kind}", request.POST.get("key", "")) as write:
        write.touch(rig.spot)
        write.save(row)
    if typed["what"] == "warm":
        at = say.amount(typed["gap_cm"], "cm", request.reader)
        messages.success(request, f"Kept: leaves on {rig.spot.code} stay further than {at} from the lamp.")
    else:
        rig.readings.append(row)
        found = rig.said(row)
        if found.unsure == "coloured":
            messages.warning(
                request,
                "Kept, but not used: a lux meter says little under coloured light. A meter for plant light would.",
            )
        elif found.unsure:
            messages.warning(
                request,
                "Kept, but not used: it is far from what these lamps can give. Look at the unit, the distance and the lamp.",
            )
        else:
            messages.success(
                request,
                f"Kept: {rig.spot.code} is reckoned by it from now on, {round(100 * (found.times or 1))} % of what was taken.",
            )
    return back(request, spot_id)


@garden_view("grower", back="light", page=page)
@require_POST
def hang(request: Any, spot_id: int) -> HttpResponse:
    """By what the lamp hangs, in which steps, which sides are white."""
    post = request.POST
    spot = get_object_or_404(Spot, pk=spot_id, garden=request.garden)
    hangs = post.get("hangs_by", "")
    if hangs not in {k for k, _ in HANGS}:
        raise Refused("hangs_by", "choose a cord, a chain, a ratchet or fixed")
    facing = post.get("facing", spot.facing)
    if facing not in {k for k, _ in FACING_SAID}:
        raise Refused("facing", "choose where it looks to")
    step = None
    if post.get("step_cm", "").strip():
        field = Length(units=request.reader, label="A step", low=0.1, high=50)
        try:
            step = field.clean(post["step_cm"])
        except Exception as error:
            raise Refused("step_cm", "; ".join(getattr(error, "messages", [str(error)])).rstrip(".")) from error
    with journal.change(request.garden, request.user, f"{spot.code}: how its lamp hangs", post.get("key", "")) as write:
        spot = write.touch(spot, post.get("revision"))
        spot.hangs_by, spot.step_cm, spot.facing = hangs, step, facing
        spot.white = "".join(letter for letter in SIDES if letter in post.getlist("white"))
        write.save(spot)
    messages.success(request, f"Kept for {spot.code}.")
    return back(request, whole_number(str(spot_id)) or spot_id)
