"""What every request passes."""

from __future__ import annotations

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render


class UploadLimit:
    """Refuses a body over the upload limit before reading any of it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            length = int(request.META.get("CONTENT_LENGTH") or 0)
        except ValueError:
            length = 0
        if length > settings.UPLOAD_LIMIT:
            said = {"megabytes": round(length / 1e6), "limit": settings.UPLOAD_LIMIT // 1024 // 1024}
            return render(request, "413.html", said, status=413)
        return self.get_response(request)


class HeadWithoutBody:
    """Answers HEAD with the headers of GET and nothing else, whatever server runs it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        if request.method == "HEAD" and not response.streaming:
            length = len(response.content)
            response.content = b""
            response["Content-Length"] = str(length)
        return response
