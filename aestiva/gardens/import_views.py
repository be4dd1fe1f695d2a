"""A garden from a file: looked into by a job, shown, and kept by the person's own post."""

from __future__ import annotations

import uuid
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from aestiva.gardens import jobs, journal
from aestiva.gardens.bring_in import bring_in
from aestiva.gardens.document import MOST_BYTES, read_document
from aestiva.gardens.models import Job
from aestiva.gardens.outcomes import Refused
from aestiva.gardens.portable import BadDocument


@login_required
def garden_import(request: Any) -> HttpResponse:
    """A garden from a file: what is in it first, then kept as a new garden."""
    if request.method != "POST":
        job = _my_job(request, request.GET.get("job", ""))
        return _looked_into(request, job) if job else render(request, "gardens/import.html")
    if "kept" in request.POST:
        return _keep_garden(request)
    if not request.FILES.get("file"):
        return _import_problems(request, ["Choose a file first."])
    data = request.FILES["file"].read()
    if len(data) > MOST_BYTES:
        return _import_problems(
            request, [f"{MOST_BYTES // 1024 // 1024} MB are read at most: export it without its weather."]
        )
    try:
        return _looked_into(request, jobs.start("import", request.user, data, request.POST.get("key", "")))
    except Refused as refused:
        return _import_problems(request, [f"{refused}."])


def _keep_garden(request: Any) -> HttpResponse:
    """The garden that was looked into, kept by the person's own post."""
    job = _my_job(request, request.POST["kept"])
    if job is None or job.state != "done":
        return _import_problems(request, ["The preview is too old: choose the file again."])
    once = journal.stored_key(f"u{request.user.pk}", request.POST.get("key", ""))
    try:
        garden = bring_in(read_document(jobs.payload_of(job)), request.user, once)
    except BadDocument as error:
        return _import_problems(request, error.problems)
    messages.success(request, f"{garden.name} is in, as a garden of its own.")
    return redirect("today", garden.pk)


def _looked_into(request: Any, job: Job) -> HttpResponse:
    """What a look into a document found; while it goes on, its progress."""
    state = jobs.state_of(job)
    if state in ("waiting", "running", "interrupted", "cancelled"):
        return redirect("job", job.key)
    if state != "done":
        return _import_problems(request, job.problems)
    found = job.result or {}
    context = {"garden_name": found["name"], "counts": found["counts"], "sealed": str(job.key)}
    return render(request, "gardens/import.html", context)


def _import_problems(request: Any, problems: list[str]) -> HttpResponse:
    return render(request, "gardens/import.html", {"problems": problems}, status=422)


def _my_job(request: Any, key: str) -> Job | None:
    """A job of this person's own."""
    try:
        return Job.objects.filter(user=request.user, key=uuid.UUID(key)).first()
    except ValueError:
        return None


@login_required
def job_page(request: Any, key: uuid.UUID) -> HttpResponse:
    """How far a job is; once it has ended, the page that shows what it found.  Posting calls it off."""
    job = get_object_or_404(Job, user=request.user, key=key)
    if request.method == "POST":
        jobs.call_off(job)
        return redirect("job", job.key)
    state = jobs.state_of(job)
    kind = jobs.kind_of(job)
    if state in ("done", "refused", "failed"):
        address = kind.found(job)
        return HttpResponse(status=204, headers={"HX-Redirect": address}) if request.htmx else redirect(address)
    context = {
        "job": job,
        "state": state,
        "title": kind.title,
        "again": kind.again(job),
        "again_words": kind.again_words,
    }
    return render(request, "gardens/_job.html" if request.htmx else "gardens/job.html", context)
