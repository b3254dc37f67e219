"""The scope sentence and the view that a request asks by, read from its query."""

from __future__ import annotations

import json
from typing import Annotated

from fastapi import Depends, Query
from pydantic import Field

from ...core.common.errors import RuleError
from ...core.views.conditions import LONGEST, read_group
from ...core.views.scope import Scope
from ...core.views.view import View, read_view
from ..common.inputs import Day

Words = Annotated[list[Annotated[str, Field(max_length=200)]], Query(max_length=200)]


def get_scope(
    kind: Words = [],  # noqa: B006
    owner: Words = [],  # noqa: B006
    state: Words = [],  # noqa: B006
    state_class: Words = [],  # noqa: B006
    text: Annotated[str, Query(max_length=10_000)] = "",
    since: Day | None = None,
    until: Day | None = None,
    late: bool = False,
    unowned: bool = False,
    held: bool = False,
    where: Annotated[
        str,
        Query(
            max_length=LONGEST,
            description='Further clauses over any field, as JSON: {"all": [["deadline", "within", 21], ["late", "yes"]]}',
        ),
    ] = "",
) -> Scope:
    """Read a scope sentence from the query."""
    lists = tuple(kind), tuple(owner), tuple(state), tuple(state_class)
    return Scope(*lists, text[:200], since, until, late, unowned, held, read_group(where))


Scoped = Annotated[Scope, Depends(get_scope)]


def get_view(
    view: Annotated[
        str,
        Query(
            max_length=60_000,
            description='A view as JSON: {"tints": [{"id": "a", "name": "Late", "where": {"all": [["late", "yes"]]}, …}]}',
        ),
    ] = "",
) -> View:
    """Read a view from the query."""
    try:
        return read_view(json.loads(view) if view else {})
    except (ValueError, AttributeError, RecursionError) as error:
        raise RuleError("That view cannot be read. Choose it again.", "view") from error


Viewed = Annotated[View, Depends(get_view)]
