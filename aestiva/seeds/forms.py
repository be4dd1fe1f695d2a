"""A packet in a few keys, its facts, its tests."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any

from django import forms

from aestiva.frame.forms import DayField
from aestiva.frame.say import Reader
from aestiva.place.forms import Degrees
from aestiva.season.crops import Crops
from aestiva.season.models import Lot
from growing.crops import Crop

STORAGES = (
    ("", "not said: taken as a living room"),
    ("room", "a living room"),
    ("cool", "a cool dry cupboard (lives twice as long)"),
    ("fridge", "the fridge, in a closed jar (five times)"),
    ("opened", "the fridge, packet open (a third)"),
    ("kitchen", "a warm kitchen (a third)"),
    ("shed", "a damp shed or cellar (a quarter)"),
    ("own", "as measured"),
)


def find_crop(crops: Crops, text: str) -> Crop:
    """The crop of that name; a validation error with those it might be."""
    found = crops.named(text)
    if found.likely is not None:
        return found.likely
    names = ", ".join(c.name for c in found.like[:5])
    raise forms.ValidationError(
        f"“{text}” is not one crop the garden knows"
        + (f": did you mean {names}?" if names else ": add it under Crops first.")
    )


def check_year(year: int | None, today: date) -> int | None:
    if year is not None and not 1950 <= year <= today.year + 1:
        raise forms.ValidationError(f"{year} cannot be: a packet is for 1950 to {today.year + 1}.")
    return year


class QuickForm(forms.Form):
    """A packet from the table: crop, variety, year, seeds; Enter keeps it and the next one can be typed."""

    crop = forms.CharField(max_length=60, widget=forms.TextInput(attrs={"list": "crops", "autocomplete": "off"}))
    variety = forms.CharField(max_length=60, required=False)
    packed = forms.IntegerField(
        required=False, label="Packed for", widget=forms.TextInput(attrs={"inputmode": "numeric"})
    )
    seeds = forms.IntegerField(
        required=False, min_value=0, max_value=10_000_000, widget=forms.TextInput(attrs={"inputmode": "numeric"})
    )

    def __init__(self, *args: Any, crops: Crops, today: date, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.crops, self.today = crops, today
        self.fields["packed"].widget.attrs["placeholder"] = str(today.year)

    def clean_crop(self) -> Crop:
        return find_crop(self.crops, self.cleaned_data["crop"])

    def clean_packed(self) -> int | None:
        year: int | None = self.cleaned_data["packed"]
        return check_year(year if year is None or year > 99 else 2000 + year, self.today)

    def lot(self) -> Lot:
        """The packet as typed, not saved; an empty year is this season's."""
        d = self.cleaned_data
        return Lot(
            crop_key=d["crop"].key,
            variety=d["variety"].strip(),
            packed_year=d["packed"] if d["packed"] is not None else self.today.year,
            seeds=d["seeds"],
        )


class PerCentField(forms.FloatField):
    """A share as people write it: 85 for 0.85."""

    def __init__(self, *, low: float = 1, high: float = 100, **kwargs: Any) -> None:
        super().__init__(min_value=low, max_value=high, **kwargs)

    def prepare_value(self, value: Any) -> Any:
        return round(value * 100, 1) if isinstance(value, float) and value <= 1 else value

    def clean(self, value: Any) -> Any:
        found = super().clean(value)
        return None if found is None else found / 100


class LotForm(forms.ModelForm):
    storage = forms.ChoiceField(choices=STORAGES, required=False, label="Kept in")
    printed = PerCentField(required=False, label="Germination printed on it, %")

    class Meta:
        model = Lot
        fields = [
            "variety", "packed_year", "seeds", "grams", "seeds_per_g", "storage", "storage_c", "storage_rh", "treated",
            "pelleted", "primed", "saved", "printed", "colour", "used_up", "origin", "price", "packet_seeds", "note",
        ]  # fmt: skip
        labels = {
            "packed_year": "Packed for",
            "seeds": "Seeds",
            "grams": "or grams",
            "seeds_per_g": "Seeds in a gram",
            "storage_c": "°C where it is kept",
            "storage_rh": "Humidity there, %",
            "treated": "Treated seed",
            "pelleted": "Pelleted",
            "primed": "Primed",
            "saved": "Our own seed",
            "printed": "Germination printed on it, %",
            "colour": "Flower colour",
            "used_up": "The packet is empty (its facts stay)",
            "origin": "Bought from",
            "price": "Price of a packet",
            "packet_seeds": "Seeds in a new packet",
        }

    def __init__(self, *args: Any, today: date, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.today = today
        self.fields["variety"].required = False

    def clean_packed_year(self) -> int | None:
        return check_year(self.cleaned_data["packed_year"], self.today)

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if data.get("storage") == "own" and (data.get("storage_c") is None or data.get("storage_rh") is None):
            self.add_error("storage_c", "As measured needs both °C and humidity.")
        for name, low, high in (("storage_c", -30, 50), ("storage_rh", 0, 100)):
            value = data.get(name)
            if value is not None and not low <= value <= high:
                self.add_error(name, f"{value:g} cannot be: give {low} to {high}.")
        return data


class TestForm(forms.Form):
    on = DayField(label="Read on")
    sown = forms.IntegerField(min_value=1, max_value=10_000, label="Seeds laid out")
    up = forms.IntegerField(min_value=0, max_value=10_000, label="Came")
    in_mix = forms.BooleanField(required=False, label="in mix, not on a moist towel")

    def __init__(self, *args: Any, today: date, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.today = today

    def clean_on(self) -> date:
        day: date = self.cleaned_data["on"]
        if day > self.today:
            raise forms.ValidationError(f"{day:%-d %B %Y} has not come yet: check the day.")
        return day

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        sown, up = data.get("sown"), data.get("up")
        if sown is not None and up is not None and up > sown:
            self.add_error(
                "up", f"{up} came of {sown} laid out: that is more than were there. Which number is mistyped?"
            )
        return data


class AskForm(forms.Form):
    """At which warmth, and how sure: what a count is asked for, as far as an address says it."""

    sure = PerCentField(low=50, high=99, label="sure, %")

    def __init__(self, typed: Mapping[str, str], *, units: Reader, warmth_c: float, sure: float) -> None:
        at = Degrees(units=units, low=0, high=45)
        at.label = f"warmth, {at.help_text}"
        usual = {"warmth": f"{at.prepare_value(warmth_c):g}", "sure": f"{sure * 100:g}"}
        super().__init__({name: typed.get(name, "").strip().replace(",", ".") or usual[name] for name in usual})
        self.fields["warmth"] = at
        self.order_fields(["warmth", "sure"])
        for field in self.fields.values():
            field.widget.attrs["class"] = "form-control"
        self.usual = {"warmth": warmth_c, "sure": sure}

    def said(self, name: str) -> float:
        """What was asked for; the usual in the place of what cannot be."""
        self.is_valid()
        return float(self.cleaned_data.get(name, self.usual[name]))
