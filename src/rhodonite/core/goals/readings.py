"""How a goal stands, in sentences."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from ..common.counts import count_of
from ..common.dates import say_day
from .measures import Item, Part, Standing
from .model import OUTCOMES, Goal, Measure
from .rhythm import is_due

MOST_NAMED = 3


@dataclass(frozen=True, slots=True)
class GoalLine:
    """A goal as it stands in a list: how deep in the tree, whose, when, how far in percent and in words."""

    depth: int
    title: str
    owner: str
    period: str
    percent: Decimal | None
    expected: Decimal | None
    health: str
    far: str


def say_number(value: Decimal, sign: str, decimals: int) -> str:
    """A value with its sign: ``32,400 visitors``; with no more decimals than it keeps."""
    text = f"{value:,.{decimals}f}" if decimals else f"{value:,.0f}"
    return f"{text} {sign}".strip()


def say_how_far(goal: Goal, how: Standing) -> str:
    """How far a goal is: ``11.6 of 6 min``, ``1 of 3 milestones``, ``42 % of 640 h``; nothing where that is not known."""
    measure = goal.measure
    if measure.has_value:
        if how.value is None:
            return ""
        value = say_number(how.value, "", measure.decimals)
        return f"{value} of {say_number(measure.target, measure.sign, measure.decimals)}"
    if how.percent is None:
        return ""
    percent = f"{how.percent.normalize():f} %"
    if measure.kind == "goals":
        return f"{percent} of {how.total:f} {'goal' if how.total == 1 else 'goals'}" if how.total else percent
    if how.done is None or how.total is None:
        return percent
    if measure.by == "effort":
        return f"{percent} of {say_number(how.total / 60, 'h', 0)}"
    return f"{how.done:f} of {how.total:f} {measure.counts if how.total != 1 else measure.counts[:-1]}"


def say_measure(measure: Measure) -> str:
    """What a measure is, in a word or two: ``by hand``, ``from milestones, by number``."""
    if measure.kind == "hand":
        return "by hand"
    if measure.kind == "goals":
        return "from the goals below"
    if measure.kind == "field":
        return "the sum of a field"
    return f"from {measure.counts}, by {'effort' if measure.by == 'effort' else 'number'}"


def say_measured(measure: Measure, codes: Sequence[str], hidden: int) -> str:
    """How a goal is measured: ``from milestones of LAN and MIL, by number``.

    Args:
        codes: of the projects that it counts, those that the reader sees; ``hidden``: how many others there are.
    """
    words = say_measure(measure)
    if not codes and not hidden:
        return words
    others = [f"{hidden} more" if codes else count_of(hidden, "project")] if hidden else []
    names = [*codes, *others]
    projects = names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
    what, comma, by = words.partition(", ")
    return f"{what} of {projects}{comma}{by}"


def say_start(measure: Measure) -> str:
    """From where a goal goes: ``14 min``; nothing where it measures itself in percent."""
    return say_number(measure.start, measure.sign, measure.decimals) if measure.has_value else ""


def say_part(measure: Measure, part: Part) -> str:
    """What a project adds to a goal: ``2 of 5 milestones``, ``12 of 40 h``, or why it could not be counted."""
    if part.unclear:
        return part.unclear
    if measure.kind == "field":
        return say_number(part.done, measure.sign, measure.decimals)
    if measure.by == "effort":
        return f"{say_number(part.done / 60, '', 0)} of {say_number(part.total / 60, 'h', 0)}"
    return f"{part.done:f} of {part.total:f} {measure.counts}"


def read_goal(
    goal: Goal,
    how: Standing,
    items: Sequence[tuple[str, Item]],
    below: Sequence[tuple[Goal, Standing]],
    due: date | None,
    today: date,
) -> str:
    """How a goal stands: how far, against where it should be; what of it comes too late, what is worst below it, what is due.

    Args:
        items: what it counts, each with the code of its project; only what the reader may see.
        below: the goals right below it that the reader sees.
        due: when its next progress note is due.
    """
    if not goal.is_open:
        return _closed(goal, how)
    lines = [_stands(goal, how)]
    late = [(code, one) for code, one in items if not one.finished and goal.ends_before(one.finish and one.finish.date())]
    late.sort(key=lambda one: one[1].finish or one[1].finish)  # type: ignore[arg-type, return-value]
    for _, one in late[:MOST_NAMED]:
        assert one.finish is not None
        slack = ", and has no slack" if one.slack is not None and one.slack <= 0 else ""
        days = (one.finish.date() - goal.last).days
        lines.append(
            f"**{one.title}** is planned for {say_day(one.finish.date(), today)}, {_days(days)} after the goal ends{slack}."
        )
    if len(late) > MOST_NAMED:
        lines.append(f"So are {len(late) - MOST_NAMED} more.")
    undated = sum(not one.finished and one.finish is None for _, one in items)
    if undated:
        lines.append(f"{undated} of what it counts {'has' if undated == 1 else 'have'} no date.")
    worst = [one for one, each in below if one.is_open and each.health == "slipping"]
    if worst:
        names = ", ".join(f"**{one.title}**" for one in worst[:MOST_NAMED])
        lines.append(f"Slipping below it: {names}{f' and {len(worst) - MOST_NAMED} more' if len(worst) > MOST_NAMED else ''}.")
    if how.bare:
        lines.append(
            f"{how.bare} {'task has' if how.bare == 1 else 'tasks have'} no effort, and {'counts' if how.bare == 1 else 'count'} for nothing."
        )
    if how.health != how.proposed and how.proposed and how.health:
        lines.append(f"Its latest note says {how.health}; by the figures it is {how.proposed}.")
    if due is not None and is_due(due, today):
        lines.append(f"A progress note is **due since {say_day(due, today)}**.")
    return " ".join(lines)


def _stands(goal: Goal, how: Standing) -> str:
    far = say_how_far(goal, how)
    if how.percent is None or not far:
        nothing = {
            "hand": "No value was entered yet.", "goals": "Nothing below it is measured yet.",
            "tasks": "Nothing that it counts is there yet.", "field": "Nothing that it sums is there yet.",
        }  # fmt: skip
        return nothing[goal.measure.kind]
    is_percent = far.startswith(f"{how.percent.normalize():f} %")
    expected = how.expected or Decimal(0)
    by_now = f"by now it should be at {expected.normalize():f} %"
    return f"**{far}**{'' if is_percent else f' ({how.percent.normalize():f} %)'} {'is' if goal.measure.kind != 'tasks' or how.total == 1 else 'are'} reached; {by_now}."


def _closed(goal: Goal, how: Standing) -> str:
    assert goal.outcome is not None
    far = say_how_far(goal, how)
    reached = f" at {far}" if far else ""
    return f"Closed: **{OUTCOMES[goal.outcome]}**{reached}. {goal.word}".strip()


def _days(number: int) -> str:
    return "a day" if number == 1 else f"{number} days"
