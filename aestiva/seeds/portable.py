"""Germination tests in the garden's document."""

from __future__ import annotations

from aestiva.gardens.portable import Part
from aestiva.seeds import models as m

PARTS = (Part("seed_tests", m.SeedTest, "lot__garden", ("on", "sown", "up", "in_mix"), {"lot": "lots"}),)
