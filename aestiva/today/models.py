"""The private address under which a calendar program reads the tasks."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from aestiva.gardens.models import Garden, new_token


class CalendarLink(models.Model):
    """A secret address; revoking it ends it for good, a new one is another row."""

    garden = models.ForeignKey(Garden, on_delete=models.CASCADE)
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    token = models.CharField(max_length=40, unique=True, default=new_token)
    revoked = models.BooleanField(default=False)

    def __str__(self) -> str:
        return f"calendar of {self.garden} for {self.user}"
