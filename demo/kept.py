"""The demo's gardens as they were lived once: documents that come in within seconds; `make demo-data` lives them anew."""

from __future__ import annotations

import gzip
import json
from pathlib import Path

from aestiva.gardens import portable
from aestiva.gardens.bring_in import bring_in
from aestiva.gardens.document import read_document
from aestiva.gardens.models import Garden
from demo.story import grower

HERE = Path(__file__).parent / "lived"


def file_of(name: str) -> Path:
    return HERE / f"{name}.json.gz"


def keep(name: str, garden: Garden) -> None:
    """Write the garden's document; the same garden always gives the same file."""
    said = json.dumps(portable.export(garden), ensure_ascii=False, separators=(",", ":"))
    file_of(name).write_bytes(gzip.compress(said.encode(), mtime=0))


def brought_in(name: str) -> Garden:
    """The garden as it was kept, its grower's: what stands in its journal was written elsewhere, and is not taken back here."""
    garden = bring_in(read_document(gzip.decompress(file_of(name).read_bytes())), grower(name))
    garden.is_demo = True
    garden.save(update_fields=["is_demo"])
    return garden
