"""Germination tests of lots."""

from __future__ import annotations

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from aestiva.season.models import Lot

COUNT = [MinValueValidator(0), MaxValueValidator(10_000)]


class SeedTest(models.Model):
    """So many seeds laid out, so many came."""

    lot = models.ForeignKey(Lot, on_delete=models.CASCADE, related_name="tests")
    on = models.DateField()
    sown = models.IntegerField(validators=COUNT)
    up = models.IntegerField(validators=COUNT)
    in_mix = models.BooleanField(default=False, help_text="sown in mix, not on a moist towel")

    class Meta:
        verbose_name = "test"
        ordering = ["on", "pk"]

    def __str__(self) -> str:
        return f"{self.up} of {self.sown} on {self.on}"
