"""The lines of a plan of the demo, read; ``demo.plans`` says how they are written."""

from __future__ import annotations

from dataclasses import dataclass, field

_KINDS = {"milestone", "defect", "risk", "request", "deliverable"}
_PRIORITIES = {"must", "should", "could"}


@dataclass(slots=True)
class PlanLine:
    """One line of a plan, read. Offsets are working days from today."""

    depth: int
    title: str
    owner: str | None
    start: int | None = None
    days: int | None = None
    percent: int = 0
    kind: str = "task"
    priority: str | None = None
    helpers: list[str] = field(default_factory=list)
    deadline: int | None = None
    held: tuple[int, str] | None = None
    pushed: int = 0
    state: str | None = None
    effort: int | None = None
    waits: list[str] = field(default_factory=list)
    hand: bool = False
    longer: int = 0
    pin: bool = False
    calendar: str | None = None


def read_plan(text: str) -> list[PlanLine]:
    """Read a plan's text; see ``demo.plans``."""
    return [_read_line(line) for line in text.splitlines() if line.strip()]


def _read_line(line: str) -> PlanLine:
    title, owner, *rest = [part.strip() for part in line.split("|")]
    start, days, done, more = (rest + ["-", "-", "0", ""][len(rest) :])[:4]
    found = PlanLine((len(line) - len(line.lstrip())) // 2, title, None if owner == "-" else owner)
    found.start = None if start == "-" else int(start)
    found.days = None if days == "-" else int(days)
    found.percent = 100 if done == "done" else int(done)
    for word in filter(None, (part.strip() for part in more.split(","))):
        name, _, value = word.partition(" ")
        if word in _KINDS:
            found.kind = word
        elif word in _PRIORITIES:
            found.priority = word
        elif name == "with":
            found.helpers.append(value)
        elif name == "held":
            since, _, reason = value.partition(": ")
            found.held = (int(since), reason)
        elif name == "state":
            found.state = value
        elif name == "waits":
            found.waits.append(value)
        elif name == "by":
            found.calendar = value
        elif word in {"hand", "pin"}:
            setattr(found, word, True)
        else:
            setattr(found, name, int(value))
    return found
