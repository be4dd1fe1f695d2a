"""Rows of which a page reads hundreds: taken from the database without the work a form's new row needs."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any, Self

from django.db import models
from django.db.models.base import ModelState


class ManyRows(models.Model):
    """A model whose rows are read by the hundred.

    `Model.__init__` sets field by field and tells whoever waits for a new row; what comes from the database needs neither.
    Fields that were not asked for stay away from the row and are fetched when somebody looks at them, as Django has it.
    """

    class Meta:
        abstract = True

    @property
    def pk(self) -> Any:
        """The key, without asking the model which of its fields that is."""
        return self.__dict__.get("id")

    @pk.setter
    def pk(self, value: Any) -> None:
        self.__dict__["id"] = value

    @classmethod
    def from_db(cls, db: str | None, field_names: Collection[str], values: Collection[Any]) -> Self:
        row = cls.__new__(cls)
        row._state = ModelState()
        row._state.adding, row._state.db = False, db
        row.__dict__.update(zip(field_names, values, strict=True))
        return row
