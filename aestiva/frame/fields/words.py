"""Words: a name or a note, one or several of a list, yes or no."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import TYPE_CHECKING, Any

from django import forms
from django.core.exceptions import ValidationError
from django.utils.translation import gettext as _

from aestiva.frame.fields.typed import Bound, Choices, Schema
from aestiva.frame.forms import one_line

if TYPE_CHECKING:
    from aestiva.frame.fields.typed import Said


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
