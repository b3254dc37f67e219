"""A change that is refused leaves nothing behind, however late it is refused: the tables and what processes hold in memory are
as before, and the same change goes through afterwards."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest

from rhodonite.core.common.errors import RuleError
from rhodonite.core.people.model import Person
from rhodonite.services.common.context import Clock
from rhodonite.store.common import journal as journal_rows
from rhodonite.store.common.database import Database
from tests.conftest import Caller
from tests.memory import check_memory

from .routes import Walk, call
from .tables import read_tables
from .test_undo_everything import WRITES

PARTS = 4


def _refuse(*_: Any) -> None:
    raise RuleError("This is refused at the last moment.")


@pytest.mark.parametrize("part", range(PARTS))
def test_a_change_that_is_refused_at_last_leaves_nothing_behind(
    part: int, sign_in: Callable[[str], Caller], people: dict[str, Person], database: Database, clock: Clock,
    monkeypatch: pytest.MonkeyPatch,
) -> None:  # fmt: skip
    walk = Walk(sign_in, people, database, "administrator")
    wrong = []
    for method, path in WRITES[part::PARTS]:
        words = walk.words_for(method, path)
        walk.caller("GET", "/projects/LAN/tasks")  # the process holds the plan
        before = read_tables(database, everything=True)
        with monkeypatch.context() as patch:
            patch.setattr(journal_rows, "insert_entries", _refuse)
            status = call(walk.caller, method, path, words)
        if status >= 500:
            wrong.append(f"{method} {path}: {status}")
        if status >= 400 and read_tables(database, everything=True) != before:
            wrong.append(f"{method} {path}: left rows behind")
        try:
            check_memory(database, clock)
            again = call(walk.caller, method, path, words) if status >= 400 else status
            if again >= 400:
                wrong.append(f"{method} {path}: {again} when done again")
            check_memory(database, clock)
        except AssertionError as error:
            wrong.append(f"{method} {path}: {error}")
    assert not wrong, "\n".join(wrong)
