"""What is done to many tasks at once."""

from __future__ import annotations

from collections.abc import Collection
from itertools import pairwise

from ..common.errors import RuleError
from .model import Link
from .project_tasks import ProjectTasks


def in_a_row(plan: ProjectTasks, ids: Collection[str]) -> dict[str, tuple[Link, ...]]:
    """The links by which tasks wait for one another in outline order, beside those that they have. Summary tasks are
    left out: the tasks under them are what is done.

    Raises:
        RuleError: there are fewer than two tasks to be linked.
    """
    chosen = [one for one, _, _ in plan.outline.walk() if one in ids and not plan.outline.is_summary(one)]
    if len(chosen) < 2:
        raise RuleError("Choose two or more tasks that have none under them.", "ids")
    found = {}
    for before, after in pairwise(chosen):
        links = plan.tasks[after].waits_for
        if not any(link.from_id == before for link in links):
            found[after] = (*links, Link(before))
    return found
