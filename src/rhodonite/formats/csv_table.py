"""Tables in CSV (RFC 4180, with comma, semicolon or tab; UTF-8 with or without byte order mark), or as a spreadsheet."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass

from ..core.common.errors import RuleError
from . import xlsx_table

MOST_ROWS = 20_000
MOST_COLUMNS = 500


@dataclass(frozen=True, slots=True)
class Table:
    """A file as read: its heads and rows, each row with the line it begins on."""

    heads: list[str]
    rows: list[tuple[int, list[str]]]
    delimiter: str


def read_table(data: bytes) -> Table:
    """Decode and split a file: CSV, or XLSX, of which the first sheet counts.

    Raises:
        RuleError: it is not UTF-8 text, has no rows, or is too long.
    """
    if data.startswith(xlsx_table.SIGN):
        found = xlsx_table.read_rows(data, MOST_ROWS + 1, MOST_COLUMNS)
        return _table([(line, cells) for line, cells in enumerate(found, 1) if any(cells)], ",")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise RuleError("The file is not UTF-8 text. Save it as “CSV UTF-8” and choose it again.", "file") from error
    if "\0" in text:
        raise RuleError("The file is no text. Save the table as CSV and choose that file.", "file")
    first = next((line for line in text.splitlines() if line.strip()), "")
    delimiter = max((",", ";", "\t"), key=lambda sign: _outside_quotes(first, sign))
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter)
    rows: list[tuple[int, list[str]]] = []
    line = 1
    try:
        for cells in reader:
            if any(cell.strip() for cell in cells):
                rows.append((line, [_bare(cell).strip() for cell in cells]))
            line = reader.line_num + 1
    except csv.Error as error:
        raise RuleError(
            f"Line {reader.line_num} of the file cannot be read: {error}. Check its quotation marks.", "file"
        ) from error
    return _table(rows, delimiter)


def _table(rows: list[tuple[int, list[str]]], delimiter: str) -> Table:
    if len(rows) < 2:
        raise RuleError("The file has no rows under its heads. The first line names the columns.", "file")
    if len(rows) > MOST_ROWS + 1:
        raise RuleError(f"The file has {len(rows) - 1} rows; {MOST_ROWS} is the most. Split it.", "file")
    if len(rows[0][1]) > MOST_COLUMNS:
        raise RuleError(f"The file has {len(rows[0][1])} columns; {MOST_COLUMNS} is the most.", "file")
    return Table(rows[0][1], rows[1:], delimiter)


def _outside_quotes(line: str, sign: str) -> int:
    return re.sub(r'"[^"]*"', "", line).count(sign)


def write_csv(heads: Sequence[str], rows: Iterable[Sequence[str]]) -> bytes:
    """A CSV file that spreadsheets open as UTF-8. Text that a spreadsheet would run as a formula is kept as text."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow([_safe(head) for head in heads])
    writer.writerows([_safe(cell) for cell in row] for row in rows)
    return out.getvalue().encode("utf-8-sig")


_FORMULA = re.compile(r"'*[=+\-@\t\r\uff1d\uff0b\uff0d\uff20]")
"""What a spreadsheet may run: it reads the wide forms of these signs as the signs themselves."""


def _safe(cell: str) -> str:
    """A cell that no spreadsheet runs: what could be a formula has a quotation mark before it, and what has one already
    a second, so that both come back as they were."""
    return f"'{cell}" if _FORMULA.match(cell) and not re.fullmatch(r"[+-]?[\d.,]+%?", cell) else cell


def _bare(cell: str) -> str:
    """The inverse of ``_safe``."""
    return cell[1:] if cell[:1] == "'" and _FORMULA.match(cell) else cell


@contextmanager
def naming_line(line: int) -> Iterator[None]:
    """What is wrong with a row of a file is told with its line."""
    try:
        yield
    except RuleError as error:
        raise RuleError(f"Line {line}: {error.sentence}", "file") from error
