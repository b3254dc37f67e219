"""All tables of the database as they stand, to be compared before and after something was done and taken back."""

from __future__ import annotations

from typing import Any

from rhodonite.store.common.database import Database, fetch_all

Tables = dict[str, dict[tuple[Any, ...], dict[str, Any]]]
"""By table its rows, by their primary key."""

WRITTEN_ALONG = frozenset(
    {
        "changes",
        "journal",
        "sessions",
        "dispatches",
        "dispatch_files",
        "jobs",
        "job_files",
        "notices",
        "migrations",
        "locks",
    }
)
"""What is written beside a change, and stays when that is taken back."""
COUNTS_UP = frozenset(
    {"revision", "meta_revision", "changed_at", "next_number", "version", "mark", "changes", "seen_at", "last_seen_at"}
)
"""Columns that count changes, or take numbers that are never given twice."""
APPLIED = ("drafts", "applied")
"""It names the change that applied a draft, and holds for as long as that is not taken back."""
USUAL: dict[str, dict[str, Any]] = {
    "bookable": {"id": 1, "week": None, "absence_kinds": "[]", "currency": "EUR", "closed": "[]"},
    "goal_settings": {"id": 1, "purpose": ""},
    "report_settings": {"rhythm": None, "people": "[]"},
    "capacities": {"week": None, "share": 100, "first_day": None, "last_day": None},
}
"""Rows that say what holds without them too."""


def read_tables(database: Database, *, everything: bool = False) -> Tables:
    """What stands in the tables, but for what is written along and what counts up, unless that is wanted too."""

    def read(cur: Any) -> Tables:
        names = [
            name for (name,) in fetch_all(cur, "SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()")
        ]
        keys: dict[str, list[str]] = {}
        for table, column in fetch_all(
            cur,
            "SELECT table_name, column_name FROM information_schema.key_column_usage WHERE table_schema = DATABASE()"
            " AND constraint_name = 'PRIMARY' ORDER BY table_name, ordinal_position",
        ):
            keys.setdefault(table, []).append(column)
        found: Tables = {}
        for name in names:
            if name in WRITTEN_ALONG and not everything:
                continue
            cur.execute(f"SELECT * FROM `{name}`")
            heads = [one[0] for one in cur.description]
            rows = [dict(zip(heads, row, strict=True)) for row in cur.fetchall()]
            kept = [one for one in heads if everything or (one not in COUNTS_UP and (name, one) != APPLIED)]
            found[name] = {tuple(row[key] for key in keys[name]): {one: row[one] for one in kept} for row in rows}
        return found

    return database.read(read)


def differing(before: Tables, after: Tables) -> list[str]:
    """Where two readings differ, in words. What was made in between and taken away again stands in the bin: that is as it was."""
    gone: set[Any] = set()
    for table, rows in after.items():
        gone |= {key[0] for key, row in rows.items() if row.get("deleted_at") is not None and key not in before.get(table, {})}
    found = []
    for table in before.keys() | after.keys():
        was, now = before.get(table, {}), after.get(table, {})
        for key in was.keys() | now.keys():
            left, right = was.get(key), now.get(key)
            if left == right or (left is None and right is not None and _hangs_on(right, gone)):
                continue
            if _is_in_bin(left) and _is_in_bin(right):
                continue
            if left is None and right is not None and USUAL.get(table, {"": 0}).items() <= right.items():
                continue
            if left is None or right is None:
                found.append(f"{table} {key}: {'appeared' if left is None else 'is gone'} {right or left}")
                continue
            found += [f"{table} {key} {name}: {left[name]!r} → {right[name]!r}" for name in left if left[name] != right[name]]
    return sorted(found)


def _is_in_bin(row: dict[str, Any] | None) -> bool:
    """What lies in the bin is as it was in the bin, whatever it says besides."""
    return row is not None and row.get("deleted_at") is not None


def _hangs_on(row: dict[str, Any], gone: set[Any]) -> bool:
    return any(isinstance(value, str) and value in gone for value in row.values())
