"""Crops: what Aestiva knows of each, whence, and what the garden changed or added."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render

from aestiva.frame.say import shown, stored
from aestiva.frame.wording import poisonous
from aestiva.gardens import journal
from aestiva.gardens.access import garden_view
from aestiva.gardens.outcomes import Refused
from aestiva.plan.cropwords import in_order
from aestiva.plan.forms import CropValueForm, GardenCropForm, RaisingForm
from aestiva.season.crops import Crops, own_crop
from aestiva.season.models import CropValue, GardenCrop
from growing.crops import RAISING, Crop, CropError, exchange, from_class, from_relative, library, unlike_family
from growing.crops.schema import FIELDS, GROUPS


@garden_view(back="crops")
def crops(request: Any) -> HttpResponse:
    known = Crops(request.garden)
    text = request.GET.get("find", "")
    found = known.find(text) if text else list(known)
    form = GardenCropForm(request.POST or None, crops=known)
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        own = own_crop(request.garden, data["name"], known, data["relative"], data["hardiness"], data["speed"])
        said = f"Added the crop {own.name}"
        with journal.change(request.garden, request.user, said, request.POST.get("key", "")) as write:
            write.save(own)
        return redirect("crop", request.garden.pk, own.key)
    context = {"view": "plan", "found": found, "text": text, "form": form, "crops": list(known), "own": known.own}
    return render(request, "plan/crops.html", context, status=422 if form.errors else 200)


@garden_view()
def crop(request: Any, key: str) -> HttpResponse:
    known = Crops(request.garden)
    if key not in known:
        raise Http404("There is no such crop here.")
    plain, now = known.plain(key), known[key]
    own = known.changed.get(key, {})
    groups = {
        title: [
            {
                "field": f,
                "value": now.value(f),
                "plain": plain.value(f),
                "changed": f in own,
                "own": not FIELDS[f].words,
            }
            for f in fields
        ]
        for title, fields in GROUPS.items()
    }
    own_ways = [(one.name, one, usual) for one, usual in unlike_family(now)]
    context = {
        "view": "plan",
        "crop": now,
        "groups": groups,
        "unlike": own_ways,
        "stages": in_order(now, request.reader),
    }
    poison = poisonous(now) if now.poison else ""
    return render(request, "plan/crop.html", context | {"raising": RAISING, "poison": poison})


@garden_view(back="crop")
def raising(request: Any, key: str) -> HttpResponse:
    """Own experience of raising: shortest, longest and limit in one go, with one reason."""
    known = Crops(request.garden)
    if key not in known:
        raise Http404("There is no such crop here.")
    initial = {f: known[key].maybe(f) for f in RAISING} | {"reason": _reason(known.changed.get(key, {}))}
    form = RaisingForm(request.POST or None, initial=initial)
    rows = {r.field: r for r in CropValue.objects.filter(garden=request.garden, crop_key=key, field__in=RAISING)}
    name, once = known[key].name, request.POST.get("key", "")
    if request.method == "POST" and "forget" in request.POST:
        with journal.change(request.garden, request.user, f"Forgot own raising time of {name}", once) as write:
            for row in rows.values():
                write.delete(row)
        return redirect("crop", request.garden.pk, key)
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        try:
            known.plain(key).overlaid("garden", {**known.changed.get(key, {}), **{f: (data[f], "") for f in RAISING}})
            said = f"{name} is raised {data['raise_min']:g} to {data['raise_max']:g} weeks, {data['hold']:g} at most"
            with journal.change(request.garden, request.user, said, once) as write:
                for field in RAISING:
                    row = rows.get(field) or CropValue(garden=request.garden, crop_key=key, field=field)
                    row.value, row.reason = data[field], data["reason"]
                    write.save(row)
            messages.success(request, f"{said}, from now on.")
            return redirect("crop", request.garden.pk, key)
        except CropError as error:
            form.add_error(None, str(error))
    context = {"view": "plan", "crop": known[key], "plain": known.plain(key), "form": form, "old": bool(rows)}
    return render(request, "plan/raising.html", context, status=422 if form.errors else 200)


def _reason(own: Mapping[str, Any]) -> str:
    """The reason already given for a raising time, if any."""
    return next((str(own[f][1]) for f in RAISING if f in own), "")


@garden_view(back="crop")
def crop_value(request: Any, key: str, field: str) -> HttpResponse:
    """Set or take away the garden's own value for one field."""
    known = Crops(request.garden)
    if key not in known or field not in FIELDS or FIELDS[field].words:
        raise Http404("There is no such value.")
    now, number = known[key].value(field), known[key].maybe(field)
    unit, reader = FIELDS[field].unit, request.reader
    typed_as = shown(0.0 if number is None else number, unit, reader)
    initial = {} if number is None else {"value": round(typed_as[0], 2)}
    form = CropValueForm(request.POST or None, initial=initial)
    old = CropValue.objects.filter(garden=request.garden, crop_key=key, field=field).first()
    if request.method == "POST":
        label = f"{known[key].name}: {FIELDS[field].label}"
        try:
            if "forget" in request.POST and old is not None:
                with journal.change(
                    request.garden, request.user, f"Forgot own value of {label}", request.POST.get("key", "")
                ) as write:
                    write.delete(old)
                return redirect("crop", request.garden.pk, key)
            if form.is_valid():
                value = round(stored(form.cleaned_data["value"], unit, reader), 3)
                known.plain(key).overlaid("garden", {**known.changed.get(key, {}), field: (value, "")})
                row = old or CropValue(garden=request.garden, crop_key=key, field=field)
                row.value, row.reason = value, form.cleaned_data["reason"]
                with journal.change(
                    request.garden,
                    request.user,
                    f"{label} is now {form.cleaned_data['value']:g} {typed_as[1]}",
                    request.POST.get("key", ""),
                ) as write:
                    write.save(row)
                messages.success(request, f"{label}: {form.cleaned_data['value']:g} {typed_as[1]} from now on.")
                return redirect("crop", request.garden.pk, key)
        except CropError as error:
            form.add_error("value", str(error))
        except Refused as refused:
            form.add_error("value" if "forget" not in request.POST else None, str(refused))
    context = {
        "view": "plan",
        "crop": known[key],
        "field": field,
        "spec": FIELDS[field],
        "form": form,
        "old": old,
        "now": now,
    }
    return render(request, "plan/crop_value.html", context, status=422 if form.errors else 200)


@garden_view()
def compare(request: Any) -> HttpResponse:
    """Two crops side by side; what differs stands out."""
    known = Crops(request.garden)
    keys = [request.GET.get("a", ""), request.GET.get("b", "")]
    chosen = [known[hits[0].key] if (hits := known.find(text)) else None for text in keys if text]
    pair = [c for c in chosen if c is not None]
    if len(pair) != 2:
        pair = []
    rows = (
        [(f, pair[0].value(f), pair[1].value(f), pair[0].value(f).number != pair[1].value(f).number) for f in FIELDS]
        if pair
        else []
    )
    missing = [text for text, crop in zip([k for k in keys if k], chosen, strict=True) if crop is None]
    context = {"view": "plan", "pair": pair, "rows": rows, "crops": list(known), "keys": keys, "missing": missing}
    return render(request, "plan/compare.html", context)


@garden_view()
def crops_file(request: Any) -> HttpResponse:
    """The garden's own crops and values, or everything it knows, as TOML."""
    known = Crops(request.garden)
    if request.GET.get("all"):
        text, name = exchange.write_library(known), "crops-all.toml"
    else:
        own = [exchange.OwnCrop(c.key, c.name, c.relative, c.hardiness, c.speed) for c in known.own.values()]
        values = [exchange.OwnValue(k, f, v[0], v[1]) for k, fields in known.changed.items() for f, v in fields.items()]
        text, name = exchange.write_own(own, values), "crops-own.toml"
    response = HttpResponse(text, content_type="application/toml; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@garden_view("grower", back="crops")
def crops_import(request: Any) -> HttpResponse:
    """Own crops and values from another garden: all of the file, or nothing and why."""
    found, problems = None, []
    if request.method == "POST" and request.FILES.get("file"):
        found = exchange.read_own(request.FILES["file"].read())
        known = Crops(request.garden)
        problems = list(found.problems)
        problems += [
            f"crop.{c.key}: this garden has a crop of this key already." for c in found.crops if c.key in known.own
        ]
        for key in dict.fromkeys(v.crop for v in found.values):
            own = next((c for c in found.crops if c.key == key), None)
            plain = made(own) if own else known.plain(key)
            if wrong := exchange.fits(plain, [v for v in found.values if v.crop == key]):
                problems.append(wrong + ".")
        if not problems and (found.crops or found.values):
            _bring_in(request, found)
            return redirect("crops", request.garden.pk)
        if not problems:
            problems = ["There is no crop and no value in this file."]
    context = {"view": "plan", "problems": problems}
    return render(request, "plan/crops_import.html", context, status=422 if problems else 200)


def made(own: exchange.OwnCrop) -> Crop:
    """A crop as its file describes it."""
    if own.relative:
        return from_relative(own.key, own.name, library()[own.relative])
    return from_class(own.key, own.name, own.hardiness, own.speed)


def _bring_in(request: Any, found: exchange.Exchange) -> None:
    summary = f"Brought in {len(found.crops)} crops and {len(found.values)} own values"
    old = {(v.crop_key, v.field): v for v in CropValue.objects.filter(garden=request.garden)}
    with journal.change(request.garden, request.user, summary, request.POST.get("key", "")) as write:
        for c in found.crops:
            write.save(GardenCrop(garden=request.garden, **c._asdict()))
        for v in found.values:
            row = old.get((v.crop, v.field)) or CropValue(garden=request.garden, crop_key=v.crop, field=v.field)
            row.value, row.reason = v.value, v.reason
            write.save(row)
    messages.success(request, f"{summary}.")
