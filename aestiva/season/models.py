"""The rows several stages share: season, seed lots, plantings, batches, their events and places, task marks."""

from __future__ import annotations

from django.conf import settings
from django.core.exceptions import ValidationError
from django.core.validators import MaxLengthValidator, MaxValueValidator, MinValueValidator
from django.db import models

from aestiva.gardens.models import Garden
from aestiva.gardens.providers import event_kinds
from growing.batch.kinds import Fact
from growing.crops.exchange import usable_key

SPOT_KINDS = [
    (k, k) for k in ("room", "rack", "shelf", "mat", "sill", "porch", "frame", "tunnel", "bed", "planter", "path")
]
SOWN_IN = (("cells", "cells"), ("blocks", "soil blocks"), ("box", "a box, pricked out"))
GROWING = ("bed", "tunnel", "planter")  # kinds of spot with soil to plant in
HEATED = (
    ("", "not said"),
    ("none", "not heated"),
    ("room", "as the room"),
    ("mat", "a mat"),
    ("thermostat", "a mat with thermostat"),
)
SUNS = (("", "not said"), ("sun", "full sun"), ("part", "half shade"), ("shade", "shade"))
SIZE = [MinValueValidator(5.0), MaxValueValidator(20_000.0)]
PLACE = [MinValueValidator(0.0), MaxValueValidator(50_000.0)]
THING = [MinValueValidator(1.0), MaxValueValidator(500.0)]
COUNT = [MinValueValidator(1), MaxValueValidator(20_000)]


def usable_in_addresses(key: str) -> None:
    if not usable_key(key):
        raise ValidationError(f"{key[:60]} cannot be a crop's key: it is a word of the pages' own")


def known_event(kind: str) -> None:
    """Something that can happen to a batch, as its stage knows it."""
    if kind not in event_kinds():
        raise ValidationError(f"“{kind[:40]}” is nothing that happens to a batch")


def known_facts(kind: str, data: object) -> None:
    """Facts that an event of that kind may carry."""
    found = event_kinds().get(kind)
    if found is not None and (wrong := found.wrong(data)):
        raise ValidationError({"data": wrong})


class GardenCrop(models.Model):
    """A crop the garden added, from a relative in the library or from a hardiness and a speed alone."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE)
    key = models.SlugField(max_length=60, validators=[usable_in_addresses])
    name = models.CharField(max_length=60)
    relative = models.CharField(max_length=60, blank=True)
    hardiness = models.CharField(max_length=20, blank=True)
    speed = models.CharField(max_length=20, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["garden", "key"], name="one_garden_crop")]

    def __str__(self) -> str:
        return self.name


class CropValue(models.Model):
    """One value the garden sets for a crop, with its reason."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE)
    crop_key = models.CharField(max_length=60)
    field = models.CharField(max_length=20)
    value = models.JSONField()
    reason = models.CharField(max_length=200, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["garden", "crop_key", "field"], name="one_crop_value")]

    def __str__(self) -> str:
        return f"{self.crop_key}.{self.field} = {self.value}"


class Season(models.Model):
    """A year's plantings: scaffolding that several share, made when first needed and never taken back."""

    journalled = False
    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="seasons")
    year = models.IntegerField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["garden", "year"], name="one_season_a_year")]

    def __str__(self) -> str:
        return f"{self.garden} {self.year}"


class Spot(models.Model):
    """A place indoors or out where a batch can stand."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="spots")
    parent = models.ForeignKey("self", null=True, blank=True, on_delete=models.RESTRICT)
    kind = models.CharField(max_length=10, choices=SPOT_KINDS)
    code = models.CharField("name, short", max_length=12)
    name = models.CharField(max_length=60, blank=True)
    order = models.IntegerField(default=0)
    x_cm = models.FloatField(
        "from the left, cm", null=True, blank=True, validators=PLACE, help_text="from the plan's left edge"
    )
    y_cm = models.FloatField(
        "from above, cm", null=True, blank=True, validators=PLACE, help_text="from the plan's upper edge"
    )
    length_cm = models.FloatField("length, cm", null=True, blank=True, validators=SIZE)
    width_cm = models.FloatField("width, cm", null=True, blank=True, validators=SIZE)
    sun = models.CharField("light", max_length=6, choices=SUNS, blank=True, default="")
    heated = models.CharField("heated by", max_length=10, choices=HEATED, blank=True, default="")
    note = models.CharField(max_length=200, blank=True, default="")
    revision = models.IntegerField(default=1)

    class Meta:
        verbose_name = "place"
        ordering = ["order", "code"]
        constraints = [models.UniqueConstraint(fields=["garden", "code"], name="one_spot_code")]

    def __str__(self) -> str:
        return self.code


class Lot(models.Model):
    """One packet or jar of seed."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="lots")
    crop_key = models.CharField(max_length=60)
    variety = models.CharField(max_length=60, blank=True)
    packed_year = models.IntegerField("packed for", null=True, blank=True)
    note = models.CharField(max_length=200, blank=True)
    facts = models.JSONField("what the packet says", default=dict, blank=True, help_text="crop field: [value, why]")
    packet = models.JSONField(
        "weeks on the packet", null=True, blank=True, help_text="weeks before which base, as on the packet"
    )
    seeds = models.IntegerField(null=True, blank=True, validators=[MinValueValidator(0), MaxValueValidator(10_000_000)])
    grams = models.FloatField(null=True, blank=True, validators=[MinValueValidator(0.0), MaxValueValidator(100_000.0)])
    seeds_per_g = models.FloatField(
        "seeds in a gram", null=True, blank=True, validators=[MinValueValidator(0.1), MaxValueValidator(100_000.0)]
    )
    storage = models.CharField("kept in", max_length=10, blank=True, default="")
    storage_c = models.FloatField("kept at, °C", null=True, blank=True)
    storage_rh = models.FloatField("kept at, % humidity", null=True, blank=True)
    treated = models.BooleanField(default=False)
    pelleted = models.BooleanField(default=False)
    primed = models.BooleanField(default=False)
    saved = models.BooleanField(default=False, help_text="the garden's own seed")
    used_up = models.BooleanField("the packet is empty", default=False)
    origin = models.CharField("bought from", max_length=60, blank=True, default="", help_text="where it was bought")
    price = models.FloatField(null=True, blank=True, validators=[MinValueValidator(0.0), MaxValueValidator(100_000.0)])
    packet_seeds = models.IntegerField(
        "seeds in a new packet", null=True, blank=True, validators=[MinValueValidator(1), MaxValueValidator(10_000_000)]
    )
    revision = models.IntegerField(default=1)

    class Meta:
        verbose_name = "packet"

    def __str__(self) -> str:
        return f"{self.variety} {self.packed_year or ''}".strip()


class Planting(models.Model):
    """So many plants of one crop for one purpose in one season."""

    METHODS = (("raised", "raised indoors"), ("direct", "sown in place"), ("bought", "bought as plants"))
    TERMS = (("spring", "spring and summer"), ("autumn", "autumn and winter"))

    season = models.ForeignKey(Season, on_delete=models.RESTRICT, related_name="plantings")
    crop_key = models.CharField(max_length=60)
    variety = models.CharField(max_length=60, blank=True)
    wanted = models.IntegerField("plants wanted", validators=COUNT)
    method = models.CharField(max_length=10, choices=METHODS, default="raised")
    term = models.CharField(max_length=10, choices=TERMS, default="spring")
    lot = models.ForeignKey(Lot, null=True, blank=True, on_delete=models.RESTRICT, verbose_name="seed from")
    spot = models.ForeignKey(Spot, null=True, blank=True, on_delete=models.RESTRICT, verbose_name="where it will grow")
    sown_in = models.CharField("sown in", max_length=6, choices=SOWN_IN, default="cells")
    per_cell = models.IntegerField(
        "seeds per cell", null=True, blank=True, validators=[MinValueValidator(1), MaxValueValidator(12)]
    )
    packet = models.JSONField(null=True, blank=True)
    values = models.JSONField(default=dict, blank=True)
    made = models.JSONField(default=dict, blank=True)
    chosen_sow = models.DateField("sow on")
    chosen_out = models.DateField("plant out on", null=True, blank=True)
    cancelled_on = models.DateField("cancelled on", null=True, blank=True)
    note = models.CharField(max_length=200, blank=True)
    as_fits = models.BooleanField(
        "as many as fit", default=False, help_text="as many as its areas hold, instead of a typed number"
    )
    revision = models.IntegerField(default=1)

    def __str__(self) -> str:
        return f"{self.crop_key} {self.variety}".strip()


class BedArea(models.Model):
    """A part of a bed where plants of one planting stand: its rectangle in the bed, and how they are set out."""

    PATTERNS = (("square", "square"), ("staggered", "staggered"), ("single", "one plant"))
    planting = models.ForeignKey(Planting, on_delete=models.RESTRICT, related_name="areas")
    spot = models.ForeignKey(Spot, on_delete=models.RESTRICT, related_name="areas")
    x_cm = models.FloatField("from the left, cm", validators=PLACE)
    y_cm = models.FloatField("from above, cm", validators=PLACE)
    length_cm = models.FloatField("length, cm", validators=SIZE)
    width_cm = models.FloatField("width, cm", validators=SIZE)
    pattern = models.CharField("set out", max_length=10, choices=PATTERNS, default="square")
    spacing_cm = models.FloatField(
        "distance, cm", null=True, blank=True, validators=[MinValueValidator(2.0), MaxValueValidator(300.0)]
    )
    edge = models.BooleanField(
        "half a distance kept to the edge", default=True, help_text="half a spacing kept to the edge"
    )
    revision = models.IntegerField(default=1)

    class Meta:
        verbose_name = "area"

    def __str__(self) -> str:
        return f"{self.planting} in {self.spot}"


class Batch(models.Model):
    """Plants of one lot sown on one day and treated alike."""

    planting = models.ForeignKey(Planting, on_delete=models.RESTRICT, related_name="batches")
    lot = models.ForeignKey(Lot, null=True, blank=True, on_delete=models.RESTRICT)
    sown_on = models.DateField(null=True, blank=True)
    sown_in = models.CharField(max_length=6, choices=SOWN_IN, default="cells")
    cells = models.IntegerField(null=True, blank=True, help_text="of a box: filled by pricking out")
    per_cell = models.IntegerField(default=1)
    temperature_c = models.FloatField(null=True, blank=True)
    failed_on = models.DateField(null=True, blank=True)
    revision = models.IntegerField(default=1)

    def __str__(self) -> str:
        return f"batch {self.pk}"


class BatchEvent(models.Model):
    """Something that happened to a batch.  Append-only; a correction is an undo or a later count."""

    batch = models.ForeignKey(Batch, on_delete=models.RESTRICT, related_name="events")
    kind = models.CharField(max_length=20, validators=[known_event])
    on = models.DateField()
    count = models.IntegerField(null=True, blank=True)
    estimated = models.BooleanField(default=False)
    hours = models.FloatField(null=True, blank=True)
    wanted_hours = models.FloatField(null=True, blank=True)
    data = models.JSONField("facts", default=dict, blank=True, help_text="facts of its kind")
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["on", "pk"]

    def clean(self) -> None:
        """Its facts are those of its kind."""
        known_facts(self.kind, self.data)

    @property
    def facts(self) -> list[tuple[Fact, float]]:
        """Its facts, each with what it is."""
        known = event_kinds()[self.kind].facts
        return [(known[key], number) for key, number in self.data.items() if key in known]

    def __str__(self) -> str:
        return f"{self.kind} {self.count or ''} on {self.on}"


class BatchLink(models.Model):
    """Plants of one batch that became another's: the only record of a split, a merge or a re-sowing."""

    parent = models.ForeignKey(Batch, on_delete=models.RESTRICT, related_name="links_out")
    child = models.ForeignKey(Batch, on_delete=models.RESTRICT, related_name="links_in")
    count = models.IntegerField(validators=[MinValueValidator(0), MaxValueValidator(20_000)])
    on = models.DateField()

    class Meta:
        verbose_name = "split"

    def __str__(self) -> str:
        return f"{self.count} of {self.parent} to {self.child}"


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


class TaskMark(models.Model):
    """What a grower said about a derived task: done, skipped, moved, or done in part."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE)
    key = models.CharField(max_length=60)
    done_on = models.DateField(null=True, blank=True)
    skipped_on = models.DateField(null=True, blank=True)
    moved_to = models.DateField(null=True, blank=True)
    count_done = models.IntegerField(null=True, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["garden", "key"], name="one_mark_a_task")]

    def __str__(self) -> str:
        return self.key
