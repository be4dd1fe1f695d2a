"""Backup, verification, restore; a damaged copy is refused."""

from __future__ import annotations

import sqlite3
import tempfile
from contextlib import closing
from pathlib import Path

from django.test import SimpleTestCase

from aestiva.gardens.backup import KEEP, BadBackup, backup, check, restore, sum_of


class Backups(SimpleTestCase):
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
        self.assertEqual(restore(copy, self.database, self.folder / "b", "2").gardens, 3)
        self.assertEqual(check(self.database), 3)

    def test_damaged_missing_and_foreign_files_are_refused(self) -> None:
        copy, _ = backup(self.database, self.folder / "b", "1")
        copy.write_bytes(copy.read_bytes()[:4000] + b"\xff" * 6000)
        foreign = self.folder / "x.sqlite3"
        foreign.write_text("not a database at all " * 50)
        for path in (copy, foreign, self.folder / "nowhere"):
            with self.assertRaises(BadBackup):
                restore(path, self.database, self.folder / "b", "2")
        self.assertEqual(check(self.database), 3)

    def test_only_the_latest_are_kept(self) -> None:
        for n in range(KEEP + 3):
            backup(self.database, self.folder / "b", f"{n:03}")
        names = sorted(p.name for p in (self.folder / "b").iterdir())
        self.assertEqual(len(names), 2 * KEEP)  # each with its checksum
        self.assertEqual(names[0], "aestiva-003.sqlite3")

    def test_copies_made_before_restoring_never_crowd_out_those_made_on_purpose(self) -> None:
        copy, _ = backup(self.database, self.folder / "b", "20260101-000000")
        for n in range(KEEP + 4):
            restore(copy, self.database, self.folder / "b", f"20260102-{n:06}")
        made, _ = backup(self.database, self.folder / "b", "20260103-000000")
        self.assertTrue(made.exists() and copy.exists())
        self.assertEqual(len(list((self.folder / "b").glob("aestiva-before-*.sqlite3"))), KEEP)

    def test_back_from_a_damaged_a_foreign_an_empty_and_an_absent_database(self) -> None:
        copy, _ = backup(self.database, self.folder / "b", "1")
        whole = self.database.read_bytes()
        for n, content in enumerate((whole[:3000] + b"\xff" * 5000, b"garbage" * 900, b"", None)):
            self.database.unlink(missing_ok=True)
            if content is not None:
                self.database.write_bytes(content)
            for end in ("-wal", "-shm"):
                self.database.with_name(self.database.name + end).write_bytes(b"left lying")
            done = restore(copy, self.database, self.folder / "b", f"2026010{n}-000000")
            self.assertEqual((done.gardens, done.sound, check(self.database)), (3, False, 3))
            if content:
                assert done.kept is not None
                self.assertEqual(done.kept.read_bytes(), content)  # nothing is thrown away, be it damaged
        left = {p.name for p in self.folder.iterdir()}
        self.assertEqual(left, {"aestiva.sqlite3", "b"})
        self.assertFalse([p for p in (self.folder / "b").iterdir() if p.name.endswith(("-wal", "-shm", ".part"))])
        self.assertTrue(all(p.stat().st_size for p in (self.folder / "b").iterdir()))

    def test_flipped_bytes_that_sqlite_would_take_are_caught(self) -> None:
        copy, _ = backup(self.database, self.folder / "b", "1")
        content = copy.read_bytes()
        at = content.index(b"garden 1garden 1")
        copy.write_bytes(content[:at] + b"GARDEN" + content[at + 6 :])
        sum_of(copy).rename(self.folder / "sum")
        self.assertEqual(check(copy), 3)  # without its checksum nobody could tell
        (self.folder / "sum").rename(sum_of(copy))
        with self.assertRaisesMessage(BadBackup, "not those of the copy"):
            restore(copy, self.database, self.folder / "b", "2")

    def test_only_the_owner_can_read_what_is_kept(self) -> None:
        copy, _ = backup(self.database, self.folder / "b", "1")
        rights = [oct(p.stat().st_mode & 0o777) for p in (copy, sum_of(copy), self.folder / "b")]
        self.assertEqual(rights, ["0o600", "0o600", "0o700"])
        with self.assertRaisesMessage(BadBackup, "is not there"):
            backup(self.folder / "nowhere.sqlite3", self.folder / "b", "2")
        self.assertFalse((self.folder / "nowhere.sqlite3").exists())
