"""Sheets: views that people keep under a name, of a project and over all of them."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter
from pydantic import BaseModel, Field

from ..services import sheets
from ..services.context import new_id
from ..store.sheets import Sheet
from .use import Using, needs

router = APIRouter(tags=["views"])


class SheetOut(BaseModel):
    """A sheet."""

    id: str
    name: str
    person_id: str
    mine: bool
    seen_by: str
    people: list[str]
    is_default: bool
    view: dict[str, Any]
    version: int


class SheetNew(BaseModel):
    """A view to be kept under a name."""

    id: str = Field(default_factory=new_id)
    name: str
    seen_by: str = "private"
    people: list[str] = []
    view: dict[str, Any] = Field(examples=[{"lens": "outline", "where": {"all": [["late", "yes"]]}, "groups": ["owner"]}])


class SheetEdit(BaseModel):
    """What changes of a sheet."""

    name: str | None = None
    seen_by: str | None = None
    people: list[str] | None = None
    is_default: bool | None = None
    view: dict[str, Any] | None = None
    after_id: str | None = None


def _out(use: Using, one: Sheet) -> SheetOut:
    return SheetOut(
        id=one.id, name=one.name, person_id=one.person_id, mine=one.person_id == use.actor.person.id, seen_by=one.seen_by,
        people=list(one.people), is_default=one.is_default, view=one.view, version=one.version,
    )  # fmt: skip


@router.get("/projects/{code}/sheets", openapi_extra=needs("see"))
def list_sheets(code: str, use: Using) -> list[SheetOut]:
    """The sheets that one sees: one's own, those for one, and the project's."""
    return [_out(use, one) for one in use.read(sheets.list_sheets, code)]


@router.post("/projects/{code}/sheets", openapi_extra=needs("see"), status_code=204)
def keep_sheet(code: str, body: SheetNew, use: Using) -> None:
    """Keep a view under a name. One for the whole project needs a contributor."""
    use.write(sheets.keep_sheet, code, body.id, body.name, body.seen_by, body.people, body.view)


@router.patch("/projects/{code}/sheets/{sheet_id}", openapi_extra=needs("see"), status_code=204)
def edit_sheet(code: str, sheet_id: str, body: SheetEdit, use: Using) -> None:
    """Change a sheet of one's own; a lead changes any."""
    use.write(sheets.edit_sheet, code, sheet_id, body.model_dump(exclude_unset=True))


@router.delete("/projects/{code}/sheets/{sheet_id}", openapi_extra=needs("see"), status_code=204)
def delete_sheet(code: str, sheet_id: str, use: Using) -> None:
    """Take a sheet of one's own away; a lead any."""
    use.write(sheets.delete_sheet, code, sheet_id)


@router.get("/sheets", openapi_extra=needs("person"))
def list_sheets_of_all(use: Using) -> list[SheetOut]:
    """The sheets over all projects that one sees: one's own, those for one, and everybody's."""
    return [_out(use, one) for one in use.read(sheets.list_sheets, None)]


@router.post("/sheets", openapi_extra=needs("person"), status_code=204)
def keep_sheet_of_all(body: SheetNew, use: Using) -> None:
    """Keep a view over all projects under a name."""
    use.write(sheets.keep_sheet, None, body.id, body.name, body.seen_by, body.people, body.view)


@router.patch("/sheets/{sheet_id}", openapi_extra=needs("person"), status_code=204)
def edit_sheet_of_all(sheet_id: str, body: SheetEdit, use: Using) -> None:
    """Change a sheet of one's own over all projects; an administrator changes any."""
    use.write(sheets.edit_sheet, None, sheet_id, body.model_dump(exclude_unset=True))


@router.delete("/sheets/{sheet_id}", openapi_extra=needs("person"), status_code=204)
def delete_sheet_of_all(sheet_id: str, use: Using) -> None:
    """Take a sheet of one's own over all projects away; an administrator any."""
    use.write(sheets.delete_sheet, None, sheet_id)
