"""A real server in a home of its own, with the demo study and people in it."""

import http.client
import json
import os
import re
import signal
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

PEOPLE = """
import json, sys
from hobrix.web import serving
serving.set_up()
from django.contrib.auth import get_user_model
from django.test import Client
from hobrix.web.studies.models import Membership, Study
made, study = [], Study.objects.order_by("created_at").first()
for i in range(int(sys.argv[1])):
    user, _ = get_user_model().objects.get_or_create(username=f"person{i}")
    Membership.objects.get_or_create(study=study, user=user, defaults={"role": "analyst"})
    client = Client()
    client.force_login(user)
    made.append(client.cookies["sessionid"].value)
print(json.dumps({"study": str(study.id), "sessions": made}))
"""


class Served:
    """Started by what anybody starts; killed as a power cut would."""

    def __init__(self, home: Path, port: int = 0) -> None:
        self.home = home
        self.environment = {k: v for k, v in os.environ.items() if not k.startswith("DJANGO")}
        self.environment |= {"HOBRIX_HOME": str(home), "PYTHONUNBUFFERED": "1"}
        self.environment["DJANGO_SETTINGS_MODULE"] = "hobrix.web.config.settings"
        # Below those that the other end of a connection is given: one of them might take it meanwhile.
        self.port = port or 20_000 + os.getpid() % 5_000
        self.process: subprocess.Popen[Any] | None = None

    def start(self) -> float:
        """Seconds until it answers."""
        began = time.monotonic()
        command = [sys.executable, "-m", "hobrix.cli", "demo", "--port", str(self.port)]
        self.process = subprocess.Popen(
            command, stdout=subprocess.PIPE, text=True, env=self.environment, start_new_session=True
        )
        assert self.process.stdout
        for line in self.process.stdout:
            if found := re.search(r"http://127\.0\.0\.1:(\d+)/enter/", line):
                self.port = int(found[1])
                break
        until(lambda: self.person("").ask("GET", "/health")[0] == 200, 120)
        return time.monotonic() - began

    def start_again(self) -> None:
        """The server alone, on the home as it was left: much quicker than with the demo study looked for."""
        command = [sys.executable, "-m", "hobrix.web.config.server", "127.0.0.1", str(self.port)]
        self.process = subprocess.Popen(command, env=self.environment, start_new_session=True)
        until(lambda: self.person("").ask("GET", "/health")[0] == 200, 120)

    def kill(self) -> None:
        assert self.process
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()

    def person(self, session: str) -> "Person":
        return Person(self.port, session)

    def people(self, number: int) -> tuple[str, list["Person"]]:
        """The study, and so many analysts of it."""
        done = subprocess.run(
            [sys.executable, "-c", PEOPLE, str(number)],
            env=self.environment,
            capture_output=True,
            text=True,
            check=True,
        )
        told = json.loads(done.stdout.splitlines()[-1])
        return told["study"], [self.person(session) for session in told["sessions"]]

    @property
    def memory(self) -> int:
        """Bytes that the server and all it started hold."""
        total = 0
        for entry in Path("/proc").iterdir():
            try:
                environment = (entry / "environ").read_bytes()
                if f"HOBRIX_HOME={self.home}".encode() in environment:
                    total += int((entry / "statm").read_text().split()[1]) * 4096
            except OSError:
                continue
        return total


class Person:
    """Somebody with a connection that stays open, and is opened again where it broke."""

    def __init__(self, port: int, session: str) -> None:
        self.port, self.session = port, session
        self.line: http.client.HTTPConnection | None = None

    def ask(self, method: str, path: str, body: Any = None, work: str = "") -> tuple[int, Any]:
        """Status and reply. With a name for the work, what takes long is asked for again and again."""
        while True:
            status, headers, content = self._once(method, path, body, work)
            if status != 202 or "Hobrix-Work" not in headers:
                return status, json.loads(content) if content[:1] in (b"{", b"[") else content
            time.sleep(0.4)

    def _once(
        self, method: str, path: str, body: Any, work: str
    ) -> tuple[int, http.client.HTTPMessage, bytes]:
        if self.line is None:
            self.line = http.client.HTTPConnection("127.0.0.1", self.port, timeout=120)
        headers = {"Cookie": f"sessionid={self.session}; csrftoken={'a' * 32}"}
        headers |= {"X-CSRFToken": "a" * 32, "Content-Type": "application/json"}
        headers |= {"Hobrix-Work": work} if work else {}
        try:
            self.line.request(method, path, None if body is None else json.dumps(body), headers)
            reply = self.line.getresponse()
            return reply.status, reply.headers, reply.read()
        except (OSError, http.client.HTTPException):
            self.line.close()
            self.line = None
            raise


def until(condition: Callable[[], Any], seconds: float, every: float = 0.05) -> Any:
    """What the condition gives once it is true; a server that is away is none."""
    end = time.monotonic() + seconds
    while True:
        try:
            if found := condition():
                return found
        except (OSError, http.client.HTTPException):
            pass
        if time.monotonic() > end:
            raise TimeoutError
        time.sleep(every)


def quantile(values: list[float], share: float) -> float:
    return sorted(values)[min(len(values) - 1, int(share * len(values)))]
