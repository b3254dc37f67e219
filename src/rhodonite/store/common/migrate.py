"""Apply the numbered SQL files, forward only, under a lock."""

from __future__ import annotations

import re
from importlib import resources

from pymysql.cursors import Cursor

from .database import Database, fetch_all, fetch_one

_LOCK = "rhodonite.migrate"


def migrations() -> list[tuple[int, str, str]]:
    """All migrations in order, as (number, file name, SQL)."""
    folder = resources.files("rhodonite.store") / "migrations"
    found = [(int(f.name[:4]), f.name, f.read_text("utf-8")) for f in folder.iterdir() if re.match(r"\d{4}_.*\.sql$", f.name)]
    return sorted(found)


def statements(sql: str) -> list[str]:
    """Split a file into statements. A statement ends with a semicolon at the end of a line."""
    bare = "\n".join(line for line in sql.splitlines() if not line.lstrip().startswith("--"))
    return [part.strip() for part in re.split(r";\s*(?:\n|$)", bare) if part.strip()]


def migrate(database: Database) -> list[str]:
    """Bring the tables up to date. Several processes may call this at once. Returns the files applied."""
    return database.write(_migrate)


def _migrate(cur: Cursor) -> list[str]:
    if fetch_one(cur, "SELECT GET_LOCK(%s, 60)", (_LOCK,)) != (1,):
        raise RuntimeError("Another process has been changing the tables for a minute. Try again when it has finished.")
    try:
        cur.execute(
            "CREATE TABLE IF NOT EXISTS migrations (number INT NOT NULL PRIMARY KEY, name VARCHAR(120) NOT NULL,"
            " applied_at DATETIME(6) NOT NULL) CHARACTER SET utf8mb4"
        )
        done = {row[0] for row in fetch_all(cur, "SELECT number FROM migrations")}
        applied = []
        for number, name, sql in migrations():
            if number in done:
                continue
            for statement in statements(sql):
                cur.execute(statement)
            cur.execute("INSERT INTO migrations (number, name, applied_at) VALUES (%s, %s, UTC_TIMESTAMP(6))", (number, name))
            applied.append(name)
        return applied
    finally:
        cur.execute("SELECT RELEASE_LOCK(%s)", (_LOCK,))
