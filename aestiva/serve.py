"""`python -m aestiva.serve HOST PORT`: the application behind waitress."""

from __future__ import annotations

import gc
import os
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager

import django
from django.conf import settings
from django.core.management import call_command
from waitress import serve

from aestiva import disk

REST_S = 2.0
THREADS = 8


def settle() -> None:
    """Spare requests needless looks through memory: what start-up made stays, and a page of hundreds of plantings
    makes tens of thousands of small results that reference counting alone frees."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(200_000, 20, 50)


def main(host: str = "127.0.0.1", port: str = "8000") -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "aestiva.settings")
    os.environ["AESTIVA_COLLECTED"] = "1"
    django.setup()
    call_command("collectstatic", interactive=False, verbosity=0)
    from aestiva.wsgi import application

    settle()
    with worker():
        serve(
            application,
            host=host,
            port=int(port),
            threads=THREADS,
            max_request_body_size=settings.UPLOAD_LIMIT + 1024 * 1024,
            clear_untrusted_proxy_headers=False,  # `frame.middleware.Proxies` sees to them
        )


@contextmanager
def worker() -> Iterator[None]:
    """A worker for long work while the server runs: begun again when it ends, ended with the server."""
    over = threading.Event()
    running: list[subprocess.Popen[bytes]] = []

    def keep() -> None:
        while not over.is_set():
            running[:] = [subprocess.Popen([sys.executable, "-m", "aestiva.worker"])]
            running[0].wait()
            over.wait(REST_S)  # a worker that cannot begin is not begun all the time

    keeper = threading.Thread(target=keep, daemon=True)
    keeper.start()
    try:
        yield
    finally:
        over.set()
        for process in running:
            process.terminate()


if __name__ == "__main__":
    disk.guarded(lambda: main(*sys.argv[1:3]))
