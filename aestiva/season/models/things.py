"""What plants stand in, and where: containers, trays, the cells that a batch fills."""

from __future__ import annotations

from django.core.validators import MaxLengthValidator, MaxValueValidator, MinValueValidator
from django.db import models

from aestiva.gardens.models import Garden
from aestiva.season.models.batches import Batch
from aestiva.season.models.plantings import COUNT, Planting
from aestiva.season.models.spots import PLACE, Spot

LIDS = (("", "not said"), ("lid", "under a lid"), ("none", "none"))
THING = [MinValueValidator(1.0), MaxValueValidator(500.0)]


STOCK = [MinValueValidator(0), MaxValueValidator(100_000)]


class Container(models.Model):
    """A kind of tray, pot or box that the garden has: one of the common kinds, or measures of its own."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="containers")
    kind = models.CharField(max_length=30, blank=True, default="", help_text="a common kind, or empty")
    name = models.CharField(max_length=60)
    cells = models.IntegerField(validators=COUNT)
    length_cm = models.FloatField("length, cm", validators=THING)
    width_cm = models.FloatField("width, cm", validators=THING)
    depth_cm = models.FloatField("depth, cm", validators=THING)
    cell_ml = models.FloatField("mix in a cell, ml", validators=[MinValueValidator(1.0), MaxValueValidator(200_000.0)])
    drains = models.BooleanField("has holes", default=True)
    air_pruning = models.BooleanField("open to the air below", default=False)
    planted = models.BooleanField("planted with the plant", default=False)
    owned = models.IntegerField(null=True, blank=True, validators=STOCK, help_text="empty: nobody has counted")
    to_wash = models.IntegerField("of them to be washed", default=0, validators=STOCK)
    revision = models.IntegerField(default=1)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["garden", "name"], name="one_container_name")]

    def __str__(self) -> str:
        return self.name


class Tray(models.Model):
    """A thing that plants stand in; without a container it has so many cells, and nobody said of what kind."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="trays")
    code = models.CharField(max_length=12)
    container = models.ForeignKey(Container, null=True, blank=True, on_delete=models.RESTRICT)
    cells = models.IntegerField(validators=COUNT)
    turns = models.IntegerField("quarter turns", default=0, validators=[MinValueValidator(0), MaxValueValidator(3)])
    turned_on = models.DateField("turned on", null=True, blank=True)
    lid = models.CharField("a lid", max_length=6, choices=LIDS, blank=True, default="")
    revision = models.IntegerField(default=1)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["garden", "code"], name="one_tray_code")]

    def __str__(self) -> str:
        return self.code


class TrayStand(models.Model):
    """Where a tray stands, from and to; still there while `until` is empty."""

    tray = models.ForeignKey(Tray, on_delete=models.RESTRICT, related_name="stands")
    spot = models.ForeignKey(Spot, on_delete=models.RESTRICT, related_name="tray_stands")
    x_cm = models.FloatField(null=True, blank=True, validators=PLACE)
    box_cm = models.FloatField(
        "set up on boxes, cm", null=True, blank=True, validators=[MinValueValidator(0.5), MaxValueValidator(100.0)]
    )
    y_cm = models.FloatField(null=True, blank=True, validators=PLACE)
    since = models.DateField()
    until = models.DateField(null=True, blank=True)

    class Meta:
        verbose_name = "stand"

    def __str__(self) -> str:
        return f"{self.tray} at {self.spot}"


class CellRun(models.Model):
    """Cells of a tray, one after another, that hold plants of one batch, from and to; marks: a character a cell."""

    tray = models.ForeignKey(Tray, on_delete=models.RESTRICT, related_name="runs")
    batch = models.ForeignKey(Batch, on_delete=models.RESTRICT, related_name="runs")
    first = models.IntegerField(validators=COUNT)
    count = models.IntegerField(validators=COUNT)
    since = models.DateField()
    until = models.DateField(null=True, blank=True)
    marks = models.TextField(blank=True, default="", validators=[MaxLengthValidator(20_000)])

    class Meta:
        verbose_name = "part of a tray"

    def __str__(self) -> str:
        return f"{self.tray} {self.first}–{self.first + self.count - 1}"


class BatchStand(models.Model):
    """Where a batch stands that is in no tray: in pots or in a bed; still there while `until` is empty."""

    batch = models.ForeignKey(Batch, on_delete=models.RESTRICT, related_name="stands")
    spot = models.ForeignKey(Spot, on_delete=models.RESTRICT, related_name="stands")
    since = models.DateField()
    until = models.DateField(null=True, blank=True)

    def __str__(self) -> str:
        return f"{self.batch} at {self.spot}"


class Goes(models.Model):
    """Plants of one planting are to stand in a place from a day on, until they go out or another place is named."""

    planting = models.ForeignKey(Planting, on_delete=models.RESTRICT, related_name="goes")
    spot = models.ForeignKey(Spot, on_delete=models.RESTRICT, related_name="awaits")
    since = models.DateField("from")
    revision = models.IntegerField(default=1)

    class Meta:
        verbose_name = "place from a day on"
        ordering = ["since", "pk"]
        constraints = [models.UniqueConstraint(fields=["planting", "since"], name="one_place_a_day")]

    def __str__(self) -> str:
        return f"{self.planting} to {self.spot} from {self.since:%-d %B}"
