"""Tables that come and go as files: CSV, or XLSX."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import Annotated, Literal

from fastapi import File, Response, UploadFile

from ...core.common.dates import say_day
from ...core.common.errors import RuleError
from ...formats.csv_table import write_csv
from ...formats.xlsx_table import MEDIA, write_xlsx
from .inputs import MB
from .use import Use

TableKind = Literal["csv", "xlsx"]
LARGEST_TABLE, LARGEST_SHORT = 8 * MB, MB
"""Bytes of a table of tasks, and of one that is read at once."""
TableFile = Annotated[UploadFile, File()]
_KINDS: dict[TableKind, tuple[str, Callable[[Sequence[str], Iterable[Sequence[str]]], bytes]]] = {
    "csv": ("text/csv; charset=utf-8", write_csv),
    "xlsx": (MEDIA, write_xlsx),
}


def writer_of(kind: TableKind) -> Callable[[Sequence[str], Iterable[Sequence[str]]], bytes]:
    """What writes a table of a kind."""
    return _KINDS[kind][1]


def media_of(kind: TableKind) -> str:
    """The media type of a table of a kind."""
    return _KINDS[kind][0]


def table_answer(use: Use, body: bytes, kind: TableKind, what: str) -> Response:
    """A table to be kept as a file, named by what it holds and the day."""
    disposition = f'attachment; filename="{what} {say_day(use.actor.clock.now().date())}.{kind}"'
    return Response(body, media_type=media_of(kind), headers={"Content-Disposition": disposition})


def read_upload(file: UploadFile, most: int = LARGEST_TABLE) -> bytes:
    """The bytes of a table. Raises RuleError where there are too many."""
    data = file.file.read(most + 1)
    if len(data) > most:
        raise RuleError(f"The file is larger than {most // MB} MB. Split it into several files.", "file")
    return data
