"""What was found in trays, and the feeds that there are."""

from __future__ import annotations

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from aestiva.gardens.models import Garden
from aestiva.season.models import Batch, Spot, Tray
from growing.care.water import FOUND

AIR = ("fan on", "fan off", "brushed", "humidity")
GRAMS = [MinValueValidator(1.0), MaxValueValidator(200_000.0)]
OUTCOMES = ("open", "better", "same", "lost")
SHARE = [MinValueValidator(0.0), MaxValueValidator(1.0)]
PER_CENT = [MinValueValidator(0.0), MaxValueValidator(100.0)]


class WaterLook(models.Model):
    """How something was found at an hour, and whether it was watered then."""

    day = models.DateField()
    hour = models.FloatField(validators=[MinValueValidator(0.0), MaxValueValidator(24.0)])
    found = models.CharField(max_length=6, choices=[(f, f) for f in FOUND])
    watered = models.BooleanField(default=False)
    given_ml = models.FloatField(
        "given, ml", null=True, blank=True, validators=[MinValueValidator(0.0), MaxValueValidator(100_000.0)]
    )
    left = models.FloatField("left by weight", null=True, blank=True, validators=SHARE)
    over = models.FloatField("poured off, of what was given", null=True, blank=True, validators=SHARE)

    class Meta:
        abstract = True
        verbose_name = "look at the water"
        ordering = ["day", "hour", "pk"]


class TrayLook(WaterLook):
    """Of a tray."""

    tray = models.ForeignKey(Tray, on_delete=models.RESTRICT, related_name="water_looks")

    def __str__(self) -> str:
        return f"{self.tray}: {self.found}"


class PotLook(WaterLook):
    """Of pots of a batch that stand in no tray."""

    batch = models.ForeignKey(Batch, on_delete=models.RESTRICT, related_name="water_looks")

    def __str__(self) -> str:
        return f"{self.batch}: {self.found}"


class TrayWeight(models.Model):
    """What a tray weighs drained, an hour after it was watered, and dry, when it is pale and light."""

    tray = models.OneToOneField(Tray, on_delete=models.CASCADE, related_name="weight")
    drained_g = models.FloatField("drained, g", validators=GRAMS)
    dry_g = models.FloatField("dry, g", validators=GRAMS)
    revision = models.IntegerField(default=1)

    def __str__(self) -> str:
        return f"{self.tray}: {self.drained_g:g} g"


class Sprayer(models.Model):
    """What comes out of the garden's sprayer: so many ml in so many seconds."""

    garden = models.OneToOneField(Garden, on_delete=models.CASCADE, related_name="sprayer")
    ml = models.FloatField(validators=[MinValueValidator(0.1), MaxValueValidator(5000.0)])
    seconds = models.FloatField(validators=[MinValueValidator(0.5), MaxValueValidator(600.0)])
    revision = models.IntegerField(default=1)

    def __str__(self) -> str:
        return f"{self.ml:g} ml in {self.seconds:g} s"


class AirLook(models.Model):
    """The air of a place: its fan switched on or off, the plants brushed, the humidity read."""

    spot = models.ForeignKey(Spot, on_delete=models.RESTRICT, related_name="air_looks")
    day = models.DateField()
    hour = models.FloatField(validators=[MinValueValidator(0.0), MaxValueValidator(24.0)])
    what = models.CharField(max_length=8, choices=[(w, w) for w in AIR])
    number = models.FloatField("humidity, %", null=True, blank=True, validators=PER_CENT)

    class Meta:
        verbose_name = "look at the air"
        ordering = ["day", "hour", "pk"]

    def __str__(self) -> str:
        return f"{self.what} on {self.spot}"


class Ailment(models.Model):
    """Something was wrong with a batch: what was seen and answered, what it was taken for, what was done, what became of it."""

    batch = models.ForeignKey(Batch, on_delete=models.RESTRICT, related_name="ailments")
    day = models.DateField()
    signs = models.CharField(max_length=200)
    answers = models.CharField(max_length=200, blank=True, default="")
    cause = models.CharField(max_length=20)
    act = models.CharField("what was done", max_length=40, blank=True, default="")
    product = models.CharField(max_length=60, blank=True, default="")
    outcome = models.CharField(max_length=6, choices=[(o, o) for o in OUTCOMES], default="open")
    ended = models.DateField(null=True, blank=True)
    lost = models.IntegerField("plants lost", default=0, validators=[MinValueValidator(0), MaxValueValidator(20_000)])
    revision = models.IntegerField(default=1)

    class Meta:
        verbose_name = "trouble"
        ordering = ["day", "pk"]

    def __str__(self) -> str:
        return f"{self.batch}: {self.cause}"


class Feed(models.Model):
    """A feed as its label has it; without an analysis only its dilution can be said."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="plant_feeds")
    name = models.CharField(max_length=60)
    n = models.FloatField("nitrogen, %", default=0.0, validators=PER_CENT)
    p = models.FloatField("phosphorus, %", default=0.0, validators=PER_CENT)
    k = models.FloatField("potassium, %", default=0.0, validators=PER_CENT)
    oxides = models.BooleanField("P and K are oxides, as on most labels", default=True)
    liquid = models.BooleanField("it is a liquid", default=False)
    g_per_ml = models.FloatField(
        "grams of a ml", null=True, blank=True, validators=[MinValueValidator(0.1), MaxValueValidator(3.0)]
    )
    urea = models.FloatField("urea, share of nitrogen", default=0.0, validators=SHARE)
    analysis = models.BooleanField("its contents are known", default=True)
    not_with = models.CharField("not in one can with", max_length=80, blank=True, default="")
    revision = models.IntegerField(default=1)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["garden", "name"], name="one_feed_name")]

    def __str__(self) -> str:
        return self.name
