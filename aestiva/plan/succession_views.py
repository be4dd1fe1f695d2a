"""Again and again: a succession is proposed while the form is filled in, and kept as one entry."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib import messages
from django.db.models import Q
from django.http import HttpResponse
from django.shortcuts import redirect, render

from aestiva.beds.models import Use
from aestiva.frame.forms import DayField
from aestiva.gardens import clock
from aestiva.gardens.access import garden_view
from aestiva.gardens.models import Garden
from aestiva.place.dating import Dating, dating_of
from aestiva.plan import actions
from aestiva.plan.forms import PacketField
from aestiva.plan.succession import AskedSuccession, propose
from aestiva.plan.weekly import weeks_svg
from aestiva.season.crops import Crops
from aestiva.season.models import Lot, Spot
from growing.crops import Crop, CropError
from growing.place.kinds import GROWN_IN
from growing.plan.succession import MOST_SOWINGS

LONGEST_DAYS = 400
USUAL_DAYS = 14


class AgainForm(forms.Form):
    """What is to be sown again and again: by days, or by what is wanted a week."""

    crop = forms.CharField(
        max_length=60, label="Crop", widget=forms.TextInput(attrs={"list": "crops", "autocomplete": "off"})
    )
    variety = forms.CharField(max_length=60, required=False, label="Variety")
    method = forms.ChoiceField(
        choices=(
            ("raised", "raised indoors"),
            ("direct", "sown in place"),
            ("both", "raised, and seed dropped beside them the same day"),
        ),
        label="Begun",
    )
    by = forms.ChoiceField(
        choices=(("need", "by what is wanted a week"), ("days", "every so many days")), label="How often"
    )
    per_week = forms.FloatField(required=False, min_value=0.1, max_value=100_000, label="Wanted a week")
    per_plant = forms.FloatField(
        required=False, min_value=0.01, max_value=10_000, label="A plant gives",
        help_text="Over its whole harvest, in the same measure. Empty: one, where it is gathered once.",
    )  # fmt: skip
    keeps_days = forms.IntegerField(required=False, min_value=0, max_value=400, label="Keeps, days")
    since = DayField(required=False, label="Wanted from")
    until = DayField(required=False, label="until")
    first = DayField(required=False, label="First sowing", help_text="Empty: today.")
    last = DayField(required=False, label="Last sowing", help_text="Empty: as long as it gives something.")
    every_days = forms.IntegerField(required=False, min_value=3, max_value=120, label="Every … days")
    plants = forms.IntegerField(required=False, min_value=1, max_value=20_000, label="Plants each time")
    share = forms.IntegerField(required=False, min_value=1, max_value=99, label="of the second, %")

    def __init__(self, *args: Any, garden: Garden, crops: Crops, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.crops, self.found = crops, None
        here = Lot.objects.filter(Q(used_up=False), garden=garden).order_by("crop_key", "pk")
        self.fields["lot"] = PacketField(crops, here)
        self.fields["lot2"] = PacketField(crops, here)
        self.fields["lot"].label, self.fields["lot2"].label = "Seed from", "and some of"
        grows = Spot.objects.filter(garden=garden, kind__in=GROWN_IN)
        self.fields["spot"] = forms.ModelChoiceField(
            grows, required=False, empty_label="not decided", label="Where it will grow"
        )
        for name in ("lot", "lot2"):
            self.fields[name].required = False

    def clean_crop(self) -> Crop:
        meant = self.crops.named(self.cleaned_data["crop"])
        if meant.crop is None:
            raise forms.ValidationError(f"“{self.cleaned_data['crop'][:40]}” is no crop that is known here.")
        return meant.crop

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        crop = data.get("crop")
        if crop is None:
            return data
        for name in ("lot", "lot2"):
            if data.get(name) is not None and data[name].crop_key != crop.key:
                self.add_error(name, f"That packet is not of {crop.name}: choose another.")
        if data.get("lot2") and data["lot2"] == data.get("lot"):
            self.add_error("lot2", "That is the same packet: choose another, or none.")
        if data.get("by") == "need":
            self._need(data, crop)
        else:
            data["every_days"] = data.get("every_days") or int(crop.maybe("every_days") or USUAL_DAYS)
            data["plants"] = data.get("plants") or 6
            if data.get("first") and data.get("last") and data["last"] < data["first"]:
                self.add_error("last", "The last sowing is before the first: turn them round.")
        return data

    def _need(self, data: dict[str, Any], crop: Crop) -> None:
        if not data.get("per_week") and "per_week" not in self.errors:
            self.add_error("per_week", "How much is wanted a week? A number over 0.")
        if not data.get("per_plant") and crop.word("picked") != "once" and "per_plant" not in self.errors:
            self.add_error(
                "per_plant", f"{crop.name} is gathered over weeks: how much does a plant give in all of them?"
            )
        start, end = data.get("since"), data.get("until")
        for name, day in (("since", start), ("until", end)):
            if day is None and name not in self.errors:
                self.add_error(name, "From when to when is it wanted?")
        if start and end and end < start:
            self.add_error("until", "It would end before it begins: turn them round.")
        elif start and end and (end - start).days > LONGEST_DAYS:
            self.add_error("until", f"That is {(end - start).days} days: a season at most ({LONGEST_DAYS} days).")


def _answer(request: Any, form: AgainForm, dating: Dating) -> dict[str, Any]:
    crop: Crop = form.cleaned_data["crop"]
    try:
        found = propose(request.garden, dating, clock.today(request.garden), crop, form.cleaned_data)
    except CropError as error:
        form.add_error(None, str(error))
        return {}
    picture = weeks_svg(found.weeks) if found.weeks else ""
    return {"found": found, "picture": picture, "most": MOST_SOWINGS}


def _initial(request: Any, dating: Dating) -> dict[str, Any]:
    """What the address says, and what is known to be used of that crop."""
    said = {
        name: request.GET[name]
        for name in ("crop", "variety", "since", "until", "per_week", "spot", "lot")
        if name in request.GET
    }
    initial: dict[str, Any] = {"by": "need", "method": "raised"} | said
    crop = dating.crops.named(said["crop"]).crop if "crop" in said else None
    if crop is not None:
        initial["crop"] = crop.name
        initial["every_days"] = int(crop.maybe("every_days") or USUAL_DAYS)
        initial["method"] = crop.method
        use = Use.objects.filter(garden=request.garden, crop_key=crop.key).first()
        if use is not None:
            for name, value in (
                ("per_week", use.per_week),
                ("per_plant", use.per_plant),
                ("keeps_days", use.keeps_days),
            ):
                initial.setdefault(name, value)
            initial.setdefault("since", use.since)
            initial.setdefault("until", use.until)
    return initial


@garden_view(no_frost="plan")
def again(request: Any) -> HttpResponse:
    """The form with its answer; kept, it makes as many plantings as there are sowings."""
    dating = dating_of(request.garden)
    asked = "by" in request.GET and request.method == "GET"
    data = request.POST if request.method == "POST" else request.GET if asked else None
    form = AgainForm(
        data, garden=request.garden, crops=dating.crops, initial=None if asked else _initial(request, dating)
    )
    said: dict[str, Any] = {}
    if data is not None and form.is_valid():
        said = _answer(request, form, dating)
        found: AskedSuccession | None = said.get("found")
        if request.method == "POST" and found is not None and found.parts and not _split_wrong(found):
            actions.keep_again(request.garden, request.user, found, request.POST.get("key", ""))
            messages.success(request, f"{len(found.parts)} plantings of {found.crop.name} are planned.")
            return redirect("plan", request.garden.pk)
    context = {"view": "plan", "form": form, "crops": list(dating.crops), "bound": data is not None, **said}
    wrong = data is not None and (form.errors or not said or (request.method == "POST"))
    template = "plan/_again.html" if request.htmx else "plan/again.html"
    return render(request, template, context, status=422 if wrong and not request.htmx else 200)


def _split_wrong(found: AskedSuccession) -> bool:
    return any("cannot be split" in words for words in found.problems)
