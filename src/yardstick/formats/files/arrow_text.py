"""Columns of Arrow as the text that a file would hold, so that all formats go one way."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from yardstick.core.base.notes import Rejected
from yardstick.core.base.schema import SCHEMA, Kind

from ..cells.floats import digits_of
from .csv_in import LONGEST_CELL
from .headers import AS_WRITTEN, header_of, keys_of
from .raw import FileProblem, Lines, RawBatch, rejected_digest, shown

MOST_TEXT = 2**28
"""Bytes of text that one column of a batch may unfold to."""
MONEY = (Kind.AMOUNT, Kind.COST, Kind.PRICE, Kind.RATE)


class ArrowColumns:
    """How the columns of a table of Arrow become those of a table of rows.

    Parameters
    ----------
    file : its name, for messages
    table : which table of `SCHEMA` it is, or `AS_WRITTEN`; None = its columns and name decide
    names : of its columns
    floats : whether money may stand there as binary floats; they are read to 15 digits
    nested : those of the columns that hold lists or objects, which are left out

    Raises
    ------
    FileProblem
        If a required column is missing, or one appears twice.
    """

    def __init__(
        self, file: str, table: str | None, names: list[str], floats: bool, nested: Collection[str] = ()
    ) -> None:
        self._where, self._floats = file, floats
        at = [i for i, name in enumerate(names) if name not in nested]
        header, order = header_of(file, table, [names[i] for i in at])
        self.header = replace(header, left_out=tuple(name for name in names if name in nested))
        kinds = {c.name: c.kind for c in SCHEMA.get(self.header.table, ())}
        self._keys = keys_of(self.header)
        places = [at[i] for i in order]
        self._columns = [(i, names[i], kinds.get(key, Kind.TEXT)) for i, key in zip(places, self._keys, strict=True)]
        self._as_written = self.header.table == AS_WRITTEN

    def batch(self, rows: Any, at: Lines, bytes_done: int = 0) -> RawBatch:
        """Some rows as text.

        Parameters
        ----------
        rows : a batch or table of Arrow
        at : (n,) int64, the line of each
        bytes_done : how far into the file they reach
        """
        arrays: list[Any] = []
        bad: dict[int, tuple[str, str, str]] = {}
        for i, name, kind in self._columns:
            array, wrong = _readable(self._text(name, kind, rows.column(i)))
            arrays.append(array)
            for row, (cell, reason) in wrong.items():
                bad.setdefault(row, (name, cell, reason))
        rejected = []
        for row, (name, cell, reason) in sorted(bad.items()):
            digest = rejected_digest(self.header.table, [cell, *(array[row].as_py() for array in arrays)])
            where = self.header.table, self.header.file, int(at[row])
            rejected.append(Rejected(*where, name, shown(cell), reason, digest))
        if bad:
            good = np.ones(len(at), np.bool_)
            good[list(bad)] = False
            arrays, at = [array.filter(pa.array(good)) for array in arrays], at[good]
        batch = RawBatch(dict(zip(self._keys, arrays, strict=True)), at, rejected, bytes_done=bytes_done)
        if self._as_written:
            all_of = pa.repeat(pa.scalar(True), len(at))
            batch.typed = {
                key: all_of
                for (i, _, _), key in zip(self._columns, self._keys, strict=True)
                if _is_typed(rows.schema.field(i).type)
            }
        return batch

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


def _readable(text: Any) -> tuple[Any, dict[int, tuple[str, str]]]:
    """A column without what no text may hold, and by row the cells that held it, with the reason."""
    try:
        text.validate(full=True)
    except pa.ArrowInvalid:
        cells = [value.decode("utf-8", "surrogateescape") for value in text.cast(pa.binary()).to_pylist()]
        wrong = {i: cell for i, cell in enumerate(cells) if any("\ud800" <= c <= "\udfff" for c in cell)}
        text = pa.array(["" if i in wrong else cell for i, cell in enumerate(cells)], pa.string())
        bad = {i: (cell, "not UTF-8: save the file as UTF-8") for i, cell in wrong.items()}
    else:
        bad = {}
    for i in np.flatnonzero(pc.match_substring(text, "\0").to_numpy(zero_copy_only=False)).tolist():
        bad.setdefault(i, (text[i].as_py(), "holds a NUL byte: remove it"))
    return text, bad


def nested_in(schema: Any) -> frozenset[str]:
    """Names of the columns of an Arrow schema that hold lists or objects."""
    return frozenset(str(field.name) for field in schema if pa.types.is_nested(field.type))


def _is_typed(kind: Any) -> bool:
    kind = kind.value_type if pa.types.is_dictionary(kind) else kind
    return bool(
        pa.types.is_temporal(kind)
        or pa.types.is_integer(kind)
        or pa.types.is_floating(kind)
        or pa.types.is_decimal(kind)
    )


def _instants(array: Any) -> Any:
    """ISO 8601; with an offset only where the column has a zone."""
    if array.type.tz is None:
        return pc.strftime(pc.cast(array, pa.timestamp("us")), format="%Y-%m-%dT%H:%M:%S")
    return pc.strftime(pc.cast(array, pa.timestamp("us", "UTC")), format="%Y-%m-%dT%H:%M:%SZ")
