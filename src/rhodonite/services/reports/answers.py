"""What a dashboard shows to whoever reads it: panel by panel, each by their rights and as of this moment."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from pymysql.cursors import Cursor

from ...core.common.errors import Forbidden, Missing, RuleError
from ...core.reports.answers import Answer
from ...core.reports.dashboards import Dashboard, Panel, PanelKind, check_dashboard, ground_of, scope_of
from ...core.views.scope import Scope
from ..common.context import Actor
from . import panels, panels_of_others
from .counting import Reader, Sentence, reader_of
from .dashboards import checked_panel, open_dashboard, read_dashboard

_SHOWS: Mapping[PanelKind, panels.Show] = {
    "tasks": panels.show_tasks,
    "milestones": panels.show_milestones,
    "figure": panels.show_figure,
    "progress": panels.show_progress,
    "chart": panels.show_chart,
    "projects": panels_of_others.show_projects,
    "portfolio": panels_of_others.show_portfolios,
    "people": panels_of_others.show_people,
    "load": panels_of_others.show_load,
    "cost": panels_of_others.show_cost,
    "goals": panels_of_others.show_goals,
    "reports": panels_of_others.show_reports,
    "text": panels.show_text,
}


@dataclass(frozen=True, slots=True)
class PanelAnswer:
    """A panel with what it shows; ``answer`` is None where it cannot, and ``problem`` says why.

    Attributes:
        scope: the one sentence that leaves what it counts.
    """

    panel: Panel
    scope: Scope
    answer: Answer | None
    problem: str = ""


def read_answers(cur: Cursor, actor: Actor, dashboard_id: str, scope: Scope | None = None) -> list[PanelAnswer]:
    """What all panels of a dashboard show.

    Args:
        scope: instead of the sentence that it keeps.

    Raises:
        Missing: the person does not see it.
        RuleError: a sentence that a dashboard cannot have.
    """
    actor = replace(actor, draft=None)
    shown, found = read_dashboard(cur, actor, dashboard_id)
    dashboard = check_dashboard(replace(shown.dashboard, scope=scope)) if scope is not None else shown.dashboard
    reader = reader_of(cur, actor, shown.project)
    return [_answer(reader, dashboard, one) for one in found]


def read_answer(cur: Cursor, actor: Actor, dashboard_id: str, panel_id: str) -> PanelAnswer:
    """What one panel shows. Raises Missing where there is none, or the person does not see it."""
    actor = replace(actor, draft=None)
    shown, found = read_dashboard(cur, actor, dashboard_id)
    panel = next((one for one in found if one.id == panel_id), None)
    if panel is None:
        raise Missing("panel")
    return _answer(reader_of(cur, actor, shown.project), shown.dashboard, panel)


def preview(cur: Cursor, actor: Actor, panel: Panel) -> PanelAnswer:
    """What a panel would show. Raises Missing where the person does not see the dashboard, RuleError for one that cannot be."""
    actor = replace(actor, draft=None)
    shown = open_dashboard(cur, actor, panel.dashboard_id)
    return _answer(reader_of(cur, actor, shown.project), shown.dashboard, checked_panel(panel))


def _answer(reader: Reader, dashboard: Dashboard, panel: Panel) -> PanelAnswer:
    scope, sentence = scope_of(dashboard, panel), Sentence(ground_of(dashboard), panel.scope)
    try:
        return PanelAnswer(panel, scope, _SHOWS[panel.kind](reader, panel, sentence))
    except (RuleError, Forbidden, Missing) as error:  # the other panels show what they can
        return PanelAnswer(panel, scope, None, str(error))
