"""Typed Arrow columns -> the core's tables."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
import pyarrow as pa

from yardstick.core.base.columns import Amounts, Codes, Text
from yardstick.core.base.schema import SCHEMA, Kind
from yardstick.core.base.tables import Table
from yardstick.core.base.values import Values

from .cells import decimal_cell
from .columns import DECIMALS


def table_of(
    name: str, columns: Mapping[str, Any], file: Text, line: Codes, made: Mapping[str, Text] | None = None
) -> Table:
    """A table of the core from typed columns.

    Parameters
    ----------
    name : of the table
    columns : Arrow array, chunked or not, per column of the schema
    file, line : where each row came from
    made : text columns that are made already
    """
    return Table(
        name,
        {c.name: made[c.name] if made and c.name in made else _column(c.kind, columns[c.name]) for c in SCHEMA[name]},
        file,
        line,
    )


def _column(kind: Kind, array: Any) -> Any:
    if kind in DECIMALS:
        return _amounts(array)
    if pa.types.is_string(array.type):
        return text_of(array)
    return _plain(array).to_numpy(zero_copy_only=False)


def text_of(array: Any) -> Text:
    """A text column, codes in order of first appearance."""
    coded = _plain(array).dictionary_encode()
    if isinstance(coded, pa.ChunkedArray):
        coded = coded.combine_chunks()
    return Text(coded.indices.to_numpy(zero_copy_only=False).astype(np.int32, copy=False), Values(coded.dictionary))


def _amounts(array: Any) -> Amounts:
    coded = _plain(array).dictionary_encode()
    if not len(coded):
        return Amounts.unknown(0)
    distinct = Amounts.of([decimal_cell(v) for v in coded.dictionary.to_pylist()])
    return distinct.take(coded.indices.to_numpy(zero_copy_only=False))


def _plain(array: Any) -> Any:
    return array.combine_chunks() if isinstance(array, pa.ChunkedArray) else array
