"""Planting out in the garden's document: covers at hand, what was seen of beds."""

from aestiva.gardens.portable import Part
from aestiva.plantingout import models as m

PARTS = (
    Part("covers", m.CoverAtHand, "garden", ("kind", "length_cm", "width_cm", "pieces", "revision")),
    Part("bed_states", m.BedState, "spot__garden", ("day", "state"), {"spot": "spots"}),
)
