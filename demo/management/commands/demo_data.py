"""`manage.py demo_data`: live the demo's gardens and keep their documents, which `manage.py demo` brings in."""

from typing import Any

from django.core.management.base import BaseCommand
from django.db import transaction

from demo import kanuka, kept, scenario


class Command(BaseCommand):
    help = "Lives the demo's gardens and keeps their documents; what it lived does not stay in the database."

    def handle(self, *args: Any, **options: Any) -> None:
        with transaction.atomic():
            scenario.keep()
            kept.keep("kanuka_flat", kanuka.build())
            transaction.set_rollback(True)
        self.stdout.write(f"Kept in {kept.HERE}.")
