"""A place, a container, a mix, what is in store: in the reader's lengths and degrees."""

from __future__ import annotations

from typing import Any

from django import forms

from aestiva.beds.forms import Length
from aestiva.frame.say import Reader, shown, stored
from aestiva.gardens.models import Garden
from aestiva.season.models import Container, Spot
from growing.bench.mix import wrong_parts
from growing.place.kinds import HOLDERS, HOLDS, carried_by

MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


class MixDegrees(forms.FloatField):
    """A temperature typed in the reader's units and kept in °C."""

    def __init__(self, *, units: Reader, low: float, high: float, **kwargs: Any) -> None:
        super().__init__(**kwargs)
        self.units, self.low, self.high = units, low, high
        self.widget.attrs.update({"step": "any", "inputmode": "decimal"})

    def prepare_value(self, value: Any) -> Any:
        return round(shown(value, "°C", self.units)[0], 1) if isinstance(value, int | float) else value

    def clean(self, value: Any) -> Any:
        number = super().clean(value)
        if number is None:
            return None
        kept = round(stored(number, "°C", self.units), 2)
        if not self.low <= kept <= self.high:
            (low, unit), (high, _) = shown(self.low, "°C", self.units), shown(self.high, "°C", self.units)
            raise forms.ValidationError(f"{number:g} {unit} cannot be: give {low:g} to {high:g} {unit}.")
        return kept


class PlaceForm(forms.ModelForm):
    """A place where things stand: what carries it, its size, what is above it, how it is heated and lit."""

    class Meta:
        model = Spot
        fields = ["code", "kind", "name", "parent", "heated", "lit", "sun_h", "facing", "card", "watts", "note"]
        labels = {"code": "Short name", "kind": "It is a", "name": "Name in full", "parent": "It is in or on"}
        help_texts = {
            "code": "on labels and beside tasks, such as R1·2",
            "parent": "a shelf in its rack, a mat on its shelf",
        }

    def __init__(self, *args: Any, garden: Garden, units: Reader, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.garden, row = garden, self.instance
        kind, parent = self.fields["kind"], self.fields["parent"]
        assert isinstance(kind, forms.ChoiceField) and isinstance(parent, forms.ModelChoiceField)
        kind.choices = [(k, k) for k in HOLDS]
        holders = Spot.objects.filter(garden=garden, kind__in=HOLDERS)
        parent.queryset = holders.exclude(pk=row.pk) if row.pk else holders
        parent.required = False
        unit = shown(1, "°C", units)[1]
        self.fields["set_c"] = MixDegrees(
            units=units, low=5, high=45, required=False, label=f"Its thermostat is set to, {unit}", initial=row.set_c
        )
        self.fields["sun_h"].label = "Direct sun, hours a day"
        self.fields["card"].label = "A white card stands behind, or white walls beside"
        self.fields["watts"].label = "Lamp or mat draws, watts"
        for name, label, low, high in (
            ("length_cm", "Length along the front", 5.0, 20_000.0), ("width_cm", "Depth to the back", 5.0, 20_000.0),
            ("clear_cm", "Clear height above it", 2.0, 500.0), ("lamp_cm", "Its lamp hangs above it at", 2.0, 500.0),
            ("x_cm", "From the left of what carries it", 0.0, 50_000.0),
        ):  # fmt: skip
            self.fields[name] = Length(
                units=units, label=label, low=low, high=high, required=False, initial=getattr(row, name)
            )
        months = row.months_c or [None] * 12
        for n, month in enumerate(MONTHS):
            self.fields[f"m{n}"] = MixDegrees(
                units=units, low=-40, high=50, required=False, label=month, initial=months[n]
            )
        self.fields["months_said"] = forms.ChoiceField(
            choices=[("", "not said"), ("measured", "measured"), ("entered", "as somebody reckons")],
            required=False, label="Those temperatures are", initial=row.months_said,
        )  # fmt: skip
        self.order_fields(
            [
                "code",
                "kind",
                "name",
                "parent",
                "x_cm",
                "length_cm",
                "width_cm",
                "clear_cm",
                "lit",
                "lamp_cm",
                "sun_h",
                "facing",
                "card",
                "heated",
                "set_c",
                "watts",
            ]
        )

    @property
    def plain(self) -> list[Any]:
        """The fields above the months."""
        return [
            f
            for f in self
            if not (f.name.startswith("m") and f.name[1:].isdecimal()) and f.name not in ("months_said", "note")
        ]

    @property
    def months(self) -> list[Any]:
        return [self[f"m{n}"] for n in range(12)]

    def clean_code(self) -> str:
        return " ".join(str(self.cleaned_data["code"]).split())

    def clean(self) -> dict[str, Any]:
        found = super().clean() or {}
        kind, parent = found.get("kind"), found.get("parent")
        if parent is not None and parent.kind not in carried_by(str(kind)):
            self.add_error("parent", f"A {kind} is not on a {parent.kind}: choose what carries it, or nothing.")
        carrier = parent.parent if parent is not None else None
        while carrier is not None:
            if carrier.pk == self.instance.pk:
                self.add_error("parent", "That stands on this one itself: choose another.")
                break
            carrier = carrier.parent
        lamp, clear = found.get("lamp_cm"), found.get("clear_cm")
        if lamp and clear and lamp > clear:
            self.add_error("lamp_cm", "The lamp hangs higher than there is room: check both.")
        if lamp and not found.get("lit"):
            found["lit"] = "lamp"
        if kind == "mat" and not found.get("heated"):
            found["heated"] = "thermostat" if found.get("set_c") else "mat"
        if parent is not None and kind == "mat" and parent.length_cm and found.get("length_cm"):
            if (found.get("x_cm") or 0) + found["length_cm"] > parent.length_cm + 0.1:
                self.add_error("length_cm", f"It is longer than {parent.code} has room for: check length and place.")
        if (
            parent is not None
            and kind == "mat"
            and parent.width_cm
            and (found.get("width_cm") or 0) > parent.width_cm + 0.1
        ):
            self.add_error("width_cm", f"It is deeper than {parent.code}: check it.")
        return found

    def spot(self) -> Spot:
        """The place as typed, not saved; a new one stands after the others."""
        row: Spot = self.save(commit=False)
        row.garden = self.garden
        for name in ("length_cm", "width_cm", "clear_cm", "lamp_cm", "x_cm", "set_c"):
            setattr(row, name, self.cleaned_data[name])
        row.lit, row.heated = self.cleaned_data.get("lit", ""), self.cleaned_data.get("heated", "")
        months = [self.cleaned_data[f"m{n}"] for n in range(12)]
        row.months_c = months if any(m is not None for m in months) else None
        row.months_said = (self.cleaned_data["months_said"] or "entered") if row.months_c else ""
        if row.pk is None:
            row.order = Spot.objects.filter(garden=self.garden).count()
        return row


class ContainerForm(forms.ModelForm):
    """A kind of tray, pot or box that the garden has."""

    class Meta:
        model = Container
        fields = ["name", "cells", "cell_ml", "drains", "air_pruning", "planted", "owned", "to_wash"]
        labels = {"cell_ml": "Mix in a cell, ml", "owned": "How many there are", "to_wash": "Of them to be washed"}

    def __init__(self, *args: Any, garden: Garden, units: Reader, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.garden, row = garden, self.instance
        for name, label in (("length_cm", "Length"), ("width_cm", "Width"), ("depth_cm", "Depth")):
            self.fields[name] = Length(units=units, label=label, low=1, high=500, initial=getattr(row, name))
        self.order_fields(
            [
                "name",
                "cells",
                "length_cm",
                "width_cm",
                "depth_cm",
                "cell_ml",
                "drains",
                "air_pruning",
                "planted",
                "owned",
                "to_wash",
            ]
        )

    def clean_name(self) -> str:
        return " ".join(str(self.cleaned_data["name"]).split())

    def clean(self) -> dict[str, Any]:
        found = super().clean() or {}
        owned, wash = found.get("owned"), found.get("to_wash") or 0
        if wash and wash > (owned or 0):
            self.add_error("to_wash", f"{wash} to be washed are more than there are: correct one of the two.")
        return found

    def container(self) -> Container:
        row: Container = self.save(commit=False)
        row.garden = self.garden
        for name in ("length_cm", "width_cm", "depth_cm"):
            setattr(row, name, self.cleaned_data[name])
        return row


def typed_parts(text: str, unit: str = "part") -> list[list[Any]]:
    """“2 coir, 1 sand” or a line each: a number and a name.  Raises ValidationError naming the line."""
    found: list[list[Any]] = []
    for line in filter(None, (one.strip() for piece in text.splitlines() for one in piece.split(","))):
        number, _, name = line.partition(" ")
        name = name.strip().removeprefix("parts ").removeprefix("part ").removeprefix("of ").strip()
        try:
            amount = float(number)
        except ValueError:
            raise forms.ValidationError(f"“{line[:40]}”: begin with a number, such as “2 coir”.") from None
        if not name or not 0 <= amount <= 10_000:
            raise forms.ValidationError(
                f"“{line[:40]}”: give a number from 0 to 10000 and what it is, such as “2 coir”."
            )
        found.append([name[:40], amount])
    return found


def parts_text(parts: list[list[Any]]) -> str:
    return "\n".join(f"{amount:g} {name}" for name, amount in parts)


class RecipeForm(forms.Form):
    """A mix by parts, g and ml in a litre, and water."""

    name = forms.CharField(max_length=60, label="Name")
    use = forms.ChoiceField(choices=[("seed", "sowing"), ("potting", "potting up")], label="It is for")
    feeder = forms.ChoiceField(
        choices=[("", "any plant"), ("light", "light feeders"), ("medium", "medium feeders"), ("heavy", "heavy feeders")],
        required=False, label="For plants that are",
    )  # fmt: skip
    parts = forms.CharField(widget=forms.Textarea(attrs={"rows": 4}), label="Parts by volume, one a line: “2 coir”")
    grams = forms.CharField(
        widget=forms.Textarea(attrs={"rows": 2}), required=False, label="Grams in a litre: “1.5 lime”"
    )
    millilitres = forms.CharField(
        widget=forms.Textarea(attrs={"rows": 2}), required=False, label="Millilitres in a litre: “3 seaweed”"
    )
    water_ml = forms.FloatField(min_value=0, max_value=900, initial=200, label="Water in a litre of mix, ml")
    living = forms.BooleanField(required=False, label="It holds compost or microbes: never scald it")
    fed = forms.BooleanField(required=False, label="It feeds for the first weeks")
    note = forms.CharField(max_length=200, required=False, label="Note")

    def clean_parts(self) -> list[list[Any]]:
        parts = typed_parts(self.cleaned_data["parts"])
        if wrong := wrong_parts(parts):
            raise forms.ValidationError(f"{wrong[0].upper()}{wrong[1:]}.")
        return parts

    def clean_grams(self) -> list[list[Any]]:
        return typed_parts(self.cleaned_data["grams"])

    def clean_millilitres(self) -> list[list[Any]]:
        return typed_parts(self.cleaned_data["millilitres"])
