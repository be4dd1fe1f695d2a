"""`manage.py backup`: a checked copy of the database in data/backups."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from aestiva.gardens import clock
from aestiva.gardens.backup import backup


class Command(BaseCommand):
    help = "Copies the database, checks the copy, keeps the latest fourteen."

    def handle(self, *args: Any, **options: Any) -> None:
        stamp = clock.instant().strftime("%Y%m%d-%H%M%S")
        target, gardens = backup(Path(str(settings.DATABASES["default"]["NAME"])), settings.DATA_DIR / "backups", stamp)
        self.stdout.write(f"{target}: {gardens} gardens, checked.")
