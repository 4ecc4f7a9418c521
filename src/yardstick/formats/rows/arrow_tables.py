"""Typed Arrow columns -> the core's tables."""

from __future__ import annotations

from collections.abc import Mapping
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import numpy as np
import pyarrow as pa

from yardstick.core.base.columns import Amounts, Codes, Text
from yardstick.core.base.schema import SCHEMA, Column, Kind
from yardstick.core.base.tables import Table
from yardstick.core.base.values import Values

from ..cells.cells import decimal_cell
from ..cells.row_hashes import all_differ
from .columns import DECIMALS, blank

MANY = 100_000
"""Rows from which on it pays to make columns side by side."""


def table_of(
    name: str, columns: Mapping[str, Any], file: Text, line: Codes, made: Mapping[str, Text] | None = None
) -> Table:
    """A table of the core from typed columns.

    Parameters
    ----------
    name : of the table
    columns : Arrow array, chunked or not, per column of the schema; one that is missing is empty in all rows
    file, line : where each row came from
    made : text columns that are made already
    """
    ready = dict(made or {})
    asked = [c for c in SCHEMA[name] if c.name not in ready]

    def column(one: Column) -> Any:
        array = columns.get(one.name)
        return _column(one.kind, blank(one.kind, len(line)) if array is None else array)

    if len(line) < MANY:
        ready |= {c.name: column(c) for c in asked}
    else:
        # Making codes of text holds no other thread.
        with ThreadPoolExecutor(2) as pool:
            ready |= zip((c.name for c in asked), pool.map(column, asked), strict=True)
    return Table(name, {c.name: ready[c.name] for c in SCHEMA[name]}, file, line)


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


def ids_of(array: Any) -> Text:
    """A text column whose values mostly all differ; see `text_of`."""
    whole = _plain(array)
    if isinstance(whole, pa.Array) and all_differ(whole):
        return Text(np.arange(len(whole), dtype=np.int32), Values(whole))
    return text_of(whole)


def _amounts(array: Any) -> Amounts:
    coded = _plain(array).dictionary_encode()
    if not len(coded):
        return Amounts.unknown(0)
    distinct = Amounts.of([decimal_cell(v) for v in coded.dictionary.to_pylist()])
    return distinct.take(coded.indices.to_numpy(zero_copy_only=False))


def _plain(array: Any) -> Any:
    return array.combine_chunks() if isinstance(array, pa.ChunkedArray) else array
