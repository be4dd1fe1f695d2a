"""`manage.py backup`: a checked copy of the database in data/backups."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError

from aestiva.gardens import clock
from aestiva.gardens.backup import BadBackup, backup
from aestiva.gardens.management.places import backups, database_file


class Command(BaseCommand):
    help = "Copies the database, checks the copy, keeps the latest fourteen."
    requires_system_checks = []

    def handle(self, *args: Any, **options: Any) -> None:
        stamp = clock.instant().strftime("%Y%m%d-%H%M%S")
        try:
            target, gardens = backup(database_file(), backups(), stamp)
        except BadBackup as error:
            raise CommandError(f"{error}. Put a backup back with “make restore”.") from error
        self.stdout.write(f"{target}: {gardens} {'garden' if gardens == 1 else 'gardens'}, checked.")
