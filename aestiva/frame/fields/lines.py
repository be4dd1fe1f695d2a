"""Lists: lines that are each a small form, and what only machines send."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any

from django import forms
from django.core.exceptions import ValidationError
from django.utils.translation import gettext as _

from aestiva.frame.fields.typed import Bound, Schema, TypedForm, schema_of


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
