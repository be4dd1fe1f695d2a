"""A garden's own ways of hardening off."""

from __future__ import annotations

from django.core.exceptions import ValidationError
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from aestiva.gardens.models import Garden
from growing.ladders.ladder import Ladder, own_ladder

MOST = 99


def rungs_fit(value: object) -> None:
    """Rungs that make a ladder: hours, share of sun, and 1 for a night out, of each."""
    numbers = isinstance(value, list) and all(
        isinstance(rung, list) and len(rung) == 3 and all(type(n) in (int, float) for n in rung) for rung in value
    )
    if not isinstance(value, list) or not numbers:
        raise ValidationError("a list of rungs: hours, share of sun, and 1 for a night out, of each")
    try:
        own_ladder("", "", 0, value)
    except ValueError as error:
        raise ValidationError(str(error)) from error


class OwnLadder(models.Model):
    """A way of hardening off of a garden's own; its number names it where it is chosen ("own2")."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="own_ladders")
    number = models.PositiveSmallIntegerField(validators=[MinValueValidator(1), MaxValueValidator(MOST)])
    name = models.CharField(max_length=40)
    spare_days = models.PositiveSmallIntegerField("days to spare", default=3, validators=[MaxValueValidator(14)])
    rungs = models.JSONField(validators=[rungs_fit])
    revision = models.IntegerField(default=1)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["garden", "number"], name="one_own_ladder")]

    @property
    def key(self) -> str:
        return f"own{self.number}"

    @property
    def ladder(self) -> Ladder:
        """As the rules see it."""
        return own_ladder(self.key, self.name, self.spare_days, self.rungs)

    def __str__(self) -> str:
        return self.name
