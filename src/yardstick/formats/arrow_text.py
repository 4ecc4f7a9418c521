"""Columns of Arrow as the text that a file would hold, so that all formats go one way."""

from __future__ import annotations

from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from yardstick.core.base.tables import SCHEMA, Kind

from .csv_in import LONGEST_CELL, canonical
from .floats import digits_of
from .raw import FileProblem, Header

MOST_TEXT = 2**28
"""Bytes of text that one column of a batch may unfold to."""
MONEY = (Kind.AMOUNT, Kind.COST, Kind.PRICE, Kind.RATE)


class ArrowColumns:
    """How the columns of a table of Arrow become those of a table of rows.

    Parameters
    ----------
    file : its name, for messages
    table : which table of `SCHEMA` it is
    names : of its columns
    floats : whether money may stand there as binary floats; they are read to 15 digits

    Raises
    ------
    FileProblem
        If a required column is missing, or one stands twice.
    """

    def __init__(self, file: str, table: str, names: list[str], floats: bool) -> None:
        self._where, self._floats = file, floats
        columns = canonical(file, table, names)
        kinds = {c.name: c.kind for c in SCHEMA[table]}
        known = [i for i, c in enumerate(columns) if c in kinds]
        extra = [i for i, c in enumerate(columns) if c not in kinds]
        self.header = Header(table, file, tuple(columns[i] for i in known), tuple(names[i] for i in extra))
        self._columns = [(i, names[i], kinds.get(columns[i], Kind.TEXT)) for i in [*known, *extra]]
        self._keys = [*self.header.columns, *(f"extra {i}" for i in range(len(extra)))]

    def of(self, rows: Any) -> dict[str, Any]:
        """Arrow string arrays by the names of the header, of some rows."""
        arrays = [self._text(name, kind, rows.column(i)) for i, name, kind in self._columns]
        return dict(zip(self._keys, arrays, strict=True))

    def _text(self, name: str, kind: Kind, column: Any) -> Any:
        array = column.combine_chunks() if isinstance(column, pa.ChunkedArray) else column
        array = pa.concat_arrays(array.chunks) if isinstance(array, pa.ChunkedArray) else array
        if pa.types.is_dictionary(array.type):
            self._check_room(name, array)
            array = array.dictionary_decode()
        if pa.types.is_floating(array.type):
            array = self._of_floats(name, kind, array)
        elif pa.types.is_boolean(array.type):
            array = pc.if_else(array, "true", "false")
        elif pa.types.is_timestamp(array.type):
            array = _instants(array)
        elif pa.types.is_nested(array.type) or pa.types.is_binary(array.type) or pa.types.is_large_binary(array.type):
            raise FileProblem(f"{self._where}: the column {name} holds {array.type}: one value a row is needed")
        text = pc.fill_null(pc.cast(array, pa.string()), "")
        if len(text) and (pc.max(pc.binary_length(text)).as_py() or 0) > LONGEST_CELL:
            raise FileProblem(f"{self._where}: a cell of {name} is longer than {LONGEST_CELL:,} bytes: shorten it")
        return text

    def _check_room(self, name: str, array: Any) -> None:
        """A long text that stands in a dictionary once can be told a million times in a few bytes."""
        if pa.types.is_string(array.dictionary.type) or pa.types.is_large_string(array.dictionary.type):
            room = pc.sum(pc.take(pc.binary_length(array.dictionary), array.indices)).as_py() or 0
            if room > MOST_TEXT:
                said = f"{len(array):,} rows of the column {name} unfold to more than {MOST_TEXT >> 20} MiB"
                raise FileProblem(f"{self._where}: {said}: shorten its texts")

    def _of_floats(self, name: str, kind: Kind, array: Any) -> Any:
        """Whole numbers that became floats for want of a value in some row are whole; digits are not guessed."""
        where = f"{self._where}: the column {name} holds binary floats"
        if self._floats:
            return pa.array([digits_of(value) for value in array.to_pylist()], pa.string())
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
