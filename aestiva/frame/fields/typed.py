"""A form whose fields know to whom they are read, and what each takes as JSON."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from typing import TYPE_CHECKING, Any

from django import forms
from django.utils.translation import gettext as _

from aestiva.frame.say import METRIC, Reader

if TYPE_CHECKING:
    from django.utils.functional import _StrOrPromise as Said  # noqa: F401  words, that may wait for their language

QUOTED = 20  # letters of what was typed, in an error
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


def no_number(text: str) -> str:
    return _("“%s” is no number: give it in figures, such as 12 or 2.5") % text[:QUOTED]


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
