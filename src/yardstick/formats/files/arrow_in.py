"""Tables that are there already: anything that speaks the Arrow C stream, read as a file would be.

Cells go the way of every file, as text, so that a table and a file of the same rows give the same fingerprint. What is
typed keeps its value: decimals their digits, instants their offset. Binary floats are refused where digits count.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
import pyarrow as pa

from .arrow_text import ArrowColumns
from .raw import FileProblem, RawBatch

ROWS = 100_000
"""Rows of a batch."""


class ArrowFile:
    """A table in memory being read.

    Parameters
    ----------
    table : which table of `SCHEMA` it is; also its name in messages
    given : anything with `__arrow_c_stream__`: a table of PyArrow, pandas, Polars, DuckDB...

    Raises
    ------
    FileProblem
        If it is no table, lacks a required column, or holds money or names as binary floats.
    """

    def __init__(self, table: str, given: Any) -> None:
        self.header_lines = 0
        if not hasattr(given, "__arrow_c_stream__"):
            raise FileProblem(
                f"{table}: {type(given).__name__} is no table: give one of pandas, Polars, DuckDB or PyArrow"
            )
        self._rows = pa.table(given)
        self._columns = ArrowColumns(table, table, [str(name) for name in self._rows.column_names], floats=False)
        self.header = self._columns.header

    def batches(self) -> Iterator[RawBatch]:
        """The rows, some at a time; a row's line is its number from 1."""
        for begin in range(0, max(1, len(self._rows)), ROWS):
            some = self._rows.slice(begin, ROWS)
            yield self._columns.batch(some, np.arange(begin + 1, begin + 1 + len(some), dtype=np.int64))
