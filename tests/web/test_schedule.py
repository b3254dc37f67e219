"""The axis of the schedule, and where bars and links lie on it."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

import pytest

from .conftest import Modules

AXIS = "/src/schedule/lens/axis.ts"
GEOMETRY = "/src/schedule/lens/geometry.ts"
OFFICE = {
    "week": {day: [["09:00", "13:00"], ["14:00", "17:30"]] for day in ("mon", "tue", "wed", "thu", "fri")},
    "exceptions": [
        {"from": "2027-03-26", "to": "2027-03-29", "hours": [], "name": "Easter"},
        {"from": "2027-03-20", "to": "2027-03-20", "hours": [["10:00", "12:00"]], "name": "Fair"},
    ],
}
MAKE = "module.makeAxis(module.daysOf(calendar, new Date('2027-03-15T00:00'), new Date('2027-04-04T00:00')), pixels)"


def ask(modules: Modules, code: str, pixels: float = 58, **args: Any) -> Any:
    return modules(AXIS, code.replace("AXIS", MAKE), calendar=OFFICE, pixels=pixels, **args)


def test_worked_days_are_wide_and_others_narrow(modules: Modules) -> None:
    days = ask(modules, "AXIS.days.map((day, index) => [day.iso, day.worked, day.name, AXIS.within(0, 1e6)[index].width])", 100)
    assert len(days) == 21
    widths = {iso: round(width) for iso, _, _, width in days}
    assert (widths["2027-03-19"], widths["2027-03-20"], widths["2027-03-21"], widths["2027-03-26"]) == (100, 100, 22, 22)
    assert {iso: name for iso, _, name, _ in days if name} == {
        "2027-03-20": "Fair", "2027-03-26": "Easter", "2027-03-27": "Easter", "2027-03-28": "Easter", "2027-03-29": "Easter",
    }  # fmt: skip


@pytest.mark.parametrize("pixels", [0.7, 6.5, 58, 620])
def test_later_moments_never_lie_further_left(modules: Modules, pixels: float) -> None:
    first = datetime(2027, 3, 15)
    moments = [(first + timedelta(minutes=97 * step)).isoformat() for step in range(290)]
    places = ask(modules, "moments.map((at) => Math.round(AXIS.x(at) * 1e6))", pixels, moments=moments)
    assert places == sorted(places)
    assert places[0] == 0


@pytest.mark.parametrize("at", ["2027-03-17T09:00", "2027-03-17T11:15", "2027-03-17T16:45", "2027-03-20T10:30"])
def test_the_moment_under_a_place_is_the_one_that_lies_there(modules: Modules, at: str) -> None:
    back = ask(
        modules,
        "(() => { const m = AXIS.momentAt(AXIS.x(at)); return [m.getHours(), m.getMinutes(), m.getDate()]; })()",
        620,
        at=at,
    )
    wanted = datetime.fromisoformat(at)
    assert back == [wanted.hour, wanted.minute, wanted.day]


def test_a_day_is_found_by_a_place_in_it_and_beyond_the_ends_the_nearest(modules: Modules) -> None:
    code = "['2027-03-17T12:00', '2027-03-27T12:00'].map((at) => AXIS.dayAt(AXIS.x(at)).iso).concat(AXIS.dayAt(-50).iso, AXIS.dayAt(1e6).iso)"
    assert ask(modules, code) == ["2027-03-17", "2027-03-27", "2027-03-15", "2027-04-04"]


@pytest.mark.parametrize(
    ("pixels", "scale"), [(900, "hour"), (58, "day"), (40, "day"), (30, "week"), (6, "month"), (0.7, "quarter")]
)
def test_a_width_is_called_by_the_scale_nearest_to_it(modules: Modules, pixels: float, scale: str) -> None:
    assert ask(modules, "AXIS.scale", pixels) == scale


# --- bars and links, on an axis on which an hour is a pixel ---
PLAIN = """({x: (at) => (Date.parse(at + 'Z') - Date.parse('2027-03-15T00:00Z')) / 36e5,
             dayAt: (x) => ({x: Math.floor(x / 24) * 24, width: 24})})"""


def place(modules: Modules, **row: Any) -> Any:
    return modules(
        GEOMETRY, f"module.placeOf(row, {PLAIN})", row={"start": None, "finish": None, "kind": "task", "is_summary": False, **row}
    )


def test_bars_lie_from_start_to_finish_and_a_milestone_at_its_point(modules: Modules) -> None:
    start, finish = "2027-03-16T09:00:00", "2027-03-17T17:00:00"
    assert place(modules, start=start, finish=finish) == {"x": 33, "right": 65, "half": False}
    assert place(modules, start=finish, finish=finish, kind="milestone") == {"x": 65, "right": 65, "half": False}
    assert place(modules, start=start) == {"x": 33, "right": 48, "half": True}  # to the end of its day
    assert place(modules, finish=finish) == {"x": 48, "right": 65, "half": True}
    assert place(modules) is None
    assert place(modules, start=start, finish=start) == {"x": 33, "right": 36, "half": False}  # never too thin to be seen


def path(modules: Modules, kind: str, a: tuple[float, float], b: tuple[float, float], ay: float = 10, by: float = 40) -> str:
    one, other = ({"x": x, "right": right, "half": False} for x, right in (a, b))
    drawn = modules(GEOMETRY, "module.linkPath(kind, a, ay, b, by)", kind=kind, a=one, b=other, ay=ay, by=by)
    assert drawn["head"].startswith("M")
    return str(drawn["d"])


def test_a_link_goes_from_one_end_to_the_other_by_its_type(modules: Modules) -> None:
    assert path(modules, "FS", (0, 50), (52, 90)) == "M50,10H57V34"  # straight down onto the bar that waits
    assert path(modules, "FS", (0, 50), (120, 160)) == "M50,10H57V40H120"
    assert path(modules, "SS", (30, 50), (60, 90)) == "M30,10H23V40H60"
    assert path(modules, "FF", (30, 50), (60, 90)) == "M50,10H99V40H90"
    assert path(modules, "FS", (0, 100), (20, 60)) == "M100,10H107V25.5H11V40H20"  # back, between the rows
    assert modules(GEOMETRY, "[module.typeOf('start', 'finish'), module.typeOf('finish', 'start')]") == ["SF", "FS"]


# --- moving bars

MOVING = "/src/schedule/lens/moving.ts"
TASK = {"kind": "task", "is_summary": False, "start": "2027-03-17T09:00:00", "finish": "2027-03-18T17:30:00", "percent": 40}


def moving(modules: Modules, code: str, pixels: float = 58, row: Any = None, **args: Any) -> Any:
    made = code.replace("AXIS", MAKE.replace("module.", "axis."))
    body = f"(async () => {{ const axis = await load('{AXIS}'); return {made}; }})()"
    return modules(MOVING, body, calendar=OFFICE, pixels=pixels, row=row or TASK, **args)


def dragged(modules: Modules, how: str, start: str, end: str, pixels: float = 58, row: Any = None) -> Any:
    code = "module.changeByDrag(row, {id: 'a', how, from: AXIS.x(start), x: AXIS.x(end), y: 0}, AXIS)"
    return moving(modules, code, pixels, row, how=how, start=start, end=end)


def test_a_bar_is_dragged_by_whole_days(modules: Modules) -> None:
    change = dragged(modules, "move", "2027-03-17T12:00", "2027-03-19T10:00")
    assert change == {"what": "Moved", "fields": {"start": "2027-03-19T09:00"}}
    assert dragged(modules, "move", "2027-03-17T10:00", "2027-03-17T16:00") is None


def test_at_the_scale_of_hours_it_is_dragged_by_quarters(modules: Modules) -> None:
    change = dragged(modules, "move", "2027-03-17T09:00", "2027-03-17T11:15", pixels=900)
    assert change["fields"] == {"start": "2027-03-17T11:15"}


def test_a_milestone_and_a_task_with_only_a_finish_move_by_it(modules: Modules) -> None:
    milestone = {**TASK, "kind": "milestone", "start": TASK["finish"]}
    assert dragged(modules, "move", "2027-03-17T12:00", "2027-03-18T12:00", row=milestone)["fields"] == {
        "finish": "2027-03-19T17:30"
    }
    assert "finish" in dragged(modules, "move", "2027-03-17T12:00", "2027-03-18T12:00", row={**TASK, "start": None})["fields"]


def test_its_end_is_stretched_and_its_percent_drawn(modules: Modules) -> None:
    assert dragged(modules, "stretch", "2027-03-18T12:00", "2027-03-22T12:00")["fields"] == {"stretch_to": "2027-03-22"}
    assert dragged(modules, "percent", "2027-03-17T09:00", "2027-03-18T17:30")["fields"] == {"percent": 100}
    assert dragged(modules, "percent", "2027-03-17T09:00", "2027-03-17T09:00")["fields"] == {"percent": 0}


@pytest.mark.parametrize("turned", [False, True])
def test_a_bar_is_drawn_from_either_end(modules: Modules, turned: bool) -> None:
    ends = ["2027-03-17T12:00", "2027-03-19T12:00"]
    start, end = reversed(ends) if turned else ends
    undated = {**TASK, "start": None, "finish": None}
    assert dragged(modules, "draw", start, end, row=undated)["fields"] == {"start": "2027-03-17", "finish": "2027-03-19"}
    milestone = {**undated, "kind": "milestone"}
    assert dragged(modules, "draw", start, end, row=milestone)["fields"] == {"finish": "2027-03-19"}


@pytest.mark.parametrize(
    ("start", "step", "moved"),
    [
        ("2027-03-17", 1, "2027-03-18"),
        ("2027-03-19", 1, "2027-03-20"),
        ("2027-03-22", -1, "2027-03-20"),
        ("2027-03-25", 1, "2027-03-30"),
    ],
)
def test_a_key_moves_a_bar_by_a_worked_day(modules: Modules, start: str, step: int, moved: str) -> None:
    row = {**TASK, "start": f"{start}T09:00:00"}
    change = moving(modules, "module.changeByKey(row, step, false, AXIS)", row=row, step=step)
    assert change["fields"]["start"] == f"{moved}T09:00"


def test_with_shift_a_key_moves_its_finish_and_without_dates_nothing(modules: Modules) -> None:
    assert moving(modules, "module.changeByKey(row, 1, true, AXIS)")["fields"] == {"stretch_to": "2027-03-19"}
    assert moving(modules, "module.changeByKey(row, 1, false, AXIS)", row={**TASK, "start": None, "finish": None}) is None


def test_the_ghost_of_a_drag_says_by_how_much(modules: Modules) -> None:
    code = "module.ghostOf(row, {id: 'a', how: 'move', from: AXIS.x(start), x: AXIS.x(end), y: 0}, AXIS)"
    ghost = moving(modules, code, start="2027-03-17T12:00", end="2027-03-15T12:00")
    assert ghost["label"] == "−2 d"
    ghost = moving(modules, code, 900, start="2027-03-17T09:00", end="2027-03-17T10:30")
    assert ghost["label"] == "10:30"
