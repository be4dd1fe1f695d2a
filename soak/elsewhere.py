"""The same attack on PostgreSQL: a database of its own for the time being, and two servers in front of it."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
import sys
import tempfile
from pathlib import Path

from soak.ground import ROOT, report


def _bin() -> Path | None:
    """Where PostgreSQL's own commands are."""
    return max(Path("/usr/lib/postgresql").glob("*/bin/pg_ctl"), default=None)


def on_postgres(attack: str = "forms") -> bool:
    """`make soak ONLY=…` for one attack, in a process of its own, on a fresh PostgreSQL; needs it and psycopg installed."""
    pg_ctl = _bin()
    if pg_ctl is None:
        return report(
            f"{attack} on PostgreSQL", False, "no PostgreSQL here: apt-get install postgresql, make .venv/host.done"
        )
    with tempfile.TemporaryDirectory() as where, socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
        free.close()
        shutil.chown(where, "postgres") if os.getuid() == 0 else None
        as_it = ["su", "postgres", "-c"] if os.getuid() == 0 else ["sh", "-c"]
        data = f"{where}/data"
        start = f"{pg_ctl.parent}/initdb -D {data} -A trust -U aestiva -E UTF8 --locale=C >/dev/null && "
        start += f"{pg_ctl} -D {data} -w -l {where}/log -o '-p {port} -k {where} -c listen_addresses=127.0.0.1' start >/dev/null"
        subprocess.run([*as_it, start], check=True, cwd="/")
        try:
            subprocess.run(
                [*as_it, f"{pg_ctl.parent}/createdb -h {where} -p {port} -U aestiva aestiva"], check=True, cwd="/"
            )
            env = {**os.environ, "DATABASE_URL": f"postgres://aestiva@127.0.0.1:{port}/aestiva"}
            env.pop("AESTIVA_DATA", None)
            command = [sys.executable, "-W", "ignore", "-m", "soak.run", attack]
            return subprocess.run(command, cwd=ROOT, env=env).returncode == 0
        finally:
            subprocess.run([*as_it, f"{pg_ctl} -D {data} -m immediate stop >/dev/null"], check=False, cwd="/")
