"""`manage.py restore FILE`: put a backup back; what is there now is backed up first."""

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser

from aestiva.gardens import clock
from aestiva.gardens.backup import BadBackup, backup, check, restore


class Command(BaseCommand):
    help = "Checks a backup, backs up the present database, and puts the backup in its place."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file")

    def handle(self, *args: Any, **options: Any) -> None:
        copy, database = Path(options["file"]), Path(str(settings.DATABASES["default"]["NAME"]))
        try:
            check(copy)
            stamp = clock.instant().strftime("%Y%m%d-%H%M%S")
            kept, _ = backup(database, settings.DATA_DIR / "backups", f"before-{stamp}")
            gardens = restore(copy, database)
        except BadBackup as error:
            raise CommandError(str(error)) from error
        self.stdout.write(f"{gardens} gardens are back. What was there is kept as {kept}.")
