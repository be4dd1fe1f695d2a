"""A season: packets of seed, plantings of them, and the ground they are given."""

from __future__ import annotations

from django.conf import settings
from django.core.exceptions import ValidationError
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from aestiva.gardens.models import Garden
from aestiva.season.models.manyrows import ManyRows
from aestiva.season.models.spots import PLACE, SIZE, Spot

SOWN_IN = (("cells", "cells"), ("blocks", "soil blocks"), ("box", "a box, together"))
SURPLUS = (
    ("", "as usual for the crop"),
    ("thin", "thinned to one"),
    ("keep", "separated, all kept"),
    ("clump", "left in clumps"),
    ("prick", "pricked out of the box"),
    ("divide", "divided at planting out"),
)
UNITS = (("plants", "plants"), ("clumps", "clumps"))
COLOURS = tuple(
    (c, c) for c in ("white", "cream", "yellow", "orange", "red", "pink", "purple", "blue", "green", "brown", "mixed")
)
COUNT = [MinValueValidator(1), MaxValueValidator(20_000)]


def known_path(value: object) -> None:
    """One to three containers by their keys."""
    if not isinstance(value, list) or len(value) > 3 or not all(isinstance(k, str) and 0 < len(k) <= 60 for k in value):
        raise ValidationError("a path is up to three containers")


class Season(models.Model):
    """A year's plantings: scaffolding that several share, made when first needed and never taken back."""

    journalled = False
    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="seasons")
    year = models.IntegerField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["garden", "year"], name="one_season_a_year")]

    def __str__(self) -> str:
        return f"{self.garden} {self.year}"


class Lot(ManyRows):
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
    printed = models.FloatField(
        "germination on the packet", null=True, blank=True, validators=[MinValueValidator(0.01), MaxValueValidator(1.0)]
    )
    colour = models.CharField("flower colour", max_length=10, choices=COLOURS, blank=True, default="")
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


class Planting(ManyRows):
    """So many plants of one crop for one purpose in one season."""

    METHODS = (
        ("raised", "raised indoors"),
        ("winter", "sown outdoors in winter, in a box"),
        ("direct", "sown in place"),
        ("bought", "bought as plants"),
    )
    CAME = (
        ("", "bought"),
        ("given", "given"),
        ("lifted", "lifted from the garden"),
        ("wintered", "overwintered in a pot"),
    )
    TERMS = (("spring", "spring and summer"), ("autumn", "autumn and winter"), ("overwinter", "to live through winter"))

    STOOD = (("", "nobody knows"), ("glass", "under glass or indoors"), ("outdoors", "outdoors"))

    season = models.ForeignKey(Season, on_delete=models.RESTRICT, related_name="plantings")
    crop_key = models.CharField(max_length=60)
    variety = models.CharField(max_length=60, blank=True)
    wanted = models.IntegerField("plants wanted", validators=COUNT)
    method = models.CharField(max_length=10, choices=METHODS, default="raised")
    term = models.CharField(max_length=10, choices=TERMS, default="spring")
    lot = models.ForeignKey(Lot, null=True, blank=True, on_delete=models.RESTRICT, verbose_name="seed from")
    spot = models.ForeignKey(Spot, null=True, blank=True, on_delete=models.RESTRICT, verbose_name="where it will grow")
    raised_at = models.ForeignKey(
        Spot, null=True, blank=True, on_delete=models.RESTRICT, related_name="raised", verbose_name="where it is raised"
    )
    germinates_at = models.ForeignKey(
        Spot,
        null=True,
        blank=True,
        on_delete=models.RESTRICT,
        related_name="germinated",
        verbose_name="where it comes up",
    )
    sown_in = models.CharField(
        "sown in", max_length=6, choices=(("", "as usual here"), *SOWN_IN), blank=True, default=""
    )
    surplus = models.CharField("what is over", max_length=6, choices=SURPLUS, blank=True, default="")
    wanted_unit = models.CharField(
        "counted in", max_length=6, choices=UNITS, default="plants", help_text="how the grower counts; plants are kept"
    )
    per_cell = models.IntegerField(
        "seeds per cell", null=True, blank=True, validators=[MinValueValidator(1), MaxValueValidator(12)]
    )
    packet = models.JSONField(null=True, blank=True)
    values = models.JSONField(default=dict, blank=True)
    made = models.JSONField(default=dict, blank=True)
    planned_on = models.DateField(
        "planned on", null=True, blank=True, editable=False, help_text="no task of it falls due before that day"
    )
    chosen_sow = models.DateField(
        "sow on",
        null=True,
        blank=True,
        help_text="pinned by the grower; empty: as proposed, moving with frost and gates",
    )
    chosen_out = models.DateField("plant out on", null=True, blank=True)
    cancelled_on = models.DateField("cancelled on", null=True, blank=True)
    stood = models.CharField("bought plants stood", max_length=8, choices=STOOD, blank=True, default="")
    came = models.CharField("plants came", max_length=8, choices=CAME, blank=True, default="")
    price = models.FloatField(
        "price of a plant",
        null=True,
        blank=True,
        validators=[MinValueValidator(0.0), MaxValueValidator(100_000.0)],
    )
    path = models.JSONField(
        "containers, one after another", default=list, blank=True, validators=[known_path], help_text="empty: as usual"
    )
    note = models.CharField(max_length=200, blank=True)
    not_again = models.CharField(
        "not again, because", max_length=200, blank=True, default="", help_text="left out when the next season is made"
    )
    as_fits = models.BooleanField(
        "as many as fit", default=False, help_text="as many as its areas hold, instead of a typed number"
    )
    revision = models.IntegerField(default=1)

    def __str__(self) -> str:
        return f"{self.crop_key.replace('_', ' ')} {self.variety}".strip()


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


class TaskNote(models.Model):
    """What somebody said beside a task, a reader too: words for people, never read by a rule."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="task_notes")
    key = models.CharField(max_length=60)
    day = models.DateField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    text = models.CharField(max_length=200)

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["garden", "key"], name="notes_of_a_task")]

    def __str__(self) -> str:
        return self.text
