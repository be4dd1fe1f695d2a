"""A full disk, a read-only file, a busy or damaged database: a sentence and what to do, never a traceback."""

from __future__ import annotations

import errno
import io
import os
import shutil
import sqlite3
import stat
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from unittest import mock, skipUnless

from django.conf import settings
from django.core import signing
from django.core.signals import request_finished, request_started
from django.db import OperationalError, close_old_connections, connection
from django.test import Client, SimpleTestCase

from aestiva import disk
from aestiva.accounts.sessions import LASTS, SIGNED, SessionStore
from aestiva.frame.cache import FolderCache
from aestiva.frame.tests.garden import GardenCase
from aestiva.place import fitted
from aestiva.season.models import Spot


class NoRoom(GardenCase):
    """Nothing can be written: reading, logging in and taking the garden along go on."""

    def lay_out(self) -> None:
        super().lay_out()
        self.sown("tomato", 10)

    def test_a_cache_that_cannot_be_written_or_is_cut_off_is_no_cache(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            kept = FolderCache(f"{folder}/cache", {})
            kept.set("a", "there")
            self.assertEqual(kept.get("a"), "there")
            (file,) = Path(folder, "cache").iterdir()
            file.write_bytes(file.read_bytes()[:-4])
            self.assertEqual(kept.get("a", "none"), "none")
            with mock.patch("tempfile.mkstemp", side_effect=OSError(errno.ENOSPC, "No space left on device")):
                kept.set("b", "lost")
            self.assertIsNone(kept.get("b"))

    def test_what_cannot_be_kept_troubles_no_later_request(self) -> None:
        broken = mock.Mock(spec=fitted.Answers)
        broken.keep.side_effect = OSError(errno.ENOSPC, "No space left on device")
        fitted.begin_answers()
        fitted._local.grown.append(broken)
        with self.assertRaises(OSError):
            fitted.keep_answers()
        fitted.keep_answers()
        self.assertEqual(broken.keep.call_count, 1)

    @skipUnless(connection.vendor == "sqlite", "asks SQLite to refuse")
    def test_one_logs_in_reads_and_exports(self) -> None:
        browser = Client()
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA query_only = 1")
        try:
            form = {"username": self.owner.email, "password": "a long pass phrase"}
            answer = browser.post("/account/log-in/", form, follow=True)
            self.assertEqual(answer.redirect_chain[-1][0], self.url("today/"))
            for rest in ("today/", "plan/", "garden.json", "tasks.csv", "calendar/"):
                self.assertEqual(browser.get(self.url(rest)).status_code, 200, rest)
            signed = browser.cookies["sessionid"].value
            self.assertTrue(signed.startswith(SIGNED))
            browser.cookies["sessionid"] = signed[:-3] + "abc"
            self.assertEqual(browser.get(self.url("today/")).status_code, 302)
            browser.cookies["sessionid"] = signed
        finally:
            with connection.cursor() as cursor:
                cursor.execute("PRAGMA query_only = 0")
        with mock.patch.object(signing.time, "time", return_value=time.time() + 2 * LASTS.total_seconds()):
            self.assertEqual(browser.get(self.url("today/")).status_code, 302)

    def test_no_get_writes_a_session(self) -> None:
        self.post("spots/new/", code="Z1", kind="shelf")  # with a message for the next page
        with mock.patch.object(SessionStore, "save", side_effect=AssertionError("a session is written")):
            for rest in ("today/", "plan/", "calendar/", "members/"):
                self.assertEqual(self.client.get(self.url(rest)).status_code, 200)
        self.assertRedirects(self.client.get("/"), self.url("today/"), fetch_redirect_response=False)


class Pages(GardenCase):
    def setUp(self) -> None:
        super().setUp()
        self.client.raise_request_exception = False

    def test_what_storage_refuses_is_said(self) -> None:
        for error, said in (
            (OperationalError("database or disk is full"), "The disk is full"),
            (OperationalError("attempt to write a readonly database"), "read-only"),
            (OperationalError("database is locked"), "very busy"),
            (OSError(errno.EROFS, "Read-only file system"), "read-only"),
            (OSError(errno.ENOSPC, "No space left on device"), "The disk is full"),
            (sqlite3.DatabaseError("database disk image is malformed"), "make restore"),
        ):
            with self.subTest(said), mock.patch.object(Spot, "save", side_effect=error):
                answer = self.post("spots/new/", code="Z1", kind="shelf")
                self.assertContains(answer, said, status_code=503)
                self.assertNotContains(answer, "Traceback", status_code=503)
        self.assertFalse(Spot.objects.filter(code="Z1").exists())
        with mock.patch.object(Spot, "save", side_effect=ZeroDivisionError):
            self.assertContains(
                self.post("spots/new/", code="Z1", kind="shelf"), "Something went wrong", status_code=500
            )

    @skipUnless(connection.vendor == "sqlite", "asks SQLite to refuse")
    def test_a_database_that_cannot_be_written_still_shows_its_pages(self) -> None:
        self.client.get(self.url("today/"))
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA query_only = 1")
        try:
            self.assertEqual(self.client.get(self.url("plan/")).status_code, 200)
            self.assertContains(self.post("spots/new/", code="Z1", kind="shelf"), "read-only", status_code=503)
        finally:
            with connection.cursor() as cursor:
                cursor.execute("PRAGMA query_only = 0")

    def test_head_has_the_headers_of_get_and_no_body(self) -> None:
        from aestiva.wsgi import application

        def ask(method: str) -> tuple[str, dict[str, str], bytes]:
            said: dict[str, object] = {}

            def start(status: str, headers: list[tuple[str, str]], *more: object) -> None:
                said.update(status=status, headers=dict(headers))

            environ = {"REQUEST_METHOD": method, "PATH_INFO": "/account/log-in/", "SERVER_NAME": "localhost", "SERVER_PORT": "80",
                       "wsgi.input": io.BytesIO(), "wsgi.url_scheme": "http", "HTTP_HOST": "localhost"}  # fmt: skip
            body = b"".join(application(environ, start))
            return str(said["status"]), said["headers"], body  # type: ignore[return-value]

        for signal in (request_started, request_finished):  # asked directly, it would close the test's own connection
            signal.disconnect(close_old_connections)
            self.addCleanup(signal.connect, close_old_connections)
        status, headers, body = ask("HEAD")
        self.assertEqual((status, body), ("200 OK", b""))
        self.assertGreater(int(headers["Content-Length"]), 1000)
        self.assertGreater(len(ask("GET")[2]), 1000)

    def test_only_named_hosts_are_answered(self) -> None:
        self.assertEqual(Client().get("/", headers={"Host": "elsewhere.example"}).status_code, 400)


class Commands(SimpleTestCase):
    def run_in(self, folder: str, *command: str) -> subprocess.CompletedProcess[str]:
        env = {**os.environ, "AESTIVA_DATA": folder, "AESTIVA_DEMO": "0"}
        for name in ("DATABASE_URL", "AESTIVA_TEST_DB"):
            env.pop(name, None)
        return subprocess.run(
            [sys.executable, "manage.py", *command], cwd=settings.BASE_DIR, env=env, capture_output=True, text=True
        )

    def test_commands_end_with_a_sentence(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            (Path(folder) / "aestiva.sqlite3").write_bytes(b"garbage" * 900)
            for command in (("migrate",), ("backup",), ("restore", f"{folder}/nowhere.sqlite3"), ("restore",)):
                with self.subTest(command):
                    done = self.run_in(folder, *command)
                    self.assertNotEqual(done.returncode, 0)
                    self.assertNotIn("Traceback", done.stderr + done.stdout)
                    self.assertTrue(done.stderr.strip())
            blocked = self.run_in(f"{folder}/aestiva.sqlite3/inside", "check")
            self.assertIn("cannot make its data folder", blocked.stderr)

    def test_data_are_for_their_owner_alone(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            data = Path(folder) / "data"
            data.mkdir(mode=0o755)
            if ready := os.environ.get("AESTIVA_MIGRATED"):  # what `make test` has made for all
                shutil.copy(ready, data / "aestiva.sqlite3")
            (data / "aestiva.sqlite3").touch()
            (data / "aestiva.sqlite3").chmod(0o644)
            self.assertEqual(self.run_in(str(data), "migrate", "-v", "0").returncode, 0)
            self.assertEqual(self.run_in(str(data), "backup").returncode, 0)
            for path in (data, *data.rglob("*")):
                wanted = 0o700 if path.is_dir() else 0o600
                self.assertEqual(stat.S_IMODE(path.stat().st_mode), wanted, path)

    def test_what_is_no_matter_of_storage_is_raised(self) -> None:
        with self.assertRaises(ZeroDivisionError):
            disk.guarded(lambda: 1 / 0)
        for error, said in ((OperationalError("no such table"), ""), (None, ""), (OSError(errno.ENOENT, "x"), "")):
            self.assertEqual(disk.words(error), said)
        with self.assertRaises(SystemExit) as caught:
            disk.guarded(mock.Mock(side_effect=OSError(errno.ENOSPC, "No space left on device")))
        self.assertIn("The disk is full", str(caught.exception))

    @skipUnless(connection.vendor == "sqlite", "a setting of SQLite")
    def test_what_is_acknowledged_is_on_the_disk(self) -> None:
        self.assertIn("synchronous=FULL", settings.DATABASES["default"]["OPTIONS"]["init_command"])
