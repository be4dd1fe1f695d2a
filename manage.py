#!/usr/bin/env python
"""Aestiva's command line."""

import os
import sys

from aestiva import disk


def main() -> None:
    from django.core.management import execute_from_command_line

    execute_from_command_line(sys.argv)


if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "aestiva.settings")
    disk.guarded(main)
