"""`make audit`: are there known holes in what is installed?  Fails, and says so, when it could look nothing up."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

BIN = Path(__file__).resolve().parent.parent / ".venv" / "bin"


def verdict(output: str, errors: str) -> tuple[int, str]:
    """Exit code and words for what pip-audit wrote."""
    try:
        found = json.loads(output)["dependencies"]
    except (ValueError, KeyError, TypeError):
        return 2, f"Nothing was looked up: {errors.strip().splitlines()[-1] if errors.strip() else 'no answer'}"
    skipped = [one["name"] for one in found if "skip_reason" in one]
    holes = [f"{one['name']} {one['version']}: {v['id']}" for one in found for v in one.get("vulns", ())]
    looked = len(found) - len(skipped)
    if not looked:
        return 2, "Nothing was looked up: the list of known holes could not be reached."
    said = [f"{looked} packages looked up, {len(holes)} known holes.", *holes]
    if skipped:
        said.append(f"Not looked up: {', '.join(skipped)}.")
    return 1 if holes or skipped else 0, "\n".join(said)


def main() -> int:
    command = [
        str(BIN / "pip-audit"),
        "--require-hashes",
        "-r",
        "requirements/base.txt",
        "--format",
        "json",
        "--progress-spinner",
        "off",
    ]
    done = subprocess.run(command, capture_output=True, text=True)
    code, said = verdict(done.stdout, done.stderr)
    print(said)
    return code


if __name__ == "__main__":
    sys.exit(main())
