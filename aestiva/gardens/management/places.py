"""Where the database and its copies lie."""

from pathlib import Path

from django.conf import settings
from django.core.management.base import CommandError


def database_file() -> Path:
    """The SQLite file; CommandError where the data are kept in another kind of database, which has its own tools."""
    default = settings.DATABASES["default"]
    if not default["ENGINE"].endswith("sqlite3"):
        raise CommandError("The data are in another kind of database: back it up with its own tools.")
    return Path(str(default["NAME"]))


def backups() -> Path:
    return Path(settings.DATA_DIR) / "backups"
