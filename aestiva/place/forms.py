"""What the grower says of the place; temperatures convert at the edge, untouched fields are never rewritten."""

from __future__ import annotations

from datetime import date
from typing import Any

from django import forms

from aestiva.frame.forms import DayField
from aestiva.frame.say import Reader, shown, stored
from aestiva.place.models import BASES, Frost, Station
from growing.place.shift import Shift
from growing.place.station import PRESETS


class Degrees(forms.FloatField):
    """A temperature typed in the reader's units and kept in °C; `difference` for a shift."""

    def __init__(
        self, *, units: Reader, difference: bool = False, low: float = -60, high: float = 60, **kwargs: Any
    ) -> None:
        super().__init__(**kwargs)
        self.units, self.low, self.high = units, low, high
        self.kind = "Δ°C" if difference else "°C"
        self.widget.attrs.update({"step": "any", "inputmode": "decimal"})
        self.help_text = self.help_text or ("°F" if units.units == "us" else "°C")

    def prepare_value(self, value: Any) -> Any:
        if isinstance(value, int | float):
            return round(shown(value, self.kind, self.units)[0], 1)
        return value

    def clean(self, value: Any) -> Any:
        number = super().clean(value)
        if number is None:
            return None
        kept = round(stored(number, self.kind, self.units), 2)
        if not self.low <= kept <= self.high:
            low, unit = shown(self.low, self.kind, self.units)
            high, _ = shown(self.high, self.kind, self.units)
            raise forms.ValidationError(
                f"{number:g} {unit} cannot be: give a value between {low:g} and {high:g} {unit}."
            )
        return kept

    def has_changed(self, initial: Any, data: Any) -> bool:
        return str(self.prepare_value(initial) if initial is not None else "") != str(data or "")


class Speed(forms.FloatField):
    """Wind typed in the reader's units and kept in km/h."""

    def __init__(self, *, units: Reader, **kwargs: Any) -> None:
        super().__init__(**kwargs)
        self.units, self.unit = units, shown(1.0, "km/h", units)[1]
        self.label = f"{self.label}, {self.unit}"
        self.widget.attrs.update({"step": "any", "inputmode": "decimal"})

    def prepare_value(self, value: Any) -> Any:
        return round(shown(value, "km/h", self.units)[0], 1) if isinstance(value, int | float) else value

    def clean(self, value: Any) -> Any:
        number = super().clean(value)
        if number is None:
            return None
        kept = round(stored(number, "km/h", self.units), 1)
        if not 0 <= kept <= MOST_WIND_KMH:
            most = shown(MOST_WIND_KMH, "km/h", self.units)[0]
            raise forms.ValidationError(f"{number:g} {self.unit} cannot be: give 0 to {most:.0f}.")
        return kept


MOST_WIND_KMH = 150.0


class LineForm(forms.Form):
    """Another frost line: as a risk in per cent, or as a day of the curve."""

    risk = forms.FloatField(required=False, label="Springs with a frost later than your line, %")
    on = DayField(required=False, label="or your line, as a day")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["risk"].widget.attrs.update({"min": "1", "max": "50", "step": "any", "inputmode": "decimal"})

    def clean_risk(self) -> float | None:
        percent: float | None = self.cleaned_data["risk"]
        if percent is None:
            return None
        if not 1 <= percent <= 50:
            raise forms.ValidationError(
                f"{percent:g} % cannot be accepted here: give 1 to 50 %. Above half the date would lie before the last frost of most years."
            )
        return percent / 100

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if not self.errors and data.get("risk") is None and data.get("on") is None:
            self.add_error("risk", "Give a risk, or a day.")
        return data


class ReckoningForm(forms.ModelForm):
    """From which station, which years, how much colder, on which soil."""

    class Meta:
        model = Frost
        fields = ["station", "basis", "cover", "warmth_typed"]
        labels = {
            "station": "Station",
            "basis": "Years that speak",
            "cover": "The soil my plants go into",
            "warmth_typed": "Take the days of warmth I typed, not the station’s",
        }
        widgets = {"basis": forms.RadioSelect}
        help_texts = {"warmth_typed": ""}

    def __init__(self, *args: Any, units: Reader, estimate: Shift | None, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.estimate = estimate
        garden, field = self.instance.garden, self.fields["station"]
        assert isinstance(field, forms.ModelChoiceField)
        field.queryset = Station.objects.filter(owner=garden)
        field.empty_label = "none: dates as typed"
        basis = self.fields["basis"]
        assert isinstance(basis, forms.ChoiceField)
        basis.choices = [*BASES]
        self.fields["shift_c"] = Degrees(
            units=units,
            difference=True,
            low=-8,
            high=8,
            required=False,
            label="My garden against the station on cold nights",
            help_text=f"In {'°F' if units.units == 'us' else '°C'}; minus for colder, such as a hollow. Empty: the same.",
            initial=self.instance.shift_c or None,
        )
        if estimate is not None:
            self.fields["shift_read"] = forms.BooleanField(
                required=False,
                label="Take it from the nights read at both",
                initial=self.instance.shift_nights is not None,
            )
        self.order_fields(["station", "shift_read", "shift_c", "basis", "cover", "warmth_typed"])

    def clean_station(self) -> Station | None:
        station: Station | None = self.cleaned_data["station"]
        if station is None and self.instance.last_on is None:
            raise forms.ValidationError(
                "Type a frost date first: without one and without a station nothing can be counted."
            )
        return station

    def save(self, commit: bool = True) -> Frost:
        row = self.instance
        if self.estimate is not None and self.cleaned_data.get("shift_read"):
            row.shift_c = round(self.estimate.shift_c, 1)
            row.shift_nights, row.shift_error = self.estimate.nights, round(self.estimate.error_c, 1)
        else:
            row.shift_c = self.cleaned_data.get("shift_c") or 0.0
            row.shift_nights = row.shift_error = None
        return super().save(commit)


class NightForm(forms.Form):
    """One night of the forecast."""

    day = DayField(label="Night of")
    cloud = forms.IntegerField(required=False, min_value=0, max_value=100, label="Cloud, %")

    def __init__(self, *args: Any, units: Reader, today: date, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.today = today
        self.fields["tmin"] = Degrees(units=units, label="Lowest")
        self.fields["tmax"] = Degrees(units=units, required=False, label="Highest that day")
        self.fields["wind"] = Speed(units=units, required=False, label="Wind")
        self.order_fields(["day", "tmin", "tmax", "cloud", "wind"])

    def clean_day(self) -> date:
        day: date = self.cleaned_data["day"]
        if not 0 <= (day - self.today).days <= 15:
            raise forms.ValidationError(f"{day:%-d %B} is not in the next two weeks: forecasts reach no further.")
        return day

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        low, high = data.get("tmin"), data.get("tmax")
        if low is not None and high is not None and low > high:
            self.add_error("tmax", "The highest is below the lowest: change one of them.")
        return data


class WeatherFileForm(forms.Form):
    file = forms.FileField(
        label="Daily weather",
        help_text="A table or workbook with date, lowest and, if you have it, highest; or GHCN-Daily: long, wide or .dly.",
    )
    name = forms.CharField(
        max_length=80, label="Name of the station", help_text="The name of a station you have: its new days are added."
    )


class MadeUpForm(forms.Form):
    """A simulated station, for trying things out."""

    preset = forms.ChoiceField(label="Climate", choices=[(k, k) for k in PRESETS])
