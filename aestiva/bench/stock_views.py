"""What there is: containers, lids, mix and labels; mixes and what they are made of; plants that came from elsewhere."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date
from typing import Any

from django.contrib import messages
from django.db.models import QuerySet
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from aestiva.bench.forms import ContainerForm, RecipeForm, parts_text
from aestiva.bench.models import THINGS, Recipe, Store
from aestiva.bench.supplies import SupplyNeed, needs, preparing
from aestiva.course.state import load
from aestiva.frame import say
from aestiva.frame.forms import whole_number
from aestiva.frame.say import Reader, shown, stored
from aestiva.gardens import clock, journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.place.dating import dating_of
from aestiva.plan.actions import made, propose, season_of
from aestiva.season.actions import add_event, typed_count, typed_day
from aestiva.season.crops import Crops
from aestiva.season.models import Batch, Container, Planting, Spot
from aestiva.season.places import stand
from growing.bench.mix import SAFE_C, SAFE_MINUTES, TOO_HOT_C, weighed_out
from growing.shelves.containers import containers


@garden_view(no_frost="bench", back="stock")
def stock(request: Any) -> HttpResponse:
    return _stock(request)


def _stock(request: Any, refused: Refused | None = None) -> HttpResponse:
    garden = request.garden
    if request.method == "POST" and refused is None:
        try:
            _count(request)
            return redirect("stock", garden.pk)
        except Refused as wrong:
            refused = wrong
    now = load(garden, clock.today(garden))
    found = needs(now)
    short = [n for n in found if n.supply.short_from is not None]
    context = {
        "view": "bench",
        "needs": found,
        "headline": headline(found, request.reader),
        "short": min(short, key=lambda n: n.supply.short_from or date.max) if short else None,
        "preparing": preparing(now, found, request.reader),
        "stores": {s.thing: s for s in Store.objects.filter(garden=garden)},
        "things": [(v, f"{_volume(request.reader)} of mix" if v == "mix" else w) for v, w in THINGS],
        "refused": refused,
        "typed": request.POST,
        "today": now.today,
    }
    return render(request, "bench/stock.html", context, status=422 if refused else 200)


def headline(found: Sequence[SupplyNeed], reader: Reader) -> str:
    """What is short first, and from when; otherwise what was counted, and how much of what is needed was not."""
    short = [n for n in found if n.supply.short_from is not None]
    if short:
        one = min(short, key=lambda n: n.supply.short_from or date.max)
        lacks = one.supply.short or 0.0
        amount = say.amount(lacks, one.unit, reader) if one.unit else f"{math.ceil(lacks)}"
        when = "" if one.supply.short_from is None else say.day(one.supply.short_from)
        return f"{say.thing(one.name, reader)}: {amount} short from {when}"
    wanted = [n for n in found if n.supply.most]
    unknown = [n for n in wanted if n.supply.owned is None]
    if not wanted:
        return "Nothing planned takes anything from here"
    if not unknown:
        return "What was counted is enough for the season"
    if len(unknown) == len(wanted):
        return f"Nobody has counted yet: {say.plural(len(unknown), 'thing')} will be needed"
    rest = "one that is needed was" if len(unknown) == 1 else f"{len(unknown)} that are needed were"
    return f"What was counted is enough; {rest} not counted"


def _count(request: Any) -> None:
    """How many lids, litres of mix or labels there are."""
    post, garden = request.POST, request.garden
    thing = post.get("thing", "")
    if thing not in dict(THINGS):
        raise Refused("thing", "choose what you counted")
    text = post.get("owned", "").strip().replace(",", ".")
    try:
        owned = float(text) if text else None
    except ValueError:
        raise Refused("owned", f"“{text[:20]}” is not a number: give how many there are, or nothing") from None
    if owned is not None and not 0 <= owned <= 1_000_000:
        raise Refused("owned", "give 0 or more, or nothing where nobody counted")
    wash = typed_count(post.get("to_wash") or "0", "to_wash")
    if wash < 0 or (wash and wash > (owned or 0)):
        raise Refused("to_wash", f"{wash} to be washed are more than there are: correct one of the two")
    if thing == "mix" and owned is not None:
        owned = stored(owned, "l", request.reader)
    with journal.change(
        garden,
        request.user,
        f"Counted {dict(THINGS)[thing]}",
        post.get("key", ""),
    ) as write:
        row = Store.objects.filter(garden=garden, thing=thing).first() or Store(garden=garden, thing=thing)
        row.owned, row.to_wash = owned, wash
        write.save(row, post.get("revision") if row.pk else None)


def _kept(request: Any, form: Any, row: Container | Recipe, alike: QuerySet[Any], changed: bool) -> bool:
    """Written, in one entry; False, and the form says it, where its name is another's."""
    said = f"{'Changed' if changed else 'Wrote down'} {row}"
    try:
        with journal.change(request.garden, request.user, said, request.POST.get("key", "")) as write:
            if alike.exclude(pk=row.pk or 0).exists():
                raise Refused("name", f"There is a {row} already: give another name, or change that one.")
            write.save(row, request.POST.get("revision") if changed else None)
    except Refused as wrong:
        form.add_error("name", str(wrong))
        return False
    return True


def _container(request: Any, row: Container | None) -> HttpResponse:
    garden, kind = request.garden, request.POST.get("kind") or request.GET.get("kind", "")
    initial: dict[str, Any] = {}
    if row is None and kind in containers():
        initial = {
            k: v for k, v in containers()[kind]._asdict().items() if k not in ("length_cm", "width_cm", "depth_cm")
        }
        row_for = Container(garden=garden, kind=kind, **containers()[kind]._asdict())
    else:
        row_for = row or Container(garden=garden)
    if row is not None and request.method == "POST" and request.POST.get("what") == "remove":
        return _remove(request, row, "stock")
    form = ContainerForm(request.POST or None, instance=row_for, garden=garden, units=request.reader, initial=initial)
    if request.method == "POST" and form.is_valid():
        made_ = form.container()
        if row is None and kind in containers():
            made_.kind = kind
        others = Container.objects.filter(garden=garden, name=made_.name)
        if _kept(request, form, made_, others, row is not None):
            return redirect("stock", garden.pk)
    context = {
        "view": "bench",
        "form": form,
        "row": None if row is None else Container.objects.get(pk=row.pk),
        "kind": kind,
        "kinds": [(k, m.name) for k, m in containers().items()],
        "title": row.name if row is not None else "A container",
    }
    return render(request, "bench/container.html", context, status=422 if request.method == "POST" else 200)


@garden_view(back="stock")
def container_new(request: Any) -> HttpResponse:
    return _container(request, None)


@garden_view(back="stock")
def container_change(request: Any, container_id: int) -> HttpResponse:
    return _container(request, get_object_or_404(Container, pk=container_id, garden=request.garden))


@garden_view()
def mixes(request: Any) -> HttpResponse:
    found = Recipe.objects.filter(garden=request.garden)
    return render(request, "bench/mixes.html", {"view": "bench", "mixes": found})


def _volume(reader: Reader) -> str:
    """In what a volume is typed: “litres”, “US gal”."""
    unit = shown(1.0, "l", reader)[1]
    return "litres" if unit == "l" else unit


@garden_view()
def mix(request: Any, recipe_id: int) -> HttpResponse:
    """A mix weighed out for so many litres."""
    recipe = get_object_or_404(Recipe, pk=recipe_id, garden=request.garden)
    typed = request.GET.get("litres", "").strip().replace(",", ".") or "10"
    problem, found = "", []
    try:
        litres = stored(float(typed), "l", request.reader)
        found = weighed_out(recipe.parts, recipe.grams, recipe.millilitres, recipe.water_ml, litres)
    except ValueError as wrong:
        problem = str(wrong) if "litres" in str(wrong) else f"“{typed[:20]}” is not a number: give more than 0"
    context = {
        "view": "bench",
        "recipe": recipe,
        "measures": found,
        "typed": typed,
        "unit": _volume(request.reader),
        "problem": problem,
        "used": recipe.filled.select_related("batch__planting").order_by("-on", "-pk")[:12],
        "safe": (SAFE_C, SAFE_MINUTES, TOO_HOT_C),
    }
    return render(request, "bench/mix.html", context, status=422 if problem else 200)


def _remove(request: Any, row: Container | Recipe, back: str) -> HttpResponse:
    """What nothing hangs on goes; the others say what does."""
    with journal.change(request.garden, request.user, f"Removed {row}", request.POST.get("key", "")) as write:
        write.delete(row, request.POST.get("revision"))
    messages.success(request, f"{row} is gone.")
    return redirect(back, request.garden.pk)


def _recipe(request: Any, row: Recipe | None) -> HttpResponse:
    garden = request.garden
    if row is not None and request.method == "POST" and request.POST.get("what") == "remove":
        return _remove(request, row, "mixes")
    initial = {} if row is None else {
        "name": row.name, "use": row.use, "feeder": row.feeder, "parts": parts_text(row.parts), "grams": parts_text(row.grams),
        "millilitres": parts_text(row.millilitres), "water_ml": row.water_ml, "living": row.living, "fed": row.fed, "note": row.note,
    }  # fmt: skip
    form = RecipeForm(request.POST or None, initial=initial)
    if request.method == "POST" and form.is_valid():
        typed = form.cleaned_data
        made_ = row or Recipe(garden=garden)
        for field, value in typed.items():
            setattr(made_, field, value)
        made_.name = " ".join(typed["name"].split())
        if _kept(request, form, made_, Recipe.objects.filter(garden=garden, name=made_.name), row is not None):
            return redirect("mix", garden.pk, made_.pk)
    context = {"view": "bench", "form": form, "row": row, "title": row.name if row else "A mix"}
    return render(request, "bench/mix_form.html", context, status=422 if request.method == "POST" else 200)


@garden_view(back="mixes")
def mix_new(request: Any) -> HttpResponse:
    return _recipe(request, None)


@garden_view(back="mixes")
def mix_change(request: Any, recipe_id: int) -> HttpResponse:
    return _recipe(request, get_object_or_404(Recipe, pk=recipe_id, garden=request.garden))


CAME = (
    ("", "bought"),
    ("given", "given"),
    ("lifted", "lifted from a bed or pot"),
    ("wintered", "kept over the winter"),
)
STOOD = (("", "nobody knows"), ("glass", "under glass or indoors"), ("outdoors", "outdoors, day and night"))


@garden_view(back="received")
def received(request: Any) -> HttpResponse:
    """Plants that were not sown here: what, how many, where they stood, what they cost."""
    garden, post, today = request.garden, request.POST, clock.today(request.garden)
    crops = Crops(garden)
    refused: Refused | None = None
    if request.method == "POST":
        try:
            batch = _receive(request, crops, today)
            messages.success(request, "They are there. Their days and their ladder follow from where they stood.")
            return redirect("batch", garden.pk, batch.pk)
        except Refused as wrong:
            refused = wrong
    context = {
        "view": "bench",
        "crops": sorted(((crop.key, crop.name) for crop in crops), key=lambda one: one[1]),
        "came": CAME,
        "stood": STOOD,
        "spots": Spot.objects.filter(garden=garden),
        "refused": refused,
        "typed": post,
    }
    return render(request, "bench/received.html", context, status=422 if refused else 200)


def _receive(request: Any, crops: Crops, today: date) -> Batch:
    garden, post = request.garden, request.POST
    key, came, stood = post.get("crop", ""), post.get("came", ""), post.get("stood", "")
    if key not in crops:
        raise Refused("crop", "choose what they are")
    if came not in dict(CAME) or stood not in dict(STOOD):
        raise Refused("stood", "choose how they came and where they stood")
    count, on = typed_count(post.get("count", "")), typed_day(post.get("on", ""), "on", today)
    if not 1 <= count <= 20_000:
        raise Refused("count", f"{count} plants cannot be: give 1 or more")
    price = _price(post.get("price", ""))
    spot_id, grows = whole_number(post.get("spot")), whole_number(post.get("grows"))
    spot = None if spot_id is None else get_object_or_404(Spot, pk=spot_id, garden=garden)
    bed = None if grows is None else get_object_or_404(Spot, pk=grows, garden=garden)
    name = crops.plain(key).name
    variety = " ".join(post.get("variety", "").split())[:60]
    wanted = Planting(
        crop_key=key, variety=variety, wanted=count, method="bought", stood=stood, came=came, price=price, spot=bed, planned_on=on
    )  # fmt: skip
    _, dates = propose(wanted, dating_of(garden), today)
    wanted.made = made(dates)
    word = {"": "Bought", "given": "Were given", "lifted": "Lifted", "wintered": "Kept"}[came]
    with journal.change(
        garden, request.user, f"{word} {count} {name} {variety}".strip()[:250], post.get("key", "")
    ) as write:
        wanted.season = season_of(garden)
        batch = write.save(Batch(planting=write.save(wanted), per_cell=1))
        add_event(write, batch, "received", on, today, count=count)
        if spot is not None:
            stand(write, batch, spot, on, potted=True)
    return batch


def _price(text: str) -> float | None:
    text = text.strip().replace(",", ".")
    if not text:
        return None
    try:
        found = float(text)
    except ValueError:
        raise Refused("price", f"“{text[:20]}” is not a price: give a number, or nothing") from None
    if not 0 <= found <= 100_000:
        raise Refused("price", "a price is 0 or more")
    return found
