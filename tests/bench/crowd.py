"""Two hundred people at once: each looks, edits, finds and opens every few seconds, and follows the live stream."""

from __future__ import annotations

import gzip
import http.client
import random
import selectors
import socket
import statistics
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field

import orjson

PEOPLE = 200
RAMP = 20.0
"""Seconds within which they arrive."""
LASTS = 60.0
THINKS = (3.0, 6.0)
#: What they do, and how often in a hundred: as observed of people at work.
ACTS = {"rows": 35, "look": 25, "edit": 25, "find": 10, "open": 5}

EDITS = (45, 25, 25, 5)
"""Of a hundred edits those of percent, priority, title, and of durations, which move all that waits."""


@dataclass(slots=True)
class Figures:
    """What came of it: seconds of each answer, what went wrong, and how long a change took to reach another's stream."""

    answers: list[float] = field(default_factory=list)
    wrong: list[str] = field(default_factory=list)
    reach: list[float] = field(default_factory=list)

    def at(self, percent: int) -> float:
        """Milliseconds within which so many in a hundred were answered."""
        return statistics.quantiles(self.answers, n=100)[percent - 1] * 1000

    @property
    def median(self) -> float:
        """Milliseconds."""
        return statistics.median(self.answers) * 1000


class Streams:
    """The live streams of all of them, read by one thread: when each project's revision was heard of first and last."""

    def __init__(self, port: int) -> None:
        self._port = port
        self._selector = selectors.DefaultSelector()
        self._lock = threading.Lock()
        self.heard: dict[tuple[str, int], float] = {}
        self._ends = False
        self._thread = threading.Thread(target=self._read, daemon=True)
        self._thread.start()

    def open(self, token: str) -> None:
        """Follow as one person."""
        one = socket.create_connection(("127.0.0.1", self._port), timeout=30)
        one.sendall(f"GET /api/live HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: rhodonite_session={token}\r\n\r\n".encode())
        one.setblocking(False)
        with self._lock:
            self._selector.register(one, selectors.EVENT_READ)

    def _read(self) -> None:
        while not self._ends:
            with self._lock:
                ready = self._selector.select(0)
            if not ready:
                time.sleep(0.01)
            for key, _ in ready:
                assert isinstance(key.fileobj, socket.socket)
                try:
                    data = key.fileobj.recv(65536)
                except BlockingIOError:
                    continue
                if not data:
                    with self._lock:
                        self._selector.unregister(key.fileobj)
                    continue
                now = time.perf_counter()
                for line in data.split(b"\n"):
                    if line.startswith(b'data: {"'):
                        try:
                            for code, revision in orjson.loads(line[6:]).items():
                                self.heard[code, revision] = now  # the last of them to hear it
                        except ValueError:  # a piece that ends within a line
                            continue

    def close(self) -> None:
        """Stop following."""
        self._ends = True
        self._thread.join()


def crowd(port: int, tokens: list[str], codes: list[str]) -> Figures:
    """Let them work.

    Args:
        tokens: a session for each.
        codes: the projects, one for each in turn.
    """
    figures, streams = Figures(), Streams(port)
    sent: list[tuple[str, int, float]] = []
    ends = time.perf_counter() + RAMP + LASTS
    threads = [
        threading.Thread(target=_work, args=(n, port, token, codes[n % len(codes)], ends, figures, streams, sent), daemon=True)
        for n, token in enumerate(tokens)
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    time.sleep(1.5)  # what was changed last is on its way
    streams.close()
    for code, revision, at in sent:
        heard = [moment for (one, other), moment in streams.heard.items() if one == code and other >= revision]
        figures.reach.append(max(0.0, min(heard) - at) if heard else 60.0)
    return figures


def _work(
    n: int, port: int, token: str, code: str, ends: float, figures: Figures, streams: Streams, sent: list[tuple[str, int, float]]
) -> None:
    chance = random.Random(n)
    time.sleep(RAMP * n / PEOPLE)
    person = _Person(port, token, code, chance, figures, sent)
    try:
        streams.open(token)
        person.arrive()
        begins = ends - LASTS
        while time.perf_counter() < ends:
            time.sleep(chance.uniform(*THINKS))
            person.counts = time.perf_counter() >= begins
            person.act(chance.choices(list(ACTS), list(ACTS.values()))[0])
    except Exception as error:
        figures.wrong.append(f"{type(error).__name__}: {error}")


class _Person:
    def __init__(
        self, port: int, token: str, code: str, chance: random.Random, figures: Figures, sent: list[tuple[str, int, float]]
    ) -> None:
        self._connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
        self._connection.connect()
        assert self._connection.sock is not None
        self._connection.sock.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        self._headers = {
            "Cookie": f"rhodonite_session={token}", "Rhodonite-Client": "crowd", "Content-Type": "application/json",
            "Accept-Encoding": "gzip",
        }  # fmt: skip
        self._project, self._chance, self._figures, self._sent = f"/projects/{code}", chance, figures, sent
        self._code = code
        self._mark = ""
        self._tasks: list[str] = []
        self.counts = False

    def arrive(self) -> None:
        """Open a page of the project."""
        answer = orjson.loads(self._ask("GET", f"{self._project}/page", plain=True))["rows"]
        self._mark = answer["mark"]
        leaves = [row["id"] for row in answer["rows"] if not row["is_summary"]]
        self._tasks = self._chance.sample(leaves, min(12, len(leaves)))

    def act(self, what: str) -> None:
        """One thing that people do."""
        with self._timed():
            if what == "rows":
                self._page()
            elif what == "look":
                self._ask("GET", self._chance.choice([f"{self._project}/brief", f"{self._project}/scope?late=true", "/desk"]))
            elif what == "edit":
                self._edit()
            elif what == "find":
                self._ask("GET", f"/find?text={self._chance.choice(['stone', 'granite', '4242', 'crane'])}")
            else:
                self._ask("GET", f"/tasks/{self._chance.choice(self._tasks)}")

    def _page(self) -> None:
        answer = orjson.loads(self._ask("GET", f"{self._project}/page?mark={self._mark}", plain=True))
        self._mark = answer["rows"]["mark"]

    def _edit(self) -> None:
        fields = self._chance.choices(
            [{"percent": self._chance.randrange(90)}, {"priority": self._chance.choice(["must", "should", "could"])},
             {"title": f"Task by {self._chance.randrange(10**6)}"}, {"duration": f"{self._chance.randint(1, 6)} d"}],
            EDITS,
        )[0]  # fmt: skip
        body = {"tasks": [{"id": self._chance.choice(self._tasks), "revision": 10**8, "fields": fields}]}
        at = time.perf_counter()
        answer = orjson.loads(self._ask("PATCH", f"{self._project}/tasks?since={self._mark}", body, plain=True))
        self._mark = answer["mark"]
        if self.counts:
            self._sent.append((self._code, int(self._mark.split(".")[0]), at))

    @contextmanager
    def _timed(self) -> Iterator[None]:
        began = time.perf_counter()
        yield
        if self.counts:
            self._figures.answers.append(time.perf_counter() - began)

    def _ask(self, method: str, path: str, body: object = None, *, plain: bool = False) -> bytes:
        data = None if body is None else orjson.dumps(body)
        self._connection.request(method, f"/api{path}", data, self._headers)
        answer = self._connection.getresponse()
        got = answer.read()
        if answer.status >= 400:
            self._figures.wrong.append(f"{answer.status} {method} {path}: {got[:200]!r}")
            raise ValueError(answer.status)
        return gzip.decompress(got) if plain and answer.headers.get("Content-Encoding") == "gzip" else got
