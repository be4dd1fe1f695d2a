"""`python -m aestiva.serve HOST PORT`: the application behind waitress."""

from __future__ import annotations

import gc
import os
import sys

import django
from django.conf import settings
from django.core.management import call_command
from waitress import serve

from aestiva import disk


def settle() -> None:
    """Spare requests needless looks through memory: what start-up made stays, and a page of hundreds of plantings
    makes tens of thousands of small results that reference counting alone frees."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 50)


def main(host: str = "127.0.0.1", port: str = "8000") -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "aestiva.settings")
    os.environ["AESTIVA_COLLECTED"] = "1"
    django.setup()
    call_command("collectstatic", interactive=False, verbosity=0)
    from aestiva.wsgi import application

    settle()
    serve(application, host=host, port=int(port), threads=4, max_request_body_size=settings.UPLOAD_LIMIT + 1024 * 1024)


if __name__ == "__main__":
    disk.guarded(lambda: main(*sys.argv[1:3]))
