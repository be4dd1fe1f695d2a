"""Nothing lost: a copy of the whole database that has been opened and checked, and its way back."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path

KEEP = 14


class BadBackup(Exception):
    """A file that is not a sound copy of the database; says what is wrong with it."""


def check(path: Path) -> int:
    """The number of gardens in a copy; raises BadBackup when it cannot be read or is damaged."""
    if not path.exists():
        raise BadBackup(f"{path} is not there")
    try:
        with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as copy:
            said = copy.execute("PRAGMA integrity_check").fetchone()[0]
            broken = copy.execute("PRAGMA foreign_key_check").fetchall()
            gardens = copy.execute("SELECT count(*) FROM gardens_garden").fetchone()[0]
    except sqlite3.DatabaseError as error:
        raise BadBackup(f"{path.name} cannot be read: {error}") from error
    if said != "ok" or broken:
        raise BadBackup(f"{path.name} is damaged: {said if said != 'ok' else f'{len(broken)} rows point to nowhere'}")
    return int(gardens)


def backup(database: Path, folder: Path, stamp: str) -> tuple[Path, int]:
    """Copy a database that may be in use, check the copy, keep the latest fourteen."""
    folder.mkdir(parents=True, exist_ok=True)
    target = folder / f"{database.stem}-{stamp}.sqlite3"
    with closing(sqlite3.connect(database)) as source, closing(sqlite3.connect(target)) as copy:
        source.backup(copy)
    gardens = check(target)
    for old in sorted(folder.glob(f"{database.stem}-*.sqlite3"))[:-KEEP]:
        old.unlink()
    return target, gardens


def restore(copy: Path, database: Path) -> int:
    """Put a checked copy in the place of the database; the caller keeps what was there."""
    gardens = check(copy)
    with (
        closing(sqlite3.connect(f"file:{copy}?mode=ro", uri=True)) as source,
        closing(sqlite3.connect(database)) as target,
    ):
        source.backup(target)
    return gardens
