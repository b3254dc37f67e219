"""Tables as XLSX, the open format of spreadsheets (ECMA-376): their first sheet in, one sheet out.

The library that knows the format is loaded where a spreadsheet comes or goes: at the start it would cost each process a tenth
of what it takes to be there.
"""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Callable, Iterable, Sequence
from datetime import date, datetime, time
from functools import partial
from typing import Any

from ..core.common.errors import RuleError
from .xml_text import xml_text

MEDIA = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
SIGN = b"PK\x03\x04"
"""Every such file begins with it."""
LARGEST = 60 * 1024 * 1024
"""Bytes of all its parts once they are unpacked."""
_NUMBER = re.compile(r"-?(0|[1-9]\d{0,14})(\.\d{1,6})?")
_MOMENT = re.compile(r"\d{4}-\d\d-\d\d( \d\d:\d\d)?")
_CANNOT = "The file cannot be read as a spreadsheet. Save it anew as XLSX or as CSV, and choose it again."


def read_rows(data: bytes, most_rows: int, most_columns: int) -> list[list[str]]:
    """The cells of the first sheet as text, row by row; empty rows are kept, so that their places are.

    Args:
        most_rows, most_columns: as many as are read at most, and one more, which tells that there are more.

    Raises:
        RuleError: it is no such file, or unpacks to more than can be read.
    """
    from openpyxl import load_workbook
    from openpyxl.utils.exceptions import InvalidFileException

    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(part.file_size for part in packed.infolist()) > LARGEST:
                raise RuleError("The spreadsheet is too large. Keep only the sheet with the table, or split it.", "file")
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        try:
            sheet = book.worksheets[0]
            rows = sheet.iter_rows(max_row=most_rows + 1, max_col=most_columns + 1, values_only=True)
            return [_trimmed([_text(value) for value in row]) for row in rows]
        finally:
            book.close()
    except RuleError:
        raise
    except (zipfile.BadZipFile, InvalidFileException, KeyError, ValueError, IndexError, OSError, TypeError, AttributeError,
            SyntaxError, EOFError, RuntimeError, NotImplementedError) as error:  # fmt: skip
        raise RuleError(_CANNOT, "file") from error


def _trimmed(cells: list[str]) -> list[str]:
    while cells and not cells[-1]:
        cells.pop()
    return cells


def _text(value: Any) -> str:
    """A cell as it would be typed."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, datetime):
        return value.strftime("%Y-%m-%d %H:%M") if value.time() != time() else value.strftime("%Y-%m-%d")
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, time):
        return value.strftime("%H:%M")
    if isinstance(value, float):
        return f"{value:.10f}".rstrip("0").rstrip(".")
    return str(value).strip()


def write_xlsx(heads: Sequence[str], rows: Iterable[Sequence[str]]) -> bytes:
    """One sheet with a head that stays in sight. Numbers and dates are written as such; all else is text, so that no
    spreadsheet runs it as a formula."""
    from openpyxl import Workbook
    from openpyxl.cell import WriteOnlyCell
    from openpyxl.styles import Font

    book = Workbook(write_only=True)
    sheet = book.create_sheet("Rhodonite")
    sheet.freeze_panes = "A2"
    bold = Font(bold=True)
    make = partial(WriteOnlyCell, sheet)
    sheet.append([_cell(make, head, bold) for head in heads])
    for row in rows:
        sheet.append([_cell(make, cell) for cell in row])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _cell(make: Callable[..., Any], text: str, font: Any = None) -> Any:
    if not text:
        return None
    if font is None and _NUMBER.fullmatch(text):
        return float(text) if "." in text else int(text)
    if font is None and _MOMENT.fullmatch(text):
        try:
            at = datetime.fromisoformat(text)
        except ValueError:
            pass
        else:
            moment = make(value=at)
            moment.number_format = "yyyy-mm-dd hh:mm" if " " in text else "yyyy-mm-dd"
            return moment
    cell = make(value=xml_text(text))
    cell.data_type = "s"  # or what begins with = would be a formula
    if font:
        cell.font = font
    return cell
