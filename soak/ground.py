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
    """The application as people run it, on a port of its own; `more` is what differs in its environment."""

    def __init__(self, **more: str) -> None:
        self.more = more
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        command = [sys.executable, "-W", "ignore", "-m", "aestiva.serve", "127.0.0.1", str(self.port)]
        self.process = subprocess.Popen(
            command, cwd=ROOT, env={**os.environ, **self.more}, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
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

    def processes(self) -> dict[int, str]:
        """Its own process and those that it began, with the command line of each."""
        assert self.process is not None
        found, look = {}, [self.process.pid]
        while look:
            pid = look.pop()
            try:
                found[pid] = Path(f"/proc/{pid}/cmdline").read_text().replace("\0", " ")
                for task in Path(f"/proc/{pid}/task").iterdir():
                    look += [int(child) for child in (task / "children").read_text().split()]
            except OSError:
                continue  # it has just ended
        return found


def peak_mb(pid: int) -> float:
    """The most memory that a process has had [MB]; 0 once it has ended."""
    try:
        lines = Path(f"/proc/{pid}/status").read_text().splitlines()
    except OSError:
        return 0.0
    return next((int(line.split()[1]) / 1024 for line in lines if line.startswith("VmHWM")), 0.0)


class Browser:
    """One person's connection to the server."""

    def __init__(self, port: int, session: str) -> None:
        self.port = port
        self.headers = {"Cookie": f"sessionid={session}; csrftoken={TOKEN}", "Host": f"127.0.0.1:{port}"}

    def ask(self, method: str, address: str, data: dict[str, Any] | None = None) -> int:
        """The status of the answer; OSError or HTTPException where there is none."""
        body, headers = None, self.headers
        if data is not None:
            body = urllib.parse.urlencode({**data, "csrfmiddlewaretoken": TOKEN}).encode()
            headers = {**headers, "Content-Type": "application/x-www-form-urlencoded"}
        return self.send(method, address, body, headers)[0]

    def upload(self, address: str, data: dict[str, Any], file: bytes, name: str) -> tuple[int, str]:
        """Post a file with a form: the status, and where it leads."""
        line = b"--cut-here"
        parts = [
            line + f'\r\nContent-Disposition: form-data; name="{field}"\r\n\r\n{value}'.encode()
            for field, value in {**data, "csrfmiddlewaretoken": TOKEN}.items()
        ]
        parts.append(
            line + f'\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'.encode() + file
        )
        headers = {**self.headers, "Content-Type": "multipart/form-data; boundary=cut-here"}
        status, _, leads = self.send("POST", address, b"\r\n".join([*parts, line + b"--\r\n"]), headers)
        return status, leads

    def send(
        self, method: str, address: str, body: bytes | None = None, headers: dict[str, str] | None = None
    ) -> tuple[int, str, str]:
        """Status, text and where it leads."""
        link = http.client.HTTPConnection("127.0.0.1", self.port, timeout=30)
        try:
            link.request(method, address, body, self.headers if headers is None else headers)
            answer = link.getresponse()
            return answer.status, answer.read().decode("utf-8", "replace"), answer.getheader("Location") or ""
        finally:
            link.close()
