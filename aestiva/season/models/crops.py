"""Crops of a garden's own, and values that it sets for any."""

from __future__ import annotations

from django.core.exceptions import ValidationError
from django.db import models

from aestiva.gardens.models import Garden
from growing.crops.exchange import usable_key


def usable_in_addresses(key: str) -> None:
    if not usable_key(key):
        raise ValidationError(f"{key[:60]} cannot be a crop's key: it is a word of the pages' own")


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
