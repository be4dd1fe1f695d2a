"""Long work of the machine: looked at in a process of its own, with its progress shown, left alone or called off.

A job writes nothing that anybody sees but its own row.  What it found is a proposal, which the person's own post applies.
"""

from __future__ import annotations

import logging
import zlib
from collections.abc import Callable
from datetime import timedelta
from typing import Any, NamedTuple, Protocol

from django.db import IntegrityError, transaction
from django.urls import reverse
from django_tasks import task

from aestiva.accounts.models import User
from aestiva.gardens import clock
from aestiva.gardens.models import Job

log = logging.getLogger("aestiva.jobs")
AT_ONCE_BYTES = 200_000  # less than this is looked at while one waits
SILENT = timedelta(seconds=60)  # after which a job that runs no more is told from one that does
KEPT = timedelta(days=1)


class Cancelled(Exception):
    """The person called it off."""


class Wrong(Exception):
    """The work cannot be done; `problems` say why."""

    def __init__(self, problems: list[str]) -> None:
        self.problems = problems
        super().__init__("; ".join(problems))


class Told(Protocol):
    """How work says how far it is: a share from 0 to 1, and what it is at.  Raises Cancelled once it was called off."""

    def __call__(self, share: float, said: str) -> None: ...


Work = Callable[[Job, Told], dict[str, Any]]


class Kind(NamedTuple):
    """A kind of job: its work, the page that shows what it found, what it is doing, and where to begin it again, in words."""

    work: Work
    found: Callable[[Job], str]
    title: str
    again: Callable[[Job], str]
    again_words: str


_kinds: dict[str, Kind] = {}


def register_work(
    kind: str,
    work: Work,
    found: Callable[[Job], str] = lambda job: f"{reverse('garden_import')}?job={job.key}",
    title: str = "Looking into your file",
    again: Callable[[Job], str] = lambda job: reverse("garden_import"),
    again_words: str = "Choose a file",
) -> None:
    """A kind of job: of its row, with a way to tell how far it is, what it found as plain JSON.  It may raise Wrong.

    found: the address that shows what it found.  title: what it is doing.  again: where it is begun again, in those words.
    """
    _kinds[kind] = Kind(work, found, title, again, again_words)


def kind_of(job: Job) -> Kind:
    return _kinds[job.kind]


def start(kind: str, user: User, payload: bytes, key: str = "", long: bool = False) -> Job:
    """A job of that kind for one person; short work is done at once, long work by the worker.

    key: the one-use key of the post; where it was used already, the job that it began.  long: whatever its size.
    """
    begun = f"{kind}.{user.pk}.{key}"[:64] if key else None
    Job.objects.filter(user=user, made_at__lt=clock.instant() - KEPT).delete()
    try:
        with transaction.atomic():
            job = Job.objects.create(
                user=user, kind=kind, payload=zlib.compress(payload, 6), begun_with=begun, made_at=clock.instant()
            )
    except IntegrityError:
        return Job.objects.get(begun_with=begun)
    if len(payload) < AT_ONCE_BYTES and not long:
        run(job.pk)
    else:
        run_job.enqueue(job.pk)
    return Job.objects.get(pk=job.pk)


@task()
def run_job(pk: int) -> None:
    """What the worker is handed."""
    run(pk)


def payload_of(job: Job) -> bytes:
    return zlib.decompress(bytes(job.payload))


def run(pk: int) -> None:
    """Do a job's work, once."""
    waiting = Job.objects.filter(pk=pk, state="waiting")
    if not waiting.update(state="running", beat_at=clock.instant()):
        return
    job = Job.objects.get(pk=pk)
    try:
        result = _kinds[job.kind].work(job, lambda share, said: _tell(pk, share, said))
    except Cancelled:
        _end(pk, state="cancelled")
    except Wrong as error:
        _end(pk, state="refused", problems=error.problems)
    except Exception:
        log.exception("job %s of kind %s came to nothing", pk, job.kind)
        _end(pk, state="failed", problems=["Something went wrong here, and nothing was changed. Try it again."])
    else:
        if not Job.objects.filter(pk=pk, cancel=False).update(
            state="done", progress=1.0, result=result, beat_at=clock.instant()
        ):  # called off in its last moments
            _end(pk, state="cancelled")


def _end(pk: int, **values: Any) -> None:
    Job.objects.filter(pk=pk).update(beat_at=clock.instant(), **values)


def _tell(pk: int, share: float, said: str) -> None:
    rows = Job.objects.filter(pk=pk, cancel=False)
    if not rows.update(progress=share, said=said[:80], beat_at=clock.instant()):
        raise Cancelled


def call_off(job: Job) -> None:
    """Ask a job to end; one that has not begun ends at once."""
    if not Job.objects.filter(pk=job.pk, state="waiting").update(state="cancelled", cancel=True):
        Job.objects.filter(pk=job.pk, state="running").update(cancel=True)


def state_of(job: Job) -> str:
    """Its state as far as anybody can know: one that runs and has not been heard of is interrupted."""
    if job.state == "running" and job.beat_at is not None and clock.instant() - job.beat_at > SILENT:
        return "interrupted"
    return job.state
