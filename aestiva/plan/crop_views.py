"""Crops: what Aestiva knows of each, whence, and what the garden changed or added."""

from __future__ import annotations

from contextlib import suppress
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.utils.text import slugify

from aestiva.frame.wording import CAUTIONS
from aestiva.gardens import journal
from aestiva.gardens.access import member
from aestiva.plan.forms import CropValueForm, GardenCropForm
from aestiva.season.crops import Crops
from aestiva.season.models import CropValue, GardenCrop
from growing.crops import CropError
from growing.crops.schema import FIELDS
from growing.units import shown, stored


@member()
def crops(request: Any) -> HttpResponse:
    known = Crops(request.garden)
    text = request.GET.get("find", "")
    found = known.find(text) if text else list(known)
    form = GardenCropForm(request.POST or None, crops=known)
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        key = slugify(data["name"]).replace("-", "_") or "crop"
        while key in known:
            key += "_"
        own = GardenCrop(
            garden=request.garden,
            key=key,
            name=data["name"],
            relative=data["relative"],
            hardiness=data["hardiness"],
            speed=data["speed"],
        )
        with (
            suppress(journal.Repeated),
            journal.change(
                request.garden, request.user, f"Added the crop {own.name}", request.POST.get("key", "")
            ) as write,
        ):
            write.save(own)
        return redirect("crop", request.garden.pk, key)
    context = {"view": "plan", "found": found, "text": text, "form": form, "crops": list(known), "own": known.own}
    return render(request, "plan/crops.html", context, status=422 if form.errors else 200)


@member()
def crop(request: Any, key: str) -> HttpResponse:
    known = Crops(request.garden)
    if key not in known:
        raise Http404("There is no such crop here.")
    plain, now = known.plain(key), known[key]
    rows = [
        {"field": f, "value": now.values[f], "plain": plain.values[f], "changed": f in known.changed.get(key, {})}
        for f in FIELDS
    ]
    return render(
        request,
        "plan/crop.html",
        {"view": "plan", "crop": now, "rows": rows, "cautions": [CAUTIONS[c] for c in now.cautions]},
    )


@member()
def crop_value(request: Any, key: str, field: str) -> HttpResponse:
    """Set or take away the garden's own value for one field."""
    known = Crops(request.garden)
    if key not in known or field not in FIELDS or FIELDS[field].words:
        raise Http404("There is no such value.")
    now = known[key].values[field]
    unit, system = FIELDS[field].unit, request.garden.units
    assert isinstance(now.number, int | float)
    typed_as = shown(now.number, unit, system)
    form = CropValueForm(request.POST or None, initial={"value": round(typed_as[0], 2)})
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
                value = round(stored(form.cleaned_data["value"], unit, system), 3)
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
        except journal.Repeated:
            return redirect("crop", request.garden.pk, key)
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
