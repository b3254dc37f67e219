"""Dashboards and panels as they are sent and kept: sentences, options, sizes."""

from __future__ import annotations

from dataclasses import asdict
from datetime import date
from decimal import Decimal
from typing import Annotated, Any, ClassVar

import orjson
from pydantic import BaseModel, Field, model_validator

from ...core.reports import dashboards as rules
from ...core.reports.dashboards import Dashboard, Options, Panel
from ...core.views.conditions import LONGEST, read_group, write_group
from ...core.views.scope import Scope
from ...core.views.view import read_view
from ...services.common.context import new_id
from ...store.reports.dashboards import written_tint
from ..common.inputs import After, Changes, Code, Day, Id, Name, People
from ..views.views import TintIn

Key = Annotated[str, Field(max_length=300, description="Of a field, as the columns of all projects have it")]
Words = Annotated[list[Annotated[str, Field(max_length=200)]], Field(max_length=200)]
Width = Annotated[int, Field(ge=rules.LEAST_WIDTH, le=rules.COLUMNS, description="Columns of twelve")]
Height = Annotated[int, Field(ge=rules.LEAST_HEIGHT, le=rules.MOST_HEIGHT, description="Rows of the grid")]
Version = Annotated[int, Field(ge=0, le=2**31 - 1, description="Of the thing as it was seen when editing")]
Number = Annotated[Decimal, Field(max_digits=18, decimal_places=4)]


class ScopeModel(BaseModel):
    """A scope sentence, as the address of a page has it."""

    kind: Words = []
    owner: Words = Field([], description="People, teams, me, my_team, nobody")
    state: Words = []
    state_class: Words = []
    text: Annotated[str, Field(max_length=200)] = ""
    since: Day | None = None
    until: Day | None = None
    late: bool = False
    unowned: bool = False
    held: bool = False
    where: Annotated[str, Field(max_length=LONGEST, description="Further clauses over any field, as JSON")] = ""

    def read(self) -> Scope:
        """As services take it."""
        lists = tuple(self.kind), tuple(self.owner), tuple(self.state), tuple(self.state_class)
        flags = self.late, self.unowned, self.held
        return Scope(*lists, self.text, self.since, self.until, *flags, read_group(self.where))


class PanelScope(BaseModel):
    """A scope sentence as it is told: that of a dashboard and of a panel together may be longer than one that comes in."""

    kind: list[str]
    owner: list[str]
    state: list[str]
    state_class: list[str]
    text: str
    since: date | None
    until: date | None
    late: bool
    unowned: bool
    held: bool
    where: str


def scope_out(one: Scope) -> PanelScope:
    """A sentence as it is told."""
    where = orjson.dumps(write_group(one.where)).decode() if one.where.parts else ""
    return PanelScope(
        kind=list(one.kinds), owner=list(one.owners), state=list(one.states), state_class=list(one.classes), text=one.text,
        since=one.since, until=one.until, late=one.late, unowned=one.unowned, held=one.held, where=where,
    )  # fmt: skip


class OptionsModel(BaseModel):
    """What a panel shows of the work that its sentence leaves. Each kind of panel looks at its own."""

    columns: Annotated[list[Key], Field(max_length=rules.MOST_COLUMNS_SHOWN, description="Of a list")] = []
    sort: Key = ""
    down: bool = False
    tints: Annotated[list[TintIn], Field(max_length=rules.MOST_TINTS, description="Of a list; the first that holds")] = []
    by: Annotated[list[Key], Field(max_length=rules.MOST_BY, description="By what a chart groups")] = []
    period: rules.Period = "month"
    measure: rules.MeasureBy = "count"
    of: Key = ""
    against: Key = ""
    shape: rules.Shape = "bars"
    over_time: bool = Field(False, description="As it was at the end of each period, by the journal")
    last: Annotated[int, Field(ge=2, le=rules.MOST_PERIODS, description="Periods of a chart over time")] = 12
    target: Number | None = Field(None, description="Of a figure")
    better: rules.Better = Field("up", description="From which side a figure meets its target")
    trend: bool = Field(False, description="A figure with what it was in the weeks before")
    days: Annotated[int, Field(ge=1, le=rules.MOST_DAYS, description="Ahead and back, of milestones")] = 31
    weeks: Annotated[int, Field(ge=1, le=rules.MOST_WEEKS, description="Of load")] = 4
    people: People = Field([], description="Side by side")
    team_id: Id | None = None
    mine: bool = Field(False, description="Only goals that the reader owns or follows; of people side by side the reader alone")
    text: Annotated[str, Field(max_length=4 * rules.LONGEST_TEXT, description="HTML")] = ""

    def read(self) -> Options:
        """As services take it."""
        values: dict[str, Any] = {name: tuple(value) if isinstance(value, list) else value for name, value in self}
        tints = read_view({"tints": [one.model_dump() for one in self.tints]}).tints
        return Options(**values | {"tints": tints})


def options_out(one: Options) -> OptionsModel:
    """Options as they are told."""
    return OptionsModel.model_validate(asdict(one) | {"tints": [written_tint(each) for each in one.tints]})


class PanelNew(BaseModel):
    """A panel to be put on a dashboard, or to be looked at."""

    id: Id = Field(default_factory=new_id)
    kind: rules.PanelKind
    title: Name = ""
    width: Width = 6
    height: Height = 6
    scope: ScopeModel = Field(ScopeModel(), examples=[{"state_class": ["queued", "active"]}])
    options: OptionsModel = Field(
        OptionsModel(), examples=[{"by": ["owner", "class"], "measure": "sum", "of": "effort", "shape": "stacked"}]
    )
    after_id: After = "end"

    def read(self, dashboard_id: str) -> Panel:
        """As services take it."""
        return Panel(
            self.id, dashboard_id, self.kind, self.title, "", self.width, self.height, self.scope.read(), self.options.read()
        )


class PanelEdit(Changes):
    """What changes of a panel."""

    may_be_null: ClassVar[frozenset[str]] = frozenset({"after_id"})

    version: Version
    kind: rules.PanelKind | None = None
    title: Name | None = None
    width: Width | None = None
    height: Height | None = None
    scope: ScopeModel | None = None
    options: OptionsModel | None = None
    after_id: After = None

    @property
    def fields(self) -> dict[str, Any]:
        """As services take it."""
        return _read_parts(self)


def _read_parts(body: Changes) -> dict[str, Any]:
    fields = {name: value for name, value in body.sent.items() if name != "version"}
    for name in ("scope", "options"):
        if name in fields:
            fields[name] = getattr(body, name).read()
    if "people" in fields:
        fields["people"] = tuple(dict.fromkeys(fields["people"]))
    return fields


class DashboardNew(BaseModel):
    """A dashboard to be kept: empty, with panels, or like another."""

    id: Id = Field(default_factory=new_id)
    name: Name = Field(examples=["Monday with the crews"])
    code: Code | None = Field(None, description="Of the project whose work alone it shows")
    seen_by: rules.SeenBy = "private"
    people: People = []
    scope: ScopeModel = ScopeModel()
    panels: Annotated[list[PanelNew], Field(max_length=rules.MOST_PANELS)] = []
    like: Id | None = Field(None, description="Another whose panels and sentence it begins with")

    @model_validator(mode="after")
    def _one_start(self) -> DashboardNew:
        if self.like is not None and self.panels:
            raise ValueError("give panels, or another dashboard that it is like, not both")
        return self

    def read(self) -> tuple[Dashboard, list[Panel]]:
        """As services take it."""
        people = tuple(dict.fromkeys(self.people))
        one = Dashboard(self.id, None, "", self.name, "", self.seen_by, people, self.scope.read())
        return one, [panel.read(self.id) for panel in self.panels]


class DashboardEdit(Changes):
    """What changes of a dashboard."""

    may_be_null: ClassVar[frozenset[str]] = frozenset({"after_id"})

    version: Version
    name: Name | None = None
    seen_by: rules.SeenBy | None = None
    people: People | None = None
    scope: ScopeModel | None = None
    after_id: After = None

    @property
    def fields(self) -> dict[str, Any]:
        """As services take it."""
        return _read_parts(self)


class DashboardLine(BaseModel):
    """A dashboard in the list of them."""

    id: str
    name: str
    code: str | None
    person_id: str
    mine: bool
    seen_by: rules.SeenBy
    people: list[str]
    may_change: bool
    version: int


class PanelOut(BaseModel):
    """A panel as it is kept."""

    id: str
    kind: rules.PanelKind
    title: str
    width: int
    height: int
    scope: PanelScope
    options: OptionsModel
    version: int


class DashboardOut(DashboardLine):
    """A dashboard with its panels, in their order."""

    scope: PanelScope
    panels: list[PanelOut]


class Made(BaseModel):
    """A change that was made, which can be taken back."""

    id: str
    change: str


class AnswersAsked(BaseModel):
    """What one has already, and by which sentence one asks."""

    known: Annotated[
        dict[Id, Annotated[str, Field(max_length=40)]],
        Field(max_length=rules.MOST_PANELS, description="By panel the mark of what one has"),
    ] = {}
    scope: ScopeModel | None = Field(None, description="Instead of the sentence that the dashboard keeps")
