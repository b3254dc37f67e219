"""The schedule on paper: PDF, SVG and PNG."""

from __future__ import annotations

import io
import zipfile
from typing import Annotated, Any, Literal

from fastapi import Depends, Query
from fastapi.responses import Response
from pydantic import BaseModel, Field

from ...core.views.view import View
from ...formats.drawing.pdf import write_pdf
from ...formats.drawing.png import write_png
from ...formats.drawing.schedule import COLUMNS, ONE_SHEET, PAPERS, SIZES, Layout
from ...formats.drawing.svg import write_svg
from ...services.views import printing
from ...services.views.printing import Printed
from ..common.inputs import Day, make_router
from ..common.use import Use, Using, needs
from .asked import Scoped, Viewed

Page = Annotated[int, Query(ge=1, le=100_000)]
USUAL = ["owner", "start", "finish", "slack"]
router = make_router("printing")
_MEDIA = {"pdf": "application/pdf", "svg": "image/svg+xml", "png": "image/png"}


class PageOut(BaseModel):
    """A page as it will be printed, and how many there are."""

    pages: int
    page: int
    width: float = Field(description="Points")
    height: float
    svg: str


def read_layout(
    paper: Annotated[str, Query(description=f"{', '.join(PAPERS)}, or “{ONE_SHEET}”: as large as it takes")] = "A4",
    landscape: bool = True,
    wide: Annotated[int, Query(ge=1, le=12, description="Over how many pages, side by side, the time goes")] = 1,
    size: Annotated[str, Query(description=f"Of rows and letters: {', '.join(SIZES)}")] = "normal",
    column: Annotated[list[str], Query(max_length=40, description=f"Any of {', '.join(COLUMNS)}")] = USUAL,
    first: Annotated[Day | None, Query(description="The day at the left end; none: what the tasks need")] = None,
    last: Day | None = None,
) -> Layout:
    """How the schedule is put on paper, from a query."""
    return Layout(paper, landscape, wide, size, [one for one in column if one], first, last)


Laid = Annotated[Layout, Depends(read_layout)]


def _print(use: Use, code: str, scope: Any, layout: Layout, view: View) -> Printed:
    return use.read(printing.print_schedule, code, scope, layout, view.tints)


@router.get("/projects/{code}/print", openapi_extra=needs("see"))
def preview_page(code: str, use: Using, scope: Scoped, layout: Laid, view: Viewed, page: Page = 1) -> PageOut:
    """One page as it will be printed."""
    printed = _print(use, code, scope, layout, view)
    number = min(page, printed.schedule.count)
    drawn = printed.schedule.page(number)
    svg = write_svg(drawn, printed.title).decode()
    return PageOut(pages=printed.schedule.count, page=number, width=drawn.width, height=drawn.height, svg=svg)


@router.get("/projects/{code}/schedule.{form}", openapi_extra=needs("see"), response_class=Response)
def print_schedule(
    code: str, form: Literal["pdf", "svg", "png"], use: Using, scope: Scoped, layout: Laid, view: Viewed, page: Page | None = None
) -> Response:
    """The schedule as a file. Several pages of SVG or PNG come in one ZIP; ``page`` asks for one of them."""
    printed = _print(use, code, scope, layout, view)
    schedule = printed.schedule
    pages = [schedule.page(page)] if page else [schedule.page(number) for number in range(1, schedule.count + 1)]
    name = f"{code.upper()} schedule"
    if form == "pdf":
        return _file(write_pdf(pages, printed.title, printed.at), "application/pdf", f"{name}.pdf")
    drawn = [write_svg(one, printed.title) if form == "svg" else write_png(one) for one in pages]
    if len(drawn) == 1:
        return _file(drawn[0], _MEDIA[form], f"{name}.{form}")
    return _file(_zipped(drawn, name, form), "application/zip", f"{name}.zip")


def _zipped(files: list[bytes], name: str, form: str) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for number, data in enumerate(files, 1):
            archive.writestr(f"{name} {number:0{len(str(len(files)))}}.{form}", data)
    return out.getvalue()


def _file(body: bytes, media: str, name: str) -> Response:
    return Response(body, media_type=media, headers={"Content-Disposition": f'attachment; filename="{name}"'})
