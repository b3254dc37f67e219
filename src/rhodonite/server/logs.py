"""The log: one line for each event, short tracebacks, and nothing secret in it ever."""

from __future__ import annotations

import re
import traceback
from collections.abc import MutableMapping
from typing import Any

import structlog

MOST_FRAMES = 12
LONGEST_VALUE = 300
HIDDEN = "(hidden)"
_SECRET_KEYS = re.compile(r"password|token|secret|cookie|authorization|session", re.IGNORECASE)
_ADDRESS = re.compile(r"(\w+://[^:/@\s]+:)[^@\s]+@")
_COOKIE = re.compile(r"(rhodonite_\w+=)[^;\s\"']+")
# tokens and secrets are at least 32 letters of URL-safe base 64; ids are UUIDs
_LONG = re.compile(r"[A-Za-z0-9_-]{24,}")
_UUID = re.compile(r"[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}", re.IGNORECASE)

Event = MutableMapping[str, Any]


def hide(text: str) -> str:
    """A text without what could be a token, a secret or a password."""
    text = _COOKIE.sub(rf"\1{HIDDEN}", _ADDRESS.sub(rf"\1{HIDDEN}@", text))
    return _LONG.sub(lambda found: found[0] if _UUID.fullmatch(found[0]) or not _is_random(found[0]) else HIDDEN, text)


def _is_random(word: str) -> bool:
    """True for what is no name: words of letters of both cases and digits."""
    return bool(re.search(r"[A-Z]", word) and re.search(r"[a-z]", word) and re.search(r"\d", word))


def hide_secrets(_: object, __: str, event: Event) -> Event:
    """Leave out what is secret by its name or its look."""
    for name, value in event.items():
        if _SECRET_KEYS.search(name):
            event[name] = HIDDEN
        elif isinstance(value, str) and name != "traceback":
            event[name] = hide(value)[:LONGEST_VALUE]
    return event


def short_traceback(_: object, __: str, event: Event) -> Event:
    """In place of an exception its type, what it says, and where it came from: the last frames, without any variable."""
    error = event.pop("exc_info", None)
    if isinstance(error, BaseException):
        frames = traceback.extract_tb(error.__traceback__)[-MOST_FRAMES:]
        event["error"] = f"{type(error).__name__}: {error}"
        event["traceback"] = " < ".join(f"{_module(frame.filename)}:{frame.lineno} {frame.name}" for frame in reversed(frames))
    return event


def _module(path: str) -> str:
    return path.rpartition("/src/")[2] or path.rpartition("site-packages/")[2] or path


def configure(level: str) -> None:
    """Write events of a level and above as lines of ``name=value``."""
    structlog.configure(
        wrapper_class=structlog.make_filtering_bound_logger(level),
        processors=[
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper(fmt="iso", utc=True),
            short_traceback,
            hide_secrets,
            structlog.processors.LogfmtRenderer(key_order=["timestamp", "level", "event"], bool_as_flag=False),
        ],
    )
