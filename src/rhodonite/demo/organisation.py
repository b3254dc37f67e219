"""Fills in the demo organisation: the plans are written down and then worked on, day by day, through the services,
so that journal, pushes and figures are as real as those of a team."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date, datetime, time, timedelta
from decimal import Decimal
from typing import Any

from pymysql.cursors import Cursor

from ..core.common.calendars import OFFICE_WEEK, CalendarException, WorkingCalendar
from ..core.people.model import Person
from ..core.resources.capacity import Absence
from ..core.resources.rates import Rate
from ..services.common.context import Actor, Clock, new_id
from ..services.people import teams as team_services
from ..services.resources import absences, bookable_resources, capacity, rates
from ..services.schedule import agreed as agreed_services
from ..services.schedule import calendars as calendar_services
from ..services.schedule import drafts as draft_services
from ..services.tasks import projects as project_services
from ..services.tasks import tasks as task_services
from ..services.tasks import workflow as workflow_services
from ..services.tasks.workflow import NewState
from ..services.views import sheets as sheet_services
from ..store.common.database import Database, fetch_all
from ..store.people import people as people_rows
from ..store.tasks import projects as project_rows
from ..store.tasks import tasks as task_rows
from . import hours
from .boards import arrange_board
from .dashboards import keep_dashboards
from .defined import define, sheets_of, values_of
from .goals import Aims
from .hanging import Hanger
from .money import Money
from .plan_lines import PlanLine, read_plan
from .plans import ORGANISATION, PEOPLE, PROJECTS, DemoProject
from .portfolio import lay_out as lay_out_portfolio
from .reports import Reports
from .time import Spending

EMAIL = "{}@corvane.example"


def is_filled(cur: Cursor) -> bool:
    """True once the demo organisation is there."""
    return people_rows.organisation(cur) is not None


class _Days:
    """Counts working days from today."""

    def __init__(self, today: date, exceptions: tuple[CalendarException, ...]) -> None:
        self._calendar = WorkingCalendar(OFFICE_WEEK, exceptions)
        self._today = self._calendar.start_of_day(today)

    def day(self, offset: int) -> date:
        """The working day so many days from today."""
        return self._calendar.add_to(self._today, offset * self._calendar.day_minutes + (1 if offset >= 0 else 0)).date()


class _Filler:
    def __init__(self, database: Database, clock: Clock) -> None:
        self._database = database
        self._real = clock
        self._clock = Clock(clock.zone, clock.now())
        self._people: dict[str, Person] = {}
        self._events: list[tuple[datetime, int, Callable[[], None]]] = []

    def fill(self) -> None:
        self._database.write(self._add_people)
        self._spent = Spending(self._database, self._real, self._clock, self._people, self._at)
        self._money = Money(self._database, self._as, self._at)
        self._reports = Reports(self._database, self._real, self._people, self._as, self._at)
        self._set_rates()
        for demo in PROJECTS:
            self._plan_project(demo)
        self._spent.hand_weeks_in()
        for at, _, event in sorted(self._events, key=lambda e: e[:2]):
            self._clock.set(at)
            event()
        self._clock.set(self._real.now() - timedelta(minutes=2))
        lay_out_portfolio(self._database, self._as, self._real.now().date(), _Days(self._real.now().date(), ()).day)
        self._name_teams()
        self._set_capacities()
        self._spent.run_timer()
        self._money.charge(self._real.now().date())
        Aims(self._database, self._real, self._clock, self._as).lay_out()
        self._keep_sheets()
        keep_dashboards(self._database, self._people, self._as)
        self._database.write(self._read_older_notices)
        # Named last: an organisation that has a name is whole.
        self._database.write(people_rows.set_organisation, ORGANISATION, True, self._real.utc())

    def _keep_sheets(self) -> None:
        """Those over all projects; the first of them is sent on Mondays."""
        for index, (initials, name, seen_by, view) in enumerate(sheets_of("", ())):
            sheet_id, keeper = new_id(), self._as(initials)
            self._database.write(sheet_services.keep_sheet, keeper, None, sheet_id, name, seen_by, [], view)
            if index == 0:
                to = [self._people[one].id for one in (initials, "BE", "TB")]
                self._database.write(sheet_services.edit_sheet, self._as(initials), None, sheet_id, {"send_on": 0, "send_to": to})

    def _name_teams(self) -> None:
        """A team of each crew or office that two people or more give as theirs."""
        teams: dict[str, list[str]] = {}
        for initials, _, title, _ in PEOPLE:
            crew, comma, _ = title.partition(",")
            if comma:
                teams.setdefault(crew, []).append(self._people[initials].id)
        administrator = next(initials for initials, *_, role in PEOPLE if role == "administrator")
        for crew, people in teams.items():
            if len(people) > 1:
                self._database.write(team_services.add_team, self._as(administrator), new_id(), crew, people)

    def _read_older_notices(self, cur: Cursor) -> None:
        """What is older than a day has been read."""
        cur.execute("UPDATE notices SET read_at = at WHERE at < %s", (self._real.utc() - timedelta(days=1),))

    def _add_people(self, cur: Cursor) -> None:
        for index, (initials, name, title, role) in enumerate(PEOPLE):
            person = Person(new_id(), name, EMAIL.format(name.lower().replace(" ", ".")), role, title, index % 12, True)
            people_rows.insert_person(cur, person, None, self._real.utc() - timedelta(days=90, seconds=-index))
            self._people[initials] = person

    def _at(self, at: datetime, event: Callable[[], None]) -> None:
        now = self._real.now()
        self._events.append((min(at, now - timedelta(minutes=3)), len(self._events), event))

    def _as(self, initials: str) -> Actor:
        return Actor(self._people[initials], self._clock)

    def _plan_project(self, demo: DemoProject) -> None:
        began = self._real.now().replace(hour=9, minute=12, second=0) - timedelta(days=demo.began)
        holiday = self._real.now().date() + timedelta(days=(4 - self._real.now().weekday()) % 7 + 14)
        exceptions = (CalendarException(holiday, holiday, (), "Harbour day"),)
        days = _Days(self._real.now().date(), exceptions)
        lines = read_plan(demo.plan)
        ids = [new_id() for _ in lines]
        self._at(began, lambda: self._start_project(demo, exceptions, began.date()))
        self._at(began + timedelta(minutes=25), lambda: self._write_plan(demo, lines, ids, days))
        if demo.agreed:
            self._at(began + timedelta(days=2, hours=5), lambda: self._agree(demo))
        for line, task_id in zip(lines, ids, strict=True):
            self._plan_work(demo, line, task_id, days)
        self._at(
            began + timedelta(minutes=40), lambda: self._fill_in(demo, dict(zip([o.title for o in lines], ids, strict=True)))
        )
        by_title = dict(zip([one.title for one in lines], ids, strict=True))
        today = self._real.now().date()
        arranged = began + timedelta(minutes=42)
        self._at(arranged, lambda: arrange_board(self._database, lambda: self._as(demo.lead), demo.code, by_title, today))
        if demo.code in hours.PLANNED:
            self._at(began + timedelta(minutes=45), lambda: self._plan_hours(demo, lines, ids))
        self._spent.plan_project(demo, lines, ids, days.day, began)
        self._money.plan_project(demo, lines, ids, days.day, began)
        self._reports.plan_project(demo, began)
        hanger = Hanger(
            self._database, self._clock, self._people, demo, dict(zip([line.title for line in lines], ids, strict=True))
        )
        for at, event in hanger.events(days.day):
            self._at(at, event)
        if demo.draft:
            name, title, fields = demo.draft
            task_id = ids[next(n for n, line in enumerate(lines) if line.title == title)]
            self._at(self._real.now(), lambda: self._draft(demo, name, task_id, fields))

    def _fill_in(self, demo: DemoProject, ids: dict[str, str]) -> None:
        """Values of the project's own fields, marks and kinds, and the sheets that people keep."""
        project = self._database.read(project_services.read_project, self._as(demo.lead), demo.code)
        people = {initials: person.id for initials, person in self._people.items()}
        for title, fields in values_of(demo.code, project.defined, people).items():
            self._edit(demo.code, demo.lead, ids[title], fields)
        for initials, name, seen_by, view in sheets_of(demo.code, project.defined):
            self._database.write(sheet_services.keep_sheet, self._as(initials), demo.code, new_id(), name, seen_by, [], view)

    def _plan_hours(self, demo: DemoProject, lines: list[PlanLine], ids: list[str]) -> None:
        """Switch hours on, and book them: people on their tasks, and crews where the demo has some."""
        people = {initials: person.id for initials, person in self._people.items()}
        self._database.write(project_services.edit_project, self._as(demo.lead), demo.code, 2**31 - 1, {"hours": True})
        edits, numbers = [], {}
        for number, (line, task_id) in enumerate(zip(lines, ids, strict=True)):
            numbers[line.title] = number
            below = lines[number + 1].depth > line.depth if number + 1 < len(lines) else False
            if line.days and not below:
                booked = hours.bookings_of(demo.code, line.title, line.effort, line.days, line.owner, line.helpers, people)
                edits.append(task_services.TaskEdit(task_id, 2**31 - 1, booked))
        for resource, title, also in hours.resources_of(demo.code):
            self._database.write(bookable_resources.add_resource, self._as(demo.lead), demo.code, resource)
            self._money.price(demo, resource.id, resource.name)
            edit = next(one for one in edits if one.id == ids[numbers[title]])
            edit.fields["bookings"] = [*edit.fields.get("bookings", ()), also]
        self._database.write(task_services.edit_tasks, self._as(demo.lead), demo.code, edits)

    def _set_capacities(self) -> None:
        """Who works how much, and when they are away."""
        administrator = next(initials for initials, *_, role in PEOPLE if role == "administrator")
        for initials, fields in hours.CAPACITY.items():
            self._database.write(capacity.set_capacity, self._as(administrator), self._people[initials].id, fields)
        for initials, kind, first, count, note in hours.ABSENCES:
            begins, ends = (datetime.combine(day, time()) for day in hours.away(self._real.now().date(), first, count))
            one = Absence(new_id(), self._people[initials].id, kind, begins, ends, note)
            self._database.write(absences.add_absence, self._as(administrator), one)

    def _set_rates(self) -> None:
        """What an hour of people costs, and is charged at."""
        administrator = next(initials for initials, *_, role in PEOPLE if role == "administrator")
        for initials, by_kind in hours.RATES.items():
            for kind, amounts in by_kind.items():
                wanted = [Rate(first, Decimal(amount)) for first, amount in amounts]
                who = self._people[initials].id
                self._database.write(rates.set_rates, self._as(administrator), None, who, kind, wanted)

    def _draft(self, demo: DemoProject, name: str, task_id: str, fields: dict[str, Any]) -> None:
        draft_id = new_id()
        self._database.write(draft_services.start_draft, self._as(demo.lead), demo.code, draft_id, name, None)
        self._database.write(draft_services.edit_draft, self._as(demo.lead), demo.code, draft_id, name=None, shared=True)
        edit = task_services.TaskEdit(task_id, 2**31 - 1, fields)
        self._database.write(task_services.edit_tasks, replace(self._as(demo.lead), draft=draft_id), demo.code, [edit])

    def _start_project(self, demo: DemoProject, exceptions: tuple[CalendarException, ...], start: date) -> None:
        lead = "IN" if self._people[demo.lead].role != "manager" else demo.lead
        new = project_services.NewProject(
            new_id(), demo.code, demo.name, demo.description, start, demo.private, self._people[demo.lead].id
        )
        self._database.write(project_services.create_project, self._as(lead), new)
        for initials, role in demo.members.items():
            self._database.write(project_services.set_member, self._as(demo.lead), demo.code, self._people[initials].id, role)
        if demo.states:
            self._database.write(self._set_workflow, demo)
        self._database.write(define, self._as(demo.lead), demo.code)
        week = self._database.read(project_services.read_project, self._as(demo.lead), demo.code).week
        kept = [{"from": e.first.isoformat(), "to": e.last.isoformat(), "hours": [], "name": e.name} for e in exceptions]
        self._database.write(calendar_services.set_calendar, self._as(demo.lead), demo.code, week, kept)
        for name, shifts in demo.calendars.items():
            self._database.write(calendar_services.write_other, self._as(demo.lead), demo.code, new_id(), name, shifts, kept)

    def _set_workflow(self, cur: Cursor, demo: DemoProject) -> None:
        """Turn the workflow that a project starts with into the demo's, through the services."""
        states = self._states(cur, demo.code)
        extra = len(demo.states) - len(states)
        for name, state_class, limit in demo.states[len(states) - 2 : len(states) - 2 + extra]:
            workflow_services.add_state(cur, self._as(demo.lead), demo.code, NewState(new_id(), name, state_class, limit))  # type: ignore[arg-type]
        for state, (name, state_class, limit) in zip(self._states(cur, demo.code), demo.states, strict=True):
            fields = {"name": name, "state_class": state_class, "limit": limit}
            workflow_services.edit_state(cur, self._as(demo.lead), demo.code, state.id, fields)

    def _states(self, cur: Cursor, code: str) -> Any:
        project = project_rows.project_by_code(cur, code)
        assert project is not None
        return project_rows.states(cur, project.id)

    def _write_plan(self, demo: DemoProject, lines: list[PlanLine], ids: list[str], days: _Days) -> None:
        above: list[str] = []
        new = []
        for line, task_id in zip(lines, ids, strict=True):
            del above[line.depth :]
            fields: dict[str, Any] = {"kind": line.kind, "priority": line.priority}
            if line.owner:
                fields["owner_id"] = self._people[line.owner].id
            if line.helpers:
                fields["helpers"] = [self._people[one].id for one in line.helpers]
            if line.effort:
                fields["effort"] = line.effort * 60
            fields |= _dates(line, days)
            new.append(task_services.NewTask(task_id, line.title, above[-1] if above else None, "end", fields))
            above.append(task_id)
        self._database.write(task_services.add_tasks, self._as(demo.lead), demo.code, new)
        for line, task_id in zip(lines, ids, strict=True):
            if line.waits:
                self._edit(demo.code, demo.lead, task_id, {"waits_for": ", ".join(line.waits)})
            if line.calendar:
                calendars = self._database.read(project_services.read_project, self._as(demo.lead), demo.code).others
                calendar_id = next(one for one, name, _, _ in calendars if name == line.calendar)
                self._edit(demo.code, demo.lead, task_id, {"calendar_id": calendar_id})
            if line.pin:
                self._edit(demo.code, demo.lead, task_id, {"constraint_type": "must_start"})

    def _agree(self, demo: DemoProject) -> None:
        day = self._clock.now().date()
        note = "With the harbour master and the city office"
        self._database.write(agreed_services.agree, self._as(demo.lead), demo.code, demo.agreed, day, note)

    def _plan_work(self, demo: DemoProject, line: PlanLine, task_id: str, days: _Days) -> None:
        """Lay out what happened to one task: begun, some done, pushed, held, finished."""
        who = line.owner or demo.lead

        def edit(initials: str, fields: dict[str, Any]) -> Callable[[], None]:
            return lambda: self._edit(demo.code, initials, task_id, fields)

        if line.start is None or line.days is None:
            return
        if line.longer:
            self._at(_moment(days.day(-3), 11, 15), edit(who, {"duration": f"{line.days} d"}))
        for index in range(line.pushed):
            at = _moment(days.day(min(-1, line.start + line.days) - line.pushed + index), 16, 20 + index)
            self._at(at, edit(who, {"finish": days.day(line.start + line.days - line.pushed + index).isoformat()}))
        if line.percent:
            self._at(_moment(days.day(line.start), 9, 40), lambda: self._begin(demo, who, task_id, line.state))
            last = line.start + line.days - 1 if line.percent == 100 else -1
            span = max(1, last - line.start)
            for day in range(line.start + 1, last + 1, 2):
                share = min(95, round(line.percent * (day - line.start) / span / 5) * 5)
                if 0 < share < line.percent:
                    self._at(_moment(days.day(day), 15, 5 + day % 40), edit(who, {"percent": share}))
            if line.percent < 100 and line.start < 0:
                self._at(_moment(days.day(-1), 16, 5 + len(line.title)), edit(who, {"percent": line.percent}))
            if line.percent == 100:
                self._at(_moment(days.day(last), 17, 2), edit(who, {"percent": 100}))
        if line.held:
            since, reason = line.held
            self._at(_moment(days.day(-since), 10, 30), edit(who, {"held_reason": reason}))

    def _begin(self, demo: DemoProject, who: str, task_id: str, state: str | None) -> None:
        task = self._database.read(task_rows.tasks_by_id, [task_id])[0]
        every = self._database.read(self._states, demo.code)
        way = next(s.workflow_id for s in every if s.id == task.state_id)
        states = [s for s in every if s.workflow_id == way]
        active = next((s for s in states if s.name == state), None) or next(s for s in states if s.state_class == "active")
        self._edit(demo.code, who, task_id, {"state_id": active.id})

    def _edit(self, code: str, initials: str, task_id: str, fields: dict[str, Any]) -> None:
        def write(cur: Cursor) -> None:
            task = task_rows.tasks_by_id(cur, [task_id])[0]
            edit = task_services.TaskEdit(task_id, task.revision, fields)
            actor = self._as(initials)
            if project_rows.members(cur, task.project_id).get(actor.person.id) not in {"lead", "contributor"}:
                actor = self._as(next(p.lead for p in PROJECTS if p.code == code))
            task_services.edit_tasks(cur, actor, code, [edit])

        self._database.write(write)


def _dates(line: PlanLine, days: _Days) -> dict[str, Any]:
    fields: dict[str, Any] = {}
    if line.deadline is not None:
        fields["deadline"] = days.day(line.deadline)
    if line.start is None or line.days is None:
        return fields
    if line.waits and not line.hand:  # its links find its dates
        return fields | ({} if line.kind == "milestone" else {"duration": f"{line.days} d"})
    if line.kind == "milestone":
        return fields | {"finish": days.day(line.start)}
    return fields | {"start": days.day(line.start), "finish": days.day(line.start + line.days - 1 - line.pushed - line.longer)}


def _moment(day: date, hour: int, minute: int) -> datetime:
    return datetime(day.year, day.month, day.day, hour, minute % 60)


def fill_demo(database: Database, clock: Clock) -> None:
    """Write the made-up organisation, laid out around the clock's today. Does nothing where one is there."""
    if database.read(is_filled):
        return
    database.write(_clear)
    _Filler(database, clock).fill()


def _clear(cur: Cursor) -> None:
    """Take away what an earlier start, ended half way, left behind."""
    cur.execute("SET FOREIGN_KEY_CHECKS = 0")  # tasks refer to one another
    for (table,) in fetch_all(cur, "SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()"):
        if table not in {"migrations", "heartbeats"}:
            cur.execute(f"DELETE FROM `{table}`")
    cur.execute("SET FOREIGN_KEY_CHECKS = 1")
