"""What the grower pays: so that ways can be compared in money."""

from __future__ import annotations

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from aestiva.gardens.models import Garden

KINDS = (("mix", "a litre of mix"), ("kwh", "a kWh"), ("plant", "a bought plant"))


class Price(models.Model):
    """A price somebody typed; of a plant for one crop, or for any that has none of its own."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="prices")
    kind = models.CharField(max_length=5, choices=KINDS)
    crop_key = models.CharField(max_length=60, blank=True, default="")
    amount = models.FloatField(validators=[MinValueValidator(0.0), MaxValueValidator(100_000.0)])
    revision = models.IntegerField(default=1)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["garden", "kind", "crop_key"], name="one_price")]

    def __str__(self) -> str:
        return f"the price of {self.get_kind_display()}"
