"""``./rhodonite compute``: what the core works out from a plan file, without a server or a database."""

from __future__ import annotations

import json
import os
import time
from datetime import datetime
from pathlib import Path
from typing import Annotated, Any

import typer

from ..core.common.calendars import minute_of
from ..core.common.errors import RuleError
from ..core.resources.levelling import level as level_plan
from ..core.schedule.ripple import ripple as ripple_between
from ..core.schedule.schedule import Schedule
from ..formats.plan_document import ChangesFile, PlanFile
from ..formats.plan_file import FileError, changed, read_document, to_plan, to_takers
from ..formats.plan_results import write_levelled, write_ripple, write_schedule
from .failures import said_in_a_sentence

app = typer.Typer(no_args_is_help=True, help="Compute a plan file: docs/plan-file.md says what it holds.")
Forecast = Annotated[
    str | None, typer.Option("--forecast", metavar="MOMENT", help="The status day: compute the forecast, not the plan.")
]


def here(file: Path) -> Path:
    """A path as it was meant where the command was typed."""
    return Path(os.environ.get("RHODONITE_CALLED_FROM", "."), file)


def _status(text: str | None) -> int | None:
    if text is None:
        return None
    try:
        at = datetime.fromisoformat(text)
    except ValueError as error:
        raise FileError(f"--forecast {text}: write the status day as 2027-03-17T09:00.") from error
    if at.tzinfo is not None:
        raise FileError(f"--forecast {text}: the status day is local time, without a zone.")
    return minute_of(at)


def _schedule(document: PlanFile, name: str, status: int | None) -> Schedule:
    try:
        return Schedule(to_plan(document, name), status)
    except FileError:
        raise
    except RuleError as error:
        raise FileError(f"{name}, {error.field or 'tasks'}: {error.sentence}") from error


def _print(document: dict[str, Any]) -> None:
    print(json.dumps(document, indent=1, ensure_ascii=False))


@app.command()
def schedule(plan: Path, forecast: Forecast = None) -> None:
    """Print early and late dates, slack, what is critical and why, and what cannot be met."""
    document = read_document(here(plan), PlanFile)
    _print(write_schedule(_schedule(document, str(plan), _status(forecast))))


@app.command()
def ripple(plan: Path, changes: Path, forecast: Forecast = None) -> None:
    """Print what changes to a plan carry on: which tasks move, the finish, deadlines, pins, the vein."""
    document = read_document(here(plan), PlanFile)
    wanted = read_document(here(changes), ChangesFile)
    status = _status(forecast)
    before = _schedule(document, str(plan), status)
    try:
        after = changed(document, wanted)
    except FileError as error:
        raise FileError(f"{changes}, {error.sentence}") from error
    _print(write_ripple(ripple_between(before, _schedule(after, str(changes), status))))


@app.command()
def level(
    plan: Path,
    seconds: Annotated[float, typer.Option("--seconds", min=0, max=3600, help="How long to look for a better plan.")] = 0,
    within_slack: Annotated[
        bool, typer.Option("--within-slack", help="Move nothing beyond its total slack; say what stays over.")
    ] = False,
    seed: Annotated[int, typer.Option("--seed", help="Of chance: the same gives the same, where no seconds are given.")] = 1,
) -> None:
    """Print a plan in which no resource is taken beyond its capacity."""
    document = read_document(here(plan), PlanFile)
    ends = time.monotonic() + seconds
    try:
        whole = to_plan(document, str(plan))
        takers, demands = to_takers(document, whole, str(plan))
        goes_on = (lambda _: time.monotonic() < ends) if seconds else None
        found = level_plan(whole, takers, demands, within_slack=within_slack, seed=seed, goes_on=goes_on)
    except FileError:
        raise
    except RuleError as error:
        raise FileError(f"{plan}, {error.field or 'tasks'}: {error.sentence}") from error
    _print(write_levelled(found))


def main(args: list[str]) -> None:
    """Compute, as a command of its own, which loads nothing of the rest."""
    with said_in_a_sentence():
        app(args=args, prog_name="rhodonite compute")
