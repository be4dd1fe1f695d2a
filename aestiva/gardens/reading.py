"""A file on its way in: chosen or pasted, read by a job, looked at, kept.

What is small is read at once; all else by the worker, apart (`aestiva/apart.py`).  What was read waits with its job for
the person's own post, which names it.
"""

from __future__ import annotations

import uuid
from collections.abc import Collection, Mapping
from typing import Any

from django.urls import reverse

from aestiva.apart import TooHard, read_apart, reader_of
from aestiva.gardens import jobs
from aestiva.gardens.models import Job
from aestiva.gardens.outcomes import Refused
from growing.files.sheet import is_small

TOO_HARD = "The file takes more memory or time than one file may: cut it into several, or save the table as CSV."
TOO_OLD = "The preview is too old, or another garden’s: choose the file again."
_APART = "apart"


def register_reading(kind: str, reader: str, page: str, shown: str = "") -> None:
    """Files of that kind, read by the function of that name (bytes and options in, plain JSON out).

    page: the name of the one on which a file is chosen.  shown: of the one that shows what was found, where it is another.
    """

    def work(job: Job, tell: jobs.JobTold) -> dict[str, Any]:
        data = jobs.payload_of(job)
        options = {name: value for name, value in job.options.items() if name != _APART}
        if not job.options[_APART]:
            return reader_of(reader)(data, options)
        try:
            return read_apart(reader, data, options, lambda: tell(0.5, "reading the file"))
        except TooHard as error:
            raise jobs.JobFailed([TOO_HARD]) from error

    def found(job: Job) -> str:
        return f"{reverse(shown or page, args=[job.garden_id])}?job={job.key}"

    jobs.register_work(kind, work, found, again=lambda job: reverse(page, args=[job.garden_id]))


def chosen(request: Any) -> bytes | None:
    """The bytes of the file that was chosen, or of the cells that were pasted; None where there are none."""
    file, pasted = request.FILES.get("file"), request.POST.get("pasted", "")
    if file is not None:
        found: bytes = file.read()
        return found
    return pasted.encode() if pasted.strip() else None


def begin(request: Any, kind: str, data: bytes, options: Mapping[str, Any], key: str = "") -> Job:
    """Have a file read; raises Waits while that is going on, Refused where nothing can be read of it."""
    apart = not is_small(data)
    said = {**options, _APART: apart}
    return _done(jobs.start(kind, request.user, data, key, long=apart, garden=request.garden, options=said))


def taken(request: Any, kind: str, options: Mapping[str, Any]) -> Job:
    """The file that a post brings, or the one that was read before and is now to be kept."""
    if "kept" in request.POST:
        return read_before(request, kind, request.POST["kept"])
    data = chosen(request)
    if data is None:
        raise Refused("file", "choose the file first")
    return begin(request, kind, data, options)


def again(request: Any, job: Job, options: Mapping[str, Any]) -> Job:
    """Have the same file read once more, with something else said of it."""
    return begin(request, job.kind, jobs.payload_of(job), {**job.options, **options})


def read_before(request: Any, kind: str, key: str) -> Job:
    """What this person had read for this garden under that key; raises Waits and Refused as `begin`."""
    try:
        job = Job.objects.filter(user=request.user, garden=request.garden, kind=kind, key=uuid.UUID(key)).first()
    except ValueError:
        job = None
    if job is None:
        raise Refused("file", TOO_OLD)
    return _done(job)


def kind_of(request: Any, key: str, among: Collection[str]) -> str:
    """Of which of these kinds the file is that waits under that key; empty where there is none of this person's."""
    try:
        mine = Job.objects.filter(garden=request.garden, user=request.user, key=uuid.UUID(key), kind__in=among)
    except ValueError:
        return ""
    return mine.values_list("kind", flat=True).first() or ""


def _done(job: Job) -> Job:
    state = jobs.state_of(job)
    if state in ("refused", "failed"):
        raise Refused("file", job.problems[0])
    if state != "done":
        raise jobs.Waits(job)
    return job
