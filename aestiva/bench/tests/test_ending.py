"""What holds no plant any more stands nowhere, and whoever takes it back has it where it stood."""

from __future__ import annotations

import json
from datetime import timedelta
from unittest import TestCase

from aestiva.care.round import the_round
from aestiva.frame.tests.garden import TODAY, GardenCase
from aestiva.gardens import journal
from aestiva.gardens.bring_in import bring_in
from aestiva.gardens.document import read_document
from aestiva.gardens.models import JournalEntry
from aestiva.season.ledgers import accounts_of
from aestiva.season.models import Batch, BatchStand, CellRun, Container, Tray, TrayStand
from aestiva.season.places import stand
from growing.batch.ledger import accounts


class Ends(GardenCase):
    def up(self, crop: str = "tomato", count: int = 10, up: int | None = None) -> Batch:
        """Sown onto the shelf three weeks ago, and come up."""
        since = TODAY - timedelta(days=21)
        batch = self.sown(crop, count, on=since)
        with journal.change(self.garden, self.owner, "stands") as write:
            stand(write, batch, self.shelf, since)
        self.record(batch, "up", batch.cells or 0 if up is None else up)
        return Batch.objects.get(pk=batch.pk)

    def record(self, batch: Batch, kind: str, count: int) -> None:
        answer = self.post(f"batch/{batch.pk}/record/", kind=kind, count=str(count), on=TODAY.isoformat())
        self.assertEqual(answer.status_code, 302, answer.content[-2000:])

    def places(self, batch: Batch) -> list[int]:
        """Open runs of cells, trays that stand, stands of its own."""
        return [
            CellRun.objects.filter(batch=batch, until=None).count(),
            TrayStand.objects.filter(tray__runs__batch=batch, until=None).distinct().count(),
            BatchStand.objects.filter(batch=batch, until=None).count(),
        ]

    def test_with_the_last_plant_given_away_cells_and_tray_end_and_come_back_when_it_is_taken_back(self) -> None:
        batch = self.up()
        self.assertEqual(self.places(batch), [1, 1, 0])
        self.assertEqual(len(the_round(self.now()).stops), 1)
        self.record(batch, "given", (accounts_of(batch).indoors or 0) - 1)
        self.assertEqual(self.places(batch), [1, 1, 0])
        self.record(batch, "given", 1)
        self.assertEqual(self.places(batch), [0, 0, 0])
        self.assertEqual(the_round(self.now()).stops, [])
        self.assertIsNone(Batch.objects.get(pk=batch.pk).failed_on)  # somebody has them
        entry = JournalEntry.objects.filter(garden=self.garden).latest("pk")
        self.client.post(self.url(f"journal/{entry.pk}/undo/"))
        self.assertEqual(self.places(batch), [1, 1, 0])
        self.assertEqual(len(the_round(self.now()).stops), 1)

    def test_a_document_from_before_brings_no_ghosts(self) -> None:
        batch = self.up()
        document = json.loads(self.client.get(self.url("garden.json")).content)
        self.record(batch, "given", accounts_of(batch).indoors or 0)
        after = json.loads(self.client.get(self.url("garden.json")).content)
        ghosts = after | {name: document[name] for name in ("cell_runs", "tray_stands", "stands")}
        again = bring_in(read_document(json.dumps(ghosts).encode()), self.owner)
        self.assertEqual(CellRun.objects.filter(tray__garden=again, until=None).count(), 0)
        self.assertEqual(TrayStand.objects.filter(tray__garden=again, until=None).count(), 0)

    def test_an_emptied_tray_is_to_be_washed_until_it_is_taken_back(self) -> None:
        batch = self.up()
        kind = Container.objects.create(
            garden=self.garden,
            name="Tray",
            kind="cells",
            cells=40,
            cell_ml=40,
            length_cm=54,
            width_cm=28,
            depth_cm=5,
            owned=4,
        )
        Tray.objects.filter(runs__batch=batch).update(container=kind)
        self.record(batch, "given", accounts_of(batch).indoors or 0)
        self.assertEqual(Container.objects.get(pk=kind.pk).to_wash, 1)
        self.client.post(self.url(f"journal/{JournalEntry.objects.latest('pk').pk}/undo/"))
        self.assertEqual(Container.objects.get(pk=kind.pk).to_wash, 0)

    def test_where_all_died_the_batch_is_over_and_sowing_again_is_asked_for(self) -> None:
        batch = self.up()
        if waiting := accounts_of(batch).waiting:
            self.record(batch, "never_up", waiting)
        self.record(batch, "died", accounts_of(batch).indoors or 0)
        self.assertEqual(Batch.objects.get(pk=batch.pk).failed_on, TODAY)
        self.assertEqual(self.places(batch), [0, 0, 0])
        asked = {(t.item.batch, t.task.kind) for t in self.now().todos(TODAY + timedelta(days=60))}
        self.assertIn((None, "sow"), asked)
        again = self.todo("sow")  # though a day was given for the sowing that was lost
        self.assertGreaterEqual(again.due, TODAY)
        self.assertContains(self.client.get(self.url(f"plan/{batch.planting_id}/")), f"Sow {again.due:%a %-d %B}")

        page = self.client.get(self.url(f"batch/{batch.pk}/"))
        self.assertContains(page, f"Sow again {again.due:%a %-d %B}")
        self.assertNotContains(page, "nothing up yet")  # they were up, and counted
        self.day(TODAY + timedelta(days=200))
        self.assertContains(self.client.get(self.url(f"batch/{batch.pk}/")), "too late to sow it for this season")

    def test_seed_that_may_still_come_keeps_its_tray(self) -> None:
        batch = self.up(up=2)
        self.record(batch, "died", 2)
        self.assertEqual(self.places(batch), [1, 1, 0])
        self.assertIsNone(Batch.objects.get(pk=batch.pk).failed_on)

    def test_planted_where_nobody_named_a_bed_they_are_in_no_tray(self) -> None:
        batch = self.up("kale")
        self.assertIsNone(batch.planting.spot)
        self.post(f"task/{self.todo('plant').task.key}/", what="done")
        self.assertEqual(self.places(batch), [0, 0, 0])


class Spent(TestCase):
    def test_what_is_spent_and_what_is_lost(self) -> None:
        for entries, spent, lost in (
            ([("sown", 20)], False, False),
            ([("sown", 20), ("up", 0)], False, False),
            ([("sown", 20), ("never_up", 20)], False, False),  # nobody counted what is up
            ([("sown", 20), ("up", 0), ("never_up", 20)], True, True),
            ([("sown", 20), ("up", 4), ("died", 4)], False, False),
            ([("sown", 20), ("up", 4), ("moved", 4)], False, False),
            ([("sown", 20), ("up", 16), ("given", 16)], True, False),
            ([("sown", 20), ("up", 16), ("planted", 12), ("died", 4)], True, False),
            ([("sown", 20), ("up", 16), ("planted", 16), ("lost_outside", 16)], True, True),
            ([("received", 6), ("died", 6)], True, True),
            ([("received", 6), ("moved", 6)], True, False),
        ):
            with self.subTest(entries):
                found = accounts([(kind, count, False) for kind, count in entries])
                self.assertEqual((found.spent, found.lost), (spent, lost))
