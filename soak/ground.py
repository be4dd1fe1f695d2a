"""What every attack stands on: a database file of its own, a garden with people, a server that can be killed, one line a result."""

from __future__ import annotations

import http.client
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.parse
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
TOKEN = "a" * 32  # a forgery token as the cookie and the form have it


def report(name: str, good: bool, figures: str) -> bool:
    print(f"SOAK {name} {'ok' if good else 'OVER'}  # {figures}", flush=True)
    return good


def prepare(data: str) -> None:
    """Django on a fresh database in that folder."""
    os.environ |= {
        "AESTIVA_DATA": data,
        "AESTIVA_DEBUG": "0",
        "AESTIVA_DEMO": "0",
        "DJANGO_SETTINGS_MODULE": "aestiva.settings",
    }
    import django
    from django.conf import settings
    from django.core.management import call_command
    from django.test.utils import setup_test_environment

    django.setup()
    setup_test_environment()
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    settings.LOGGING_CONFIG = None
    import logging

    logging.disable(logging.CRITICAL)  # refusals are provoked on purpose
    call_command("migrate", verbosity=0)


def begin(name: str) -> tuple[Any, Any]:
    """A garden with frost dates, beds and shelves, and its owner; `name` keeps several apart."""
    from aestiva.frame.tests.garden import garden, user
    from aestiva.season.models import Spot

    owner = user(name)
    made = garden(owner, name=name)
    for kind, code in (("bed", "Bed A"), ("bed", "Bed B"), ("shelf", "R1·1"), ("frame", "Frame")):
        Spot.objects.create(garden=made, kind=kind, code=code, length_cm=300, width_cm=120)
    return made, owner


def session_of(user: Any) -> str:
    """The cookie of a browser in which this person is logged in."""
    from aestiva.frame.tests.garden import client_for

    return str(client_for(user).cookies["sessionid"].value)


class Server:
    """The application as people run it, on a port of its own."""

    def __init__(self) -> None:
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        command = [sys.executable, "-W", "ignore", "-m", "aestiva.serve", "127.0.0.1", str(self.port)]
        self.process = subprocess.Popen(command, cwd=ROOT, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        end = time.monotonic() + 60
        while time.monotonic() < end:
            with socket.socket() as probe:
                if probe.connect_ex(("127.0.0.1", self.port)) == 0:
                    return
            time.sleep(0.05)
        raise RuntimeError("the server did not start")

    def kill(self) -> None:
        """Pull the plug."""
        assert self.process is not None
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()


class Browser:
    """One person's connection to the server."""

    def __init__(self, port: int, session: str) -> None:
        self.port = port
        self.headers = {"Cookie": f"sessionid={session}; csrftoken={TOKEN}", "Host": f"127.0.0.1:{port}"}

    def ask(self, method: str, address: str, data: dict[str, Any] | None = None) -> int:
        """The status of the answer; OSError or HTTPException where there is none."""
        link = http.client.HTTPConnection("127.0.0.1", self.port, timeout=30)
        try:
            body, headers = None, self.headers
            if data is not None:
                body = urllib.parse.urlencode({**data, "csrfmiddlewaretoken": TOKEN})
                headers = {**headers, "Content-Type": "application/x-www-form-urlencoded"}
            link.request(method, address, body, headers)
            answer = link.getresponse()
            answer.read()
            return answer.status
        finally:
            link.close()
