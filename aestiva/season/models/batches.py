"""Plants of one sowing: what happened to them, and what they came from."""

from __future__ import annotations

from django.core.exceptions import ValidationError
from django.core.validators import MaxValueValidator, MinValueValidator, RegexValidator
from django.db import models

from aestiva.gardens.models import LADDERS
from aestiva.gardens.providers import event_kinds
from aestiva.season.models.manyrows import ManyRows
from aestiva.season.models.plantings import SOWN_IN, SURPLUS, Lot, Planting
from growing.batch.kinds import Fact


def known_event(kind: str) -> None:
    """Something that can happen to a batch, as its stage knows it."""
    if kind not in event_kinds():
        raise ValidationError(f"“{kind[:40]}” is nothing that happens to a batch")


def known_facts(kind: str, data: object) -> None:
    """Facts that an event of that kind may carry."""
    found = event_kinds().get(kind)
    if found is not None and (wrong := found.wrong(data)):
        raise ValidationError({"data": wrong})


class Batch(ManyRows):
    """Plants of one lot sown on one day and treated alike."""

    planting = models.ForeignKey(Planting, on_delete=models.RESTRICT, related_name="batches")
    lot = models.ForeignKey(Lot, null=True, blank=True, on_delete=models.RESTRICT)
    sown_on = models.DateField(null=True, blank=True)
    sown_in = models.CharField(max_length=6, choices=SOWN_IN, default="cells")
    surplus = models.CharField("what is over", max_length=6, choices=SURPLUS, blank=True, default="")
    cells = models.IntegerField(null=True, blank=True, help_text="of a box: filled by pricking out")
    per_cell = models.IntegerField(default=1)
    temperature_c = models.FloatField(null=True, blank=True)
    ladder = models.CharField(
        "hardened off by", max_length=10, blank=True, default="", validators=[RegexValidator(LADDERS, "no such ladder")],
        help_text="empty: as the crop or the garden does it",
    )  # fmt: skip
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
