"""A whole Rhodonite in processes of its own, as a user starts it."""

from __future__ import annotations

import http.client
import json
import os
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

from rhodonite.server.mariadb import free_port
from rhodonite.server.settings import ROOT


class Running:
    """One instance with the demo organisation.

    Args:
        folder: for its data.
        environment: more variables.
    """

    def __init__(self, folder: Path, **environment: str) -> None:
        self.folder = folder
        self.port = free_port()
        self._environment = environment
        self._process: subprocess.Popen[str] | None = None

    @property
    def url(self) -> str:
        """Where it answers."""
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        """Start it as a user would, and wait until it is announced."""
        env = {
            **os.environ, "PYTHONPATH": str(ROOT / "src"), "RHODONITE_DATA": str(self.folder), "RHODONITE_PORT": str(self.port),
            **self._environment,
        }  # fmt: skip
        self._process = subprocess.Popen(
            [sys.executable, "-m", "rhodonite", "demo"], env=env, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True
        )
        assert self._process.stdout is not None
        said = []
        for line in self._process.stdout:
            said.append(line)
            if "Ctrl-C" in line:
                return
        raise AssertionError("it did not start: " + "".join(said))

    def stop(self, number: int = signal.SIGINT) -> int:
        """Stop it; returns its exit status."""
        assert self._process is not None
        self._process.send_signal(number)
        return self._process.wait(90)

    def parts(self, words: str) -> list[int]:
        """The process ids of parts of this instance whose command line has these words."""
        assert self._process is not None
        found = []
        for entry in Path("/proc").iterdir():
            if not entry.name.isdigit():
                continue
            try:
                command = (entry / "cmdline").read_bytes().replace(b"\0", b" ").decode(errors="replace")
                parent = int((entry / "stat").read_text().rsplit(")", 1)[1].split()[1])
            except (OSError, ValueError):
                continue
            if words in command and parent == self._process.pid:
                found.append(int(entry.name))
        return found


class Visitor:
    """Somebody signed in to a running instance."""

    def __init__(self, running: Running, name: str) -> None:
        self._running = running
        self.cookie = ""
        people = self("GET", "/session")["demo"]
        chosen = next(person for person in people if person["name"] == name)
        self("POST", "/session/demo", {"person_id": chosen["id"]})

    def __call__(self, method: str, path: str, body: Any = None, change: str | None = None, timeout: float = 30) -> Any:
        """The JSON of an answer. Raises OSError where none comes."""
        request = urllib.request.Request(
            f"{self._running.url}/api{path}",
            method=method,
            data=None if body is None else json.dumps(body).encode(),
            headers={"Content-Type": "application/json", "Rhodonite-Client": "test", "Cookie": self.cookie}
            | ({"Rhodonite-Change": change} if change else {}),
        )
        try:
            with urllib.request.urlopen(request, timeout=timeout) as answer:
                for header in answer.headers.get_all("Set-Cookie") or []:
                    if header.startswith("rhodonite_session="):
                        self.cookie = header.split(";")[0]
                return json.loads(answer.read() or b"null")
        except http.client.HTTPException as error:
            raise ConnectionError("the connection broke") from error


def wait_until(test: Any, seconds: float = 60) -> None:
    """Wait for something to become true, looking often."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        try:
            if test():
                return
        except (OSError, urllib.error.URLError):
            pass
        time.sleep(0.05)
    raise AssertionError("it did not happen in time")
