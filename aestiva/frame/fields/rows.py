"""Which of this garden’s: a row by its number; what is of another garden is nobody’s."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django import forms
from django.db import models
from django.utils.translation import gettext as _

from aestiva.frame.fields.typed import Bound, Schema, TypedForm
from aestiva.frame.forms import MOST_DIGITS

if TYPE_CHECKING:
    from aestiva.frame.fields.typed import Said


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
