"""Sheets: views that people keep under a name, of a project and over all of them."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from ...services.common.context import new_id
from ...services.views import sheets
from ...store.views.sheets import Sheet
from ..common.inputs import MB, After, Changes, Id, Name, People, make_router
from ..common.use import Using, needs
from .views import ViewKept

SeenBy = Literal["private", "people", "project"]
router = make_router("views")


class SheetOut(BaseModel):
    """A sheet."""

    id: str
    name: str
    person_id: str
    mine: bool
    seen_by: SeenBy
    people: list[str]
    is_default: bool
    view: dict[str, Any]
    broken: bool = Field(description="True where what was kept cannot be read: the view is the usual one then")
    version: int
    send_on: int | None = Field(description="The day of the week on which what it shows is sent; 0 is Monday")
    send_to: list[str] = Field(description="To whom, each as much as they may see")
    sends: bool = Field(description="True where it can be sent: it shows tasks")


class SheetNew(BaseModel):
    """A view to be kept under a name."""

    id: Id = Field(default_factory=new_id)
    name: Name
    seen_by: SeenBy = "private"
    people: People = []
    view: ViewKept = Field(examples=[{"lens": "outline", "where": {"all": [["late", "yes"]]}, "groups": ["owner"]}])


class SheetEdit(Changes):
    """What changes of a sheet."""

    may_be_null = frozenset({"after_id", "send_on"})

    name: Name | None = None
    seen_by: SeenBy | None = None
    people: People | None = None
    is_default: bool | None = None
    view: ViewKept | None = None
    after_id: After = None
    send_on: Annotated[int, Field(ge=0, le=6, description="0 is Monday; null: it is not sent")] | None = None
    send_to: People | None = None


def _changes(body: SheetEdit) -> dict[str, Any]:
    return body.sent | ({"view": body.view.kept()} if body.view else {})


def _out(use: Using, one: Sheet) -> SheetOut:
    view, broken = sheets.kept_view(one)
    return SheetOut(
        id=one.id, name=one.name, person_id=one.person_id, mine=one.person_id == use.actor.person.id, seen_by=one.seen_by,
        people=list(one.people), is_default=one.is_default, view=view, broken=broken, version=one.version, send_on=one.send_on,
        send_to=list(one.send_to), sends=sheets.shows_tasks(one),
    )  # fmt: skip


@router.get("/projects/{code}/sheets", openapi_extra=needs("see"))
def list_sheets(code: str, use: Using) -> list[SheetOut]:
    """The sheets that one sees: one's own, those for one, and the project's."""
    return [_out(use, one) for one in use.read(sheets.list_sheets, code)]


@router.post("/projects/{code}/sheets", openapi_extra=needs("see", MB), status_code=204)
def keep_sheet(code: str, body: SheetNew, use: Using) -> None:
    """Keep a view under a name. One for the whole project needs a contributor."""
    use.write(sheets.keep_sheet, code, body.id, body.name, body.seen_by, body.people, body.view.kept())


@router.patch("/projects/{code}/sheets/{sheet_id}", openapi_extra=needs("see", MB), status_code=204)
def edit_sheet(code: str, sheet_id: Id, body: SheetEdit, use: Using) -> None:
    """Change a sheet of one's own; a lead changes any."""
    use.write(sheets.edit_sheet, code, sheet_id, _changes(body))


@router.delete("/projects/{code}/sheets/{sheet_id}", openapi_extra=needs("see"), status_code=204)
def delete_sheet(code: str, sheet_id: Id, use: Using) -> None:
    """Take a sheet of one's own away; a lead any."""
    use.write(sheets.delete_sheet, code, sheet_id)


@router.get("/sheets", openapi_extra=needs("person"))
def list_sheets_of_all(use: Using) -> list[SheetOut]:
    """The sheets over all projects that one sees: one's own, those for one, and everybody's."""
    return [_out(use, one) for one in use.read(sheets.list_sheets, None)]


@router.post("/sheets", openapi_extra=needs("person", MB), status_code=204)
def keep_sheet_of_all(body: SheetNew, use: Using) -> None:
    """Keep a view over all projects under a name."""
    use.write(sheets.keep_sheet, None, body.id, body.name, body.seen_by, body.people, body.view.kept())


@router.patch("/sheets/{sheet_id}", openapi_extra=needs("person", MB), status_code=204)
def edit_sheet_of_all(sheet_id: Id, body: SheetEdit, use: Using) -> None:
    """Change a sheet of one's own over all projects; an administrator changes any."""
    use.write(sheets.edit_sheet, None, sheet_id, _changes(body))


@router.delete("/sheets/{sheet_id}", openapi_extra=needs("person"), status_code=204)
def delete_sheet_of_all(sheet_id: Id, use: Using) -> None:
    """Take a sheet of one's own over all projects away; an administrator any."""
    use.write(sheets.delete_sheet, None, sheet_id)
