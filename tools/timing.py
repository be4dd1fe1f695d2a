"""`make timing`: how long each test takes and each file together, the slowest first; ONLY=app.tests.file for some.

A test runner that writes a line a test; Python's own `--durations` comes with a later release.
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
import unittest
from collections import defaultdict
from pathlib import Path
from typing import Any

from django.test import runner

from tools.runner import Runner as OurRunner

MOST = 25
_NOTES = "AESTIVA_TIMING"


def _note(name: str, seconds: float) -> None:
    with open(os.environ[_NOTES], "a", encoding="utf-8") as file:
        file.write(f"{seconds:.3f} {name}\n")


class _Timed:
    """Around each test, its set-up and tear-down included, in whichever process it runs."""

    def startTest(self, test: Any) -> None:
        self._began = time.monotonic()
        super().startTest(test)  # type: ignore[misc]

    def stopTest(self, test: Any) -> None:
        _note(test.id(), time.monotonic() - self._began)
        super().stopTest(test)  # type: ignore[misc]


class Remote(_Timed, runner.RemoteTestResult):
    pass


class RemoteRunner(runner.RemoteTestRunner):
    resultclass = Remote


class Suite(runner.ParallelTestSuite):
    runner_class = RemoteRunner


class Alone(_Timed, unittest.TextTestResult):
    """Where all run in one process, as those of the browser do."""


class Runner(OurRunner):
    parallel_test_suite = Suite

    def get_resultclass(self) -> type[unittest.TextTestResult]:
        return Alone


def main(wanted: list[str]) -> None:
    import subprocess

    with tempfile.TemporaryDirectory() as data:
        notes = Path(data, "notes")
        env = {**os.environ, _NOTES: str(notes), "AESTIVA_DATA": f"{data}/data"}
        labels = wanted or ["growing", "aestiva", "demo"]
        browsers = any(label.startswith("e2e") for label in labels)
        together = [] if browsers else ["--parallel", "2"]  # one browser at a time
        command = [
            sys.executable,
            "-W",
            "ignore",
            "manage.py",
            "test",
            "--testrunner",
            "tools.timing.Runner",
            *together,
        ]
        subprocess.run([*command, "--exclude-tag", "several", *labels], env=env, check=False)
        rows = [line.split(" ", 1) for line in notes.read_text().splitlines()]
    tests = sorted(((float(seconds), name) for seconds, name in rows), reverse=True)
    files: dict[str, float] = defaultdict(float)
    for seconds, name in tests:
        files[name.rsplit(".", 2)[0]] += seconds
    for title, found in (("files", sorted(((s, n) for n, s in files.items()), reverse=True)), ("tests", tests)):
        print(f"\n{title}: {sum(s for s, _ in found):.0f} s of processors")
        for seconds, name in found[:MOST]:
            print(f"{seconds:8.2f}  {name}")


if __name__ == "__main__":
    main(sys.argv[1:])
