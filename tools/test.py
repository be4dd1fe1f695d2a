"""`make test`: lint, types, layers, templates, then unit and browser tests; closes with "N passed, N failed".

Each part is a name: check, unit, browser; without one, all of them. Two jobs run at a time, the long ones first; every
job of tests has a database file of its own, copied from one that all migrations have made, and copies the demo from a file
into which it was brought once.
"""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
BIN = ROOT / ".venv" / "bin"
MEMORY = Path("/dev/shm")  # databases of tests need not outlive a power cut: no commit waits for a disk
CHECKS = {
    "mypy": [BIN / "mypy", "growing", "aestiva", "demo", "measures", "soak"],
    "layers": [BIN / "lint-imports"],
    "templates": [BIN / "djlint", "--lint", "--quiet", "aestiva"],
    "migrations": [BIN / "python", "manage.py", "makemigrations", "--check", "--dry-run"],
    "ruff": [BIN / "ruff", "check", "."],
    "format": [BIN / "ruff", "format", "--check", "."],
}
DJANGO = [BIN / "python", "-W", "ignore", "manage.py", "test"]
UNIT = {
    # the long ones first: at the end both processes have something left
    "unit": [
        *DJANGO,
        "--parallel",
        "2",
        "--exclude-tag",
        "several",
        "--exclude-tag",
        "long",
        "demo",
        "aestiva",
        "growing",
    ],
    "several": [*DJANGO, "--tag", "several", "aestiva"],  # writers at once, on a database file
}
BROWSERS = 4  # as many jobs; each takes the next file, the longest first


def browsers() -> dict[str, list[object]]:
    """The browser's tests in a few jobs of about the same length."""
    shares: list[tuple[int, list[str]]] = [(0, []) for _ in range(BROWSERS)]
    for size, name in sorted(((f.stat().st_size, f.stem) for f in (ROOT / "e2e").glob("test_*.py")), reverse=True):
        least = shares.index(min(shares))
        shares[least] = shares[least][0] + size, [*shares[least][1], f"e2e.{name}"]
    return {f"browser {n}": [*DJANGO, *names] for n, (_, names) in enumerate(shares, 1)}


PARTS = {"unit": UNIT, "browser": browsers(), "check": CHECKS}


def environment(data: str, name: str) -> dict[str, str]:
    """A place for one job's data; what one compiles, the others and the commands that tests start find compiled."""
    Path(data, name).mkdir()
    env = {key: value for key, value in os.environ.items() if key != "PYTHONDONTWRITEBYTECODE"}
    env["PYTHONPYCACHEPREFIX"] = f"{data}/compiled"
    return {**env, "AESTIVA_DATA": f"{data}/{name}", "DJANGO_SETTINGS_MODULE": "aestiva.settings"}


def migrated(data: str) -> Path | None:
    """A database that all migrations have made, for those jobs to begin with that have a file of their own; None: it could not be made."""
    env = environment(data, "migrated")
    made = subprocess.run(
        [str(BIN / "python"), "-W", "ignore", "manage.py", "migrate", "-v", "0"], cwd=ROOT, env=env, capture_output=True
    )
    files = sorted(Path(env["AESTIVA_DATA"]).glob("*.sqlite3"))
    return files[0] if made.returncode == 0 and len(files) == 1 else None


def lived(data: str, ready: Path) -> bool:
    """The demo as it was lived until its day, for all jobs to copy; was it made?"""
    begun, file = Path(f"{data}/living.sqlite3"), Path(f"{data}/lived.sqlite3")
    shutil.copy(ready, begun)
    env = environment(data, "living")
    env["DATABASE_URL"], env["AESTIVA_DEMO"] = f"sqlite:///{begun}", "1"
    began = time.monotonic()
    live = [str(BIN / "python"), "-W", "ignore", "manage.py", "shell", "-c", "from demo.scenario import build; build()"]
    done = subprocess.run(live, cwd=ROOT, env=env, text=True, capture_output=True)
    if done.returncode == 0:
        begun.replace(file)
    said = f"the demo: {'lived' if done.returncode == 0 else 'FAILED'} ({time.monotonic() - began:.0f} s)"
    print(said if done.returncode == 0 else f"{said}\n{done.stderr}", flush=True)
    return done.returncode == 0


def beginning(data: str) -> tuple[Path | None, bool]:
    """The database that all migrations have made, and whether the demo could be lived in it."""
    ready = migrated(data)
    return ready, ready is None or lived(data, ready)


def job(name: str, command: list[object], data: str, ready: Path | None) -> tuple[int, int]:
    """Passed and failed of one command: a check is one, a run of Django's test runner as many as it ran."""
    env = environment(data, name)
    env["TMPDIR"] = data
    env["AESTIVA_LIVED"] = f"{data}/lived.sqlite3"
    if ready is not None:
        env["AESTIVA_MIGRATED"] = str(ready)  # for tests of commands, which would make one of their own
    if name not in CHECKS:
        env["AESTIVA_TEST_DB"] = f"{data}/{name}/test.sqlite3"
        if ready is not None:
            shutil.copy(ready, env["AESTIVA_TEST_DB"])
            command = [*command, "--keepdb"]
    began = time.monotonic()
    done = subprocess.run([str(c) for c in command], cwd=ROOT, env=env, text=True, capture_output=True)
    good, output = done.returncode == 0, done.stdout + done.stderr
    said = f"{name}: {'ok' if good else 'FAILED'} ({time.monotonic() - began:.0f} s)"
    print(said if good else f"{said}\n{output}", flush=True)
    if name in CHECKS:
        return int(good), int(not good)
    ran = int(found[1]) if (found := re.search(r"Ran (\d+) tests?", output)) else 0
    failed = sum(int(n) for n in re.findall(r"(?:failures|errors|unexpected successes)=(\d+)", output))
    failed = failed or int(not good)
    return max(0, ran - failed), failed


def main(wanted: list[str]) -> int:
    jobs = {name: command for part in wanted or PARTS for name, command in PARTS[part].items()}
    checks = {name: command for name, command in jobs.items() if name in CHECKS}
    tests = {name: command for name, command in jobs.items() if name not in CHECKS}
    with tempfile.TemporaryDirectory(dir=MEMORY if MEMORY.is_dir() else None) as data, ThreadPoolExecutor(2) as pool:
        living = pool.submit(beginning, data) if tests else None  # while it is lived, the checks run beside it
        checked = pool.map(lambda one: job(*one, data, None), checks.items())
        ready, good = (None, True) if living is None else living.result()
        if not good:
            return 1
        tested = pool.map(lambda one: job(*one, data, ready), tests.items())
        counts = [*checked, *tested]
    passed, failed = (sum(column) for column in zip(*counts, strict=True))
    print(f"{passed} passed, {failed} failed")
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
