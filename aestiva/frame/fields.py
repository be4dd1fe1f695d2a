"""The fields of every form: how many, which day, what hour, how long, how far, how much, how heavy, how warm, what price, which of ours.

Each reads as its reader writes (units, clock, a comma or a point), keeps what is stored (°C, cm, ml or litres, g, hours from
0 to 24, money as decimals), says the same words for the same error, and tells what it takes (`schema`), which is all that
an address for scripts knows of it.  A form binds its fields once, to whom it is read to: `TypedForm`.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Mapping, Sequence
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import TYPE_CHECKING, Any

from django import forms
from django.core.exceptions import ValidationError
from django.db import models
from django.utils.translation import gettext as _

from aestiva.frame import say
from aestiva.frame.forms import MOST_DIGITS, DayField, clock_hour, one_line
from aestiva.frame.say import METRIC, Reader, shown, stored

if TYPE_CHECKING:
    from django.utils.functional import _StrOrPromise as Said  # words, that may wait for their language

QUOTED = 20  # letters of what was typed, in an error
MONEY_DIGITS = 12
Schema = dict[str, Any]
Choices = Sequence[tuple[str, Any]]


class TypedForm(forms.Form):
    """A form whose fields know to whom they are read, in which garden, and on what day."""

    use_required_attribute = False

    def __init__(
        self, data: Any = None, *, reader: Reader, garden: Any = None, today: date | None = None, **kwargs: Any
    ) -> None:
        super().__init__(data, **kwargs)
        self.reader, self.garden, self.today = reader, garden, today
        for field in self.fields.values():
            if isinstance(field, Bound):
                field.bind(self)

    def first_error(self) -> tuple[str, str]:
        """The field that is wrong and what is wrong with it, as a sentence that names its place; of several, the first."""
        name, errors = next(iter(self.errors.items()))
        field = self.fields.get(name)
        label = str(field.label) if field is not None and field.label and not field.widget.is_hidden else ""
        said = str(errors[0]).rstrip(".")
        return ("" if name == "__all__" else name), f"{label}: {said}" if label else said


class Bound:
    """What is read for somebody, in a garden, on a day."""

    reader: Reader = METRIC

    def bind(self, form: TypedForm) -> None:
        self.reader = form.reader

    def schema(self) -> Schema:
        """What it takes, as JSON Schema has it; in stored units."""
        raise NotImplementedError


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
            raise ValidationError(_no_number(text)) from None
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


def _no_number(text: str) -> str:
    return _("“%s” is no number: give it in figures, such as 12 or 2.5") % text[:QUOTED]


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
            raise ValidationError(_no_number(text)) from None
        if not number.is_finite() or not 0 <= number <= self.high:
            raise ValidationError(
                _("%(number)s cannot be: give 0 to %(high)s") % {"number": text[:QUOTED], "high": f"{self.high:,}"}
            )
        return number.quantize(Decimal(1).scaleb(-self.places))

    def prepare_value(self, value: Any) -> Any:
        return f"{value:.{self.places}f}" if isinstance(value, int | float | Decimal) else value

    def schema(self) -> Schema:
        return {"type": "number", "minimum": 0, "maximum": self.high}


class _Rows(Bound):
    """Rows of one model that are of this garden; every other number is nobody's."""

    queryset: Any  # the property of the field that it is mixed into

    def of(self, model: type[models.Model], path: str, missing: Said, more: dict[str, Any]) -> None:
        self.model, self.path = model, path
        self.where, self.related = more.pop("where", {}), more.pop("related", ())
        self.missing = missing or _("choose a %s that is here") % model._meta.verbose_name

    def bind(self, form: TypedForm) -> None:
        super().bind(form)
        mine = self.model._default_manager.filter(**{self.path: form.garden}, **self.where)
        self.queryset = mine.select_related(*self.related) if self.related else mine

    @staticmethod
    def sane(value: Any) -> str:
        """The number of a row as it may stand in a database; nought, which none has, for all else."""
        text = str(value)
        return text if text.isdecimal() and len(text) <= MOST_DIGITS else "0"


class Row(_Rows, forms.ModelChoiceField):
    """Which of this garden's: by its number."""

    names_a_row = True

    def __init__(self, model: type[models.Model], path: str = "garden", *, missing: Said = "", **kwargs: Any) -> None:
        self.of(model, path, missing, kwargs)
        kwargs.setdefault("widget", forms.HiddenInput)
        super().__init__(model._default_manager.none(), **kwargs)
        self.error_messages["required"] = self.error_messages["invalid_choice"] = self.missing

    def to_python(self, value: Any) -> Any:
        return super().to_python(value if value in self.empty_values else self.sane(getattr(value, "pk", value)))

    def schema(self) -> Schema:
        return {"type": "integer", "description": f"number of a {self.model._meta.verbose_name}"}


class Rows(_Rows, forms.ModelMultipleChoiceField):
    """Several of this garden's, by their numbers, in the order of their numbers; `most` at once."""

    def __init__(
        self,
        model: type[models.Model],
        path: str = "garden",
        *,
        missing: Said = "",
        most: int = 400,
        **kwargs: Any,
    ) -> None:
        self.of(model, path, missing, kwargs)
        super().__init__(model._default_manager.none(), **kwargs)
        self.most = most
        self.error_messages["required"] = self.error_messages["invalid_choice"] = self.missing

    def clean(self, value: Any) -> Any:
        if isinstance(value, list | tuple):
            value = [self.sane(getattr(one, "pk", one)) for one in value[: self.most]]
        return super().clean(value).order_by("pk")

    def schema(self) -> Schema:
        return {"type": "array", "items": {"type": "integer"}, "maxItems": self.most}


class Text(Bound, forms.CharField):
    """A name or a note: one line, blanks put together."""

    def __init__(self, *, most: int, missing: Said = "", **kwargs: Any) -> None:
        super().__init__(**kwargs)
        self.most = most
        self.widget.attrs["maxlength"] = most
        self.error_messages["required"] = missing or _("give a text of up to %s letters") % most

    def to_python(self, value: Any) -> Any:
        text = " ".join(one_line(super().to_python(value) or "").split())
        if len(text) > self.most:
            raise ValidationError(
                _("that is %(long)s letters: %(most)s are kept, so say it shorter")
                % {"long": len(text), "most": self.most}
            )
        return text

    def schema(self) -> Schema:
        return {"type": "string", "maxLength": self.most}


def alike(words: Iterable[str]) -> list[tuple[str, str]]:
    """Choices that are called what they are."""
    return [(word, word) for word in words]


def _words(field: forms.ChoiceField) -> list[str]:
    choices: Any = field.choices
    return [str(key) for key, _said in choices]


class Choice(Bound, forms.ChoiceField):
    """One of a few words."""

    def __init__(self, choices: Choices | Callable[[], Choices], *, missing: Said = "", **kwargs: Any) -> None:
        super().__init__(choices=choices, **kwargs)
        said = missing or _("choose one of the list")
        self.error_messages["required"] = self.error_messages["invalid_choice"] = said

    def schema(self) -> Schema:
        return {"type": "string", "enum": _words(self)}


class Words(Bound, forms.MultipleChoiceField):
    """Several of a few words, each once."""

    def __init__(self, choices: Choices | Callable[[], Choices], *, missing: Said = "", **kwargs: Any) -> None:
        super().__init__(choices=choices, **kwargs)
        said = missing or _("choose at least one of the list")
        self.error_messages["required"] = self.error_messages["invalid_choice"] = said

    def to_python(self, value: Any) -> Any:
        return list(dict.fromkeys(super().to_python(value)))

    def schema(self) -> Schema:
        return {"type": "array", "items": {"type": "string", "enum": _words(self)}}


class Keys(Bound, forms.Field):
    """Several things by the short names that pages give them (“t12”, “b7.look.0”), each once, `most` at once."""

    widget = forms.SelectMultiple

    def __init__(self, *, missing: Said, most: int = 400, **kwargs: Any) -> None:
        super().__init__(**kwargs)
        self.most = most
        self.error_messages["required"] = missing

    def to_python(self, value: Any) -> Any:
        return [str(one)[:60] for one in dict.fromkeys(value or ())][: self.most]

    def schema(self) -> Schema:
        return {"type": "array", "items": {"type": "string"}, "maxItems": self.most}


class Flag(Bound, forms.BooleanField):
    """Yes or no."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(**{"required": False} | kwargs)

    def schema(self) -> Schema:
        return {"type": "boolean"}


class _Several(forms.Widget):
    """Lines of a form as they were posted: `rungs-1-hours`, `rungs-2-hours`, … as one list; without those left empty at its end."""

    def __init__(self, names: Sequence[str], most: int, by: Sequence[str]) -> None:
        super().__init__()
        self.names, self.most, self.by = names, most, by

    def value_from_datadict(self, data: Any, files: Any, name: str) -> Any:
        lines = [{n: data.get(f"{name}-{k}-{n}") for n in self.names} for k in range(1, self.most + 1)]
        while lines and not any(lines[-1][n] for n in self.by):
            lines.pop()
        return lines


class Lines(Bound, forms.Field):
    """A list of alike lines, each a small form of its own; an error names its line.  by: the fields without which a line is
    empty.  each: what each line is called, where they have names."""

    def __init__(
        self,
        line: type[TypedForm],
        *,
        most: int,
        called: str,
        by: Sequence[str] = (),
        each: Sequence[str] = (),
        **kwargs: Any,
    ) -> None:
        names = list(line.base_fields)
        super().__init__(widget=_Several(names, most, by or names), **kwargs)
        self.line, self.most, self.called, self.names = line, most, called, each

    def bind(self, form: TypedForm) -> None:
        self.form = form

    def clean(self, value: Any) -> Any:
        found = []
        for number, typed in enumerate(value, 1):
            one = self.line(typed, reader=self.form.reader, garden=self.form.garden, today=self.form.today)
            if not one.is_valid():
                place = self.names[number - 1] if self.names else f"{self.called} {number}"
                raise ValidationError(f"{place}: {one.first_error()[1]}")
            found.append(one.cleaned_data)
        if self.required and not found:
            raise ValidationError(_("give at least one %s") % self.called)
        return found

    def schema(self) -> Schema:
        return {"type": "array", "items": schema_of(self.line.base_fields), "maxItems": self.most}


class Objects(Bound, forms.Field):
    """A list that only machines send, whose reader says itself what is wrong with it."""

    def __init__(self, *, most: int, **kwargs: Any) -> None:
        super().__init__(required=False, **kwargs)
        self.most = most

    def to_python(self, value: Any) -> Any:
        try:
            return json.loads(value) if value else None
        except ValueError:
            raise ValidationError(_("this is no list as JSON has it")) from None

    def schema(self) -> Schema:
        return {"type": "array", "items": {"type": "object"}, "maxItems": self.most}


def schema_of(fields: Mapping[str, forms.Field]) -> Schema:
    """What a form of these fields takes, as JSON Schema."""
    known = {name: field for name, field in fields.items() if isinstance(field, Bound)}
    said = {name: _described(field) for name, field in known.items()}
    must = [name for name, field in known.items() if getattr(field, "required", False)]
    found: Schema = {"type": "object", "properties": said, "additionalProperties": False}
    return found | ({"required": must} if must else {})


def _described(field: Bound) -> Schema:
    label = getattr(field, "label", None)
    return field.schema() | ({"title": str(label)} if label else {})
