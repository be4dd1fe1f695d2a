"""Week by week: harvest and bloom of the whole garden against what is wanted; what is wanted of one crop."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render

from aestiva.beds.actions import keep_use
from aestiva.beds.models import Use
from aestiva.course.state import load
from aestiva.frame.files import csv_response
from aestiva.frame.forms import DayField
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.plan import harvest
from aestiva.plan.weekly import counts_svg, small_svg, weeks_svg


class HarvestUseForm(forms.ModelForm):
    """What is wanted of a crop, what a plant of it gives, and how long it keeps."""

    since = DayField(required=False, label="Wanted from", help_text="Empty: as soon as it is there.")
    until = DayField(required=False, label="until", help_text="Empty: as long as it is there.")

    class Meta:
        model = Use
        fields = ("per_week", "unit", "for_whom", "per_plant", "since", "until", "keeps_days", "cut_stage")
        labels = {"per_week": "Wanted a week", "unit": "counted in", "for_whom": "for", "per_plant": "A plant gives"}
        help_texts = {"per_plant": "Over its whole harvest. Empty: nobody knows; of what is gathered once, one."}

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        start, end = data.get("since"), data.get("until")
        if start and end and end < start:
            self.add_error("until", "It would end before it begins: turn them round.")
        return data


@garden_view(no_frost="plan")
def weeks(request: Any) -> HttpResponse:
    """Every crop of the season as a line of weeks."""
    now = load(request.garden, clock.today(request.garden))
    found = harvest.harvest_of(now)
    context = {
        "view": "plan",
        "headline": harvest.headline(found),
        "found": found,
        "rows": [(one, small_svg(one.weeks)) for one in found.yields],
        "kinds": [(kind, counts_svg(kind.counts, found.weeks)) for kind in found.kinds if kind.counts],
        "troubles": now.troubles,
    }
    return render(request, "plan/harvest.html", context)


@garden_view(no_frost="plan")
def weeks_csv(request: Any) -> HttpResponse:
    found = harvest.harvest_of(load(request.garden, clock.today(request.garden)))
    return csv_response(f"weeks-{request.garden.year}.csv", harvest.TABLE, harvest.table(found))


@garden_view(back="weeks_of", no_frost="plan")
def weeks_of(request: Any, key: str) -> HttpResponse:
    """One crop: its weeks large, what fills those that lack, and what is wanted of it."""
    now = load(request.garden, clock.today(request.garden))
    found = next((one for one in harvest.harvest_of(now).yields if one.crop.key == key), None)
    if found is None:
        raise Http404("Nothing of this crop is planned.")
    form = HarvestUseForm(request.POST or None, instance=found.use)
    if request.method == "POST" and form.is_valid():
        keep_use(request.garden, request.user, key, form.cleaned_data, request.POST.get("key", ""))
        messages.success(request, f"{found.crop.name}: kept.")
        return redirect("weeks_of", request.garden.pk, key)
    if form.errors:
        found.use = Use.objects.filter(garden=request.garden, crop_key=key).first()
    here = [w for w in found.weeks if w.giving or w.wanted or w.kept]
    span = [w for w in found.weeks if here and here[0].start <= w.start <= here[-1].start]
    context = {
        "view": "plan",
        "one": found,
        "form": form,
        "gaps": harvest.gaps(found, now),
        "picture": weeks_svg(span, 720, found.unit),
        "span": span,
    }
    return render(request, "plan/weeks_of.html", context, status=422 if form.errors else 200)
