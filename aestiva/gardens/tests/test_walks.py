"""Two dozen steps of two people with undo and redo: after each the pages answer, and at the end nothing is left of it."""

from __future__ import annotations

from django.test import Client

from aestiva.frame.tests.garden import GardenCase, user
from aestiva.gardens.models import Garden, JournalEntry, Member
from soak.walk import Walk, state

STEPS = 24


class Walks(GardenCase):
    def walk(self, seed: int) -> None:
        helper = user("rook")
        Member.objects.create(garden=self.garden, user=helper, role="owner")
        second = Client()
        second.force_login(helper, backend="django.contrib.auth.backends.ModelBackend")
        for crop in ("tomato", "kale"):
            self.sown(crop, 8)
        before = state(Garden.objects.get(pk=self.garden.pk))
        since = JournalEntry.objects.filter(garden=self.garden).latest("pk").pk
        walk = Walk(self.garden, [self.client, second], seed)
        for n in range(STEPS):
            kind = walk.step()
            with self.subTest(step=n, kind=kind, seed=seed):
                walk.check(("today/", "plan/", "seeds/", "beds/"))
        self.assertGreater(sum(walk.done.values()), STEPS // 3)
        self.assertEqual(walk.undo_everything(since), 0)
        after = state(Garden.objects.get(pk=self.garden.pk))
        for label, rows in before.items():
            self.assertEqual(after[label], rows, label)

    def test_a_walk(self) -> None:
        self.walk(1)

    def test_another_walk(self) -> None:
        self.walk(2)
