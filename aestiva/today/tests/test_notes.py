"""A note beside a task: the one thing a reader writes."""

from __future__ import annotations

from aestiva.frame.tests.garden import TODAY, GardenCase, plant, user
from aestiva.gardens.models import JournalEntry, Member
from aestiva.gardens.tests.test_people import client_of
from aestiva.season.models import TaskNote


class Notes(GardenCase):
    def lay_out(self) -> None:
        super().lay_out()
        self.moss = user("moss")
        Member.objects.create(garden=self.garden, user=self.moss, role="reader")
        plant(self.garden, self.owner, "tomato", 10, sow_on=TODAY)
        self.key = self.todo("sow").task.key
        self.reader = client_of(self.moss)

    def test_a_reader_leaves_one_and_takes_it_back_and_nothing_else(self) -> None:
        address = self.url(f"task/{self.key}/note/")
        self.assertContains(self.reader.get(address), "A note beside it")
        self.reader.post(address, {"text": "only half was dry", "key": "once"})
        self.reader.post(address, {"text": "only half was dry", "key": "once"})
        self.assertEqual(TaskNote.objects.count(), 1)
        for client in (self.client, self.reader):
            page = client.get(self.url("today/"))
            self.assertContains(page, "“only half was dry”")
            self.assertContains(page, "Moss, today")
        noted = JournalEntry.objects.latest("pk")
        self.assertEqual(noted.summary, "Note on sow Tomato: only half was dry")
        earlier = JournalEntry.objects.exclude(pk=noted.pk).latest("pk")
        JournalEntry.objects.filter(pk=earlier.pk).update(user=self.moss)  # from when they were a grower
        self.assertEqual(self.reader.post(self.url(f"journal/{earlier.pk}/undo/")).status_code, 403)
        self.reader.post(self.url(f"journal/{noted.pk}/undo/"))
        self.assertEqual(TaskNote.objects.count(), 0)

    def test_a_note_changes_no_task(self) -> None:
        before = [(t.task.key, t.due, t.task.count) for t in self.now().todos(TODAY)]
        self.post(f"task/{self.key}/note/", text="wait for the rain")
        self.assertEqual([(t.task.key, t.due, t.task.count) for t in self.now().todos(TODAY)], before)

    def test_nothing_and_too_much_are_said(self) -> None:
        for text, said in (("   ", "Nothing is said yet"), ("x" * 201, "hat is 201 letters")):
            self.assertContains(self.post(f"task/{self.key}/note/", text=text), said, status_code=422)
        self.assertEqual(self.reader.post(self.url("task/p999.sow.0/note/"), {"text": "x"}).status_code, 404)
        self.assertEqual(TaskNote.objects.count(), 0)

    def test_who_left_is_not_named(self) -> None:
        self.reader.post(self.url(f"task/{self.key}/note/"), {"text": "dry"})
        self.reader.post("/account/delete/", {"password": "a long pass phrase"})
        self.assertContains(self.client.get(self.url("today/")), "a former member")
