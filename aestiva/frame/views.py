"""Pages that belong to no stage: errors and the content-security report."""

from __future__ import annotations

import logging
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_POST

log = logging.getLogger("aestiva.csp")
REPORTS: list[str] = []  # the latest reports, for the browser tests


@csrf_exempt
@require_POST
def csp_report(request: HttpRequest) -> HttpResponse:
    """A browser says that a page broke the content-security policy."""
    text = request.body[:2000].decode("utf-8", "replace")
    log.warning("content-security report: %s", text)
    REPORTS.append(text)
    del REPORTS[:-50]
    return HttpResponse(status=204)


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    return render(request, "403_csrf.html", {"reason": reason}, status=403)


def not_found(request: HttpRequest, exception: Any = None) -> HttpResponse:
    return render(request, "404.html", {"said": _said(exception)}, status=404)


def forbidden(request: HttpRequest, exception: Any = None) -> HttpResponse:
    return render(request, "403.html", {"said": _said(exception)}, status=403)


def _said(exception: Any) -> str:
    text = exception.args[0] if exception is not None and exception.args else ""
    return text if isinstance(text, str) else ""
