"""The schedule on paper, through the API."""

from __future__ import annotations

import io
import zipfile

from tests.api.schedule.test_planning import chain  # noqa: F401
from tests.conftest import Caller

LAN = "/projects/LAN"


def test_pdf_svg_and_png_are_downloads_with_a_name(chain: Caller) -> None:  # noqa: F811
    for form, media, start in (
        ("pdf", "application/pdf", b"%PDF-"),
        ("svg", "image/svg+xml", b"<svg"),
        ("png", "image/png", b"\x89PNG"),
    ):
        answer = chain.client.get(f"/api{LAN}/schedule.{form}?paper=A3&size=large")
        assert answer.headers["content-type"] == media
        assert answer.headers["content-disposition"] == f'attachment; filename="LAN schedule.{form}"'
        assert answer.content.startswith(start)


def test_several_pages_of_pictures_come_in_one_zip(chain: Caller) -> None:  # noqa: F811
    answer = chain.client.get(f"/api{LAN}/schedule.svg?wide=2")
    names = zipfile.ZipFile(io.BytesIO(answer.content)).namelist()
    assert names == ["LAN schedule 1.svg", "LAN schedule 2.svg"]
    assert chain.client.get(f"/api{LAN}/schedule.svg?wide=2&page=2").content.startswith(b"<svg")


def test_a_page_is_previewed_with_the_tasks_of_the_scope(chain: Caller) -> None:  # noqa: F811
    page = chain("GET", f"{LAN}/print?text=pour&column=waits&page=9")
    assert (page["pages"], page["page"], round(page["width"]), round(page["height"])) == (1, 1, 842, 595)
    assert ">Pour<" in page["svg"]
    assert ">Cure<" not in page["svg"]


def test_in_a_draft_the_draft_is_printed_and_says_so(chain: Caller) -> None:  # noqa: F811
    draft = chain("POST", f"{LAN}/drafts", {"name": "Second crew"})["id"]
    row = chain.rows()["Dig"]
    edit = {"tasks": [{"id": row["id"], "revision": row["revision"], "fields": {"duration": "5 d"}}]}
    chain("PATCH", f"{LAN}/tasks", edit, headers={"Rhodonite-Draft": draft})
    assert "What if: Second crew" in chain("GET", f"{LAN}/print?draft={draft}")["svg"]
    assert ">26 Mar<" in chain("GET", f"{LAN}/print?draft={draft}&column=finish")["svg"]


def test_what_cannot_be_printed_is_refused_with_what_to_do(chain: Caller) -> None:  # noqa: F811
    assert "Choose one of A4" in chain("GET", f"{LAN}/print?paper=B9", expect=422)["detail"]
    assert "leaves no task" in chain("GET", f"{LAN}/print?text=zebra", expect=422)["detail"]
    assert "from 1 to 1" in chain("GET", f"{LAN}/schedule.pdf?page=4", expect=422)["detail"]
