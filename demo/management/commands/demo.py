"""`manage.py demo`: build the demo garden unless it is there already."""

from typing import Any

from django.core.management.base import BaseCommand

from aestiva.gardens.models import Garden
from demo.kept import brought_in
from demo.scenario import build


class Command(BaseCommand):
    help = "Builds the demo garden; keeps one that is there."

    def handle(self, *args: Any, **options: Any) -> None:
        if Garden.objects.filter(is_demo=True).exists():
            self.stdout.write("The demo is there already; make demo-reset begins it anew.")
            return
        garden, flat = build(), brought_in("kanuka_flat")
        self.stdout.write(f"{garden.name} is ready on {garden.simulated_on:%A %-d %B %Y}, and so is {flat.name}.")
