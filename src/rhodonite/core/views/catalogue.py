"""Every field of a task by which work is shown: in columns, clauses, groups, tints, sums and formulas.

One list for all of them, so that a field that can be seen can also be asked about.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import replace
from datetime import date, datetime, timedelta
from decimal import Decimal
from functools import cached_property, lru_cache
from typing import Any

from ..common.errors import RuleError
from ..common.rounding import rounded
from ..cost.shown import Money
from ..schedule.plan import Plan, Row, backlog_period
from ..tasks.booked import say_booked
from ..tasks.custom_fields import CustomField, kind_name
from ..tasks.model import KINDS, OPEN_CLASSES, PRIORITY_WORDS, Project
from .columns import Column, Columns, ColumnType, Raw
from .formula_values import FormulaError, Value, say
from .formulas import Formula, read_formula
from .tied import Ties, carried_key, carried_name, carried_type, carried_value

NAMED_IN = "in."
"""With the id of a field that points to tasks: its other side."""
CLASS_WORDS = {"queued": "queued", "active": "active", "finished": "finished", "dropped": "dropped"}
HEALTH_WORDS = {"steady": "steady", "strained": "strained", "slipping": "slipping", "not_judged": "not judged"}


class Catalogue(Columns):
    """The columns of one plan, with the formulas of its computed fields.

    Args:
        plan: whose rows are shown.
        people: names by id, for what names people.
        teams: names by id, for clauses that name teams.
        resources: names by id, for what is booked.
        money: what tasks cost, for who may see it; ``sums``: True for who may see the fixed costs that are booked.
        ties: what the tasks are tied to in other projects, for the columns that are carried across.
    """

    def __init__(
        self,
        plan: Plan,
        people: Mapping[str, str],
        teams: Mapping[str, str] | None = None,
        resources: Mapping[str, str] | None = None,
        money: Money | None = None,
        sums: bool = False,
        ties: Ties | None = None,
    ) -> None:
        super().__init__(people, teams or {}, plan.now.date())
        self._money, self._sums = money, sums
        self._ties = ties or Ties()
        self.plan = plan
        self._bookable = {**(resources or {}), **people}
        self._lanes: dict[str, str] | None = None
        self._computed: dict[tuple[str, str], Value] = {}
        self.columns = {one.key: one for one in self._built_in()}
        for one in plan.project.fields:
            self.columns[one.key] = self._own(one)
            if ties is not None and one.type == "tied":
                self.columns |= {column.key: column for column in self._carried(one)}
            if one.type == "tasks":
                self.columns[NAMED_IN + one.id] = self._named_in(one)
        for one in plan.project.fields:  # once all can be named
            if one.type == "computed":
                self.columns[one.key] = replace(self.columns[one.key], type=self._type_of(one))

    def _built_in(self) -> Iterable[Column]:
        plan, project = self.plan, self.plan.project
        day = plan.calendar.day_minutes
        people = dict(sorted(self.people.items(), key=lambda pair: pair[1].casefold()))
        yield Column("number", "Number", "number", lambda r: Decimal(r.task.number))
        yield Column("title", "Title", "text", lambda r: r.task.title)
        yield Column("kind", "Kind", "one_of", lambda r: r.task.kind, choices=_kinds(project))
        yield Column(
            "state", "State", "one_of", lambda r: r.state_id, choices={s.id: project.state_label(s) for s in project.states}
        )
        if project.lanes:
            yield Column("lane", "Lane", "one_of", self._lane, choices={one.id: one.name for one in project.lanes})
        if project.periods:
            periods = {one.id: one.name for one in project.periods}
            yield Column("period", "Backlog", "one_of", lambda r: backlog_period(r, periods), choices=periods)
        yield Column("class", "Class of state", "one_of", lambda r: r.state_class, choices=CLASS_WORDS)
        yield Column("owner", "Owner", "one_of", lambda r: r.task.owner_id, choices=people)
        yield Column("helpers", "Helpers", "several_of", lambda r: r.task.helpers, choices=people)
        yield Column("priority", "Priority", "one_of", lambda r: r.task.priority, choices=PRIORITY_WORDS)
        yield Column("health", "Health", "one_of", lambda r: r.health, choices=HEALTH_WORDS)
        marks = {mark.id: mark.name for mark in project.marks}
        yield Column("marks", "Marks", "several_of", lambda r: r.task.marks, choices=marks)
        yield Column("start", "Start", "date", lambda r: _day(r.start))
        yield Column("finish", "Finish", "date", lambda r: _day(r.finish))
        yield Column("deadline", "Deadline", "date", lambda r: _day(r.task.deadline))
        yield Column("actual_start", "Started on", "date", lambda r: _day(r.task.actual_start))
        yield Column("actual_finish", "Finished on", "date", lambda r: _day(r.task.actual_finish))
        yield Column("finish_week", "Week of finish", "date", lambda r: _monday(r.finish))
        yield Column("closed_week", "Week in which it was finished", "date", lambda r: _monday(r.task.actual_finish))
        yield Column("agreed_finish", "Agreed finish", "date", lambda r: _day(r.agreed.finish) if r.agreed else None)
        yield Column("duration", "Duration", "number", lambda r: _share(r.duration, r.day_minutes), "d", 1)
        yield Column("effort", "Effort", "number", lambda r: _share(r.effort, 60), "h", 1)
        if project.books:
            yield Column("booked", "Booked", "number", lambda r: _share(r.booked, 60) if r.booked else None, "h", 1)
            yield Column("open", "Open hours", "number", _open_hours, "h", 1)
            yield Column("people", "People and hours", "text", self._people_and_hours)
        if project.time:
            yield Column("spent", "Spent", "number", lambda r: _share(r.spent, 60) if r.spent else None, "h", 1)
            yield Column("unspent", "Left of the estimate", "number", _unspent_hours, "h", 1)
        yield from self._cost_columns()
        if plan.agreed and (project.books or project.time):
            yield Column("agreed_effort", "Agreed effort", "number", lambda r: _share(_agreed_effort(r), 60), "h", 1)
            yield Column("effort_variance", "Effort variance", "number", _effort_variance, "h", 1)
        yield Column("percent", "Percent done", "number", lambda r: Decimal(r.percent), "%")
        yield Column(
            "slack", "Slack", "number", lambda r: _share(r.slack, day) if r.state_class in OPEN_CLASSES else None, "d", 1
        )
        yield Column("variance", "Variance", "number", lambda r: _share(r.variance, day), "d", 1)
        yield Column("late_days", "Days late", "number", lambda r: Decimal(r.late_days), "d")
        yield Column("pushes", "Pushes", "number", lambda r: Decimal(r.task.pushes))
        yield Column("unchanged", "Days unchanged", "number", self._unchanged, "d")
        yield Column("in_state", "Days in its state", "number", lambda r: self._days_since(r.task.state_since), "d")
        yield Column("held", "Held", "yes_no", lambda r: r.task.is_held and r.state_class in OPEN_CLASSES)
        yield Column("held_by", "Held by", "text", lambda r: r.held)
        yield Column("time_held", "Time held", "number", self._time_held, "d", 1)
        yield Column("critical", "Critical", "yes_no", lambda r: r.critical)
        yield Column("late", "Late", "yes_no", lambda r: r.late_days > 0)
        yield Column("past_deadline", "Past its deadline", "yes_no", lambda r: r.breaks_deadline)
        yield Column("pinned", "Pinned", "yes_no", lambda r: r.task.constraint_type in {"must_start", "must_finish"})
        yield Column("summary", "Has tasks below", "yes_no", lambda r: r.is_summary)
        yield Column("waits", "Waits for something unfinished", "yes_no", lambda r: r.waits_open > 0)
        yield Column("awaited", "Something waits for it", "yes_no", lambda r: r.awaited > 0)
        yield Column("comments", "Comments", "number", lambda r: Decimal(r.task.comments))
        yield Column("files", "Attachments", "number", lambda r: Decimal(r.task.files))
        yield Column("unticked", "Left to tick", "number", lambda r: Decimal(r.task.checks - r.task.checks_done))

    def _lane(self, row: Row) -> Raw:
        """The lane of the board in which a task lies. Lanes ask for columns, but never for lanes: their rules are found once."""
        if self._lanes is None:
            from .lanes import lanes_of_tasks

            self._lanes = lanes_of_tasks(self.plan, self)
        return self._lanes.get(row.task.id)

    def _cost_columns(self) -> Iterable[Column]:
        if self._money is None:
            return
        for key, name, amount in self._money.columns():
            yield Column(key, name, "number", amount, self._money.currency, self._money.decimals, money=True)

    def _own(self, one: CustomField) -> Column:
        value: Callable[[Row], Raw]
        if one.type == "computed":
            value = lambda row: self.computed(one, row.task.id)  # noqa: E731
            return Column(one.key, one.name, "number", value, one.unit, one.decimals, own=one)
        if one.type == "tied":
            return Column(one.key, one.name, "text", lambda row: self._tied_words(one, row), own=one, asked=False)
        types: dict[str, ColumnType] = {
            "number": "number", "money": "number", "date": "date", "yes_no": "yes_no", "person": "one_of", "choice": "one_of",
            "choices": "several_of", "tasks": "several_of",
        }  # fmt: skip
        choices: Mapping[str, str] = {option.id: option.name for option in one.options}
        if one.type == "person":
            choices = self.people
        elif one.type == "tasks":
            rows = self.plan.rows.values()
            choices = {row.task.id: row.task.title for row in rows if one.target_kind in {None, row.task.kind}}
        return Column(one.key, one.name, types.get(one.type, "text"), lambda row: plain_value(one, row.task.own.get(one.id)),
                      one.unit, one.decimals, choices, one)  # fmt: skip

    def _carried(self, one: CustomField) -> Iterable[Column]:
        """What a field that points to work of other projects carries across; it is the other's, and read here."""
        for name in one.carries:

            def value(row: Row, name: str = name) -> Raw:
                return carried_value(self._ties.of(row.task.id, one.id), name)

            called = f"{one.name}: {carried_name(name)}"
            unit = {"percent": "%", "effort": "h", "variance": "d"}.get(name, "")
            yield Column(
                carried_key(one, name), called, carried_type(name), value, unit, 1 if unit in {"h", "d"} else 0, asked=False
            )

    def _tied_words(self, one: CustomField, row: Row) -> str | None:
        """The codes and titles of what a task is tied to, and how many more there are that the reader may not see."""
        found = self._ties.of(row.task.id, one.id)
        said = [f"{t.columns.plan.project.code} {t.row.task.number} {t.row.task.title}" for t in found]
        more = self._ties.more(row.task.id, one.id)
        return "; ".join([*said, *([f"{more} more"] if more else [])]) or None

    def _named_in(self, one: CustomField) -> Column:
        """The other side of a field that points to tasks: the tasks that point to this one."""
        rows = self.plan.rows
        choices = {row.task.id: row.task.title for row in rows.values() if row.task.own.get(one.id)}
        pointing = pointing_in(rows.values(), one)
        name = f"In {one.name[0].lower()}{one.name[1:]} of"
        return Column(NAMED_IN + one.id, name, "several_of", lambda row: pointing.get(row.task.id), choices=choices)

    @cached_property
    def formulas(self) -> dict[str, Formula]:
        """The formula of each computed field, by its key."""
        names = self.names()
        found = {}
        for one in self.plan.project.fields:
            if one.type == "computed":
                try:
                    found[one.key] = read_formula(one.formula, names)
                except RuleError:  # a field that it names was taken away since
                    continue
        return found

    def names(self) -> dict[str, str]:
        """By name in lower case the key of each field that a formula can name: none that differs by who reads."""
        return {column.name.casefold(): key for key, column in self.columns.items() if column.asked}

    @cached_property
    def _needed(self) -> dict[str, tuple[str, ...]]:
        """By computed field those that must be known before it, itself the last: in an order in which none asks for a later one."""
        found: dict[str, tuple[str, ...]] = {}
        for key in self.formulas:
            order: dict[str, None] = {}
            ways: list[tuple[str, bool]] = [(key, False)]
            seen: set[str] = set()
            while ways:
                one, ready = ways.pop()
                if ready:
                    order[one] = None
                elif one not in seen:
                    seen.add(one)
                    formula = self.formulas[one]
                    ways.append((one, True))
                    ways += [(each, False) for each in sorted(formula.uses | formula.sums) if each in self.formulas]
            found[key] = tuple(order)
        return found

    def computed(self, one: CustomField, task_id: str) -> Value:
        """The value of a computed field. One that asks, in the end, for itself has none.

        What it asks for is reckoned first, field by field and, where it sums what stands below, from the lowest task up, so
        that no chain of fields or tasks is too long.
        """
        key = (one.key, task_id)
        if key in self._computed:
            return self._computed[key]
        fields = self._needed.get(one.key, ())
        if not fields:
            return None
        outline = self.plan.outline
        tasks = [task_id]
        if any(self.formulas[each].sums for each in fields):
            tasks = [*reversed(outline.below(task_id)), task_id]
        for each_task in tasks:
            for each in fields:
                if (each, each_task) not in self._computed:
                    self._computed[each, each_task] = self._reckon(each, each_task)
        return self._computed[key]

    def _reckon(self, key: str, task_id: str) -> Value:
        """One value, once all that it asks for is known; what is not known then is asked for in a circle."""
        value = self.formulas[key].evaluate(_Around(self, task_id))
        if isinstance(value, Decimal):
            own = self.columns[key].own
            value = rounded(value, own.decimals) if own else value
        return say(value) if isinstance(value, tuple) else value

    def known(self, key: str, task_id: str) -> Value:
        """A value that was reckoned before; nothing where it was not."""
        return self._computed.get((key, task_id))

    def _type_of(self, one: CustomField) -> ColumnType:
        """What a computed field gives, judged by what it gave for the tasks that there are."""
        for task_id in self.plan.rows:
            value = self.computed(one, task_id)
            if value is not None and not isinstance(value, FormulaError):
                return "yes_no" if isinstance(value, bool) else "number" if isinstance(value, Decimal) else (
                    "date" if isinstance(value, date) else "text")  # fmt: skip
        return "number"

    def _people_and_hours(self, row: Row) -> Value:
        """Who is booked, as it is typed: Tomas Brekke 10 h, Yuki Hartmann 5 h."""
        said = (
            f"{self._bookable.get(one.who, 'a resource')} {say_booked(one, money=self._sums)}".rstrip()
            for one in row.task.bookings
        )
        return ", ".join(said) if row.task.bookings and not row.is_summary else None

    def _time_held(self, row: Row) -> Value:
        """Working days that a task has been held in all, up to now."""
        task, calendar = row.task, self.plan.calendar
        now = max(0, calendar.minutes_between(task.held_since, self.plan.now)) if task.held_since and task.is_held else 0
        return _share(task.held_minutes + now, calendar.day_minutes)

    def _unchanged(self, row: Row) -> Value:
        return self._days_since(row.task.changed_at)

    def _days_since(self, at: datetime | None) -> Value:
        return Decimal(max(0, (self.plan.now.date() - at.date()).days)) if at else None


class _Around:
    """A task as a formula sees it."""

    def __init__(self, catalogue: Catalogue, task_id: str) -> None:
        self._catalogue = catalogue
        self._id = task_id

    def value(self, key: str) -> Value:
        return self._value_of(self._id, key)

    def below(self, key: str) -> Iterable[Value]:
        plan = self._catalogue.plan
        return [self._value_of(one, key) for one in plan.outline.children.get(self._id, ()) if one in plan.rows]

    def _value_of(self, task_id: str, key: str) -> Value:
        catalogue = self._catalogue
        column = catalogue.columns.get(key)
        if column is None:
            return None
        if column.own is not None and column.own.type == "computed":
            return catalogue.known(key, task_id)
        raw = column.value(catalogue.plan.rows[task_id])
        if isinstance(raw, tuple):
            return tuple(column.choices.get(one, "gone") for one in raw)
        return catalogue.say(key, raw) if column.type == "one_of" else raw

    def working_days(self, first: date, last: date) -> Decimal:
        calendar = self._catalogue.plan.calendar
        begin, end = calendar.start_of_day(first), calendar.end_of_day(last)
        return Decimal(round(calendar.minutes_between(begin, end) / calendar.day_minutes, 2)) if end > begin else Decimal(0)

    @property
    def today(self) -> date:
        return self._catalogue.plan.now.date()


def pointing_in(rows: Iterable[Row], one: CustomField) -> dict[str, tuple[str, ...]]:
    """By task the tasks that name it in a field that points to tasks."""
    found: dict[str, list[str]] = {}
    for row in rows:
        for pointed in row.task.own.get(one.id) or ():
            found.setdefault(pointed, []).append(row.task.id)
    return {task_id: tuple(ids) for task_id, ids in found.items()}


def plain_value(one: CustomField, kept: Any) -> Raw:
    """A kept value of an own field in the form that columns compare."""
    try:
        if kept is None:
            return None
        if one.type in {"number", "money"}:
            return Decimal(str(kept))
        if one.type == "date":
            return date.fromisoformat(kept)
        if one.type in {"choices", "tasks"}:
            return tuple(str(each) for each in kept)
        return kept if isinstance(kept, bool) == (one.type == "yes_no") else None
    except (ValueError, TypeError, ArithmeticError):  # what lies in the tables and is no such value counts as nothing
        return None


def _kinds(project: Project) -> dict[str, str]:
    return {one: one for one in KINDS} | {one.id: kind_name(one.id, project) for one in project.kinds}


def _day(at: datetime | None) -> date | None:
    return at.date() if at else None


def _monday(at: datetime | None) -> date | None:
    """The Monday of the week in which something lies."""
    return at.date() - timedelta(days=at.weekday()) if at else None


def _agreed_effort(row: Row) -> int | None:
    return row.agreed.effort if row.agreed else None


def _effort_variance(row: Row) -> Decimal | None:
    """By how much the effort exceeds the agreed one; where more was spent than that, what was spent counts."""
    agreed = _agreed_effort(row)
    now = max(row.effort or 0, row.spent)
    return None if agreed is None else _share(now - agreed, 60)


def _unspent_hours(row: Row) -> Decimal | None:
    """Of the estimate what was not spent yet; less than nothing where more was spent than that."""
    return None if row.effort is None else _share(row.effort - row.spent, 60)


def _open_hours(row: Row) -> Value:
    """Of the estimate what nobody is booked for; less than nothing where more is booked than that."""
    return None if row.effort is None else _share(row.effort - row.booked, 60)


@lru_cache(8192)  # tasks last few different lengths
def _share(minutes: int | None, of: int) -> Decimal | None:
    return None if minutes is None else round(Decimal(minutes) / of, 2)
