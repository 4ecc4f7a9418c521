"""Tables that are there already: anything that speaks the Arrow C stream, read as a file would be.

Cells go the way of every file, as text, so that a table and a file of the same rows give the same fingerprint. What is
typed keeps its value: decimals their digits, instants their offset. Binary floats are refused where digits count.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from yardstick.core.base.notes import Rejected
from yardstick.core.base.tables import SCHEMA, Kind

from .csv_in import canonical
from .raw import FileProblem, Header, RawBatch

ROWS = 100_000
"""Rows of a batch."""
MONEY = (Kind.AMOUNT, Kind.COST, Kind.PRICE, Kind.RATE)


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
        names = [str(name) for name in self._rows.column_names]
        columns = canonical(table, table, names)
        kinds = {c.name: c.kind for c in SCHEMA[table]}
        known = [i for i, c in enumerate(columns) if c in kinds]
        extra = [i for i, c in enumerate(columns) if c not in kinds]
        self.header = Header(table, table, tuple(columns[i] for i in known), tuple(names[i] for i in extra))
        self._columns = [(i, names[i], kinds.get(columns[i], Kind.TEXT)) for i in [*known, *extra]]
        self._keys = [*self.header.columns, *(f"extra {i}" for i in range(len(extra)))]

    def batches(self) -> Iterator[RawBatch]:
        """The rows, some at a time; a row's line is its number from 1."""
        for begin in range(0, max(1, len(self._rows)), ROWS):
            some = self._rows.slice(begin, ROWS)
            arrays = [self._text(name, kind, some.column(i)) for i, name, kind in self._columns]
            rejected: list[Rejected] = []
            at = np.arange(begin + 1, begin + 1 + len(some), dtype=np.int64)
            yield RawBatch(dict(zip(self._keys, arrays, strict=True)), at, rejected)

    def _text(self, name: str, kind: Kind, column: Any) -> Any:
        array = column.combine_chunks()
        array = pa.concat_arrays(array.chunks) if isinstance(array, pa.ChunkedArray) else array
        if pa.types.is_dictionary(array.type):
            array = array.dictionary_decode()
        if pa.types.is_floating(array.type):
            array = self._of_floats(name, kind, array)
        elif pa.types.is_boolean(array.type):
            array = pc.if_else(array, "true", "false")
        elif pa.types.is_timestamp(array.type):
            array = _instants(array)
        elif pa.types.is_nested(array.type) or pa.types.is_binary(array.type):
            raise FileProblem(f"{self.header.table}: the column {name} holds {array.type}: one value a row is needed")
        return pc.fill_null(pc.cast(array, pa.string()), "")

    def _of_floats(self, name: str, kind: Kind, array: Any) -> Any:
        """Whole numbers that became floats for want of a value in some row are whole; digits are not guessed."""
        where = f"{self.header.table}: the column {name} holds binary floats"
        if kind in MONEY:
            raise FileProblem(f"{where}, which hold no exact money: give decimals, or text such as '12.50'")
        array = pc.if_else(pc.is_nan(array), None, array)
        values = array.drop_null().to_numpy(zero_copy_only=False)
        if kind == Kind.COUNT and np.isfinite(values).all() and (values == np.floor(values)).all():
            return pc.cast(array, pa.int64())
        if len(values):
            raise FileProblem(f"{where}: give whole numbers (in pandas: astype('Int64')) or text")
        return pc.cast(array, pa.string())


def _instants(array: Any) -> Any:
    """ISO 8601; with an offset only where the column has a zone."""
    if array.type.tz is None:
        return pc.strftime(pc.cast(array, pa.timestamp("us")), format="%Y-%m-%dT%H:%M:%S")
    return pc.strftime(pc.cast(array, pa.timestamp("us", "UTC")), format="%Y-%m-%dT%H:%M:%SZ")
