"""The job of looking into a garden's document: read, checked, tried out and let go again."""

from __future__ import annotations

from typing import Any

from aestiva.gardens.bring_in import rehearse
from aestiva.gardens.document import read_document
from aestiva.gardens.jobs import JobFailed, JobTold, payload_of
from aestiva.gardens.models import Job
from aestiva.gardens.portable import BadDocument

CHECKED = 0.6  # of the work, by the time that every row was looked at: estimate


def look_into(job: Job, tell: JobTold) -> dict[str, Any]:
    """The garden's name and how many rows of each part it has; Wrong where it cannot come in."""
    assert job.user is not None
    try:
        document = read_document(payload_of(job), lambda share, part: tell(CHECKED * share, f"looking at {part}"))
        tell(CHECKED, "trying it out")
        rehearse(document, job.user)
    except BadDocument as error:
        raise JobFailed(error.problems) from error
    counts = [[name.replace("_", " "), len(rows)] for name, rows in document.items() if isinstance(rows, list) and rows]
    return {"name": document["garden"]["name"], "counts": counts}
