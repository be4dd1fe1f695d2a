"""Backup, verification, restore; a damaged copy is refused."""

from __future__ import annotations

import sqlite3
import tempfile
from contextlib import closing
from pathlib import Path
from unittest import TestCase

from aestiva.gardens.backup import KEEP, BadBackup, backup, check, restore


class Backups(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.database = self.folder / "aestiva.sqlite3"
        self.gardens(3)

    def gardens(self, count: int) -> None:
        with closing(sqlite3.connect(self.database)) as db:
            db.execute("CREATE TABLE IF NOT EXISTS gardens_garden (name TEXT)")
            db.execute("DELETE FROM gardens_garden")
            db.executemany("INSERT INTO gardens_garden VALUES (?)", [(f"garden {n}" * 400,) for n in range(count)])
            db.commit()

    def test_there_and_back(self) -> None:
        copy, count = backup(self.database, self.folder / "b", "1")
        self.assertEqual(count, 3)
        self.gardens(1)
        self.assertEqual(restore(copy, self.database), 3)
        self.assertEqual(check(self.database), 3)

    def test_damaged_missing_and_foreign_files_are_refused(self) -> None:
        copy, _ = backup(self.database, self.folder / "b", "1")
        copy.write_bytes(copy.read_bytes()[:4000] + b"\xff" * 6000)
        foreign = self.folder / "x.sqlite3"
        foreign.write_text("not a database at all " * 50)
        for path in (copy, foreign, self.folder / "nowhere"):
            with self.assertRaises(BadBackup):
                restore(path, self.database)
        self.assertEqual(check(self.database), 3)

    def test_only_the_latest_are_kept(self) -> None:
        for n in range(KEEP + 3):
            backup(self.database, self.folder / "b", f"{n:03}")
        self.assertEqual(len(list((self.folder / "b").iterdir())), KEEP)
