"""Dashboards: the list of them, one with its panels, what these show, as tables."""

from __future__ import annotations

from hashlib import blake2b
from typing import Any
from urllib.parse import quote

from fastapi import Response

from ...core.common.dates import say_day
from ...core.reports.answers import table_of
from ...core.reports.dashboards import KIND_NAMES, Panel
from ...formats.dashboard_pdf import PaperPanel, write_dashboard_pdf
from ...services.reports import answers, dashboards
from ...services.reports.answers import PanelAnswer
from ...services.reports.dashboards import Shown
from ..common.inputs import MB, Id, make_router
from ..common.tables import TableKind, table_answer, writer_of
from ..common.use import Use, Using, needs
from .panels import (
    AnswersAsked,
    DashboardEdit,
    DashboardLine,
    DashboardNew,
    DashboardOut,
    Made,
    PanelEdit,
    PanelNew,
    PanelOut,
    options_out,
    scope_out,
)
from .shown import PanelAnswerOut, answer_out

router = make_router("reports")


def _line(use: Use, shown: Shown) -> dict[str, Any]:
    one = shown.dashboard
    return {
        "id": one.id, "name": one.name, "code": shown.project.code if shown.project else None, "person_id": one.person_id,
        "mine": one.person_id == use.actor.person.id, "seen_by": one.seen_by, "people": list(one.people),
        "may_change": shown.may_change, "version": one.version,
    }  # fmt: skip


def _panel_out(one: Panel) -> PanelOut:
    return PanelOut.model_construct(
        id=one.id, kind=one.kind, title=one.title, width=one.width, height=one.height, scope=scope_out(one.scope),
        options=options_out(one.options), version=one.version,
    )  # fmt: skip


def _answer_out(one: PanelAnswer, known: str | None = None) -> PanelAnswerOut:
    answer = answer_out(one.answer) if one.answer is not None else None
    told = PanelAnswerOut.model_construct(
        id=one.panel.id, mark="", same=False, scope=scope_out(one.scope), answer=answer, problem=one.problem
    )
    mark = blake2b(told.model_dump_json().encode(), digest_size=12).hexdigest()
    if mark == known:
        return PanelAnswerOut(id=one.panel.id, mark=mark, same=True, scope=None, answer=None, problem="")
    told.mark = mark
    return told


@router.get("/dashboards", openapi_extra=needs("person"))
def list_dashboards(use: Using) -> list[DashboardLine]:
    """The dashboards that one sees: one's own, those for one, those of projects and everybody's."""
    return [DashboardLine(**_line(use, one)) for one in use.read(dashboards.list_dashboards)]


@router.post("/dashboards", openapi_extra=needs("person", MB), status_code=201)
def keep_dashboard(body: DashboardNew, use: Using) -> Made:
    """Keep a dashboard: for oneself, for named people, or for everyone (of a project: for who sees it)."""
    one, panels = body.read()
    use.write(dashboards.keep, body.code, one, panels, body.like)
    return Made(id=body.id, change=use.actor.change_id)


@router.get("/dashboards/{dashboard_id}.pdf", openapi_extra=needs("person"), response_class=Response)
def print_dashboard(dashboard_id: Id, use: Using) -> Response:
    """A dashboard on paper, as it stands on the grid: what the person who asks may see."""
    shown, _ = use.read(dashboards.read_dashboard, dashboard_id)
    found = use.read(answers.read_answers, dashboard_id)
    panels = [PaperPanel(one.panel, one.panel.title or KIND_NAMES[one.panel.kind], one.answer, one.problem) for one in found]
    now, name = use.actor.clock.now(), shown.dashboard.name
    said = f"as {use.actor.person.name} sees it, {now:%A} {say_day(now.date())}, {now:%H:%M}"
    body = write_dashboard_pdf(f"{shown.project.code}: {name}" if shown.project else name, said, panels, now)
    return Response(
        body,
        media_type="application/pdf",
        headers={"Content-Disposition": f"attachment; filename*=UTF-8''{quote(f'{name}.pdf')}"},
    )


@router.get("/dashboards/{dashboard_id}", openapi_extra=needs("person"))
def read_dashboard(dashboard_id: Id, use: Using) -> DashboardOut:
    """A dashboard with its panels."""
    shown, panels = use.read(dashboards.read_dashboard, dashboard_id)
    return DashboardOut.model_construct(
        **_line(use, shown), scope=scope_out(shown.dashboard.scope), panels=[_panel_out(one) for one in panels]
    )


@router.patch("/dashboards/{dashboard_id}", openapi_extra=needs("person"))
def edit_dashboard(dashboard_id: Id, body: DashboardEdit, use: Using) -> Made:
    """Change the name, who sees it, the sentence or the place of a dashboard of one's own; a lead or administrator changes
    those that everybody sees."""
    use.write(dashboards.edit, dashboard_id, body.version, body.fields)
    return Made(id=dashboard_id, change=use.actor.change_id)


@router.delete("/dashboards/{dashboard_id}", openapi_extra=needs("person"))
def delete_dashboard(dashboard_id: Id, use: Using) -> Made:
    """Take a dashboard away."""
    use.write(dashboards.delete, dashboard_id)
    return Made(id=dashboard_id, change=use.actor.change_id)


@router.post("/dashboards/{dashboard_id}/answers", openapi_extra=needs("person"))
def read_answers(dashboard_id: Id, body: AnswersAsked, use: Using) -> list[PanelAnswerOut]:
    """What the panels show, each by the rights of who asks. It only reads; of what is known already nothing is told again."""
    found = use.read(answers.read_answers, dashboard_id, body.scope.read() if body.scope else None)
    return [_answer_out(one, body.known.get(one.panel.id)) for one in found]


@router.post("/dashboards/{dashboard_id}/preview", openapi_extra=needs("person"))
def try_panel(dashboard_id: Id, body: PanelNew, use: Using) -> PanelAnswerOut:
    """What a panel would show. It only reads."""
    return _answer_out(use.read(answers.preview, body.read(dashboard_id)))


@router.post("/dashboards/{dashboard_id}/panels", openapi_extra=needs("person"), status_code=201)
def add_panel(dashboard_id: Id, body: PanelNew, use: Using) -> Made:
    """Put a panel on a dashboard."""
    use.write(dashboards.add_panel, body.read(dashboard_id), body.after_id)
    return Made(id=body.id, change=use.actor.change_id)


@router.patch("/dashboards/{dashboard_id}/panels/{panel_id}", openapi_extra=needs("person"))
def edit_panel(dashboard_id: Id, panel_id: Id, body: PanelEdit, use: Using) -> Made:
    """Change a panel: what it shows, its title, its size, its place."""
    use.write(dashboards.edit_panel, dashboard_id, panel_id, body.version, body.fields)
    return Made(id=panel_id, change=use.actor.change_id)


@router.delete("/dashboards/{dashboard_id}/panels/{panel_id}", openapi_extra=needs("person"))
def delete_panel(dashboard_id: Id, panel_id: Id, use: Using) -> Made:
    """Take a panel away."""
    use.write(dashboards.delete_panel, dashboard_id, panel_id)
    return Made(id=panel_id, change=use.actor.change_id)


@router.get("/dashboards/{dashboard_id}/panels/{panel_id}.{form}", openapi_extra=needs("person"), response_class=Response)
def export_panel(dashboard_id: Id, panel_id: Id, form: TableKind, use: Using) -> Response:
    """What a panel shows, as a table."""
    one = use.read(answers.read_answer, dashboard_id, panel_id)
    heads, rows = table_of(one.answer) if one.answer is not None else ([one.problem], [])
    return table_answer(use, writer_of(form)(heads, rows), form, "Panel")
