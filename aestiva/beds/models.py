"""The plan of the ground: its size and grid, where north is, from which side it is seen, and what a household uses."""

from __future__ import annotations

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from aestiva.gardens.models import Garden

GRIDS = ((15.0, "15 cm"), (25.0, "25 cm"), (30.0, "30 cm"), (15.24, "6 in"), (30.48, "1 ft"))
SIDES = (("below", "from below"), ("above", "from above"), ("left", "from the left"), ("right", "from the right"))


class Plot(models.Model):
    """The ground the beds lie on, drawn from above."""

    garden = models.OneToOneField(Garden, on_delete=models.CASCADE, related_name="plot")
    width_cm = models.FloatField(default=900, validators=[MinValueValidator(100.0), MaxValueValidator(50_000.0)])
    height_cm = models.FloatField(default=600, validators=[MinValueValidator(100.0), MaxValueValidator(50_000.0)])
    grid_cm = models.FloatField(default=30, choices=GRIDS)
    north_deg = models.FloatField(default=0, validators=[MinValueValidator(0.0), MaxValueValidator(359.0)])
    seen_from = models.CharField(max_length=6, choices=SIDES, default="below")
    revision = models.IntegerField(default=1)

    def __str__(self) -> str:
        return f"plot of {self.garden}"


WHOM = (
    ("", "nobody said"),
    ("household", "the household"),
    ("stall", "a stall or shares"),
    ("stems", "stems for the vase"),
)


class Use(models.Model):
    """What the household or stall uses of a crop in a week, and how much a plant gives over its harvest.

    since, until: in which part of the season it is wanted; empty: whenever it is there.  keeps_days: how long it is good
    once gathered, in a store or a vase; empty: nobody said.
    """

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="uses")
    crop_key = models.CharField(max_length=60)
    per_week = models.FloatField(validators=[MinValueValidator(0.0), MaxValueValidator(100_000.0)])
    per_plant = models.FloatField(
        null=True, blank=True, validators=[MinValueValidator(0.01), MaxValueValidator(10_000.0)]
    )

    unit = models.CharField("counted in", max_length=20, blank=True, default="", help_text="heads, bunches, stems, kg")
    for_whom = models.CharField("for", max_length=10, choices=WHOM, blank=True, default="")
    since = models.DateField("wanted from", null=True, blank=True)
    until = models.DateField("wanted until", null=True, blank=True)
    keeps_days = models.IntegerField(
        "keeps, days", null=True, blank=True, validators=[MinValueValidator(0), MaxValueValidator(400)]
    )
    cut_stage = models.CharField(
        "cut when", max_length=80, blank=True, default="", help_text="of flowers: a third of the spike open"
    )

    class Meta:
        constraints = [models.UniqueConstraint(fields=["garden", "crop_key"], name="one_use")]

    def __str__(self) -> str:
        return f"{self.crop_key}: {self.per_week:g} a week"
