"""The board: lanes and limits, blanks."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from fastapi import FastAPI, Query, Request
from fastapi.responses import Response
from pydantic import BaseModel, Field

from ...core.board.limits import LimitPassed
from ...core.tasks.model import LimitRule
from ...formats.board_pdf import write_board_pdf
from ...services.board import blanks, limits, printing
from ...services.board.limits import PlaceNow
from ...services.common.context import new_id
from ..common.inputs import Fields, Id, Name, make_router
from ..common.problems import problem
from ..common.use import Using, needs
from ..tasks.tasks import RowsOut, Since, rows_response
from ..views.asked import Scoped

Rows = Annotated[
    str, Query(max_length=60, description="What makes the rows: none, lanes (the project's own), parent, or the key of a field")
]
Days = Annotated[int, Query(ge=1, le=3650, description="For how many days finished work stays")]
router = make_router("board")


class SpellOut(BaseModel):
    """A time beyond a limit."""

    since: datetime
    until: datetime | None
    most: int = Field(description="That stood there at one time")
    limit: int = Field(description="As it was then")
    reason: str
    person_id: str | None = Field(description="Who gave the reason")


class PlaceOut(BaseModel):
    """What has a limit."""

    key: str = Field(examples=["column:019b…", "cell:019b…:019c…", "person:019d…"])
    kind: Literal["column", "step", "lane", "cell", "person"]
    name: str
    count: int = Field(description="Tasks that stand there now, whatever is shown")
    limit: int
    minutes: int = Field(description="On the clock that it stood beyond its limit in the last 30 days")
    spells: list[SpellOut] = Field(description="In these days, the latest first")


class BoardCellOut(BaseModel):
    """Where slips of a lane lie."""

    states: list[str] = Field(description="Those that stand in it; what is put down here comes into the first")
    skipped: bool = Field(description="True where the tasks of its lane do not pass through it")


class BoardOut(BaseModel):
    """What the board shows beside the rows."""

    revision: int
    lanes: dict[str, str] = Field(description="By task the lane into which it falls by rule, where nobody puts it elsewhere")
    cells: dict[str, list[BoardCellOut]] = Field(description="By lane its cells, from left to right")
    covers: dict[str, str] = Field(description="By task the first picture that is attached to it, where these are asked for")
    places: list[PlaceOut]


def _place(one: PlaceNow) -> PlaceOut:
    place = one.standing.place
    return PlaceOut(
        key=place.key,
        kind=place.key.split(":")[0],
        name=place.name,
        count=one.standing.count,
        limit=place.limit,
        minutes=one.minutes,
        spells=[
            SpellOut(since=s.since, until=s.until, most=s.most, limit=s.at_most, reason=s.reason, person_id=s.person_id)
            for s in one.spells
        ],
    )


@router.get("/projects/{code}/board", openapi_extra=needs("see"))
def read_board(code: str, use: Using, covers: bool = False) -> BoardOut:
    """In which lane each task falls, and how the limits stand."""
    board = use.read(limits.read_board, code, covers=covers)
    cells = {
        lane: [BoardCellOut(states=list(one.states), skipped=one.skipped) for one in row] for lane, row in board.cells.items()
    }
    places = [_place(one) for one in board.places]
    return BoardOut(revision=board.revision, lanes=board.ruled, cells=cells, covers=board.covers, places=places)


@router.get("/projects/{code}/board.pdf", openapi_extra=needs("see"), response_class=Response)
def print_board(code: str, use: Using, scope: Scoped, rows: Rows = "none", days: Days = 14) -> Response:
    """The board on paper, as large as its columns ask for."""
    shown = use.read(printing.print_board, code, scope, rows, days)
    body = write_board_pdf(shown.title, shown.said, shown.boards, shown.people, shown.at)
    headers = {"Content-Disposition": f'attachment; filename="{code.upper()} board.pdf"'}
    return Response(body, media_type="application/pdf", headers=headers)


class LimitPassedOut(BaseModel):
    """A limit that a change would pass."""

    key: str
    name: str
    count: int
    limit: int


class LimitProblem(BaseModel):
    """The problem document of a change that passes limits: send it again with the header Rhodonite-Reason where it asks."""

    type: Literal["/problems/limit-passed"]
    status: Literal[409]
    title: str
    detail: str
    rule: LimitRule
    limits: list[LimitPassedOut]


class BlankKept(BaseModel):
    """A task that is kept as a blank, with those below it."""

    id: Id = Field(default_factory=new_id)
    name: Name
    task_id: Id


class FromBlankIn(BaseModel):
    """A task to be made from a blank, in a cell of the board."""

    id: Id = Field(default_factory=new_id, description="UUID of version 7, made by the client")
    blank_id: Id
    title: str = Field("", max_length=20_000, description="Empty: that of the blank")
    parent_id: Id | None = None
    fields: Fields = Field({}, description="What the cell sets: state_id, lane_id, period_id, owner_id")


@router.post("/projects/{code}/blanks", openapi_extra=needs("manage"), status_code=204)
def keep_blank(code: str, body: BlankKept, use: Using) -> None:
    """Keep a task as a blank, with what is to be ticked and the tasks below it."""
    use.write(blanks.keep_blank, code, body.id, body.name, body.task_id)


@router.post(
    "/projects/{code}/tasks/from-blank",
    openapi_extra=needs("edit"),
    response_model=RowsOut,
    responses={409: {"model": LimitProblem, "description": "It passes a limit, as any change of tasks may"}},
)
def add_from_blank(code: str, body: FromBlankIn, use: Using, since: Since = None) -> Response:
    """Write down what a blank makes."""
    use.write(blanks.add_from_blank, code, blanks.FromBlank(**body.model_dump()))
    return rows_response(use, code, since)


def add_limit_handler(app: FastAPI) -> None:
    """Answer 409 with the limits where a change passes some."""

    @app.exception_handler(LimitPassed)
    def passed(_: Request, error: LimitPassed) -> Response:
        limits_passed = [
            LimitPassedOut(key=one.place.key, name=one.place.name, count=one.count, limit=one.place.limit).model_dump()
            for one in error.passed
        ]
        return problem(409, "limit-passed", error.sentence, rule=error.rule, limits=limits_passed)
