"""What the worker is handed."""

from __future__ import annotations

from django_tasks import task

from aestiva.gardens import jobs


@task()
def run_job(pk: int) -> None:
    """Do the work of one job."""
    jobs.run(pk)
