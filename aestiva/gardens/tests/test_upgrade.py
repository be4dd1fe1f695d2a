"""A garden of the release before lives on: its database migrates, its entries are taken back, its documents come in."""

from __future__ import annotations

import gzip
import json
import lzma
import os
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

from django.conf import settings
from django.test import SimpleTestCase

from aestiva.course.state import load
from aestiva.frame.tests.garden import GardenCase
from aestiva.gardens import portable
from aestiva.gardens.bring_in import bring_in
from aestiva.gardens.document import read_document
from aestiva.season.models import Batch, BatchEvent, BatchLink, CropValue, Spot
from aestiva.season.places import where

HERE = Path(__file__).parent


def upgraded(release: str) -> dict[str, Any]:
    """What `upgraded` found in the database of a release."""
    with tempfile.TemporaryDirectory() as data:
        (Path(data) / "aestiva.sqlite3").write_bytes(
            lzma.decompress((HERE / f"release-{release}.sqlite3.xz").read_bytes())
        )
        env = {**os.environ, "AESTIVA_DATA": data, "AESTIVA_DEMO": "0"}
        env.pop("DATABASE_URL", None)
        command = [sys.executable, "-W", "ignore", "-m", "aestiva.gardens.tests.upgraded"]
        run = subprocess.run(command, cwd=settings.BASE_DIR, env=env, capture_output=True, text=True)
    if run.returncode:
        raise AssertionError(run.stderr[-2000:])
    found: dict[str, Any] = json.loads(run.stdout.splitlines()[-1])
    return found


class ReleasesBefore(SimpleTestCase):
    def test_the_first_migrates_and_its_last_ten_entries_are_taken_back_and_put_back(self) -> None:
        found = upgraded("0.1")
        self.assertEqual(set(found["kinds"]), {"change", "note"})
        self.assertGreater(found["touches"], 400)
        self.assertEqual(
            found["gardens"],
            {
                "Quarry Lane": {"taken back": 10, "said": [], "not as before": []},
                "First steps": {"taken back": 2, "said": [], "not as before": []},
            },
        )

    def test_the_last_one_too(self) -> None:
        found = upgraded("0.12")["gardens"]
        self.assertEqual(found, {"Quarry Lane": {"taken back": 10, "said": [], "not as before": []}})


class DocumentsBefore(GardenCase):
    def test_every_older_document_comes_in_and_goes_out_as_the_present_one(self) -> None:
        for version, tasks in (
            (2, 20),
            (3, 20),
            (5, 20),
            (6, 20),
            (7, 20),
            (8, 20),
            (9, 20),
            (10, 20),
            (11, 20),
            (12, 20),
        ):
            document = read_document(gzip.decompress((HERE / f"garden-v{version}.json.gz").read_bytes()))
            self.assertEqual(document["version"], version)
            made = bring_in(document, self.owner)
            now = load(made, made.simulated_on or self.garden.simulated_on)  # type: ignore[arg-type]
            self.assertEqual(now.troubles, [])
            self.assertGreater(len(now.todos(now.today.replace(year=now.today.year + 1))), tasks)
            again = portable.export(made)
            self.assertEqual(portable.export(bring_in(read_document(json.dumps(again).encode()), self.owner)), again)

    def test_what_has_another_name_now_and_what_became_links_and_trays(self) -> None:
        whole = json.loads(gzip.decompress((HERE / "garden-v3.json.gz").read_bytes()))
        whole["crop_values"].append({"crop_key": "tomato", "field": "tray", "value": 40, "reason": "short benches"})
        beds = [spot for spot in whole["spots"] if spot["kind"] == "bed"]
        beds[0]["kind"] = "container"
        parents = [b["parent"] for b in whole["batches"] if b["parent"] is not None]
        made = bring_in(read_document(json.dumps(whole).encode()), self.owner)
        self.assertEqual(CropValue.objects.get(garden=made, field="cells_per_tray").value, 40)
        self.assertEqual(Spot.objects.filter(garden=made, kind="planter").count(), 1)
        links = BatchLink.objects.filter(child__planting__season__garden=made)
        self.assertEqual(links.count(), len(parents))
        self.assertFalse(BatchEvent.objects.filter(batch__links_in__in=links, kind="received").exists())
        living = Batch.objects.filter(planting__season__garden=made, failed_on=None, runs__until=None).exclude(
            runs=None
        )
        self.assertGreater(living.count(), 5)
        for batch in living:
            self.assertIsNotNone(where(batch))

    def test_a_broken_old_document_is_named_not_broken_over(self) -> None:
        whole = json.loads(gzip.decompress((HERE / "garden-v3.json.gz").read_bytes()))
        for part, row in (("batches", {"parent": "x"}), ("events", 7), ("stands", {}), ("spots", [])):
            bad = {**whole, part: [row, *whole[part]]}
            with self.assertRaisesRegex(portable.BadDocument, "older version|must be"):
                read_document(json.dumps(bad).encode())
