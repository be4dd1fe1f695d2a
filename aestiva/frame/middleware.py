"""What every request passes."""

from __future__ import annotations

from collections.abc import Callable
from ipaddress import ip_address, ip_network
from typing import Any

from django.conf import settings
from django.core.exceptions import RequestDataTooBig, TooManyFieldsSent, TooManyFilesSent
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

Answer = Callable[[HttpRequest], HttpResponse]
FORWARDED = ("HTTP_X_FORWARDED_FOR", "HTTP_X_FORWARDED_PROTO", "HTTP_X_FORWARDED_HOST", "HTTP_FORWARDED")


class Proxies:
    """Who asks, and how, where a proxy stands between: believed only of proxies named in AESTIVA_PROXIES."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        said = {name: request.META.pop(name, "") for name in FORWARDED}
        if trusted(request.META.get("REMOTE_ADDR", "")):
            visitors = [part.strip() for part in said["HTTP_X_FORWARDED_FOR"].split(",") if part.strip()]
            visitor = next((one for one in reversed(visitors) if not trusted(one)), None)
            if visitor is not None and _address(visitor) is not None:
                request.META["REMOTE_ADDR"] = str(_address(visitor))
            if (scheme := said["HTTP_X_FORWARDED_PROTO"].strip().lower()) in ("http", "https"):
                request.META["wsgi.url_scheme"] = scheme
            if host := said["HTTP_X_FORWARDED_HOST"].strip():
                request.META["HTTP_HOST"] = host  # checked against AESTIVA_HOSTS like any other
        return self.get_response(request)


def _address(text: str) -> Any:
    try:
        return ip_address(text)
    except ValueError:
        return None


def trusted(text: str) -> bool:
    """Is this the address of one of the named proxies?"""
    address = _address(text)
    return address is not None and any(address in ip_network(one, strict=False) for one in settings.PROXIES)


class UploadLimit:
    """Refuses a body over the upload limit before reading any of it."""

    def __init__(self, get_response: Answer) -> None:
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


class Sound:
    """Refuses what no page sends, before any view sees it: a NUL anywhere, fields too many or too long."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if "\x00" in request.path or "%00" in request.META.get("QUERY_STRING", ""):
            return render(request, "400.html", status=400)
        return self.get_response(request)

    def process_view(self, request: HttpRequest, view: Any, args: Any, kwargs: Any) -> HttpResponse | None:
        if getattr(view, "csrf_exempt", False):
            return None  # reads its body itself
        try:
            fields = [request.GET, request.POST]
            said = [name for one in fields for name in one] + [v for one in fields for vs in one.lists() for v in vs[1]]
        except RequestDataTooBig:
            limit = f"{settings.DATA_UPLOAD_MAX_MEMORY_SIZE // 1024 // 1024} MB"
            return render(
                request, "413.html", {"field": f"The fields of a form may have {limit} together."}, status=413
            )
        except (TooManyFieldsSent, TooManyFilesSent):
            limit = f"{settings.DATA_UPLOAD_MAX_NUMBER_FIELDS:,}"
            return render(request, "413.html", {"field": f"A form may have {limit} fields."}, status=413)
        if any("\x00" in text for text in said):
            return render(request, "400.html", status=400)
        return None


class HeadWithoutBody:
    """Answers HEAD with the headers of GET and nothing else, whatever server runs it."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        if request.method == "HEAD" and not response.streaming:
            length = len(response.content)
            response.content = b""
            response["Content-Length"] = str(length)
        return response
