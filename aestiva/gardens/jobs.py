"""Long work of the machine: looked at in a process of its own, with its progress shown, left alone or called off.

A job writes nothing that anybody sees but its own row.  What it found is a proposal, which the person's own post applies.
"""

from __future__ import annotations

import json
import logging
import zlib
from collections.abc import Callable, Mapping
from datetime import timedelta
from hashlib import sha256
from typing import Any, NamedTuple, Protocol

from django.db import IntegrityError, transaction
from django.db.models import Exists, Max, OuterRef, Q
from django.urls import reverse
from django_tasks import task

from aestiva.accounts.models import User
from aestiva.gardens import clock
from aestiva.gardens.models import Garden, Job, Member
from aestiva.gardens.outcomes import Refused

log = logging.getLogger("aestiva.jobs")
AT_ONCE_BYTES = 200_000  # less than this is looked at while one waits
SILENT = timedelta(seconds=60)  # after which a job that runs no more is told from one that does
KEPT = timedelta(days=1)
MOST_ENDED = 20  # of one person, whose newest are kept for a day
MOST_OF_ONE, MOST_OF_GARDEN = 4, 8  # that wait or are under way


class Cancelled(Exception):
    """The person called it off."""


class Waits(Exception):
    """What a page needs is still being worked out, or came to nothing: its job's own page says how it stands."""

    def __init__(self, job: Job) -> None:
        self.job = job
        super().__init__(f"{job} is not done")


class JobFailed(Exception):
    """The work cannot be done; `problems` say why."""

    def __init__(self, problems: list[str]) -> None:
        self.problems = problems
        super().__init__("; ".join(problems))


class JobTold(Protocol):
    """How work says how far it is: a share from 0 to 1, and what it is at.  Raises Cancelled once it was called off."""

    def __call__(self, share: float, said: str) -> None: ...


Work = Callable[[Job, JobTold], dict[str, Any]]


class JobKind(NamedTuple):
    """A kind of job: its work, the page that shows what it found, what it is doing, and where to begin it again, in words."""

    work: Work
    found: Callable[[Job], str]
    title: str
    again: Callable[[Job], str]
    again_words: str


_kinds: dict[str, JobKind] = {}


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
    _kinds[kind] = JobKind(work, found, title, again, again_words)


def kind_of(job: Job) -> JobKind:
    return _kinds[job.kind]


def start(
    kind: str,
    user: User,
    payload: bytes,
    key: str = "",
    long: bool = False,
    garden: Garden | None = None,
    options: Mapping[str, Any] | None = None,
) -> Job:
    """A job of that kind for one person; short work is done at once, long work by the worker.

    key: the one-use key of the post; where it was used already for the same work, the job that it began.  long: whatever
    its size.  garden: that it is about.  Raises Refused where too many wait already.
    """
    said = dict(options or {})
    begun = None
    if key:
        what = sha256(b"\n".join((key.encode("utf-8", "replace"), json.dumps(said).encode(), payload))).hexdigest()
        begun = f"{kind}.{user.pk}.{what}"[:64]
        if (before := Job.objects.filter(begun_with=begun).first()) is not None:
            return before
    _make_room(user)
    at_once = len(payload) < AT_ONCE_BYTES and not long
    try:
        with transaction.atomic():
            if not at_once:
                _not_too_many(user, garden)
            job = Job.objects.create(
                user=user, garden=garden, kind=kind, options=said, payload=zlib.compress(payload, 6), begun_with=begun,
                made_at=clock.instant(),
            )  # fmt: skip
    except IntegrityError:
        return Job.objects.get(begun_with=begun)
    if at_once:
        run(job.pk)
    else:
        run_job.enqueue(job.pk)
    return Job.objects.get(pk=job.pk)


def _make_room(user: User) -> None:
    """Old ones go, and of those that ended all but the newest."""
    mine = Job.objects.filter(user=user)
    mine.filter(made_at__lt=clock.instant() - KEPT).delete()
    ended = mine.exclude(state__in=("waiting", "running")).order_by("-pk").values_list("pk", flat=True)
    if older := list(ended[MOST_ENDED:]):
        Job.objects.filter(pk__in=older).delete()


def unfinished() -> Any:
    """Jobs that wait, or are under way as far as anybody can know."""
    heard = clock.instant() - SILENT
    return Job.objects.filter(Q(state="waiting") | Q(state="running", beat_at__gt=heard))


def _not_too_many(user: User, garden: Garden | None) -> None:
    User.objects.select_for_update().get(pk=user.pk)
    if unfinished().filter(user=user).count() >= MOST_OF_ONE:
        raise Refused("file", f"{MOST_OF_ONE} long jobs of yours wait or are under way: let one end, or call one off")
    if garden is not None and unfinished().filter(garden=garden).count() >= MOST_OF_GARDEN:
        raise Refused(
            "file", f"{MOST_OF_GARDEN} long jobs of {garden} wait or are under way: try again when one has ended"
        )


@task()
def run_job(pk: int) -> None:
    """What the worker is handed: as many turns as there are jobs, each for the one whose turn it is."""
    turn = next_in_turn()
    if turn is not None:
        run(turn)


def next_in_turn() -> int | None:
    """The job that waits longest, of the person whose last turn is longest ago."""
    people = unfinished().filter(state="waiting").values_list("user", flat=True)
    last = dict(Job.objects.filter(user__in=list(people)).values_list("user").annotate(Max("beat_at")))
    never = clock.instant() - KEPT
    waiting = Job.objects.filter(state="waiting").order_by("pk").values_list("pk", "user")
    return min(waiting, key=lambda one: (last.get(one[1]) or never, one[0]), default=(None, None))[0]


def payload_of(job: Job) -> bytes:
    return zlib.decompress(bytes(job.payload))


def run(pk: int) -> None:
    """Do a job's work, once."""
    waiting = Job.objects.filter(pk=pk, state="waiting")
    if not waiting.filter(_of_members()).update(state="running", beat_at=clock.instant()):
        waiting.update(state="cancelled", cancel=True)  # its garden is this person's no more
        return
    job = Job.objects.get(pk=pk)
    try:
        result = _kinds[job.kind].work(job, lambda share, said: _tell(pk, share, said))
    except Cancelled:
        _end(pk, state="cancelled")
    except JobFailed as error:
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
    rows = Job.objects.filter(_of_members(), pk=pk, cancel=False)
    if not rows.update(progress=share, said=said[:80], beat_at=clock.instant()):
        raise Cancelled


def _of_members() -> Q:
    """Jobs about no garden, or about one of which the person still is a member."""
    still = Member.objects.filter(garden=OuterRef("garden"), user=OuterRef("user"))
    return Q(garden=None) | Q(Exists(still))


def end_of(garden: Garden, user: User) -> None:
    """A person has left a garden: their work for it ends, and what it found is gone."""
    Job.objects.filter(garden=garden, user=user).exclude(state="running").delete()
    Job.objects.filter(garden=garden, user=user).update(cancel=True)


def call_off(job: Job) -> None:
    """Ask a job to end; one that has not begun ends at once."""
    if not Job.objects.filter(pk=job.pk, state="waiting").update(state="cancelled", cancel=True):
        Job.objects.filter(pk=job.pk, state="running").update(cancel=True)


def state_of(job: Job) -> str:
    """Its state as far as anybody can know: one that runs and has not been heard of is interrupted."""
    if job.state == "running" and job.beat_at is not None and clock.instant() - job.beat_at > SILENT:
        return "interrupted"
    return job.state
