"""`python -m aestiva.serve HOST PORT`: the application behind waitress."""

import gc
import sys

from django.conf import settings
from waitress import serve

from aestiva.wsgi import application

if __name__ == "__main__":
    host, port = [*sys.argv[1:], "127.0.0.1", "8000"][:2]
    gc.collect()
    gc.freeze()  # what start-up made stays: requests need not look through it again
    serve(application, host=host, port=int(port), threads=4, max_request_body_size=settings.UPLOAD_LIMIT + 1024 * 1024)
