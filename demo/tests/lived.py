"""Quarry Lane as it was lived until its day: once for all tests of a run.

AESTIVA_LIVED names a file that holds it, if it was brought in already.
"""

from __future__ import annotations

import os
import sqlite3
from contextlib import closing
from pathlib import Path

from django.db import connection, transaction

from aestiva.course.kept import forget
from aestiva.gardens.models import Garden
from demo.scenario import build


def quarry_lane() -> Garden:
    """The garden in the database in use: copied where a file holds it, brought in otherwise."""
    file = os.environ.get("AESTIVA_LIVED", "")
    if not file or not Path(file).exists():
        return build()
    with closing(sqlite3.connect(file)) as theirs, transaction.atomic(), connection.cursor() as here:
        for table in connection.introspection.table_names(here):
            found = theirs.execute(f'SELECT * FROM "{table}"')
            names = ", ".join(f'"{column[0]}"' for column in found.description)
            marks = ", ".join("?" * len(found.description))
            into = (
                f'INSERT OR IGNORE INTO "{table}" ({names}) VALUES ({marks})'  # what migrations wrote is there already
            )
            here.cursor.executemany(into, found.fetchall())
    forget()
    return Garden.objects.get(name="Quarry Lane")
