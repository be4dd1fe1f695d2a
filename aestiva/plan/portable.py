"""Prices in the garden's document."""

from aestiva.gardens.portable import Part
from aestiva.plan.models import Price

PARTS = (Part("prices", Price, "garden", ("kind", "crop_key", "amount", "revision")),)
