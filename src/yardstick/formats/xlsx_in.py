"""Workbooks in: the first sheet as a table of text, as every file."""

from __future__ import annotations

from collections.abc import Iterator
from typing import BinaryIO

import numpy as np
import pyarrow as pa

from yardstick.core.base.tables import SCHEMA

from .csv_in import MOST_COLUMNS, canonical, which_table
from .raw import FileProblem, Header, RawBatch
from .workbooks import read_workbook

MOST_BYTES = 50_000_000
MOST_ROWS = 200_000
"""A sheet is read whole; what is longer, or unfolds to more than a workbook may, should come as CSV or Parquet."""


class XlsxFile:
    """A workbook being read; its first row that is not empty is the header.

    Parameters
    ----------
    file : name for messages; its beginning may say which table it holds
    stream : the bytes
    table : which table it must hold; without it the columns decide, then the file's name

    Raises
    ------
    FileProblem
        If it is no workbook, too large, empty, holds no known table, or lacks a required column.
    """

    def __init__(self, file: str, stream: BinaryIO, table: str | None = None) -> None:
        content = stream.read(MOST_BYTES + 1)
        if len(content) > MOST_BYTES:
            raise FileProblem(f"{file}: larger than {MOST_BYTES // 10**6} MB: save it as CSV or Parquet")
        self._size = len(content)
        lines = read_workbook(file, content, MOST_ROWS + 2, MOST_COLUMNS)
        if len(lines) > MOST_ROWS + 1:
            raise FileProblem(f"{file}: more than {MOST_ROWS:,} rows: split it, or save it as CSV or Parquet")
        at = next((i for i, line in enumerate(lines) if any(cell.strip() for cell in line)), None)
        if at is None:
            raise FileProblem(f"{file}: line 1: the first sheet is empty")
        self.header_lines = at + 1
        width = max(i + 1 for i, cell in enumerate(lines[at]) if cell.strip())
        # A column without a name is none.
        kept = [i for i in range(width) if lines[at][i].strip()]
        names = [lines[at][i].strip() for i in kept]
        name = table or which_table(file, names)
        columns = canonical(file, name, names)
        known = {c.name for c in SCHEMA[name]}
        # Those that the table knows first.
        order = sorted(range(len(columns)), key=lambda i: columns[i] not in known)
        extra = tuple(names[i] for i in order if columns[i] not in known)
        self.header = Header(name, file, tuple(c for c in columns if c in known), extra)
        self._keys = [*self.header.columns, *(f"extra {i}" for i in range(len(extra)))]
        self._cells = [kept[i] for i in order]
        self._rows = [(number, line) for number, line in enumerate(lines[at + 1 :], at + 2)]

    def batches(self) -> Iterator[RawBatch]:
        """All rows at once; a row's line is its number in the sheet."""
        filled = [(number, line) for number, line in self._rows if any(cell.strip() for cell in line)]
        columns = [[line[i] if i < len(line) else "" for _, line in filled] for i in self._cells]
        arrays = {key: pa.array(cells, pa.string()) for key, cells in zip(self._keys, columns, strict=True)}
        at = np.array([number for number, _ in filled], np.int64)
        yield RawBatch(arrays, at, skipped=len(self._rows) - len(filled), bytes_done=self._size)
