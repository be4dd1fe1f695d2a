"""A packet in a few keys, its facts, its tests."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any

from django import forms

from aestiva.frame.say import Reader
from aestiva.place.forms import Degrees
from aestiva.season.crops import Crops
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


class PerCentField(forms.FloatField):
    """A share as people write it: 85 for 0.85."""

    def __init__(self, *, low: float = 1, high: float = 100, **kwargs: Any) -> None:
        super().__init__(min_value=low, max_value=high, **kwargs)

    def prepare_value(self, value: Any) -> Any:
        return round(value * 100, 1) if isinstance(value, float) and value <= 1 else value

    def clean(self, value: Any) -> Any:
        found = super().clean(value)
        return None if found is None else found / 100


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
