"""Rates of people and resources."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Sequence
from datetime import date

from pymysql.cursors import Cursor

from ...core.resources.rates import Rate, RateKind, Rates
from ..common.database import fetch_all, places

_BEGINNING = date(1000, 1, 1)
"""Stands in the table for a rate that holds from the beginning."""


def rates(cur: Cursor, whom: Collection[str] | None = None) -> Rates:
    """All rates, or those of some, the earliest first."""
    if whom is not None and not whom:
        return {}
    some = f" WHERE who IN ({places(len(whom))})" if whom is not None else ""
    rows = fetch_all(cur, f"SELECT who, kind, first_day, amount FROM rates{some} ORDER BY first_day", tuple(whom or ()))
    found: dict[tuple[str, RateKind], list[Rate]] = defaultdict(list)
    for who, kind, first, amount in rows:
        found[who, kind].append(Rate(None if first == _BEGINNING else first, amount.normalize()))
    return found


def set_rates(cur: Cursor, who: str, kind: RateKind, wanted: Sequence[Rate]) -> None:
    """Write the rates of one kind of one person or resource."""
    cur.execute("DELETE FROM rates WHERE who = %s AND kind = %s", (who, kind))
    if wanted:
        rows = [(who, kind, one.first or _BEGINNING, one.amount) for one in wanted]
        cur.executemany("INSERT INTO rates (who, kind, first_day, amount) VALUES (%s, %s, %s, %s)", rows)
