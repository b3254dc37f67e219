"""The hours that the demo's people entered in the six weeks before today, and how their weeks stand."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping, MutableMapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from pymysql.cursors import Cursor

from ..core.people.model import Person
from ..core.time.entries import TimeEntry, monday_of
from ..services.common.context import Actor, Clock, new_id
from ..services.tasks import projects as project_services
from ..services.time import entries as time_entries
from ..services.time import sheets as time_sheets
from ..services.time import timers
from ..store.common.database import Database, fetch_one
from . import hours
from .plan_lines import PlanLine
from .plans import PEOPLE, DemoProject

#: Projects that record time, with for whom the work is done where somebody is charged for it.
RECORDED = {"LAN": "City of Corvane, heritage office", "MIL": "", "KIO": ""}
WEEKS = 6
FULL_DAY = 7 * 60 + 30
#: Of the hours that were expected, what the work of a title really took so far, in a hundred; of others by their length.
REALLY = {
    "Cast replacement bars": 128,
    "Measure glazing bars": 92,
    "Laser survey of the gallery": 118,
    "Mark out the drive bed": 110,
}
NOTES = {
    "Cast replacement bars": ("first pour", "trimmed the flash", "second pour, sand too wet", "patterns mended"),
    "Heritage consent, city office": ("drawings for the hearing", "call with the city", "photographs added"),
    "Bend copper flashing": ("west side", "corners", "folded on the trestle"),
    "Photograph each stage": ("bars on the bench", "gallery from the boat"),
}
#: Not to be charged to anybody.
OWN_COST = frozenset({"Mix putty samples", "Photograph each stage"})
#: Who handed in last week and waits, and whose week came back with a word.
WAITING = ("TB", "PN", "NC")
RETURNED = {"CR": "Wednesday is missing, and the pour was for the bars, was it not?"}
#: Whose timer runs, on which task, since how many minutes.
RUNNING = ("TB", "Bend copper flashing", 50)


@dataclass(frozen=True, slots=True)
class SpentDay:
    """Minutes of one person on one task on one day."""

    initials: str
    title: str
    day: date
    minutes: int
    started: int
    note: str
    billable: bool


def spent_of(
    title: str, who: list[tuple[str, int]], percent: int, start: int, days: int, day_of: Callable[[int], date],
    full: MutableMapping[tuple[str, date], int],
) -> Iterator[SpentDay]:  # fmt: skip
    """What was entered on one task: on each working day that it ran, in quarters of an hour, within what a day holds.

    Args:
        who: initials, and the minutes that are expected of them in all.
        percent: done.
        start, days: in working days from today.
        day_of: the working day so many days from today.
        full: by person and day the minutes entered already; what is entered here is added.
    """
    last = min(start + days - 1, -1)
    offsets = list(range(max(start, -5 * WEEKS), last + 1))
    if not offsets or not percent:
        return
    notes = NOTES.get(title, ("",))
    for initials, expected in who:
        total = expected * percent * REALLY.get(title, 84 + 9 * (len(title) % 5)) // 10_000
        for index, offset in enumerate(offsets):
            day = day_of(offset)
            there = full.get((initials, day), 0)
            share = total // len(offsets) // 15 * 15 + (15 if (index + len(title)) % 3 == 0 else 0)
            minutes = min(share, FULL_DAY - there)
            if minutes >= 15:
                full[initials, day] = there + minutes
                note = notes[index % len(notes)]
                yield SpentDay(initials, title, day, minutes, 8 * 60 + 30 + there, note, title not in OWN_COST)


class Spending:
    """Lays out what people spent.

    Args:
        real: the clock that stands at today; ``clock``: the one that is set to when something happened.
        people: by initials, filled before anything is laid out.
        at: notes what is to happen at a moment.
    """

    def __init__(
        self, database: Database, real: Clock, clock: Clock, people: Mapping[str, Person],
        at: Callable[[datetime, Callable[[], None]], None],
    ) -> None:  # fmt: skip
        self._database = database
        self._real = real
        self._clock = clock
        self._people = people
        self._at = at
        self._full: dict[tuple[str, date], int] = {}
        self._weeks: dict[date, set[str]] = defaultdict(set)

    def _as(self, initials: str) -> Actor:
        return Actor(self._people[initials], self._clock)

    def plan_project(
        self, demo: DemoProject, lines: Sequence[PlanLine], ids: Sequence[str], day_of: Callable[[int], date], began: datetime
    ) -> None:
        """Lay out the hours of a project, where it records time."""
        if demo.code in RECORDED:
            self._at(began + timedelta(minutes=50), lambda: self._record_time(demo))
            self._spend(demo, lines, ids, day_of)

    def _record_time(self, demo: DemoProject) -> None:
        wanted = {"time": True, "client": RECORDED[demo.code]}
        self._database.write(project_services.edit_project, self._as(demo.lead), demo.code, 2**31 - 1, wanted)

    def _spend(self, demo: DemoProject, lines: Sequence[PlanLine], ids: Sequence[str], day_of: Callable[[int], date]) -> None:
        """What was entered on the tasks of a project: by each person at the end of each week."""
        by_week: dict[tuple[str, date], list[TimeEntry]] = defaultdict(list)
        for line, task_id in zip(lines, ids, strict=True):
            if line.start is None or not line.days or not line.owner:
                continue
            minutes = int((line.effort or line.days * hours.PLANNED.get(demo.code, 4.0)) * 60)
            helpers = [one for one in line.helpers if one != "MF"]
            own = int(minutes * hours.OWNED.get(line.title, 0.7 if helpers else 1.0))
            who = [(line.owner, own), *((one, (minutes - own) // len(helpers)) for one in helpers)]
            for one in spent_of(line.title, who, line.percent, line.start, line.days, day_of, self._full):
                entry = TimeEntry(new_id(), "", task_id, self._people[one.initials].id, one.day, one.minutes, one.started, one.note,
                                  one.billable)  # fmt: skip
                by_week[one.initials, monday_of(one.day)].append(entry)
        for (initials, monday), entries in by_week.items():
            self._weeks[monday].add(initials)
            self._at(_at_time(monday + timedelta(days=4), 16, 30 + len(entries)), self._enter(demo.code, initials, entries))

    def _enter(self, code: str, initials: str, entries: list[TimeEntry]) -> Callable[[], None]:
        return lambda: self._database.write(time_entries.add_entries, self._as(initials), code, entries)

    def hand_weeks_in(self) -> None:
        """Weeks of the past were handed in and accepted; some of the last one wait, one came back."""
        this = monday_of(self._real.now().date())
        administrator = next(initials for initials, *_, role in PEOPLE if role == "administrator")

        def judge(initials: str, monday: date, word: str) -> Callable[[], None]:
            who = self._people[initials].id
            return lambda: self._database.write(time_sheets.judge, self._as(administrator), who, monday, None, not word, word)

        def hand_in(initials: str, monday: date) -> Callable[[], None]:
            return lambda: self._database.write(time_sheets.hand_in, self._as(initials), monday)

        for monday, people in sorted(self._weeks.items()):
            for number, initials in enumerate(sorted(people) if monday < this else ()):
                self._at(_at_time(monday + timedelta(days=4), 17, 10 + number), hand_in(initials, monday))
                last = monday == this - timedelta(days=7)
                if not (last and initials in WAITING):
                    word = RETURNED.get(initials, "") if last else ""
                    self._at(_at_time(monday + timedelta(days=7), 8, 20 + number), judge(initials, monday, word))

    def run_timer(self) -> None:
        """Somebody is at work just now."""
        initials, title, minutes = RUNNING
        self._clock.set(self._real.now() - timedelta(minutes=minutes))
        self._database.write(self._start_timer, initials, title)
        self._clock.set(self._real.now())

    def _start_timer(self, cur: Cursor, initials: str, title: str) -> None:
        row = fetch_one(cur, "SELECT id FROM tasks WHERE title = %s LIMIT 1", (title,))
        assert row is not None
        timers.start_timer(cur, self._as(initials), row[0], "", True)


def _at_time(day: date, hour: int, minute: int) -> datetime:
    return datetime(day.year, day.month, day.day, hour, minute % 60)
