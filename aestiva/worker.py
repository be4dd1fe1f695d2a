"""`python -m aestiva.worker`: long work in a process of its own, less urgent than any page; it ends with its parent."""

from __future__ import annotations

import os
import threading
import time

import django
from django.core.management import call_command

LOOK_S = 0.5
NICE = 10


def end_with(parent: int) -> None:
    """End as soon as the process that began this one is gone."""
    while os.getppid() == parent:
        time.sleep(1)
    os._exit(0)


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "aestiva.settings")
    if hasattr(os, "nice"):
        os.nice(NICE)
    threading.Thread(target=end_with, args=(os.getppid(),), daemon=True).start()
    django.setup()
    call_command("db_worker", interval=LOOK_S, verbosity=0)


if __name__ == "__main__":
    main()
