"""What the demo's organisation aims at: nine goals in three levels, with their values and what was said of them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta
from decimal import Decimal

from pymysql.cursors import Cursor

from ..core.goals.model import Goal, GoalHealth, Measure, Rhythm
from ..services.common.context import Actor, Clock, new_id
from ..services.goals import goals, notes, purpose
from ..store.common.database import Database
from ..store.people import teams as team_rows
from ..store.tasks import projects as project_rows

PURPOSE = "Keep the coast’s working buildings working, and open."
Said = tuple[int, str, GoalHealth | None, str | None, dict[str, str]]
"""Days ago, who, health, value, sections."""


@dataclass(frozen=True, slots=True)
class Aim:
    """A goal of the demo.

    Attributes:
        under: the title of the goal above it.
        years: its period is the year, else the half that today lies in.
        projects: codes of those that it counts.
        values: (days ago, value), typed; ``said``: progress notes.
        closed: days ago, and why.
    """

    title: str
    owner: str
    measure: Measure
    under: str | None = None
    years: bool = False
    team: str | None = None
    projects: tuple[str, ...] = ()
    rhythm: Rhythm | None = None
    values: tuple[tuple[int, str], ...] = ()
    said: tuple[Said, ...] = ()
    closed: tuple[int, str] | None = None


def _by_hand(start: str, target: str, sign: str, decimals: int = 0) -> Measure:
    return Measure("hand", "percent" if sign == "%" else "number", sign, decimals, Decimal(start), Decimal(target))


VISITORS, DOORS, SURVEYED = "120,000 visitors a year", "Doors open before the season", "Every building surveyed"
AIMS = (
    Aim(
        VISITORS, "IN", _by_hand("0", "120000", "visitors"), years=True, rhythm="monthly",
        values=((75, "1200"), (46, "11800"), (16, "24100")),
        said=((10, "IN", "steady", "26900", {"Reached": "the kiosk sells on the pier", "Next": "school visits from April"}),),
    ),
    Aim(
        DOORS, "TB", Measure("tasks", counts="milestones", where='{"all": [["priority", "any", ["must"]]]}'), VISITORS,
        projects=("LAN", "MIL", "KIO"), rhythm="fortnightly",
        said=(
            (19, "TB", "steady", None, {"Reached": "survey done, first panes ordered"}),
            (5, "TB", "strained", None, {
                "Reached": "the kiosk’s software is ready", "In the way": "foundry sand for the glazing bars",
                "Next": "sand from the second foundry by Friday",
            }),
        ),
    ),
    Aim("Lantern room relit", "NC", Measure("tasks", by="effort"), DOORS, projects=("LAN",)),
    Aim("Mill wheel turns", "CR", Measure("tasks", by="effort"), DOORS, projects=("MIL",)),
    Aim(
        "Queue at the pier under 6 minutes", "PN", _by_hand("14", "6", "min", 1), VISITORS, rhythm="weekly",
        values=((60, "14"), (45, "13.4"), (31, "13.1"), (17, "12.9")),
        said=((4, "PN", "slipping", "12.8", {"In the way": "one till only until the kiosk goes live", "Next": "a second till at weekends"}),),
    ),
    Aim(
        "Half of the work done by volunteers", "YH", _by_hand("31", "50", "%", 1), years=True, rhythm="quarterly",
        values=((70, "33.5"), (40, "37"), (12, "39.5")),
    ),
    Aim(SURVEYED, "IN", Measure("goals"), years=True),
    Aim(
        "Lantern tower surveyed", "TB", _by_hand("0", "4", "floors"), SURVEYED, values=((50, "1"), (33, "3"), (22, "4")),
        closed=(20, "All four floors, a week before the scaffold came down"),
    ),
    Aim(
        "Ledges counted", "AL", Measure("tasks"), SURVEYED, team="Field crew", projects=("SEA",), rhythm="fortnightly",
        said=((24, "AL", "steady", None, {"Reached": "routes and roster agreed"}),),
    ),
)  # fmt: skip


class Aims:
    """Lays out the goals.

    Args:
        real: the clock of the demo; ``clock``: the one that is moved through what has happened.
        as_: gives who acts by their initials.
    """

    def __init__(self, database: Database, real: Clock, clock: Clock, as_: Callable[[str], Actor]) -> None:
        self._database = database
        self._real = real
        self._clock = clock
        self._as = as_
        self._ids: dict[str, str] = {}

    def lay_out(self) -> None:
        """Set every goal, and let be said of it what was said."""
        now, today = self._real.now(), self._real.now().date()
        self._clock.set(now - timedelta(days=80))
        self._database.write(purpose.set_purpose, self._as("BE"), PURPOSE, None)
        for aim in AIMS:
            self._set(aim, today)
        happened: list[tuple[datetime, Callable[[], None]]] = []
        for aim in AIMS:
            happened += [(self._past(days, 16), self._value(aim, days, value)) for days, value in aim.values]
            happened += [(self._past(one[0], 10), self._note(aim, one)) for one in aim.said]
            if aim.closed:
                happened.append((self._past(aim.closed[0], 17), self._close(aim)))
        for at, event in sorted(happened, key=lambda one: one[0]):
            self._clock.set(at)
            event()
        self._clock.set(now)

    def _past(self, days: int, hour: int) -> datetime:
        return datetime.combine(self._real.now().date() - timedelta(days=days), time(hour, 20))

    def _set(self, aim: Aim, today: date) -> None:
        first, last = (date(today.year, 1, 1), date(today.year, 12, 31)) if aim.years else _half(today)
        measure = replace(aim.measure, projects=tuple(self._database.read(_project_id, one) for one in aim.projects))
        teams = {one.name: one.id for one in self._database.read(team_rows.all_teams)}
        self._ids[aim.title] = new_id()
        one = Goal(
            self._ids[aim.title], aim.title, self._as(aim.owner).person.id, first, last, self._clock.utc(),
            self._ids[aim.under] if aim.under else None, "team" if aim.team else "organisation", teams[aim.team] if aim.team else None,
            measure=measure, rhythm=aim.rhythm,
        )  # fmt: skip
        self._database.write(goals.set_goal, self._as("BE"), one)

    def _value(self, aim: Aim, days: int, value: str) -> Callable[[], None]:
        day = self._real.now().date() - timedelta(days=days)
        return lambda: self._database.write(
            notes.add_value, self._as(aim.owner), self._ids[aim.title], new_id(), day, Decimal(value)
        )

    def _note(self, aim: Aim, said: Said) -> Callable[[], None]:
        _, who, health, value, sections = said
        new = notes.NewNote(new_id(), health, Decimal(value) if value else None, tuple(sections.items()), ())
        return lambda: self._database.write(notes.write_note, self._as(who), self._ids[aim.title], new)

    def _close(self, aim: Aim) -> Callable[[], None]:
        assert aim.closed is not None
        word = aim.closed[1]
        return lambda: self._database.write(goals.close_goal, self._as(aim.owner), self._ids[aim.title], "met", word)


def _half(today: date) -> tuple[date, date]:
    if today.month <= 6:
        return date(today.year, 1, 1), date(today.year, 6, 30)
    return date(today.year, 7, 1), date(today.year, 12, 31)


def _project_id(cur: Cursor, code: str) -> str:
    found = project_rows.project_by_code(cur, code)
    assert found is not None
    return found.id
