"""What the machine's storage can refuse, in a sentence: a full disk, a file system that cannot be written, a busy database.

Used before there are settings (the data folder), by the commands, and by the error page; knows nothing of gardens.
"""

from __future__ import annotations

import errno
import os
import shutil
import sqlite3
import sys
from collections.abc import Callable
from pathlib import Path

PRIVATE_FOLDER, PRIVATE_FILE = 0o700, 0o600
_FULL = "The disk is full: nothing was written. Free some space on it, then try again."
_READ_ONLY = "The data cannot be written: the file system or the file is read-only. Nothing was changed."
_BUSY = "The garden is very busy just now: nothing was written. Try again in a moment."
_DAMAGED = "The database cannot be read: it is damaged, or another kind of file. Put a backup back with “make restore”."
_ERRORS = {
    errno.ENOSPC: _FULL,
    errno.EDQUOT: _FULL,
    errno.EROFS: _READ_ONLY,
    errno.EACCES: _READ_ONLY,
    errno.EPERM: _READ_ONLY,
    errno.EIO: "The disk does not answer: nothing was written. Look after the disk, then try again.",
}
_SAYINGS = (
    ("disk is full", _FULL),
    ("readonly", _READ_ONLY),
    ("read-only", _READ_ONLY),
    ("unable to open", "The database cannot be opened: is its folder there, and may Aestiva write in it?"),
    ("disk i/o", _ERRORS[errno.EIO]),
    ("locked", _BUSY),
    ("could not serialize", _BUSY),
    ("deadlock", _BUSY),
    ("malformed", _DAMAGED),
    ("not a database", _DAMAGED),
)


LEAST_FREE = 1024 * 1024
_folders: list[Path] = []  # where the data lie, once that is known


def _full() -> bool:
    """Is there hardly any room left where the data lie?"""
    try:
        return any(shutil.disk_usage(folder).free < LEAST_FREE for folder in _folders)
    except OSError:
        return False


def words(error: BaseException | None) -> str:
    """The sentence for what storage refused; empty where the error, and what it came of, is of another kind."""
    seen: set[int] = set()
    while error is not None and id(error) not in seen:
        seen.add(id(error))
        if isinstance(error, OSError) and error.errno in _ERRORS:
            return _ERRORS[error.errno]
        if isinstance(error, sqlite3.Error) or type(error).__name__ in ("OperationalError", "DatabaseError"):
            text = str(error).lower()
            said = next((sentence for part, sentence in _SAYINGS if part in text), "")
            if said:
                return _FULL if said == _ERRORS[errno.EIO] and _full() else said
        error = error.__cause__ or error.__context__
    return ""


def guarded(work: Callable[[], object]) -> None:
    """Run a command; what storage refuses ends it with a sentence, not with a traceback."""
    try:
        work()
    except Exception as error:
        said = words(error)
        if not said:
            raise
        sys.exit(f"{said}\n({error})")


def prepare(folder: Path) -> Path:
    """The data folder, there and readable by its owner alone, with everything that is kept in it."""
    os.umask(0o077)
    try:
        folder.mkdir(mode=PRIVATE_FOLDER, parents=True, exist_ok=True)
    except OSError as error:
        sys.exit(f"Aestiva cannot make its data folder {folder}: {error.strerror}. Name another with AESTIVA_DATA.")
    keep_private(folder)
    _folders.append(folder)
    return folder


def keep_private(folder: Path) -> None:
    """Take everybody else's rights from the folder, its databases, backups and keys; as far as they are ours to change."""
    for path in (
        folder,
        folder / "backups",
        *folder.glob("*.sqlite3*"),
        *folder.glob("backups/*"),
        *folder.glob("*.key"),
    ):
        wanted = PRIVATE_FOLDER if path.is_dir() else PRIVATE_FILE
        try:
            if path.stat().st_mode & 0o777 != wanted:
                path.chmod(wanted)
        except OSError:
            continue  # not there, not ours, or read-only: whoever uses it says so
