"""`manage.py restore FILE`: put a backup back, also where the database is damaged or gone; what is there now is kept."""

from pathlib import Path
from typing import Any

from django.core.cache import cache
from django.core.management.base import BaseCommand, CommandError, CommandParser

from aestiva.gardens import clock
from aestiva.gardens.backup import BadBackup, restore, sum_of
from aestiva.gardens.management.places import backups, database_file


class Command(BaseCommand):
    help = "Checks a backup, keeps what is there now, and puts the backup in its place."
    requires_system_checks = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", nargs="?", default="")

    def handle(self, *args: Any, **options: Any) -> None:
        if not options["file"]:
            there = sorted(backups().glob("*.sqlite3")) if backups().is_dir() else []
            raise CommandError(
                "Name the copy: make restore FILE=… Newest: " + (str(there[-1]) if there else "none yet")
            )
        copy = Path(options["file"])
        try:
            done = restore(copy, database_file(), backups(), clock.instant().strftime("%Y%m%d-%H%M%S"))
        except BadBackup as error:
            raise CommandError(f"{error}. Nothing was changed.") from error
        cache.clear()  # what was worked out for the other database
        if not sum_of(copy).exists():
            self.stdout.write("There is no checksum beside this copy, so only SQLite has looked it over.")
        self.stdout.write(f"{done.gardens} {'garden is' if done.gardens == 1 else 'gardens are'} back.")
        if done.kept is not None:
            what = "What was there" if done.sound else "The damaged database that was there"
            self.stdout.write(f"{what} is kept as {done.kept}.")
        if not done.sound:
            self.stdout.write("If the server is running, stop it and start it again: it holds the old file.")
