"""How Django runs our tests: what is written past the journal, as tests do when they set the scene, drops the seasons that pages
keep; and what a request writes must raise a revision of its garden, or pages would go on showing the season before."""

from __future__ import annotations

import re
import threading
from collections.abc import Callable
from typing import Any

from django.core.signals import request_finished, request_started
from django.db import connection
from django.db.backends.signals import connection_created
from django.test.runner import DiscoverRunner

from aestiva.serve import settle

WRITES = re.compile(r'\s*(?:INSERT INTO|INSERT OR IGNORE INTO|UPDATE|DELETE FROM)\s+"(\w+)"')
MAKES = re.compile(r'\s*(?:INSERT INTO|DELETE FROM) "gardens_garden"')
TAKES_BACK = re.compile(r"\s*ROLLBACK")
RAISES = re.compile(r'\s*UPDATE "gardens_garden" SET.*"\w*revision" =')
READ_BY_NO_SEASON = re.compile(
    r"django_|axes_|accounts_|gardens_(journal|job|invitation|columnmeaning)|place_feed|today_calendarlink|bench_helplink"
)
_written = threading.local()


def watch(connection: Any, **signal: object) -> None:
    """Look at every statement of a new connection."""
    if looked_at not in connection.execute_wrappers:
        connection.execute_wrappers.append(looked_at)


def looked_at(execute: Callable[..., Any], sql: str, params: Any, many: bool, context: Any) -> Any:
    """Carry out a statement; where it writes, or takes back what was written, no season stands any more."""
    from aestiva.course.kept import forget

    table, tables = WRITES.match(sql), _tables()
    if table:
        tables.add("a revision" if RAISES.match(sql) else "a garden" if MAKES.match(sql) else table[1])
    elif TAKES_BACK.match(sql):
        tables.clear()
    else:
        return execute(sql, params, many, context)
    if (
        not _written.__dict__.get("serves") or not table
    ):  # a request raises a revision itself, as it must where no test looks
        forget()
    return execute(sql, params, many, context)


def _tables() -> set[str]:
    """What the request that this thread serves has written to."""
    return getattr(_written, "tables", set())


def begin(**signal: object) -> None:
    _written.tables, _written.serves = set(), True


def end(**signal: object) -> None:
    tables = _tables()
    _written.tables, _written.serves = set(), False
    if not connection.in_atomic_block:
        return  # where tests write for good, a rollback is no statement
    of_a_season = {table for table in tables if not READ_BY_NO_SEASON.match(table)}
    if of_a_season and tables.isdisjoint({"a revision", "a garden"}):
        raise AssertionError(f"a request wrote to {sorted(of_a_season)} and raised no revision of its garden")


class Runner(DiscoverRunner):
    def setup_databases(self, **kwargs: Any) -> Any:
        settle()  # as the server does once it has started
        connection_created.connect(watch, dispatch_uid="look at statements")
        request_started.connect(begin, dispatch_uid="statements of a request begin")
        request_finished.connect(end, dispatch_uid="statements of a request")
        return super().setup_databases(**kwargs)
