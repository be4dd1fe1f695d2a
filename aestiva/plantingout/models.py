"""What planting out keeps: covers at hand, and what a bed is like."""

from __future__ import annotations

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from aestiva.gardens.models import Garden
from aestiva.season.models import Spot
from growing.place.covers import COVERS

KINDS = tuple((key, cover.name) for key, cover in COVERS.items())
STATES = (("ready", "ready"), ("wet", "smears: too wet"), ("busy", "not cleared yet"))


class CoverAtHand(models.Model):
    """Covers that the garden owns: fleece by its length and width, cloches by their number."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="covers")
    kind = models.CharField(max_length=8, choices=KINDS)
    length_cm = models.FloatField(
        "length", null=True, blank=True, validators=[MinValueValidator(10.0), MaxValueValidator(100_000.0)]
    )
    width_cm = models.FloatField(
        "width", null=True, blank=True, validators=[MinValueValidator(10.0), MaxValueValidator(2_000.0)]
    )
    pieces = models.IntegerField(null=True, blank=True, validators=[MinValueValidator(1), MaxValueValidator(10_000)])
    revision = models.IntegerField(default=1)

    class Meta:
        verbose_name = "cover"
        ordering = ["pk"]

    @property
    def length_m(self) -> float | None:
        return None if self.length_cm is None else self.length_cm / 100

    @property
    def width_m(self) -> float | None:
        return None if self.width_cm is None else self.width_cm / 100

    def __str__(self) -> str:
        return self.get_kind_display()


class BedState(models.Model):
    """What somebody saw of a bed on a day; the last word counts."""

    spot = models.ForeignKey(Spot, on_delete=models.CASCADE, related_name="states")
    day = models.DateField()
    state = models.CharField(max_length=6, choices=STATES)

    class Meta:
        ordering = ["day", "pk"]
        constraints = [models.UniqueConstraint(fields=["spot", "day"], name="one_bed_state_a_day")]

    def __str__(self) -> str:
        return f"{self.spot} {self.state} on {self.day}"
