"""Is this garden still being begun?  Until the first sowing pages show the thread from the place to the calendar."""

from __future__ import annotations

from aestiva.gardens.models import Garden
from aestiva.season.models import Batch


def begun(garden: Garden) -> bool:
    """Nothing was ever sown or fetched here: the way in is not walked to its end."""
    return not Batch.objects.filter(planting__season__garden=garden).exists()
