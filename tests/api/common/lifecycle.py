"""What becomes of whatever is attached to a task when something happens to the task: one table, which the tests hold to and
from which ``docs/lifecycle.md`` is made."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

Cell = Literal["follows", "stays", "dropped, announced", "begins anew", "refused"]

COLUMNS: Mapping[str, str] = {
    "restored": "binned and restored",
    "moved": "moved to another project",
    "copied": "copied to another project",
    "copied_here": "copied in its project",
    "archived": "project archived and restored",
    "undone": "binned, undone",
    "merged": "merged into another task",
    "left": "owner leaves the organisation",
}
MEANING: Mapping[Cell, str] = {
    "follows": "it goes where the task goes, as it was",
    "stays": "it stays where it is, counts there, and this is said beforehand",
    "dropped, announced": "it does not come along, and this is said beforehand",
    "begins anew": "the copy has none, as new work has none",
    "refused": "it cannot happen while this is there",
}
_ALL: dict[str, Cell] = dict.fromkeys(COLUMNS, "follows")


def _row(**others: Cell) -> dict[str, Cell]:
    """What the task itself says: where two are merged, the one that is dropped keeps it."""
    return _ALL | {"merged": "stays"} | others


def _hangs(**others: Cell) -> dict[str, Cell]:
    """What goes over where two tasks are merged."""
    return _ALL | others


_SPENT = _hangs(copied="begins anew", copied_here="begins anew")
_CLOSED = _hangs(moved="stays", copied="begins anew", copied_here="begins anew")
_SAID = _hangs(copied="begins anew", copied_here="begins anew")
_PROGRESS = _row(copied="begins anew", copied_here="begins anew")

TABLE: Mapping[str, Mapping[str, Cell]] = {
    "owner": _row(),
    "helper": _row(),
    "priority": _row(),
    "effort": _row(),
    "deadline": _row(),
    "what is kept when hours change": _row(),
    "pin": _row(copied="begins anew", copied_here="begins anew"),
    "kind of the project": _row(moved="dropped, announced", copied="dropped, announced"),
    "mark": _row(moved="dropped, announced", copied="dropped, announced"),
    "field of its own": _row(moved="dropped, announced", copied="dropped, announced"),
    "lane": _row(moved="dropped, announced", copied="dropped, announced"),
    "period": _row(moved="dropped, announced", copied="dropped, announced", merged="dropped, announced"),
    "calendar of its own": _row(moved="dropped, announced", copied="dropped, announced"),
    "percent done": _PROGRESS,
    "held": _PROGRESS,
    "repeat": _row(copied="dropped, announced", copied_here="dropped, announced"),
    "booking": _row(),
    "hours by day": _row(),
    "fixed sum": _row(),
    "hours recorded": _SPENT,
    "hours accepted": _CLOSED,
    "hours invoiced": _CLOSED,
    "expense": _SPENT,
    "description": _hangs(),
    "checklist": _hangs(),
    "file": _hangs(),
    "comment": _SAID,
    "tie to another project": _row(copied="dropped, announced", copied_here="begins anew"),
}


def write_table() -> str:
    """The table as Markdown."""
    lines = [
        "# What becomes of what is attached to a task",
        "",
        "Made from `tests/api/common/lifecycle.py`, which the tests hold the program to, cell by cell.",
        "",
        *(f"- **{cell}**: {meaning}" for cell, meaning in MEANING.items()),
        "",
        "| | " + " | ".join(COLUMNS.values()) + " |",
        "|---|" + "---|" * len(COLUMNS),
        *(f"| {name} | " + " | ".join(cells[one] for one in COLUMNS) + " |" for name, cells in TABLE.items()),
        "",
        "A move asks for the right to edit on both sides. Fixed sums and expenses go along only for who may see what both projects",
        "cost; else they stay, and are counted where they are. What is attached to a task in the bin stays attached: hours and",
        "expenses count in reports, time sheets and costs as before, and who deletes the task is told so first.",
    ]
    return "\n".join(lines) + "\n"
