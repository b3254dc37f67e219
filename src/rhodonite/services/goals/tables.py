"""Goals out and in as tables."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date
from decimal import Decimal, InvalidOperation

from pymysql.cursors import Cursor

from ...core.common.counts import count_of
from ...core.common.errors import RuleError
from ...core.goals.model import LARGEST, MOST_DECIMALS, OUTCOMES, Belongs, Goal, Measure
from ...core.goals.readings import GoalLine, say_how_far, say_measured
from ...core.goals.rhythm import say_period
from ...core.people.model import Person
from ...formats.csv_table import naming_line
from ...store.common.locks import lock_organisation
from ...store.goals import goals as goal_rows
from ...store.people import people as people_rows
from ...store.people import teams as team_rows
from ..common.context import Actor, AlreadyDone, new_id, writing
from ..resources.tables import Brought, read_rows
from .goals import insert
from .seen import Shown, read_goals

HEADS = (
    "Goal", "Below", "Owner", "E-mail", "Belongs to", "First day", "Last day", "Period", "Measured", "Start", "Target", "Value",
    "Unit", "Percent", "Expected by now", "Health", "Outcome", "Next note due",
)  # fmt: skip


def goals_out(cur: Cursor, actor: Actor) -> list[list[str]]:
    """All goals that a person sees, parents before what is below them."""
    page = read_goals(cur, actor)
    people = {one.id: one for one in people_rows.all_people(cur)}
    teams = {one.id: one.name for one in team_rows.all_teams(cur)}
    titles = {one.goal.id: one.goal.title for one in page.goals}
    rows = []
    for one in in_order(page.goals):
        goal, how, owner = one.goal, one.standing, people.get(one.goal.owner_id)
        whose = (
            teams.get(goal.whose or "", "") if goal.belongs == "team" else people[goal.whose].name if goal.whose in people else ""
        )
        has = goal.measure.has_value
        rows.append([
            goal.title, titles.get(one.parent_id or "", ""), owner.name if owner else "", owner.email if owner else "",
            whose or goal.belongs, goal.first.isoformat(), goal.last.isoformat(), say_period(goal.first, goal.last),
            say_measured(goal.measure, one.codes, one.hidden),
            f"{goal.measure.start:f}" if has else "", f"{goal.measure.target:f}" if has else "",
            "" if how.value is None else f"{how.value:f}", "%" if goal.measure.unit == "percent" else goal.measure.sign if has else "",
            "" if how.percent is None else f"{how.percent:f}",
            "" if how.expected is None else f"{how.expected:f}", how.health or "", OUTCOMES[goal.outcome] if goal.outcome else "",
            one.due.isoformat() if one.due else "",
        ])  # fmt: skip
    return rows


def in_order(goals: list[Shown]) -> list[Shown]:
    """Goals with what is below each right behind it."""
    below: dict[str | None, list[Shown]] = {}
    for one in goals:
        below.setdefault(one.parent_id, []).append(one)
    found: list[Shown] = []
    waiting = list(reversed(below.get(None, ())))
    while waiting:
        one = waiting.pop()
        found.append(one)
        waiting += reversed(below.get(one.goal.id, ()))
    return found


def owner_names(cur: Cursor, _: Actor) -> dict[str, str]:
    """The names of people by id, as goals name their owners."""
    return {one.id: one.short for one in people_rows.all_people(cur)}


def lines_of(goals: list[Shown], names: Mapping[str, str]) -> list[GoalLine]:
    """Goals as they stand on paper: parents before what is below them, each with how deep it stands."""
    depths: dict[str | None, int] = {None: -1}
    found = []
    for one in in_order(goals):
        goal, how = one.goal, one.standing
        depth = depths[goal.id] = depths.get(one.parent_id, -1) + 1
        health = OUTCOMES[goal.outcome] if goal.outcome else how.health or ""
        owner, period = names.get(goal.owner_id, "somebody"), say_period(goal.first, goal.last)
        found.append(GoalLine(depth, goal.title, owner, period, how.percent, how.expected, health, say_how_far(goal, how)))
    return found


IN_HEADS = ("Goal", "Below", "Owner", "E-mail", "Belongs to", "First day", "Last day", "Start", "Target", "Unit")
MOST_ROWS = 500


def goals_in(cur: Cursor, actor: Actor, data: bytes) -> Brought:
    """Bring goals of a file in, all rows or none, to be measured by hand until somebody says otherwise.

    One that is there by its title and last day stays as it is. *Below* names a goal of an earlier row, or one that is there
    and that the person sees; *Belongs to* a team or a person by name, else it is the organisation's.

    Raises:
        RuleError: a row that cannot be, with its line.
        Forbidden: as for setting a goal.
    """
    actor.require("create_project")
    actor = replace(actor, draft=None)
    read = read_rows(data, IN_HEADS, needs=("goal", "first day", "last day"), most=MOST_ROWS)
    lock_organisation(cur)  # what the same file brings at this moment is there then
    people, teams = people_rows.all_people(cur), team_rows.all_teams(cur)
    names = _Names(people, {one.name.casefold(): one.id for one in teams})
    there = {(one.goal.title.casefold(), one.goal.last): one.goal.id for one in read_goals(cur, actor).goals}
    by_title = {title: goal_id for (title, _), goal_id in there.items()}
    added = 0
    try:
        with writing(cur, actor, None, f"brought {count_of(len(read), 'goal')} in") as log:
            goal_rows.count_up(cur)
            for line, row in read:
                with naming_line(line):
                    one = _read_goal(row, actor, names, by_title)
                    if (one.title.casefold(), one.last) in there:
                        continue
                    insert(cur, actor, log, one)
                there[one.title.casefold(), one.last] = by_title[one.title.casefold()] = one.id
                added += 1
    except AlreadyDone:
        return Brought(0, len(read))
    return Brought(added, len(read) - added)


class _Names:
    """Whom and what a file names."""

    def __init__(self, people: Sequence[Person], teams: Mapping[str, str]) -> None:
        self.teams = teams
        self._by_mail = {one.email.casefold(): one.id for one in people}
        self._by_name: dict[str, list[str]] = {}
        for one in people:
            self._by_name.setdefault(one.name.casefold(), []).append(one.id)

    def person(self, text: str) -> str | None:
        """Who is called that, by name or e-mail. Raises RuleError where nobody or several are."""
        if not text:
            return None
        found = [self._by_mail[text.casefold()]] if text.casefold() in self._by_mail else self._by_name.get(text.casefold(), [])
        if len(found) != 1:
            raise RuleError(f"{'several are' if found else 'nobody is'} called {text[:60]}. Use the e-mail.", "file")
        return found[0]


def _read_goal(row: Mapping[str, str], actor: Actor, names: _Names, by_title: Mapping[str, str]) -> Goal:
    owner = names.person(row["e-mail"] or row["owner"]) or actor.person.id
    belongs, whose = _whose(row["belongs to"], names)
    parent = by_title.get(row["below"].casefold()) if row["below"] else None
    if row["below"] and parent is None:
        raise RuleError(f"there is no goal “{row['below'][:60]}” above it. Put that one into an earlier row.", "file")
    start, target = _number(row["start"], Decimal(0)), _number(row["target"], Decimal(100))
    decimals = min(MOST_DECIMALS, max(_decimals(start), _decimals(target)))
    sign = row["unit"]
    measure = Measure(
        unit="percent" if sign == "%" else "number",
        sign="" if sign == "%" else sign,
        decimals=decimals,
        start=start,
        target=target,
    )
    return Goal(new_id(), row["goal"], owner, _day(row["first day"]), _day(row["last day"]), actor.clock.utc(), parent, belongs, whose, measure=measure)  # fmt: skip


def _whose(text: str, names: _Names) -> tuple[Belongs, str | None]:
    if not text or text.casefold() == "organisation":
        return "organisation", None
    if text.casefold() in names.teams:
        return "team", names.teams[text.casefold()]
    return "person", names.person(text)


def _day(text: str) -> date:
    try:
        return date.fromisoformat(text[:10])
    except ValueError as error:
        raise RuleError(f"“{text[:40]}” is no day. Write it as 2027-03-17.", "file") from error


def _number(text: str, usual: Decimal) -> Decimal:
    if not text:
        return usual
    try:
        found = Decimal(text.replace(",", "."))
    except InvalidOperation as error:
        raise RuleError(f"“{text[:40]}” is no number.", "file") from error
    if not found.is_finite() or abs(found) > LARGEST:
        raise RuleError(f"“{text[:40]}” is no number that a goal can have.", "file")
    return found


def _decimals(number: Decimal) -> int:
    exponent = number.normalize().as_tuple().exponent
    return max(0, -exponent) if isinstance(exponent, int) else 0
