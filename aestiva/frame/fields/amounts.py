"""How many, which day, what hour, how long, how far, how much, how heavy, how warm, what price."""

from __future__ import annotations

from datetime import date
from decimal import Decimal, InvalidOperation
from typing import Any

from django import forms
from django.core.exceptions import ValidationError
from django.utils.translation import gettext as _

from aestiva.frame import say
from aestiva.frame.fields.typed import QUOTED, Bound, Schema, TypedForm, no_number
from aestiva.frame.forms import MOST_DIGITS, DayField, clock_hour
from aestiva.frame.say import shown, stored

MONEY_DIGITS = 12


class Amount(Bound, forms.Field):
    """A number with a unit, within bounds: typed in the reader's unit, kept in `unit`.  What has no unit is a bare number."""

    unit: str = ""
    digits = 2

    def __init__(
        self, *, low: float, high: float, unit: str | None = None, digits: int | None = None, **kwargs: Any
    ) -> None:
        kwargs.setdefault("widget", forms.TextInput(attrs={"inputmode": "decimal"}))
        super().__init__(**kwargs)
        self.low, self.high = low, high
        self.unit = self.unit if unit is None else unit
        self.digits = self.digits if digits is None else digits
        self.error_messages["required"] = _("give a number")

    def bind(self, form: TypedForm) -> None:
        super().bind(form)
        if self.label and self.unit and not str(self.label).endswith(f", {self.said_unit}"):
            self.label = f"{self.label}, {self.said_unit}"

    @property
    def said_unit(self) -> str:
        return self._shown(1.0)[1]

    def _shown(self, number: float) -> tuple[float, str]:
        return shown(number, self.unit, self.reader) if self.unit else (number, "")

    def prepare_value(self, value: Any) -> Any:
        return say.number(self._shown(value)[0]) if isinstance(value, int | float) else value

    def to_python(self, value: Any) -> Any:
        text = "" if value is None else str(value).strip()
        if not text:
            return None
        try:
            number = float(text.replace(say.MINUS, "-").replace(",", "."))
        except ValueError:
            raise ValidationError(no_number(text)) from None
        kept = round(stored(number, self.unit, self.reader) if self.unit else number, self.digits)
        if not self.low <= kept <= self.high:
            raise ValidationError(self._beyond(number))
        return kept

    def _beyond(self, number: float) -> str:
        (low, unit), (high, _unit) = self._shown(self.low), self._shown(self.high)
        of = f" {unit}" if unit else ""
        said = {"number": f"{number:g}", "of": of, "low": f"{low:g}", "high": f"{high:g}"}
        return _("%(number)s%(of)s cannot be: give %(low)s to %(high)s%(of)s") % said

    def schema(self) -> Schema:
        found: Schema = {"type": "number", "minimum": self.low, "maximum": self.high}
        return found | ({"description": self.unit} if self.unit else {})


class Length(Amount):
    """How far, how long, how high [cm]."""

    unit = "cm"


class Volume(Amount):
    """How much of what is poured or filled [ml], or with unit="l" [l]."""

    unit = "ml"


class Weight(Amount):
    """How heavy [g]."""

    unit = "g"
    digits = 1


class Degrees(Amount):
    """How warm [°C]."""

    unit = "°C"


class Duration(Amount):
    """How long it lasts [min], or with unit="s" [s], "h" [h], "days" [d]."""

    unit = "min"


class Count(Bound, forms.Field):
    """How many: a whole number, in figures."""

    def __init__(self, *, low: int = 0, high: int, **kwargs: Any) -> None:
        kwargs.setdefault("widget", forms.TextInput(attrs={"inputmode": "numeric"}))
        super().__init__(**kwargs)
        self.low, self.high = low, high
        self.error_messages["required"] = _("give a whole number, in figures")

    def to_python(self, value: Any) -> Any:
        text = "" if value is None else str(value).strip()
        if not text:
            return None
        try:
            number = int(text) if len(text) <= MOST_DIGITS else self.high + 1
        except ValueError:
            raise ValidationError(_("“%s” is not a whole number: give the count in figures") % text[:QUOTED]) from None
        if not self.low <= number <= self.high:
            said = {"number": text[:QUOTED], "low": self.low, "high": f"{self.high:,}"}
            raise ValidationError(_("%(number)s cannot be: give %(low)s to %(high)s") % said)
        return number

    def schema(self) -> Schema:
        return {"type": "integer", "minimum": self.low, "maximum": self.high}


class Day(Bound, DayField):
    """Which day.  happened: one that is not to come; what is left empty is then today."""

    def __init__(self, *, happened: bool = False, **kwargs: Any) -> None:
        super().__init__(**kwargs | ({"required": False} if happened else {}))
        self.happened = happened
        self.day_of_form: date | None = None
        self.error_messages["required"] = _("give a day")

    def bind(self, form: TypedForm) -> None:
        super().bind(form)
        self.day_of_form = form.today
        if self.happened and self.initial is None:
            self.initial = form.today

    def to_python(self, value: Any) -> Any:
        try:
            return super().to_python(value.strip() if isinstance(value, str) else value)
        except ValidationError:
            text = str(value)[: 2 * QUOTED]
            raise ValidationError(_("“%s” is not a day: give it as year-month-day") % text) from None

    def clean(self, value: Any) -> Any:
        day = super().clean(value)
        if not self.happened or self.day_of_form is None:
            return day
        if day is not None and day > self.day_of_form:
            said = _("%s is still to come: give today or an earlier day")
            raise ValidationError(said % f"{day:%-d %B}")
        return day or self.day_of_form

    def schema(self) -> Schema:
        return {"type": "string", "format": "date"}


class Hour(Bound, forms.CharField):
    """An hour of the day, typed as people do (7, 7:30, 7.30, 9 pm), kept from 0 to 24."""

    def to_python(self, value: Any) -> Any:
        text = super().to_python(value)
        try:
            return round(clock_hour(text), 2) if text else None
        except ValueError as error:
            raise ValidationError(str(error)) from error

    def prepare_value(self, value: Any) -> Any:
        return say.clock_said(value) if isinstance(value, int | float) else value

    def schema(self) -> Schema:
        return {"type": "string", "description": "hour of the day, as 7:30"}


class Price(Bound, forms.Field):
    """Money, to the hundredth, never less than nothing; a decimal and no float."""

    def __init__(self, *, high: int = 1_000_000, places: int = 2, **kwargs: Any) -> None:
        kwargs.setdefault("widget", forms.TextInput(attrs={"inputmode": "decimal"}))
        super().__init__(**kwargs)
        self.high, self.places = high, places
        self.error_messages["required"] = _("give a price")

    def to_python(self, value: Any) -> Any:
        text = "" if value is None else str(value).strip().removeprefix(self.reader.money).strip()
        if not text:
            return None
        try:
            number = Decimal(text.replace(",", ".")[: 2 * MONEY_DIGITS])
        except InvalidOperation:
            raise ValidationError(no_number(text)) from None
        if not number.is_finite() or not 0 <= number <= self.high:
            raise ValidationError(
                _("%(number)s cannot be: give 0 to %(high)s") % {"number": text[:QUOTED], "high": f"{self.high:,}"}
            )
        return number.quantize(Decimal(1).scaleb(-self.places))

    def prepare_value(self, value: Any) -> Any:
        return f"{value:.{self.places}f}" if isinstance(value, int | float | Decimal) else value

    def schema(self) -> Schema:
        return {"type": "number", "minimum": 0, "maximum": self.high}
