"""When, and for how long, somebody can be booked."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhodonite.core.common.calendars import CalendarException, WorkingCalendar
from rhodonite.core.common.errors import RuleError
from rhodonite.core.resources.bookable import Kept, Resource, check_absence, check_capacity, check_resource, clean_kinds
from rhodonite.core.resources.capacity import Absence, Capacity, in_common, without

from ..make import OFFICE, at

MONDAY = date(2027, 3, 15)


def away(start: datetime, end: datetime, kind: str = "leave", note: str = "") -> Absence:
    return Absence("1", "x", kind, start, end, note)


def on(capacity: Capacity, day: date) -> int:
    return capacity.on(day.toordinal())


def test_a_usual_day_has_the_hours_of_the_calendar() -> None:
    assert on(Capacity(OFFICE), MONDAY) == 450
    assert on(Capacity(OFFICE), date(2027, 3, 20)) == 0  # a Saturday


def test_a_share_of_the_day_is_left_for_mail_and_meetings() -> None:
    assert on(Capacity(OFFICE, 80), MONDAY) == 360
    assert Capacity(OFFICE, 80).minutes(at("3-15"), at("3-19 17:30")) == 5 * 360


def test_whole_days_half_days_and_hours_away_are_taken_off() -> None:
    capacity = Capacity(
        OFFICE,
        absences=[
            away(at("3-15 00:00"), at("3-16 00:00")),  # Monday
            away(at("3-16 13:00"), at("3-17 00:00")),  # Tuesday afternoon
            away(at("3-17 10:00"), at("3-17 11:30")),  # an hour and a half of Wednesday
        ],
    )
    assert [on(capacity, MONDAY + timedelta(days=n)) for n in range(4)] == [0, 240, 360, 450]
    assert capacity.minutes(at("3-15"), at("3-19 17:30")) == 240 + 360 + 450 + 450


def test_absences_may_overlap_and_lie_over_days_that_are_not_worked() -> None:
    night = away(at("3-18 15:30"), at("3-22 10:00"))
    capacity = Capacity(OFFICE, absences=[night, away(at("3-19 09:00"), at("3-19 12:00"))])
    assert [on(capacity, date(2027, 3, day)) for day in (18, 19, 20, 22)] == [330, 0, 0, 390]


def test_nobody_is_booked_before_they_come_or_after_they_go() -> None:
    capacity = Capacity(OFFICE, first=date(2027, 3, 16), last=date(2027, 3, 17))
    assert [on(capacity, date(2027, 3, day)) for day in (15, 16, 17, 18)] == [0, 450, 450, 0]
    assert capacity.minutes(at("3-1"), at("4-30")) == 900


def test_a_crew_works_side_by_side() -> None:
    assert on(Capacity(OFFICE, people=2.5), MONDAY) == 1125


def test_holidays_of_the_organisation_stay_beside_absences() -> None:
    eastern = WorkingCalendar(OFFICE.week, [CalendarException(date(2027, 3, 26), date(2027, 3, 29), (), "Easter")])
    capacity = Capacity(eastern, absences=[away(at("3-25 00:00"), at("3-26 00:00"))])
    assert [on(capacity, date(2027, 3, day)) for day in (24, 25, 26, 29, 30)] == [450, 0, 0, 0, 450]


spans = st.tuples(st.integers(0, 20 * 1440), st.integers(1, 4 * 1440)).map(
    lambda pair: away(at("3-1 00:00") + timedelta(minutes=pair[0]), at("3-1 00:00") + timedelta(minutes=pair[0] + pair[1]))
)


@given(st.lists(spans, max_size=6))
def test_what_is_left_is_what_no_absence_covers(absences: list[Absence]) -> None:
    capacity = Capacity(OFFICE, absences=absences)
    for day in range(1, 26):
        ordinal = date(2027, 3, day).toordinal()
        midnight = datetime(2027, 3, day)
        left = sum(
            not any(one.start <= midnight + timedelta(minutes=minute) < one.end for one in absences)
            for start, end in OFFICE.hours(date(2027, 3, day))
            for minute in range(start, end)
        )
        assert capacity.on(ordinal) == left


@given(st.lists(spans, max_size=6), st.integers(0, 25 * 1440), st.integers(0, 5 * 1440))
def test_the_minutes_of_two_spans_are_those_of_both_together(absences: list[Absence], start: int, length: int) -> None:
    capacity, begin = Capacity(OFFICE, absences=absences), at("3-1 00:00")
    a, b, c = begin, begin + timedelta(minutes=start), begin + timedelta(minutes=start + length)
    assert capacity.minutes(a, c) == capacity.minutes(a, b) + capacity.minutes(b, c)


@pytest.mark.parametrize(
    ("absence", "field"),
    [
        (away(at("3-15"), at("3-15")), "end"),
        (away(at("3-15"), at("3-16"), kind="sailing"), "kind"),
        (away(at("3-15"), at("3-15") + timedelta(days=4000)), "end"),
        (away(datetime(1960, 1, 1), at("3-15")), "start"),
        (away(at("3-15"), at("3-16"), note="x" * 301), "note"),
    ],
)
def test_absences_that_cannot_be_are_refused(absence: Absence, field: str) -> None:
    with pytest.raises(RuleError) as caught:
        check_absence(absence, ["volunteering"])
    assert caught.value.field == field


def test_an_organisation_names_kinds_of_its_own() -> None:
    check_absence(away(at("3-15"), at("3-16"), kind="volunteering"), ["volunteering"])
    assert clean_kinds([" parental  leave", "Leave", "volunteering", "Volunteering"]) == ("parental leave", "Volunteering")
    with pytest.raises(RuleError):
        clean_kinds([""])


def test_a_capacity_that_cannot_be_is_refused() -> None:
    for kept in (
        Kept(share=0),
        Kept(share=101),
        Kept(first=date(2027, 3, 2), last=date(2027, 3, 1)),
        Kept(last=date(2300, 1, 1)),
    ):
        with pytest.raises(RuleError):
            check_capacity(kept)


def test_a_crew_has_a_name_and_somebody_in_it() -> None:
    assert check_resource(Resource("1", None, "  Outside   scaffolders ", 3, unit="pc")) == Resource(
        "1", None, "Outside scaffolders", 3
    )
    for name, people in (("", 1), ("x" * 121, 1), ("Divers", 0), ("Divers", 5000)):
        with pytest.raises(RuleError):
            check_resource(Resource("1", None, name, people))


def test_a_material_has_a_unit_and_no_people() -> None:
    panes = check_resource(Resource("1", None, "Glass panes", 7, "material", " pc "))
    assert (panes.unit, panes.people) == ("pc", 1)
    assert check_resource(Resource("1", None, "Permit", 7, "fixed", "pc")) == Resource("1", None, "Permit", 1, "fixed")
    for wrong in (Resource("1", None, "Panes", 1, "material"), Resource("1", None, "Panes", 1, "lost")):  # type: ignore[arg-type]
        with pytest.raises(RuleError):
            check_resource(wrong)


spans = st.lists(st.tuples(st.integers(0, 40), st.integers(0, 23), st.integers(1, 90)), max_size=5)


@settings(max_examples=60, deadline=None)
@given(spans, spans)
def test_what_two_calendars_have_in_common_is_worked_by_both(ours: list[Any], theirs: list[Any]) -> None:
    def less(calendar: WorkingCalendar, taken: list[Any]) -> WorkingCalendar:
        begins = [datetime(2027, 3, 1, hour) + timedelta(days=day) for day, hour, _ in taken]
        return without(calendar, [(at, at + timedelta(hours=long)) for at, (_, _, long) in zip(begins, taken, strict=True)])

    half = WorkingCalendar([((540, 780),)] * 6 + [()], [CalendarException(MONDAY, MONDAY, ((600, 660),), "open")])
    one, other = less(OFFICE, ours), less(half, theirs)
    both = in_common(one, other)
    assert both is not None
    for ordinal in range(date(2027, 2, 20).toordinal(), date(2027, 4, 30).toordinal()):
        day = date.fromordinal(ordinal)
        minutes = [{m for a, b in calendar.hours(day) for m in range(a, b)} for calendar in (one, other, both)]
        assert minutes[2] == minutes[0] & minutes[1]


def test_calendars_that_no_week_joins_have_nothing_in_common() -> None:
    assert in_common(OFFICE, WorkingCalendar([()] * 6 + [((540, 780),)])) is None
