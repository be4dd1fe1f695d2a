"""Somebody's file read apart: in a process of its own, which may take so much memory and time and no more.

`python -m aestiva.apart module:function` gets a line of JSON and the file on its standard input, and answers with JSON.
The functions are the readers of `growing`; this knows neither rows nor pages.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
from collections.abc import Callable, Mapping
from importlib import import_module
from pathlib import Path
from tempfile import TemporaryFile
from typing import Any

MOST_MEMORY = 700 * 1024 * 1024  # of addresses, of which numbers' libraries alone reserve half
MOST_SECONDS = 20
LOOK_S = 0.5
_ONE_THREAD = {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}  # each would reserve addresses of its own

FileReader = Callable[[bytes, Mapping[str, Any]], dict[str, Any]]


class TooHard(Exception):
    """The file took more memory or time than it may, or could not be read at all."""


def reader_of(name: str) -> FileReader:
    """The function that a name such as "growing.files.sheet:read_apart" is of."""
    module, function = name.split(":")
    found: FileReader = getattr(import_module(module), function)
    return found


def read_apart(name: str, data: bytes, options: Mapping[str, Any], beat: Callable[[], None]) -> dict[str, Any]:
    """What that reader finds in the file; raises TooHard.  beat: called while it reads, may raise to end it."""
    with TemporaryFile() as given, TemporaryFile() as told:
        given.write(json.dumps(dict(options)).encode() + b"\n" + data)
        given.seek(0)
        process = subprocess.Popen(
            [sys.executable, "-W", "ignore", "-m", "aestiva.apart", name],
            stdin=given, stdout=told, stderr=subprocess.DEVNULL, env={**os.environ, **_ONE_THREAD}, cwd=Path(__file__).parent.parent,
        )  # fmt: skip
        try:
            while True:
                beat()
                try:
                    process.wait(LOOK_S)
                    break
                except subprocess.TimeoutExpired:
                    continue
        finally:
            process.kill()
            process.wait()
        told.seek(0)
        if process.returncode != 0:
            raise TooHard
        found: dict[str, Any] = json.loads(told.read())
        return found


def limit() -> None:
    """From here on this process has its bounds."""
    try:
        import resource
    except ImportError:  # a system without such limits
        return
    resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, MOST_MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (MOST_SECONDS, MOST_SECONDS + 1))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


def main(name: str) -> None:
    limit()
    options = json.loads(sys.stdin.buffer.readline())
    found = reader_of(name)(sys.stdin.buffer.read(), options)
    sys.stdout.write(json.dumps(found, separators=(",", ":")))


if __name__ == "__main__":
    main(sys.argv[1])
