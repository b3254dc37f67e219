"""Starts the parts of Rhodonite in order, watches over them, starts again what falls over, and stops all of it."""

from __future__ import annotations

import errno
import fcntl
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TextIO

from .failures import StartFailure
from .mariadb import OwnMariaDB, die_with_parent
from .settings import ROOT, Settings

NEEDED_SPACE = 400 * 1024 * 1024
_READY_WITHIN = 60.0


def say(text: str) -> None:
    """Tell the person at the terminal."""
    print(text, flush=True)


@contextmanager
def step(text: str) -> Iterator[None]:
    """Say what is being done, and how long it took."""
    print(f"{text} ... ", end="", flush=True)
    began = time.monotonic()
    try:
        yield
    except BaseException:
        print("failed", flush=True)
        raise
    print(f"{time.monotonic() - began:.1f} s", flush=True)


def lock_data(folder: Path) -> TextIO:
    """Keep a second instance off the same data. Raises StartFailure where one is running."""
    folder.mkdir(parents=True, exist_ok=True)
    file = open(folder / "lock", "a+")  # noqa: SIM115  held open for as long as Rhodonite runs
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError as error:
        file.seek(0)
        raise StartFailure(
            f"Rhodonite is running already on the data in {folder} (process {file.read().strip() or 'unknown'}). Stop it first."
        ) from error
    file.truncate(0)
    file.write(str(os.getpid()))
    file.flush()
    return file


def is_running(folder: Path) -> bool:
    """True where an instance is running on this data."""
    try:
        lock_data(folder).close()
    except StartFailure:
        return True
    return False


def check_space(folder: Path) -> None:
    """Raises StartFailure where the disk is nearly full."""
    free = shutil.disk_usage(folder).free
    if free < NEEDED_SPACE:
        raise StartFailure(
            f"The disk of {folder} has {free // 2**20} MB free; {NEEDED_SPACE // 2**20} MB are needed. Make room, then start again."
        )


def open_port(host: str, port: int) -> socket.socket:
    """The listening socket, shared by all server processes. Raises StartFailure where the port is taken."""
    listener = socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind((host, port))
    except OSError as error:
        listener.close()
        if error.errno == errno.EADDRINUSE:
            raise StartFailure(
                f"Port {port} is in use by another program. Choose another: RHODONITE_PORT={port + 1} ./rhodonite ..."
            ) from error
        raise StartFailure(f"Rhodonite cannot listen on {host}:{port}: {error.strerror}.") from error
    listener.listen(2048)
    listener.set_inheritable(True)
    return listener


def _last_in_line() -> None:
    die_with_parent()
    os.nice(19)


class Supervisor:
    """Runs server processes and the worker on a database.

    Args:
        settings: with the address of the database.
        listener: the socket that all server processes share.
        mariadb: the database process, where it is Rhodonite's own.
    """

    def __init__(self, settings: Settings, listener: socket.socket, mariadb: OwnMariaDB | None) -> None:
        self._settings = settings
        self._listener = listener
        self._mariadb = mariadb
        self._parts: dict[str, subprocess.Popen[bytes]] = {}
        self._document: subprocess.Popen[bytes] | None = None
        self._stopping = False

    def start(self) -> None:
        """Start server processes and worker, and wait until they answer."""
        for index in range(self._settings.workers):
            self._start_part(f"server {index + 1}")
        self._start_part("worker")
        self._wait_until_ready()
        self._write_document()

    def _start_part(self, name: str) -> None:
        fd = self._listener.fileno()
        command = ["rhodonite.server.worker"] if name == "worker" else ["rhodonite.server.process", str(fd)]
        folder = self._settings.data / "metrics"
        env = {
            **os.environ,
            "PYTHONPATH": str(ROOT / "src"),
            "RHODONITE_DATABASE_URL": self._settings.database_url,
            "PROMETHEUS_MULTIPROC_DIR": str(folder),
        }
        self._parts[name] = subprocess.Popen(
            [sys.executable, "-m", *command],
            env=env,
            pass_fds=[] if name == "worker" else [fd],
            start_new_session=True,
            preexec_fn=die_with_parent,
        )

    def _write_document(self) -> None:
        """Have the API's document written, at the lowest priority: whoever asks a server process first would wait seconds."""
        self._settings.api_document.unlink(missing_ok=True)
        self._document = subprocess.Popen(
            [sys.executable, "-m", "rhodonite", "api-document", "--into", str(self._settings.api_document)],
            env={**os.environ, "PYTHONPATH": str(ROOT / "src")},
            start_new_session=True,
            preexec_fn=_last_in_line,
        )

    def _wait_until_ready(self) -> None:
        end = time.monotonic() + _READY_WITHIN
        host = "127.0.0.1" if self._settings.host in {"0.0.0.0", "::"} else self._settings.host
        while time.monotonic() < end:
            if any(part.poll() is not None for part in self._parts.values()):
                raise StartFailure("A part of Rhodonite stopped while starting; what it printed above says why.")
            try:
                with urllib.request.urlopen(f"http://{host}:{self._settings.port}/api/health", timeout=2):
                    return
            except OSError:
                time.sleep(0.05)
        raise StartFailure(f"Rhodonite did not answer within {_READY_WITHIN:.0f} s.")

    def heed_signals(self) -> None:
        """From here on Ctrl-C and the signal to terminate end the watch in good order, instead of breaking off."""
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, lambda *_: setattr(self, "_stopping", True))

    def watch(self) -> None:
        """Start again whatever falls over, until told to stop."""
        while not self._stopping:
            if self._mariadb and self._mariadb.process and self._mariadb.process.poll() is not None:
                self._restart_database()
            for name, part in list(self._parts.items()):
                if part.poll() is not None and not self._stopping:
                    say(f"{name} ended unexpectedly ({part.returncode}); starting it again.")
                    self._start_part(name)
            time.sleep(0.2)

    def _restart_database(self) -> None:
        """MariaDB recovers what was committed. The other parts ask for it until it answers again; only where its port was
        taken meanwhile do they start anew."""
        assert self._mariadb is not None
        say("The database ended unexpectedly; starting it again.")
        self._mariadb.start()
        if self._mariadb.url == self._settings.database_url:
            return
        self._settings.database_url = self._mariadb.url
        self._end(list(self._parts))
        for name in list(self._parts):
            self._start_part(name)

    def _end(self, names: list[str]) -> None:
        for name in names:
            if self._parts[name].poll() is None:
                self._parts[name].send_signal(signal.SIGTERM)
        for name in names:
            try:
                self._parts[name].wait(8)
            except subprocess.TimeoutExpired:
                self._parts[name].kill()
                self._parts[name].wait()

    def stop(self) -> None:
        """Stop server and worker, then the database."""
        if self._document is not None and self._document.poll() is None:
            self._document.kill()
            self._document.wait()
        self._end(list(self._parts))
        if self._mariadb:
            self._mariadb.stop()
        self._listener.close()


@contextmanager
def own_or_given_database(settings: Settings) -> Iterator[str]:
    """The address of a database for a command that runs beside or without a running instance."""
    if settings.database_url:
        yield settings.database_url
        return
    own = OwnMariaDB(settings.data / "mariadb")
    if is_running(settings.data):
        yield own.url
        return
    if own.is_new:
        raise StartFailure(f"There is no data in {settings.data} yet. Start Rhodonite once first.")
    lock = lock_data(settings.data)
    own.start()
    try:
        yield own.url
    finally:
        own.stop()
        lock.close()


def run(settings: Settings, prepare: Callable[[Settings], None], announce: Callable[[Settings], None]) -> None:
    """Start everything, announce it, and watch until told to stop.

    Args:
        prepare: called with the database running, before any server process starts.
        announce: called when everything answers.
    """
    signal.signal(signal.SIGTERM, signal.default_int_handler)  # while starting, so that what runs already is stopped in order
    lock = lock_data(settings.data)
    check_space(settings.data)
    listener = open_port(settings.host, settings.port)
    mariadb = None
    metrics = settings.data / "metrics"
    shutil.rmtree(metrics, ignore_errors=True)
    metrics.mkdir(parents=True)
    if not settings.database_url:
        mariadb = OwnMariaDB(settings.data / "mariadb")
        if mariadb.is_new:
            with step("Making a data folder for MariaDB"):
                mariadb.make()
        with step("Starting MariaDB"):
            mariadb.start()
        settings.database_url = mariadb.url
    supervisor = Supervisor(settings, listener, mariadb)
    try:
        prepare(settings)
        with step(f"Starting {settings.workers} server processes and the worker"):
            supervisor.start()
        supervisor.heed_signals()  # before anybody is told how to stop it
        announce(settings)
        supervisor.watch()
        say("\nStopping ...")
    finally:
        supervisor.stop()
        lock.close()
