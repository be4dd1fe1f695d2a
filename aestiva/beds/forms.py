"""A bed, the plot, an area, what is used: in the reader's lengths."""

from __future__ import annotations

from typing import Any

from django import forms

from aestiva.beds.models import GRIDS, Plot, Use
from aestiva.frame import say
from aestiva.frame.say import Reader, shown, stored
from aestiva.gardens.models import Garden
from aestiva.season.models import SUNS, Spot
from growing.place.kinds import SOIL

KINDS = [(k, k) for k in (*SOIL, "path")]


class Length(forms.FloatField):
    """A length typed in the reader's units and kept in cm."""

    def __init__(self, *, units: Reader, low: float = 5, high: float = 20_000, **kwargs: Any) -> None:
        super().__init__(**kwargs)
        self.units, self.low, self.high = units, low, high
        self.widget.attrs.update({"step": "any", "inputmode": "decimal"})
        self.label = f"{self.label}, {shown(1, 'cm', units)[1]}"

    def prepare_value(self, value: Any) -> Any:
        return round(shown(value, "cm", self.units)[0], 1) if isinstance(value, int | float) else value

    def clean(self, value: Any) -> Any:
        number = super().clean(value)
        if number is None:
            return None
        kept = round(stored(number, "cm", self.units), 2)
        if not self.low <= kept <= self.high:
            (low, unit), (high, _) = shown(self.low, "cm", self.units), shown(self.high, "cm", self.units)
            raise forms.ValidationError(f"{number:g} {unit} cannot be: give {low:g} to {high:g} {unit}.")
        return kept


class BedForm(forms.ModelForm):
    """A bed, path, container or tunnel: its code, size and place on the plot."""

    class Meta:
        model = Spot
        fields = ["code", "kind", "sun", "note"]
        labels = {"code": "Name, short", "kind": "It is a", "sun": "Light"}

    def __init__(self, *args: Any, garden: Garden, units: Reader, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.garden = garden
        kind, sun = self.fields["kind"], self.fields["sun"]
        assert isinstance(kind, forms.ChoiceField) and isinstance(sun, forms.ChoiceField)
        kind.choices, sun.choices = KINDS, [*SUNS]
        row = self.instance
        for name, label, low in (
            ("length_cm", "Length", 5.0), ("width_cm", "Width", 5.0), ("x_cm", "From the left", 0.0), ("y_cm", "From above", 0.0)
        ):  # fmt: skip
            self.fields[name] = Length(
                units=units, label=label, low=low, high=50_000, required=low > 0, initial=getattr(row, name)
            )
        self.order_fields(["code", "kind", "length_cm", "width_cm", "x_cm", "y_cm", "sun", "note"])

    def clean_code(self) -> str:
        code = str(self.cleaned_data["code"]).strip()
        if Spot.objects.filter(garden=self.garden, code=code).exclude(pk=self.instance.pk).exists():
            raise forms.ValidationError(f"There is a place called {code} already: give another name.")
        return code

    def clean_kind(self) -> str:
        kind = str(self.cleaned_data["kind"])
        if kind not in SOIL and self.instance.pk and self.instance.areas.exists():
            raise forms.ValidationError(f"Plantings are laid out in it: take them out before it becomes a {kind}.")
        return kind

    def spot(self) -> Spot:
        """The bed as typed, not saved; a new one stands after the others."""
        row: Spot = self.save(commit=False)
        row.garden = self.garden
        for name in ("length_cm", "width_cm", "x_cm", "y_cm"):
            value = self.cleaned_data[name]
            setattr(row, name, 0.0 if value is None and name in ("x_cm", "y_cm") else value)
        if row.pk is None:
            row.order = Spot.objects.filter(garden=self.garden).count()
        return row


class PlotForm(forms.ModelForm):
    class Meta:
        model = Plot
        fields = ["grid_cm", "north_deg", "seen_from"]
        labels = {"grid_cm": "Squares of", "north_deg": "North, degrees clockwise from up", "seen_from": "I look at it"}

    def __init__(self, *args: Any, units: Reader, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        grid = self.fields["grid_cm"]
        assert isinstance(grid, forms.TypedChoiceField)
        metric = units.units == "metric"
        own = sorted(GRIDS, key=lambda one: ("cm" in one[1]) != metric)  # those of one's own units first
        grid.choices = [(cm, say.amount(cm, "cm", units)) for cm, _ in own]
        for name, label in (("width_cm", "Width of the ground"), ("height_cm", "Depth of the ground")):
            self.fields[name] = Length(
                units=units, label=label, low=100, high=50_000, initial=getattr(self.instance, name)
            )
        self.order_fields(["width_cm", "height_cm", "grid_cm", "north_deg", "seen_from"])

    def plot(self) -> Plot:
        row: Plot = self.save(commit=False)
        row.width_cm, row.height_cm = self.cleaned_data["width_cm"], self.cleaned_data["height_cm"]
        return row


class AreaForm(forms.Form):
    """How an area is set out."""

    pattern = forms.ChoiceField(
        choices=[("square", "square"), ("staggered", "staggered"), ("single", "one plant")], label="Set out"
    )
    edge = forms.BooleanField(required=False, label="half a distance kept to the edge")

    def __init__(self, *args: Any, units: Reader, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["spacing_cm"] = Length(
            units=units, label="Distance (empty: the crop’s)", low=2, high=300, required=False
        )
        for name, label in (("x_cm", "from the left"), ("y_cm", "from above")):
            self.fields[name] = Length(units=units, label=label, low=0, high=50_000)
        for name, label in (("length_cm", "length"), ("width_cm", "width")):
            self.fields[name] = Length(units=units, label=label, low=5, high=20_000)
        self.order_fields(["pattern", "spacing_cm", "edge", "x_cm", "y_cm", "length_cm", "width_cm"])


class UseForm(forms.ModelForm):
    class Meta:
        model = Use
        fields = ["per_week", "per_plant"]
        labels = {"per_week": "used a week", "per_plant": "from a plant"}
