"""Writes the counts of docs/sources.md anew from the crop library."""

from __future__ import annotations

import re
import sys
from collections import Counter
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from growing.crops import library  # noqa: E402
from growing.practices import BY_FIELD  # noqa: E402

page = ROOT / "docs" / "sources.md"
text = page.read_text(encoding="utf-8")
for kind, count in Counter(
    v.source.split(":")[0] for c in library().values() for v in c.values.values() if v.name not in BY_FIELD
).items():
    text = re.sub(rf"^(\| {kind} \|.*\| )\d+ \|$", rf"\g<1>{count} |", text, flags=re.M)
page.write_text(text, encoding="utf-8")
