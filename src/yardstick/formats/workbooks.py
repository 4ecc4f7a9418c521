"""XLSX in, with limits that hold before anything is read: a workbook is a zip archive, and 1 MiB of it can unfold to
gigabytes, name entities that unfold further, or one cell a million rows down."""

from __future__ import annotations

import io
import re
import zlib
from datetime import date, datetime
from typing import Any
from zipfile import BadZipFile, ZipFile

from openpyxl import load_workbook
from openpyxl.utils.exceptions import InvalidFileException

from .floats import digits_of
from .raw import FileProblem

MOST_PARTS = 500
MOST_UNFOLDED = 32 * 1024 * 1024
"""Bytes all parts of a workbook may have, unfolded."""
MOST_STRINGS = 400_000
_DECLARES = re.compile(rb"<\x00?!\x00?(?:D\x00?O\x00?C\x00?T|E\x00?N\x00?T)", re.IGNORECASE)


def read_workbook(
    name: str,
    content: bytes,
    most_rows: int,
    most_columns: int,
    *,
    sheet: str = "",
    above: int = 0,
    typed: dict[tuple[int, int], bool] | None = None,
) -> list[list[str]]:
    """The cells of a sheet of a workbook, as text.

    Parameters
    ----------
    name : of the file, for messages
    content : the file
    most_rows, most_columns : how much of the sheet is read
    sheet : its name; empty for the first
    above : lines above the header, which may be of any width
    typed : filled with the places (line from 1, column from 0) of cells that are numbers, days or times

    Raises
    ------
    FileProblem
        If it is no workbook, or unfolds to more than one may.
    """
    try:
        _check(name, content)
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=True)
        found = _sheet(name, book, sheet)
        top: list[list[str]] = []
        for row in found.iter_rows(max_row=most_rows, max_col=most_columns, values_only=True):
            top.append([_cell(value) for value in row])
            if len(top) > above and any(cell.strip() for cell in top[-1]):
                break
        # No row below needs more cells than the header has: each would be filled up to as many as are allowed.
        width = max((i + 1 for line in top for i, cell in enumerate(line) if cell.strip()), default=1)
        rows = found.iter_rows(min_row=len(top) + 1, max_row=most_rows, max_col=width, values_only=True)
        below = []
        for number, row in enumerate(rows if len(top) < most_rows else (), len(top) + 1):
            below.append([_cell(value) for value in row])
            if typed is not None:
                typed.update(((number, i), True) for i, value in enumerate(row) if _is_typed(value))
        return [*(line[:width] for line in top), *below]
    except FileProblem:
        raise
    except (InvalidFileException, BadZipFile, KeyError, ValueError, OSError, IndexError, SyntaxError, TypeError):
        raise FileProblem(f"{name}: not readable as XLSX: save it anew") from None
    except (zlib.error, EOFError, NotImplementedError, RuntimeError, AttributeError, RecursionError):
        raise FileProblem(f"{name}: not readable as XLSX: save it anew") from None


def sheets_of(name: str, content: bytes) -> list[str]:
    """The names of the sheets of a workbook.

    Raises
    ------
    FileProblem
        If it is none, or unfolds to more than one may.
    """
    try:
        _check(name, content)
        return [sheet.title for sheet in load_workbook(io.BytesIO(content), read_only=True).worksheets]
    except FileProblem:
        raise
    except Exception:
        raise FileProblem(f"{name}: not readable as XLSX: save it anew") from None


def _sheet(name: str, book: Any, called: str) -> Any:
    if not called:
        return book.worksheets[0]
    for sheet in book.worksheets:
        if sheet.title.strip().lower() == called.strip().lower():
            return sheet
    there = ", ".join(sheet.title for sheet in book.worksheets)
    raise FileProblem(f"{name}: there is no sheet {called!r}; its sheets are {there[:200]}")


def _is_typed(value: object) -> bool:
    return isinstance(value, int | float | date) and not isinstance(value, bool)


def _check(name: str, content: bytes) -> None:
    """Unfold every part once, piece by piece, and stop where it is too much: stated sizes may be lies."""
    unfolded = 0
    with ZipFile(io.BytesIO(content)) as archive:
        parts = archive.infolist()
        if len(parts) > MOST_PARTS:
            raise FileProblem(f"{name}: {len(parts):,} parts in one workbook: save it anew")
        for part in parts:
            tail, strings = b"", 0
            with archive.open(part) as stream:
                while piece := stream.read(1 << 20):
                    unfolded += len(piece)
                    if unfolded > MOST_UNFOLDED:
                        said = f"unfolds to more than {MOST_UNFOLDED >> 20} MiB"
                        raise FileProblem(f"{name}: {said}: split it, or save it as CSV")
                    if part.filename.endswith((".xml", ".rels", ".vml")):
                        if _DECLARES.search(tail + piece):
                            said = f"{part.filename[:60]} declares entities, which no spreadsheet does"
                            raise FileProblem(f"{name}: {said}: save it anew")
                        strings += piece.count(b"<si")
                        tail = piece[-32:]
            if strings > MOST_STRINGS:
                raise FileProblem(f"{name}: more than {MOST_STRINGS:,} distinct texts: split it, or save it as CSV")


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, datetime):
        return value.date().isoformat() if value.time() == datetime.min.time() else value.isoformat()
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, bool):
        return "true" if value else "false"
    return digits_of(value) or "" if isinstance(value, float) else str(value)
