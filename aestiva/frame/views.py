"""Pages that belong to no stage: errors and the content-security report."""

from __future__ import annotations

import logging
import sys
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.template import loader
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_POST
from django.views.defaults import server_error

from aestiva import disk

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


def broken(request: HttpRequest) -> HttpResponse:
    """An error nobody foresaw; where storage refused, what it was and what to do."""
    said = disk.words(sys.exc_info()[1])
    if not said:
        return server_error(request)
    address = request.get_full_path() if request.method in ("GET", "HEAD") else "/"
    response = HttpResponse(loader.render_to_string("503.html", {"said": said, "address": address}), status=503)
    response["Retry-After"] = "30"
    return response


def not_found(request: HttpRequest, exception: Any = None) -> HttpResponse:
    return render(request, "404.html", {"said": _said(exception)}, status=404)


def forbidden(request: HttpRequest, exception: Any = None) -> HttpResponse:
    return render(request, "403.html", {"said": _said(exception)}, status=403)


def _said(exception: Any) -> str:
    text = exception.args[0] if exception is not None and exception.args else ""
    return text if isinstance(text, str) else ""
