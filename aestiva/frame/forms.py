"""Fields that several pages share."""

from __future__ import annotations

from typing import Any

from django import forms


class DayInput(forms.DateInput):
    """A day chosen with the browser's own calendar."""

    input_type = "date"

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(format="%Y-%m-%d", **kwargs)
