"""What people typed into the fields of a task, read into what the fields hold: each has its type and its bounds.

Dates and durations may be text such as ``next fri`` and ``3 days``, links ``12 + 2 d``.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, get_args

from ..common.bounds import (
    LONGEST_TYPED,
    MINUTES_A_DAY,
    MOST_BOOKED_DAYS,
    MOST_BOOKINGS,
    MOST_EFFORT,
    MOST_LINKS_OF_A_TASK,
    MOST_PEOPLE,
    check_day,
    check_length,
    is_id,
)
from ..common.calendars import WorkingCalendar
from ..common.dates import read_moment
from ..common.durations import read_duration, read_length
from ..common.errors import RuleError
from .booked import MOST_UNITS, Wish
from .custom_values import read_value
from .model import LINK_TYPES, OWN, Booking, BookingShape, Link, ResourceKind, Task
from .project_tasks import ProjectTasks
from .recurrence import Repeat, check_repeat, write_repeat
from .recurrence_words import read_repeat_line, read_rule
from .rules import EDITABLE
from .typed_links import TaskNames, read_links

LONGEST_WAITS = 5_000
"""Characters of typed links."""


@dataclass(frozen=True, slots=True)
class _Read:
    """What a field is read against: the plan, the task where there is one, its calendar, and local time."""

    plan: ProjectTasks
    task: Task | None
    calendar: WorkingCalendar
    now: datetime


def read_fields(fields: Mapping[str, Any], plan: ProjectTasks, now: datetime, task: Task | None = None) -> dict[str, Any]:
    """Read what people typed into the fields of a task.

    Args:
        fields: by name what was typed or sent; ``own.`` and an id is one of the project's own fields.
        plan: of the project.
        now: local time, that relative dates count from.
        task: that is changed; None for a new one.

    Raises:
        RuleError: a field that is not known, a value of the wrong type or beyond its bounds, or text that cannot be read.
    """
    own = fields.get("calendar_id", task.calendar_id if task else None)
    calendar = plan.project.calendars.get(own, plan.calendar) if isinstance(own, str) else plan.calendar
    around = _Read(plan, task, calendar, now)
    read: dict[str, Any] = {}
    for name, value in fields.items():
        if name.startswith(OWN):
            read[name] = _own(name, value, around)
            continue
        if name not in EDITABLE:
            raise RuleError(f"A task has no field called {name[:60]}.", name[:60])
        if isinstance(value, str) and not value.strip() and name not in {"title", "held_reason"}:
            value = None
        try:
            read[name] = _READERS[name](value, around)
        except RuleError as error:
            raise RuleError(error.sentence, name) from error
        if name == "duration" and isinstance(value, str):
            read["duration"], read["elapsed"] = read[name]
    for name in ("push_to", "stretch_to"):
        if name in read and read[name] is None:
            raise RuleError("Say which day the finish moves to.", name)
    return read


def _wrong(wanted: str) -> RuleError:
    return RuleError(f"Send {wanted}.")


def _words(value: Any, _: _Read) -> str:
    if not isinstance(value, str):
        raise _wrong("a text")
    return value


def _words_or_none(value: Any, around: _Read) -> str | None:
    return None if value is None else _words(value, around)


def _id_or_none(value: Any, _: _Read) -> str | None:
    if value is not None and not is_id(value):
        raise _wrong("the id of one that there is")
    return value.lower() if value is not None else None


def _kind(value: Any, around: _Read) -> str:
    kind = _words(value, around)
    return kind.lower() if is_id(kind) else kind


def _state(value: Any, around: _Read) -> str:
    state = _id_or_none(value, around)
    if state is None:
        raise RuleError("A task stands in a state. Choose one.")
    return state


def _ids(value: Any, around: _Read) -> tuple[str, ...]:
    if value is None:
        return ()
    if not isinstance(value, list | tuple) or not all(is_id(one) for one in value):
        raise _wrong("a list of ids")
    if len(value) > MOST_PEOPLE:
        raise RuleError(f"That are {len(value)}; {MOST_PEOPLE} are the most.")
    return tuple(dict.fromkeys(one.lower() for one in value))


def _moment(value: Any, around: _Read) -> date | datetime | None:
    if value is None:
        return None
    if isinstance(value, str):
        if len(value) > LONGEST_TYPED:
            raise RuleError("That is too long for a date. Write it as 8 Mar, fri, tomorrow or 2027-03-08.")
        value = read_moment(value, around.now.date())
    if not isinstance(value, date):
        raise _wrong("a date as text, such as 2027-03-08 or next fri")
    if isinstance(value, datetime) and value.tzinfo is not None:
        raise RuleError("Dates of a plan are local: leave the time zone out.")
    return check_day(value)


def _day(value: Any, around: _Read) -> date | None:
    moment = _moment(value, around)
    return moment.date() if isinstance(moment, datetime) else moment


def _instant(value: Any, around: _Read) -> date | datetime | None:
    """When something really happened: to the minute."""
    moment = _moment(value, around)
    return moment.replace(second=0, microsecond=0) if isinstance(moment, datetime) else moment


def _minutes(value: Any) -> int:
    if isinstance(value, bool) or not isinstance(value, int | float) or value != value or abs(value) == float("inf"):
        raise _wrong("minutes as a whole number, or text such as 3 days")
    if value != int(value):
        raise _wrong("whole minutes")
    return int(value)


def _typed(value: str) -> str:
    if len(value) > LONGEST_TYPED:
        raise RuleError("That is too long for a duration. Write it as 3 days, 6 h or 1 d 4 h.")
    return value


def _duration(value: Any, around: _Read) -> int | tuple[int, bool] | None:
    if value is None:
        return None
    if isinstance(value, str):
        minutes, elapsed = read_length(_typed(value), around.calendar.day_minutes)
        return check_length(minutes), elapsed
    return check_length(_minutes(value))


def _effort(value: Any, around: _Read) -> int | None:
    if value is None:
        return None
    day = around.plan.calendar.day_minutes
    minutes = read_duration(_typed(value), day, bare="hour") if isinstance(value, str) else _minutes(value)
    if minutes > MOST_EFFORT:
        raise RuleError("That is more effort than a task can hold. A million hours are the most.")
    return minutes


def _percent(value: Any, _: _Read) -> int:
    if value is not None and (isinstance(value, bool) or not isinstance(value, int | float | str)):
        raise _wrong("percent done as a number from 0 to 100")
    text = str(value if value is not None else 0).strip().rstrip("%").strip()
    try:
        if len(text) > 20:
            raise ValueError(text[:20])
        return int(text)
    except ValueError as error:
        raise RuleError("Write percent done as a number from 0 to 100.") from error


def _flag(value: Any, _: _Read) -> bool:
    if not isinstance(value, bool):
        raise RuleError("Say true where a duration runs through nights and holidays, else false.")
    return value


def _repeats(value: Any, around: _Read) -> dict[str, Any] | None:
    """How a task is to repeat: a rule in words or as an RRULE, counted from the day on which the task stands; or all of it in
    one line, as ``say_repeat`` writes it."""
    if value is None:
        return None
    at = (around.task.start or around.task.finish) if around.task else None
    first = (at or around.now).date()
    if isinstance(value, str):
        return write_repeat(read_repeat_line(value, around.now.date(), first))
    if not isinstance(value, Mapping) or not isinstance(value.get("words"), str):
        raise RuleError("Say how it repeats in “words”, such as every second Tuesday.")
    ahead, off_holidays, mode = value.get("ahead") or 1, value.get("off_holidays", True), value.get("mode", "finished")
    if isinstance(ahead, bool) or not isinstance(ahead, int) or not isinstance(off_holidays, bool) or not isinstance(mode, str):
        raise RuleError("Say “ahead” as a whole number, “off_holidays” as true or false, and “mode” as ahead or finished.")
    rule = read_rule(value["words"], around.now.date())
    repeat = Repeat(rule, first.isoformat(), mode, ahead, off_holidays)  # type: ignore[arg-type]
    check_repeat(repeat)
    return write_repeat(repeat)


_SHAPES, _KINDS = get_args(BookingShape), get_args(ResourceKind)


def _bookings(value: Any, around: _Read) -> tuple[Wish, ...]:
    """Bookings as a list of objects: ``who``, and ``minutes`` (or text such as 10 h), ``units`` or ``by_day``."""
    if value is None:
        return ()
    if not isinstance(value, list | tuple) or len(value) > MOST_BOOKINGS:
        raise RuleError(f"Send bookings as a list of at most {MOST_BOOKINGS}.")
    return tuple(_booking(one, around) for one in value)


def _booking(one: Any, around: _Read) -> Wish:
    if isinstance(one, Wish):
        return one
    if isinstance(one, Booking):  # as it stands, in a copy
        return Wish(one.who, one.minutes, None, one.shape, one.by_day, one.resource, one.of, one.amount)
    if not isinstance(one, Mapping) or not is_id(one.get("who")):
        raise RuleError("A booking names a person or a resource in “who”.")
    minutes, units, by_day = one.get("minutes"), one.get("units"), one.get("by_day") or ()
    shape, resource = one.get("shape") or ("by_day" if by_day else "even"), one.get("resource") or False
    if not isinstance(resource, bool) or not isinstance(by_day, list | tuple) or len(by_day) > MOST_BOOKED_DAYS:
        raise RuleError(f"“resource” is true or false, “by_day” a list of at most {MOST_BOOKED_DAYS} minutes.")
    if not isinstance(shape, str) or shape not in _SHAPES:
        raise RuleError(f"Hours lie {', '.join(_SHAPES)}.")
    days = tuple(_minutes(each) for each in by_day)
    if any(not 0 <= each <= MINUTES_A_DAY for each in days):
        raise RuleError("A day has 24 hours; nobody works less than none of them.")
    if units is not None and (isinstance(units, bool) or not isinstance(units, int | float) or not 0 < units <= MOST_UNITS):
        raise RuleError("Send “units” as a share of the day in a hundred, such as 50.")
    of, amount = one.get("of") or "labour", one.get("amount") or 0
    if of not in _KINDS or isinstance(amount, bool) or not isinstance(amount, int):
        raise RuleError(f"“of” is {', '.join(_KINDS)}; “amount” a whole number of thousandths.")
    if of != "labour":
        return Wish(str(one["who"]).lower(), None, None, "even", (), resource, of, amount)  # type: ignore[arg-type]
    if minutes is None and units is None and shape != "by_day":
        raise RuleError("Say how many hours are booked.")
    read = None if minutes is None else _effort(minutes, around)
    return Wish(str(one["who"]).lower(), read, units, shape, days, resource)  # type: ignore[arg-type]


def _held_by(value: Any, around: _Read) -> str | None:
    holder = _id_or_none(value, around)
    if holder is not None and holder not in around.plan.rows:
        raise RuleError("The task that holds it is gone. Choose another.")
    return holder


def _own(name: str, value: Any, around: _Read) -> Any:
    """A value of one of the project's own fields."""
    one = next((each for each in around.plan.project.fields if each.key == name), None)
    if one is None:
        raise RuleError("That field is not in the project any more. Load the page again.", name[:60])
    read = read_value(one, value, around.now.date())
    if one.type == "tasks" and read and (gone := [each for each in read if each not in around.plan.rows]):
        raise RuleError(f"{len(gone)} of these tasks are gone. Choose again.", name)
    return read


def _waits(value: Any, around: _Read) -> tuple[Link, ...]:
    plan, task = around.plan, around.task
    if value is None or isinstance(value, str):
        if len(value or "") > LONGEST_WAITS:
            raise RuleError(f"What a task waits for is written in {LONGEST_WAITS} characters at most.")
        links = read_links(value or "", task, TaskNames(plan.tasks.values(), plan.project.code), plan.calendar.day_minutes)
    elif isinstance(value, list | tuple):
        if len(value) > MOST_LINKS_OF_A_TASK:
            raise RuleError(f"A task waits for {MOST_LINKS_OF_A_TASK} others at most. Put a milestone between.")
        links = tuple({(link.from_id, link.type): link for link in (_link(one, task, plan.rows) for one in value)}.values())
    else:
        raise _wrong("links as a list, or text such as 12 + 2 d")
    if len(links) > MOST_LINKS_OF_A_TASK:
        raise RuleError(f"A task waits for {MOST_LINKS_OF_A_TASK} others at most. Put a milestone between.")
    return links


def _link(one: Any, task: Task | None, known: Collection[str]) -> Link:
    lag = one.get("lag", 0) if isinstance(one, Mapping) else None
    elapsed = one.get("elapsed", False) if isinstance(one, Mapping) else None
    if not isinstance(one, Mapping) or not is_id(one.get("from_id")) or not isinstance(elapsed, bool):
        raise RuleError("A link needs from_id, and may have type, lag and elapsed.")
    if isinstance(lag, bool) or not isinstance(lag, int):
        raise RuleError("The lag of a link is whole minutes.")
    if one.get("type", "FS") not in LINK_TYPES:
        raise RuleError("A link is of type FS, SS, FF or SF.")
    link = Link(str(one["from_id"]).lower(), one.get("type", "FS"), check_length(lag), elapsed)
    if link.from_id not in known:
        raise RuleError("The task to wait for is gone. Choose another.")
    if task is not None and link.from_id == task.id:
        raise RuleError("A task cannot wait for itself. Name another.")
    return link


_READERS: dict[str, Callable[[Any, _Read], Any]] = {
    "title": _words,
    "kind": _kind,
    "owner_id": _id_or_none,
    "helpers": _ids,
    "state_id": _state,
    "held_reason": _words_or_none,
    "held_by_id": _held_by,
    "marks": _ids,
    "repeats": _repeats,
    "priority": _words_or_none,
    "start": _moment,
    "finish": _moment,
    "duration": _duration,
    "deadline": _moment,
    "effort": _effort,
    "percent": _percent,
    "push_to": _day,
    "stretch_to": _moment,
    "constraint_type": _words_or_none,
    "constraint_at": _moment,
    "waits_for": _waits,
    "elapsed": _flag,
    "calendar_id": _id_or_none,
    "actual_start": _instant,
    "actual_finish": _instant,
    "bookings": _bookings,
    "keeps": _words_or_none,
    "on_length": _words_or_none,
    "lane_id": _id_or_none,
    "period_id": _id_or_none,
}
