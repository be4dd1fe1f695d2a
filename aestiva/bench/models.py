"""What a day at the bench needs: mixes and what was filled with them, lids and mix in store, the sheet of a sowing or
potting day, and the timers that ring."""

from __future__ import annotations

from django.conf import settings
from django.core.exceptions import ValidationError
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from aestiva.gardens.models import Garden, Member, new_token
from aestiva.season.models import Batch, Planting, Tray
from growing.bench.day import KINDS, STAGES
from growing.bench.mix import wrong_parts
from growing.steps import WHERE

FEEDERS = (("", "any"), ("light", "light feeders"), ("medium", "medium feeders"), ("heavy", "heavy feeders"))
USES = (("seed", "sowing"), ("potting", "potting up"))
THINGS = (("lid", "lids"), ("mix", "litres of mix"), ("label", "labels"))
AMOUNT = [MinValueValidator(0.0), MaxValueValidator(1_000_000.0)]


def parts_fit(value: object) -> None:
    """Parts of a mix: a name and a share each; their sum is something."""
    if wrong := wrong_parts(value):
        raise ValidationError(wrong)


class Store(models.Model):
    """How much of something is there: lids, litres of mix, labels; of trays and pots their container says it."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="stores")
    thing = models.CharField(max_length=6, choices=THINGS)
    owned = models.FloatField(null=True, blank=True, validators=AMOUNT, help_text="empty: nobody has counted")
    to_wash = models.IntegerField("of them to be washed", default=0, validators=[MinValueValidator(0)])
    revision = models.IntegerField(default=1)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["garden", "thing"], name="one_store_a_thing")]

    def __str__(self) -> str:
        return str(self.get_thing_display())


class Recipe(models.Model):
    """A mix: parts by volume, g and ml in a litre, water in a litre."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="recipes")
    name = models.CharField(max_length=60)
    use = models.CharField("for", max_length=7, choices=USES, default="seed")
    feeder = models.CharField("for", max_length=6, choices=FEEDERS, blank=True, default="")
    parts = models.JSONField(validators=[parts_fit], help_text="[name, parts] each")
    grams = models.JSONField("g in a litre", default=list, blank=True, help_text="[name, g] each")
    millilitres = models.JSONField("ml in a litre", default=list, blank=True, help_text="[name, ml] each")
    water_ml = models.FloatField(
        "water in a litre, ml", default=0.0, validators=[MinValueValidator(0.0), MaxValueValidator(900.0)]
    )
    living = models.BooleanField("holds compost or microbes", default=False)
    fed = models.BooleanField("carries feed for the first weeks", default=False)
    note = models.CharField(max_length=200, blank=True, default="")
    revision = models.IntegerField(default=1)

    class Meta:
        verbose_name = "mix"
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["garden", "name"], name="one_recipe_name")]

    def __str__(self) -> str:
        return self.name


class Filled(models.Model):
    """The mix that a batch stands in from a day on."""

    batch = models.ForeignKey(Batch, on_delete=models.RESTRICT, related_name="filled")
    recipe = models.ForeignKey(Recipe, on_delete=models.RESTRICT, related_name="filled")
    on = models.DateField()

    class Meta:
        verbose_name = "filling"

    def __str__(self) -> str:
        return f"{self.batch} in {self.recipe}"


class BenchDay(models.Model):
    """A sowing or potting day, done by stage across all its trays."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="bench_days")
    kind = models.CharField(max_length=3, choices=KINDS)
    on = models.DateField()
    minutes = models.IntegerField("minutes there are", null=True, blank=True, validators=[MinValueValidator(1)])
    recipe = models.ForeignKey(Recipe, null=True, blank=True, on_delete=models.RESTRICT, verbose_name="mix")
    revision = models.IntegerField(default=1)

    class Meta:
        verbose_name = "day at the bench"
        constraints = [models.UniqueConstraint(fields=["garden", "kind", "on"], name="one_bench_day")]

    def __str__(self) -> str:
        return f"{self.get_kind_display()} of {self.on:%-d %B}"


class DayLine(models.Model):
    """One sowing or potting of that day, and the tray it goes into: its first cell, its cells, seeds in each."""

    day = models.ForeignKey(BenchDay, on_delete=models.RESTRICT, related_name="lines")
    order = models.IntegerField(default=0)
    task = models.CharField(max_length=60)
    planting = models.ForeignKey(Planting, on_delete=models.RESTRICT, related_name="bench_lines")
    batch = models.ForeignKey(Batch, null=True, blank=True, on_delete=models.RESTRICT, related_name="bench_lines")
    tray = models.ForeignKey(Tray, null=True, blank=True, on_delete=models.RESTRICT, related_name="bench_lines")
    first = models.IntegerField(default=1, validators=[MinValueValidator(1)])
    places = models.IntegerField(validators=[MinValueValidator(1), MaxValueValidator(20_000)])
    per_cell = models.IntegerField(default=1)
    revision = models.IntegerField(default=1)

    class Meta:
        verbose_name = "line of a day"
        ordering = ["order", "pk"]
        constraints = [models.UniqueConstraint(fields=["day", "task", "order"], name="one_line_a_task")]

    def __str__(self) -> str:
        return f"{self.planting}, {self.places}"


class StageDone(models.Model):
    """A stage that somebody has finished or left out, of a line or of the whole day."""

    day = models.ForeignKey(BenchDay, on_delete=models.RESTRICT, related_name="done")
    line = models.ForeignKey(DayLine, null=True, blank=True, on_delete=models.RESTRICT, related_name="done")
    stage = models.CharField(max_length=10, choices=[(s, s) for s in STAGES])
    at = models.DateTimeField()
    skipped = models.BooleanField(default=False)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        verbose_name = "stage"
        constraints = [
            models.UniqueConstraint(fields=["line", "stage"], name="one_stage_a_line"),
            models.UniqueConstraint(fields=["day", "stage"], condition=models.Q(line=None), name="one_stage_a_day"),
        ]

    def __str__(self) -> str:
        return self.stage


BRING_IN, SOAK, POUR = "in", "soak", "pour"
RINGS_FOR = (("", "something else"), (BRING_IN, "what is out"), (SOAK, "seed that soaks"), (POUR, "water under trays"))


class Timer(models.Model):
    """Something that must end at an hour: it rings whoever is there, and in the calendar."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="timers")
    kind = models.CharField("rings for", max_length=6, choices=RINGS_FOR, blank=True, default="")
    what = models.CharField(max_length=60)
    planting = models.ForeignKey(Planting, null=True, blank=True, on_delete=models.RESTRICT, related_name="timers")
    started = models.DateTimeField()
    due = models.DateTimeField()
    done_at = models.DateTimeField(null=True, blank=True)
    revision = models.IntegerField(default=1)

    class Meta:
        ordering = ["due", "pk"]

    def __str__(self) -> str:
        return self.what


class Turn(models.Model):
    """Who does the work of one place on one day; nobody while there is none."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="turns")
    on = models.DateField()
    where = models.CharField(max_length=6, choices=[(w, w) for w in WHERE])
    member = models.ForeignKey(Member, on_delete=models.CASCADE, related_name="turns")
    revision = models.IntegerField(default=1)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["garden", "on", "where"], name="one_turn")]

    def __str__(self) -> str:
        return f"{self.where} on {self.on:%-d %B}"


class HelpLink(models.Model):
    """An address by which a helper without an account may read the sheet of some days away; it ends by itself, or with them."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="help_links")
    since = models.DateField()
    until = models.DateField()
    token = models.CharField(max_length=40, unique=True, default=new_token)
    expires = models.DateField()

    class Meta:
        verbose_name = "address for a helper"

    def __str__(self) -> str:
        return f"an address until {self.expires:%-d %B}"
