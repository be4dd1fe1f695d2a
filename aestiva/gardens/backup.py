"""Nothing lost: a copy of the whole database that has been opened and checked, and its way back.

A copy stands by itself (no -wal, no -shm), is written aside and then given its name, and has its checksum beside it:
a copy whose bytes changed on the disk is refused even where SQLite would take it.
"""

from __future__ import annotations

import os
import re
import shutil
import sqlite3
from contextlib import closing
from hashlib import file_digest
from pathlib import Path
from typing import NamedTuple

from aestiva import disk

KEEP = 14  # of each kind: made on purpose, and made before a restore
BEFORE = "before-"
BESIDE = ("-wal", "-shm", "-journal")


class BadBackup(Exception):
    """A file that is not a sound copy of the database; says what is wrong with it."""


class Restored(NamedTuple):
    """gardens that are back; what was there before and where it is kept (None: there was nothing); was it sound."""

    gardens: int
    kept: Path | None
    sound: bool


def checksum(path: Path) -> str:
    with path.open("rb") as file:
        return file_digest(file, "sha256").hexdigest()


def sum_of(path: Path) -> Path:
    """The file beside a copy that holds its checksum."""
    return path.with_name(path.name + ".sha256")


def check(path: Path) -> int:
    """The number of gardens in a copy; raises BadBackup when it cannot be read or is damaged."""
    if not path.is_file():
        raise BadBackup(f"{path} is not there")
    beside = sum_of(path)
    if beside.exists() and beside.read_text(encoding="ascii", errors="replace").split()[:1] != [checksum(path)]:
        raise BadBackup(f"{path.name} is damaged: its bytes are not those of the copy that was made")
    try:
        with closing(sqlite3.connect(f"file:{path}?mode=ro&immutable=1", uri=True)) as copy:
            said = copy.execute("PRAGMA integrity_check").fetchone()[0]
            broken = copy.execute("PRAGMA foreign_key_check").fetchall()
            gardens = copy.execute("SELECT count(*) FROM gardens_garden").fetchone()[0]
    except sqlite3.Error as error:
        raise BadBackup(f"{path.name} cannot be read: {error}") from error
    if said != "ok" or broken:
        raise BadBackup(f"{path.name} is damaged: {said if said != 'ok' else f'{len(broken)} rows point to nowhere'}")
    return int(gardens)


def backup(database: Path, folder: Path, stamp: str, kind: str = "") -> tuple[Path, int]:
    """Copy a database that may be in use, check the copy, keep the latest fourteen of its kind.

    kind: "" or BEFORE.  Raises BadBackup where the database cannot be read; then nothing is left behind.
    """
    if not database.is_file():
        raise BadBackup(f"{database} is not there: nothing has been kept yet")
    folder.mkdir(mode=disk.PRIVATE_FOLDER, parents=True, exist_ok=True)
    target = folder / f"{database.stem}-{kind}{stamp}.sqlite3"
    aside = target.with_name(target.name + ".part")
    try:
        _copy(database, aside)
        gardens = check(aside)
        aside.chmod(disk.PRIVATE_FILE)
        sum_of(target).write_text(f"{checksum(aside)}  {target.name}\n", encoding="ascii")
        sum_of(target).chmod(disk.PRIVATE_FILE)
        os.replace(aside, target)
    finally:
        _remove(aside)
    _prune(database, folder, target)
    return target, gardens


def _copy(source: Path, target: Path) -> None:
    """A database as one file of its own; raises BadBackup where it cannot be read."""
    target.unlink(missing_ok=True)
    try:
        with (
            closing(sqlite3.connect(f"file:{source}?mode=ro", uri=True)) as old,
            closing(sqlite3.connect(target)) as new,
        ):
            old.backup(new)
            new.execute("PRAGMA journal_mode=DELETE")
    except sqlite3.Error as error:
        if disk.words(error) and "malformed" not in str(error) and "not a database" not in str(error):
            raise
        raise BadBackup(f"{source.name} cannot be read: {error}") from error


def _prune(database: Path, folder: Path, newest: Path) -> None:
    """Drop the oldest copies of each kind, never the one just made, and what broken runs left lying."""
    for kind in ("", BEFORE):
        named = re.compile(rf"{re.escape(database.stem)}-{kind}\d[\d-]*\.(sqlite3|damaged)")
        copies = sorted(p for p in folder.iterdir() if named.fullmatch(p.name))
        for old in copies[:-KEEP]:
            if old != newest:
                _remove(old)
                sum_of(old).unlink(missing_ok=True)
    for path in folder.glob(f"{database.stem}-*"):
        stray = path.name.endswith((*BESIDE, ".part")) or path.stat().st_size == 0
        if stray and path != newest:
            path.unlink(missing_ok=True)


def _remove(path: Path) -> None:
    """A database file and whatever SQLite keeps beside it."""
    for one in (path, *(path.with_name(path.name + end) for end in BESIDE)):
        one.unlink(missing_ok=True)


def restore(copy: Path, database: Path, folder: Path, stamp: str) -> Restored:
    """Put a checked copy in the place of the database; what was there is kept, sound or not.

    A sound database is written over in place, so that a running server goes on with it.  One that is damaged or absent
    gets a new file.  Raises BadBackup, and changes nothing, where the copy is not sound.
    """
    gardens = check(copy)
    database.parent.mkdir(mode=disk.PRIVATE_FOLDER, parents=True, exist_ok=True)
    kept, sound = _set_aside(database, folder, stamp)
    if sound:
        with (
            closing(sqlite3.connect(f"file:{copy}?mode=ro&immutable=1", uri=True)) as source,
            closing(sqlite3.connect(database)) as target,
        ):
            source.backup(target)
    else:
        aside = database.with_name(database.name + ".part")
        shutil.copyfile(copy, aside)
        check(aside)
        _remove(database)
        os.replace(aside, database)
    database.chmod(disk.PRIVATE_FILE)
    return Restored(gardens, kept, sound)


def _set_aside(database: Path, folder: Path, stamp: str) -> tuple[Path | None, bool]:
    """Keep what is there: a sound database as a backup, anything else byte for byte; and whether it is sound."""
    if not database.is_file() or database.stat().st_size == 0:
        return None, False
    try:
        return backup(database, folder, stamp, BEFORE)[0], True
    except BadBackup:
        folder.mkdir(mode=disk.PRIVATE_FOLDER, parents=True, exist_ok=True)
        kept = folder / f"{database.stem}-{BEFORE}{stamp}.damaged"
        shutil.copyfile(database, kept)
        kept.chmod(disk.PRIVATE_FILE)
        return kept, False
