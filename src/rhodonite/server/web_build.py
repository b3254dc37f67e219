"""Building the web application, once for each state of its sources."""

from __future__ import annotations

import hashlib
import os
import subprocess
from pathlib import Path

from .failures import StartFailure
from .settings import ROOT

WEB = ROOT / "web"
_SOURCES = ("package.json", "package-lock.json", "vite.config.ts", "tsconfig.json", "index.html", "src", "public")


def _hash(paths: list[Path]) -> str:
    digest = hashlib.sha256()
    for path in paths:
        for file in sorted([path] if path.is_file() else path.rglob("*") if path.is_dir() else []):
            if file.is_file():
                digest.update(str(file.relative_to(WEB)).encode() + b"\0" + file.read_bytes())
    return digest.hexdigest()


def _is_current(stamp: Path, mark: str) -> bool:
    return stamp.is_file() and stamp.read_text() == mark


def packages_missing() -> bool:
    """True where ``npm ci`` has to run."""
    return not _is_current(WEB / "node_modules" / ".rhodonite-stamp", _hash([WEB / "package-lock.json"]))


def install_packages() -> None:
    """Install the locked packages."""
    _run(
        ["npm", "ci", "--no-audit", "--no-fund", "--loglevel=error"], "The packages of the web application could not be installed"
    )
    (WEB / "node_modules" / ".rhodonite-stamp").write_text(_hash([WEB / "package-lock.json"]))


def build_missing() -> bool:
    """True where the sources have changed since the last build."""
    return not _is_current(WEB / "dist" / ".stamp", _hash([WEB / name for name in _SOURCES]))


def build() -> None:
    """Build the web application into ``web/dist``."""
    mark = _hash([WEB / name for name in _SOURCES])
    _run(["npm", "run", "build", "--silent"], "The web application could not be built")
    (WEB / "dist" / ".stamp").write_text(mark)


def _run(command: list[str], what: str) -> None:
    try:
        done = subprocess.run(command, cwd=WEB, capture_output=True, text=True, check=False, env={**os.environ, "CI": "true"})
    except FileNotFoundError as error:
        raise StartFailure(f"{command[0]} is missing. Install it with: apt-get install nodejs npm") from error
    if done.returncode:
        lines = [line for line in (done.stdout + done.stderr).splitlines() if line.strip()]
        raise StartFailure(f"{what}: {' / '.join(lines[-6:])}")
