"""The real program on a data folder of its own, started as `serve` starts it, and people who speak to it over HTTP."""

from __future__ import annotations

import http.client
import http.cookiejar
import json
import os
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
import uuid
from pathlib import Path
from typing import Any

import psutil

ROOT = Path(__file__).parent.parent.parent
PASSWORD = "soil-and-water"
PATIENCE = 60.0
MAKE = """
from django.contrib.auth.models import User
from rogatum.web.courses.services import create_course
for name in {names!r}:
    create_course(User.objects.create_user(name, password={password!r}), "Course of " + name)
"""


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def until(what: Any, patience: float = PATIENCE) -> Any:
    """Waits for something to become true, and returns it."""
    deadline = time.monotonic() + patience
    while time.monotonic() < deadline:
        if found := what():
            return found
        time.sleep(0.05)
    raise AssertionError("it did not come")


class Program:
    """A program on a folder; it can be started, killed and started again."""

    def __init__(self, data: Path, names: list[str], log: Path | None = None) -> None:
        self.log = log
        self.environment = os.environ | {"ROGATUM_DATA": str(data), "ROGATUM_DEMO": "0"}
        self.environment.pop("ROGATUM_JOBS", None)
        self.data, self.port = data, free_port()
        self.run("migrate", "-v", "0")
        self.run("shell", "-v", "0", "-c", MAKE.format(names=names, password=PASSWORD))
        self.start()

    def run(self, *words: str) -> None:
        subprocess.run([sys.executable, "-m", "rogatum.web", *words], cwd=ROOT, env=self.environment, check=True)

    def popen(self, *words: str) -> subprocess.Popen[bytes]:
        command = [sys.executable, "-m", "rogatum.web", *words]
        if self.log is None:
            return subprocess.Popen(command, cwd=ROOT, env=self.environment)
        with self.log.open("ab") as told:
            return subprocess.Popen(command, cwd=ROOT, env=self.environment, stderr=told)

    def start(self) -> None:
        self.server = self.popen("serve", "--port", str(self.port))
        until(self._answers)

    def _answers(self) -> bool:
        assert self.server.poll() is None, "the server ended"
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{self.port}/api/session", timeout=2).close()
        except OSError:
            return False
        return True

    def processes(self) -> list[psutil.Process]:
        """All that runs for it: the web, the worker, and what reads."""
        return [self.process, *self.process.children(recursive=True)]

    @property
    def process(self) -> psutil.Process:
        return psutil.Process(self.server.pid)

    def worker(self) -> psutil.Process | None:
        return next((p for p in self.process.children() if "work" in p.cmdline()), None)

    def stop(self) -> None:
        self.server.terminate()
        self.server.wait(20)


class Person:
    """Somebody who is signed in."""

    def __init__(self, program: Program, name: str, password: str = PASSWORD) -> None:
        self.home = f"http://127.0.0.1:{program.port}/api"
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.call("GET", "/session")
        status, answer = self.call("POST", "/session", {"name": name, "password": password})
        assert status == 200, answer
        self.course = next((course["id"] for course in self.ok("GET", "/courses")), 0)

    def call(self, method: str, path: str, body: Any = None, kind: str = "application/json") -> tuple[int, Any]:
        data = body if isinstance(body, bytes) else None if body is None else json.dumps(body).encode()
        token = next((cookie.value for cookie in self.jar if cookie.name == "csrftoken"), "")
        request = urllib.request.Request(self.home + path, data, {"Content-Type": kind, "X-CSRFToken": token or ""}, method=method)
        try:
            status, raw = self.answer(request)
        except http.client.HTTPException as broken:
            raise ConnectionError("the answer broke off") from broken
        return status, json.loads(raw or b"null") if status < 300 or raw.startswith(b"{") else raw

    def answer(self, request: urllib.request.Request) -> tuple[int, bytes]:
        try:
            with self.opener.open(request, timeout=PATIENCE) as answer:
                return answer.status, answer.read()
        except urllib.error.HTTPError as refused:
            return refused.code, refused.read()

    def ok(self, method: str, path: str, body: Any = None) -> Any:
        status, answer = self.call(method, path, body)
        assert status == 200, (method, path, status, answer)
        return answer

    def upload(self, name: str, data: bytes) -> str:
        """Uploads one file; returns its job."""
        mark = uuid.uuid4().hex
        head = f'--{mark}\r\nContent-Disposition: form-data; name="files"; filename="{name}"\r\n\r\n'
        body = head.encode() + data + f"\r\n--{mark}--\r\n".encode()
        status, answer = self.call("POST", f"/courses/{self.course}/sources", body, f"multipart/form-data; boundary={mark}")
        assert status == 200, answer
        return str(answer[0]["id"])

    def paste(self, text: str, name: str = "") -> str:
        return str(self.ok("POST", f"/courses/{self.course}/sources/paste", {"text": text, "name": name})["id"])

    def job(self, job: str) -> dict[str, Any]:
        return self.ok("GET", f"/jobs/{job}")  # type: ignore[no-any-return]

    def ended(self, job: str) -> dict[str, Any]:
        """A job when it is done or failed."""
        return until(lambda: (found := self.job(job))["state"] in ("done", "failed") and found)  # type: ignore[no-any-return]

    def items(self) -> int:
        return int(self.ok("GET", f"/courses/{self.course}/items")["total"])
