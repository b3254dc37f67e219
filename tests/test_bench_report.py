"""What the bench writes down, and how it holds a run against the last."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.bench.report import Line, Report, got_worse, read


@pytest.mark.parametrize(
    ("line", "aim"),
    [
        (Line("a", 120, "ms", most=100), "at most 100 ms: **missed**"),
        (Line("a", 90, "ms", most=100), "at most 100 ms"),
        (Line("a", 90, "ms", reference=50, most=1.5, by_ratio=True), "at most 1.5 times: **missed**"),
        (Line("a", 50, "a second", reference=60, least=0.8, by_ratio=True), "at least 0.8 times"),
        (Line("a", 40, "a second", reference=60, least=0.8, by_ratio=True), "at least 0.8 times: **missed**"),
        (Line("a", 0, "", most=0), "at most 0 "),
        (Line("a", 7, "ms"), ""),
    ],
)
def test_an_aim_says_whether_it_is_met(line: Line, aim: str) -> None:
    assert line.aim == aim


def test_what_is_written_is_read_again(tmp_path: Path) -> None:
    report, page = Report(), tmp_path / "performance.md"
    for line in (
        Line("answers", 1234.5, "ms", 10, most=2),
        Line("frames", 58.2, "a second", 60, least=0.8),
        Line("power", 1.04, ""),
    ):
        report.add(line)
    assert report.write("a made-up machine.", page) == []
    assert read(page.read_text()) == {"answers": 1234, "frames": 58.2, "power": 1.04}


def test_what_got_worse_by_a_third_is_named(tmp_path: Path) -> None:
    page = tmp_path / "performance.md"
    for answers, frames in ((100, 60), (140, 40)):
        report = Report()
        report.add(Line("answers", answers, "ms", most=500))
        report.add(Line("frames", frames, "a second", least=30))
        report.add(Line(f"new {answers}", 1, "ms"))
        worse = report.write("", page)
    assert worse == ["answers: 140 ms, last time 100 ms", "frames: 40.0 a second, last time 60.0 a second"]


def test_a_slower_machine_is_allowed_for(tmp_path: Path) -> None:
    assert not got_worse(Line("a", 250, "ms", most=1), 100, slower=2)
    assert got_worse(Line("a", 270, "ms", most=1), 100, slower=2)
    assert not got_worse(Line("a", 30, "a second", least=1), 60, slower=2)
    assert got_worse(Line("requests", 8, "", most=6), 5, slower=2)
    report = Report()
    report.feel()
    report.write("", tmp_path / "performance.md")
    (speed,) = read((tmp_path / "performance.md").read_text()).values()
    assert speed > 0


@pytest.mark.parametrize(("value", "before", "worse"), [(133, 100, False), (134, 100, True), (50, 100, False)])
def test_less_is_better_where_the_aim_is_a_most(value: float, before: float, worse: bool) -> None:
    assert got_worse(Line("a", value, "ms", most=1), before) is worse
