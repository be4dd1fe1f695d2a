"""`make test`: lint, types, layers, templates, then unit and browser tests; closes with "N passed, N failed".

Each part is a name: check, unit, browser; without one, all of them.
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tempfile
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
BIN = ROOT / ".venv" / "bin"
CHECKS = {
    "ruff": [BIN / "ruff", "check", "."],
    "format": [BIN / "ruff", "format", "--check", "."],
    "mypy": [BIN / "mypy", "growing", "aestiva", "demo", "measures"],
    "layers": [BIN / "lint-imports"],
    "templates": [BIN / "djlint", "--lint", "--quiet", "aestiva"],
    "migrations": [BIN / "python", "manage.py", "makemigrations", "--check", "--dry-run"],
}


def run(name: str, command: list[object], env: dict[str, str]) -> tuple[bool, str]:
    began = time.monotonic()
    done = subprocess.run([str(c) for c in command], cwd=ROOT, env=env, text=True, capture_output=True)
    output = done.stdout + done.stderr
    print(f"{name}: {'ok' if done.returncode == 0 else 'FAILED'} ({time.monotonic() - began:.0f} s)", flush=True)
    if done.returncode:
        print(output, flush=True)
    return done.returncode == 0, output


def tests(name: str, labels: list[str], env: dict[str, str]) -> tuple[int, int]:
    """Passed and failed of one run of Django's test runner."""
    parallel = ["--parallel", "2"] if name == "unit" else []
    good, output = run(name, [BIN / "python", "-W", "ignore", "manage.py", "test", *parallel, *labels], env)
    ran = int(found[1]) if (found := re.search(r"Ran (\d+) tests?", output)) else 0
    failed = sum(int(n) for n in re.findall(r"(?:failures|errors|unexpected successes)=(\d+)", output))
    if not good and not failed:
        failed = 1
    return max(0, ran - failed), failed


def main(wanted: list[str]) -> int:
    passed = failed = 0
    with tempfile.TemporaryDirectory() as data:
        env = {**os.environ, "AESTIVA_DATA": data, "DJANGO_SETTINGS_MODULE": "aestiva.settings"}
        if not wanted or "check" in wanted:
            for name, command in CHECKS.items():
                good, _ = run(name, command, env)
                passed, failed = passed + good, failed + (not good)
        for name, labels in (("unit", ["growing", "aestiva", "demo"]), ("browser", ["e2e"])):
            if wanted and name not in wanted:
                continue
            file_database = {**env, "AESTIVA_TEST_DB": f"{data}/{name}.sqlite3"} if name == "browser" else env
            good, bad = tests(name, labels, file_database)
            passed, failed = passed + good, failed + bad
    print(f"{passed} passed, {failed} failed")
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
