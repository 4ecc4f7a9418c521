"""How a workbook that nobody has described is laid out: which sheet holds the table, and where its header stands."""

from __future__ import annotations

from collections.abc import Sequence
from typing import BinaryIO

from .csv_in import MOST_COLUMNS
from .format import Layout
from .header_line import LINES, header_at, is_row
from .raw import FileLayout
from .workbooks import read_workbook, sheets_of

MOST_BYTES = 50_000_000
"""Of a workbook, which is read whole."""
MOST_SHEETS = 6


def workbook_looked_at(file: str, stream: BinaryIO, _: str) -> Layout:
    """Sheet and header; see `format.FileFormat.look`.

    Raises
    ------
    FileProblem
        If it cannot be read.
    """
    laid, above = _of_workbook(file, stream.read(MOST_BYTES + 1))
    return Layout(laid, above)


def _of_workbook(file: str, content: bytes) -> tuple[FileLayout, list[str]]:
    best: tuple[float, FileLayout, list[str]] = (-1.0, FileLayout(), [])
    names = sheets_of(file, content)
    for i, name in enumerate(names[:MOST_SHEETS]):
        rows = read_workbook(file, content, LINES, MOST_COLUMNS, sheet=name, above=LINES)
        width = max((j + 1 for row in rows for j, cell in enumerate(row) if cell.strip()), default=0)
        filled = [row[:width] for row in rows]
        while filled and not any(cell.strip() for cell in filled[-1]):
            filled.pop()
        # Cells of a sheet have no width of their own: a line of a title fills its first one.
        trimmed = [_trimmed(row) for row in filled]
        score, above = header_at(trimmed)
        if score > best[0]:
            titles = [" ".join(cell for cell in row if cell.strip()) for row in filled[:above]]
            headed = not is_row(trimmed[above]) if len(trimmed) > above else True
            best = (score, FileLayout(sheet=name if i else "", skip_top=above, headed=headed), titles)
    return best[1], best[2]


def _trimmed(row: Sequence[str]) -> list[str]:
    width = max((i + 1 for i, cell in enumerate(row) if cell.strip()), default=0)
    return list(row[:width])
