"""Workbooks in: a sheet, the first unless one is named, as a table of text, as every file."""

from __future__ import annotations

from collections.abc import Iterator
from typing import BinaryIO

import numpy as np
import pyarrow as pa

from .csv_in import MOST_COLUMNS
from .format import FileFormat
from .headers import header_of, keys_of
from .raw import USUAL, FileLayout, FileProblem, RawBatch
from .workbook_layout import MOST_BYTES, workbook_looked_at
from .workbooks import read_workbook

MOST_ROWS = 200_000
"""A sheet is read whole; what is longer, or unpacks to more than a workbook may, should come as CSV or Parquet."""


class XlsxFile:
    """A workbook being read; its first row that is not empty is the header.

    Parameters
    ----------
    file : name for messages; its beginning may say which table it holds
    stream : the bytes
    table : which table it must hold; without it the columns decide, then the file's name
    laid : how it is laid out, as far as that is known

    Raises
    ------
    FileProblem
        If it is no workbook, too large, empty, holds no known table, or lacks a required column.
    """

    def __init__(self, file: str, stream: BinaryIO, table: str | None = None, laid: FileLayout = USUAL) -> None:
        content = stream.read(MOST_BYTES + 1)
        if len(content) > MOST_BYTES:
            raise FileProblem(f"{file}: larger than {MOST_BYTES // 10**6} MB: save it as CSV or Parquet")
        self._size = len(content)
        self._typed: dict[tuple[int, int], bool] = {}
        lines = read_workbook(
            file, content, MOST_ROWS + 2, MOST_COLUMNS, sheet=laid.sheet, above=laid.skip_top, typed=self._typed
        )
        if len(lines) > MOST_ROWS + 1:
            raise FileProblem(f"{file}: more than {MOST_ROWS:,} rows: split it, or save it as CSV or Parquet")
        below = range(laid.skip_top, len(lines))
        at = next((i for i in below if any(cell.strip() for cell in lines[i])), None)
        if at is None:
            which = f"sheet {laid.sheet!r}" if laid.sheet else "first sheet"
            raise FileProblem(f"{file}: line {1 + laid.skip_top}: the {which} is empty")
        self.header_lines = at + 1 if laid.headed else at
        width = max(i + 1 for i, cell in enumerate(lines[at]) if cell.strip())
        # A column without a name is none.
        kept = [i for i in range(width) if lines[at][i].strip() or not laid.headed]
        names = [lines[at][i].strip() if laid.headed else "" for i in kept]
        self.header, order = header_of(file, table, names)
        self._keys = keys_of(self.header)
        self._cells = [kept[i] for i in order]
        first = self.header_lines
        self._rows = [(number, line) for number, line in enumerate(lines[first:], first + 1)]

    def batches(self) -> Iterator[RawBatch]:
        """All rows at once; a row's line is its number in the sheet."""
        filled = [(number, line) for number, line in self._rows if any(cell.strip() for cell in line)]
        columns = [[line[i] if i < len(line) else "" for _, line in filled] for i in self._cells]
        arrays = {key: pa.array(cells, pa.string()) for key, cells in zip(self._keys, columns, strict=True)}
        at = np.array([number for number, _ in filled], np.int64)
        typed = {
            key: pa.array([(number, i) in self._typed for number, _ in filled], pa.bool_())
            for key, i in zip(self._keys, self._cells, strict=True)
        }
        yield RawBatch(arrays, at, skipped=len(self._rows) - len(filled), bytes_done=self._size, typed=typed)


FORMAT = FileFormat(
    "XLSX", (".xlsx", ".xlsm"), XlsxFile, look=workbook_looked_at, bears=("sheet", "skip_top", "headed")
)
