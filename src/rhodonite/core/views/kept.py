"""What a sheet keeps: the sentence and the view that stood in the address of a page."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import replace
from datetime import date
from typing import Any
from urllib.parse import parse_qs

from ..common.errors import RuleError
from .conditions import read_group
from .scope import Scope
from .view import Shown, View, read_view

LONGEST_TEXT = 200


def read_kept(kept: Mapping[str, Any]) -> tuple[Scope, View]:
    """The sentence and the view of a sheet.

    Raises:
        RuleError: what is kept cannot be read.
    """
    try:
        query = parse_qs(str(kept.get("query") or ""), keep_blank_values=True, max_num_fields=1000)

        def one(name: str) -> str:
            return query.get(name, [""])[0]

        def many(name: str) -> tuple[str, ...]:
            return tuple(query.get(name, ()))

        def day(name: str) -> date | None:
            return date.fromisoformat(one(name)) if one(name) else None

        scope = Scope(
            many("kind"), many("owner"), many("state"), many("state_class"), one("text")[:LONGEST_TEXT], day("since"), day("until"),
            one("late") == "1", one("unowned") == "1", one("held") == "1", read_group(one("where")),
        )  # fmt: skip
        return scope, read_view(json.loads(one("view") or "{}"))
    except (ValueError, TypeError, AttributeError, RecursionError) as error:
        raise RuleError("What this sheet keeps cannot be read. Keep it anew.", "view") from error


USUAL_COLUMNS = ("project", "state", "owner", "start", "finish", "percent")
"""Of a list over all projects that names none."""


def with_columns(view: View) -> View:
    """A view over all projects with the usual columns where it names none."""
    return view if view.columns else replace(view, columns=tuple(Shown(one) for one in USUAL_COLUMNS))
