"""Days on which nobody is there."""

from __future__ import annotations

from django.core.exceptions import ValidationError
from django.db import models

from aestiva.gardens.models import Garden
from growing.calendar import Window

MOST_DAYS = 366


class Absence(models.Model):
    """Nobody of the garden is there, from the first to the last day, both included."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE, related_name="absences")
    since = models.DateField("away from")
    until = models.DateField("until, that day included")
    note = models.CharField(max_length=80, blank=True, default="")
    revision = models.IntegerField(default=1)

    def clean(self) -> None:
        if self.since is None or self.until is None:
            return
        days = (self.until - self.since).days + 1
        if days < 1:
            raise ValidationError({"until": f"You would be back on {self.until:%-d %B %Y}, before you leave."})
        if days > MOST_DAYS:
            raise ValidationError({"until": f"That is {days} days: an absence lasts a year at most."})

    @property
    def window(self) -> Window:
        return Window(self.since, self.until)

    def __str__(self) -> str:
        return f"away {self.since} to {self.until}"
