"""Long work: what it found is shown and applied by a post, what it is at is told, and it can be left or called off."""

from __future__ import annotations

import json
from datetime import timedelta
from typing import Any
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile

from aestiva.frame.tests.garden import GardenCase, client_for, user
from aestiva.gardens import clock, jobs
from aestiva.gardens.jobs import JobTold, call_off, register_work, run, start, state_of
from aestiva.gardens.models import Garden, Job

HTMX = {"HX-Request": "true"}


def counting(job: Job, tell: JobTold) -> dict[str, Any]:
    """Work in three steps, between which somebody may call it off."""
    for step in range(3):
        tell(step / 3, f"step {step}")
        if job.payload and jobs.payload_of(job) == b"stop":
            call_off(job)
    return {"steps": 3}


def late(job: Job, tell: JobTold) -> dict[str, Any]:
    """Work that is called off when nothing more is told of it."""
    call_off(job)
    return {"steps": 0}


def breaking(job: Job, tell: JobTold) -> dict[str, Any]:
    raise ZeroDivisionError


class Rows(GardenCase):
    def setUp(self) -> None:
        super().setUp()
        register_work("counting", counting)
        register_work("breaking", breaking)
        register_work("late", late)

    def test_found_told_and_done_once(self) -> None:
        job = start("counting", self.owner, b"go", "once")
        self.assertEqual((job.state, job.result, job.said), ("done", {"steps": 3}, "step 2"))
        self.assertEqual(start("counting", self.owner, b"go", "once").pk, job.pk)
        run(job.pk)  # handed out twice, it is done once
        self.assertEqual(Job.objects.filter(kind="counting").count(), 1)

    def test_called_off_it_ends_where_it_is(self) -> None:
        job = start("counting", self.owner, b"stop")
        self.assertEqual((job.state, job.result, job.said), ("cancelled", None, "step 0"))
        job = start("late", self.owner, b"go")
        self.assertEqual((job.state, job.result), ("cancelled", None))

    def test_what_breaks_is_said_to_have_changed_nothing(self) -> None:
        with self.assertLogs("aestiva.jobs", "ERROR"):
            job = start("breaking", self.owner, b"go")
        self.assertEqual(job.state, "failed")
        self.assertIn("nothing was changed", job.problems[0])

    def test_not_heard_of_for_a_minute_it_is_interrupted(self) -> None:
        job = start("counting", self.owner, b"go")
        for ago, state in ((30, "running"), (61, "interrupted")):
            job.state, job.beat_at = "running", clock.instant() - timedelta(seconds=ago)
            self.assertEqual(state_of(job), state)

    def test_old_ones_go(self) -> None:
        job = start("counting", self.owner, b"go")
        Job.objects.update(made_at=clock.instant() - timedelta(days=2))
        start("counting", self.owner, b"go")
        self.assertFalse(Job.objects.filter(pk=job.pk).exists())


class LargeGarden(GardenCase):
    """A document over the size that is looked at at once goes to the worker."""

    def lay_out(self) -> None:
        super().lay_out()
        self.sown("tomato", 10)
        whole = json.loads(self.client.get(self.url("garden.json")).content)
        whole["events"] += [
            {**whole["events"][0], "kind": "note", "count": None, "note": f"note {n}"} for n in range(3500)
        ]
        self.data = json.dumps(whole).encode()
        self.assertGreater(len(self.data), jobs.AT_ONCE_BYTES)

    def send(self, data: bytes) -> Any:
        return self.client.post("/gardens/import/", {"file": SimpleUploadedFile("g.json", data), "key": "look"})

    def test_handed_over_watched_shown_and_kept(self) -> None:
        with mock.patch("aestiva.gardens.jobs.run_job") as handed:
            answer = self.send(self.data)
            self.assertEqual(self.send(self.data)["Location"], answer["Location"])  # pressed twice
        job = Job.objects.get()
        handed.enqueue.assert_called_once_with(job.pk)
        page = self.client.get(answer["Location"])
        self.assertContains(page, "waits for its turn")
        told: list[tuple[float, str]] = []
        real = jobs._tell

        def tell(pk: int, share: float, said: str) -> None:
            real(pk, share, said)
            told.append((share, said))
            if len(told) == 2:
                seen = self.client.get(answer["Location"], headers=HTMX)
                self.assertContains(seen, f"<b>{round(100 * share)} %</b> looking at events")

        with mock.patch("aestiva.gardens.jobs._tell", tell):
            run(job.pk)
        self.assertEqual([share for share, _ in told], sorted(share for share, _ in told))
        self.assertGreater(len(told), 6)
        ended = self.client.get(answer["Location"], headers=HTMX)
        shown = self.client.get(ended.headers["HX-Redirect"])
        self.assertContains(shown, "nothing kept yet")
        self.assertEqual(Garden.objects.count(), 1)
        kept = self.client.post("/gardens/import/", {"kept": shown.context["sealed"], "key": "keep"})
        again = json.loads(self.client.get(kept["Location"].replace("today/", "garden.json")).content)
        self.assertEqual(len(again["events"]), 3501)

    def test_called_off_while_it_waits(self) -> None:
        with mock.patch("aestiva.gardens.jobs.run_job"):
            address = self.send(self.data)["Location"]
        self.client.post(address)
        self.assertContains(self.client.get(address), "Called off. Nothing was changed.")
        run(Job.objects.get().pk)
        self.assertEqual(Job.objects.get().state, "cancelled")

    def test_what_is_wrong_with_it_is_shown(self) -> None:
        answer = self.send(self.data.replace(b'"note 7"', b'"note 7", "smell": 1', 1))
        self.assertContains(answer, "smell not known", status_code=422)
        self.assertEqual(Garden.objects.count(), 1)

    def test_it_is_nobody_else_s(self) -> None:
        with mock.patch("aestiva.gardens.jobs.run_job"):
            address = self.send(self.data)["Location"]
        other = client_for(user("moss"))
        self.assertEqual(other.get(address).status_code, 404)
        self.assertEqual(other.post(address).status_code, 404)
        key = str(Job.objects.get().key)
        self.assertContains(other.post("/gardens/import/", {"kept": key}), "too old", status_code=422)
