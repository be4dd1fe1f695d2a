"""A lamp, a timer, what a meter says, what current costs: in the reader's lengths; what matters most is asked for, the rest is taken."""

from __future__ import annotations

import re
from typing import Any

from django import forms

from aestiva.beds.forms import Length
from aestiva.frame.forms import DayInput, clock_hour
from aestiva.frame.say import Reader
from aestiva.season.models import Lamp, Spot, Tariff
from aestiva.season.models.lamps import READ
from growing.light import lamps as core
from growing.light.hours import wrong_spans

LONGER_CM = 5.0  # that a lamp may reach over the ends of its shelf


def typed_time(text: str) -> float:
    """An hour of the day as typed; raises ValidationError."""
    try:
        return clock_hour(text)
    except ValueError as error:
        raise forms.ValidationError(f"{error}.") from error


class LampForm(forms.ModelForm):
    """What hangs over a place: its kind, and of light, lumen or watts whatever is printed on it."""

    class Meta:
        model = Lamp
        fields = [
            "kind",
            "name",
            "number",
            "umol",
            "lumen",
            "kelvin",
            "watts",
            "reflector",
            "dims",
            "new_on",
            "wiped_on",
        ]
        labels = {
            "kind": "It is a", "number": "How many, alike", "umol": "Light, µmol/s", "lumen": "or lumen", "kelvin": "with its colour, K",
            "watts": "Draws, watts", "reflector": "With a reflector", "dims": "It can be dimmed", "new_on": "New on", "wiped_on": "Last wiped on",
        }  # fmt: skip
        help_texts = {
            "umol": "of one, as printed on it; the surest number",
            "lumen": "of one; white light only",
            "watts": "of one; with nothing else it is what the light is reckoned from",
        }
        widgets = {
            "new_on": DayInput(),
            "wiped_on": DayInput(),
        }

    def __init__(self, *args: Any, spot: Spot, units: Reader, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.spot, row = spot, self.instance
        for name, label, low, high in (
            ("length_cm", "Length", 2.0, 500.0), ("width_cm", "Width", 0.5, 300.0), ("y_cm", "Its middle from the front", 0.0, 500.0),
        ):  # fmt: skip
            self.fields[name] = Length(
                units=units, label=label, low=low, high=high, required=False, initial=getattr(row, name)
            )
        for name in ("umol", "lumen", "kelvin", "watts"):
            self.fields[name].widget.attrs.update({"step": "any", "inputmode": "decimal"})

    def clean(self) -> dict[str, Any]:
        found = super().clean() or {}
        numbers = {name: found.get(name) for name in ("umol", "lumen", "kelvin", "watts")}
        lamp = core.DescribedLamp(
            str(found.get("kind")), numbers["umol"], numbers["lumen"], numbers["kelvin"], numbers["watts"],
            found.get("length_cm"), found.get("width_cm"),
        )  # fmt: skip
        if wrong := core.wrong_lamp(lamp):
            name = next(
                (n for n in ("lumen", "umol", "watts") if numbers[n] is not None and f"{numbers[n]:g}" in wrong), "kind"
            )
            self.add_error(name, wrong[0].upper() + wrong[1:] + ".")
        elif self.spot.length_cm and lamp.long_cm > self.spot.length_cm + LONGER_CM:
            said = f"{lamp.long_cm:g} cm is longer than {self.spot.code}, which has {self.spot.length_cm:g} cm: check both."
            self.add_error("length_cm", said)
        new, wiped = found.get("new_on"), found.get("wiped_on")
        if new and wiped and wiped < new:
            self.add_error("wiped_on", "That is before it was new: check both days.")
        return found

    def lamp(self) -> Lamp:
        """The lamp as typed, not saved."""
        row: Lamp = self.save(commit=False)
        row.spot = self.spot
        for name in ("length_cm", "width_cm", "y_cm"):
            setattr(row, name, self.cleaned_data[name])
        return row


class MeterForm(forms.Form):
    """What a meter says under the lamp, or how far a hand feels it warm."""

    what = forms.ChoiceField(choices=READ, label="It is")
    number = forms.FloatField(min_value=0, required=False, label="The meter says")

    def __init__(self, *args: Any, units: Reader, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["gap_cm"] = Length(units=units, label="So far under the lamp", low=0.5, high=300.0)

    def clean(self) -> dict[str, Any]:
        found = super().clean() or {}
        if found.get("what") != "warm" and not found.get("number") and "number" not in self.errors:
            self.add_error("number", "What does the meter say? Give the number.")
        most = 2500 if found.get("what") == "ppfd" else 150_000
        if (found.get("number") or 0) > most:
            self.add_error("number", f"{found['number']:g} cannot be: give more than 0 and up to {most}.")
        return found


class TariffForm(forms.ModelForm):
    """What current costs, and when it costs less."""

    cheap = forms.CharField(
        required=False, max_length=120, label="Cheap hours", help_text="such as 0–7, 13–16; over midnight 22–6"
    )

    class Meta:
        model = Tariff
        fields = ["price", "cheap_price"]
        labels = {"price": "A kilowatt hour costs", "cheap_price": "in the cheap hours"}

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        spans = self.instance.spans or []
        self.fields["cheap"].initial = ", ".join(f"{_hour(a)}–{_hour(b)}" for a, b in spans)

    def clean_cheap(self) -> list[list[float]]:
        found = []
        for part in (p for p in self.cleaned_data["cheap"].replace(";", ",").split(",") if p.strip()):
            ends = re.split(r"\s*(?:–|-|to)\s*", part.strip())
            if len(ends) != 2:
                raise forms.ValidationError(f"“{part.strip()[:20]}” is no span of hours: give it as 0–7.")
            found.append([typed_time(ends[0]), typed_time(ends[1])])
        if wrong := wrong_spans([(a, b) for a, b in found]):
            raise forms.ValidationError(wrong[0].upper() + wrong[1:] + ".")
        return found

    def clean(self) -> dict[str, Any]:
        found = super().clean() or {}
        if found.get("cheap") and found.get("cheap_price") is None and "cheap_price" not in self.errors:
            self.add_error("cheap_price", "What does it cost in the cheap hours?")
        return found


def _hour(hour: float) -> str:
    return f"{int(hour)}" if hour == int(hour) else f"{int(hour)}:{round(hour % 1 * 60):02d}"
