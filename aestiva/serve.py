"""`python -m aestiva.serve HOST PORT`: the application behind waitress."""

import gc
import sys

from django.conf import settings
from waitress import serve

from aestiva.wsgi import application


def settle() -> None:
    """Spare requests needless looks through memory: what start-up made stays, and a page of hundreds of plantings
    makes tens of thousands of small results that reference counting alone frees."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 50)


if __name__ == "__main__":
    host, port = [*sys.argv[1:], "127.0.0.1", "8000"][:2]
    settle()
    serve(application, host=host, port=int(port), threads=4, max_request_body_size=settings.UPLOAD_LIMIT + 1024 * 1024)
