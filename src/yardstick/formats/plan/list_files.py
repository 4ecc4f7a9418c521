"""Lists of the plan and the link sheet in every open format, their days and numbers as exports write them."""

from __future__ import annotations

import io
import json
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

from yardstick.core.plan.gathering_phase import YEAR_FIRST

from ..cells.contents import signs_of
from ..cells.dates_in import iso_of
from ..cells.numbers_in import number_of
from ..files.raw import FileProblem
from ..sources.date_orders import order_of

MOST_UNFOLDED = 200_000_000
"""Bytes that the columns of a Parquet file may have, unfolded."""


def parquet_lines(name: str, content: bytes, most_rows: int, most_columns: int) -> list[list[str]]:
    """Header and rows of a Parquet file, as text.

    Raises
    ------
    FileProblem
        If it is none, or larger than a list can be.
    """
    try:
        file = pq.ParquetFile(io.BytesIO(content))
        size = sum(file.metadata.row_group(i).total_byte_size for i in range(file.num_row_groups))
        if file.metadata.num_rows > most_rows or file.metadata.num_columns > most_columns or size > MOST_UNFOLDED:
            raise FileProblem(f"{name}: more than {most_rows} rows or {most_columns} columns: split it")
        table = file.read()
    except (pa.ArrowException, OSError, ValueError) as problem:
        raise FileProblem(f"{name}: not readable as Parquet: {str(problem).splitlines()[0][:200]}") from None
    columns = [[_as_text(value) for value in column.to_pylist()] for column in table.columns]
    return [table.column_names, *([*row] for row in zip(*columns, strict=True))]


def jsonl_lines(name: str, content: bytes) -> list[list[str]]:
    """Header and rows of a file of JSON objects, one a line, as text; the header has every name that stands in one.

    Raises
    ------
    FileProblem
        If a line is no object; says which.
    """
    objects: list[dict[str, Any]] = []
    for number, line in enumerate(content.decode("utf-8-sig", "replace").split("\n"), 1):
        if not line.strip():
            continue
        try:
            one = json.loads(line, parse_float=str, parse_int=str)
        except (ValueError, RecursionError):
            one = None
        if not isinstance(one, dict):
            raise FileProblem(f"{name}: line {number}: not a JSON object: write one on each line")
        objects.append(one)
    names = list(dict.fromkeys(key for one in objects for key in one))
    return [names, *([_as_text(one.get(key)) for key in names] for one in objects)] if objects else []


def _as_text(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, list) and all(isinstance(one, str) for one in value):
        return "\n".join(value)
    if isinstance(value, dict | list):
        return json.dumps(value, ensure_ascii=False)
    return str(value)


def read_cells(
    name: str, rows: Sequence[Mapping[str, str]], days: Sequence[str], numbers: Sequence[str]
) -> list[dict[str, str]]:
    """Rows with their days and numbers as settings have them, whatever layout the file writes them in.

    Parameters
    ----------
    name : of the file, for messages
    rows : cells by column, without the header
    days, numbers : which columns hold them

    Returns
    -------
    list of rows; a cell that is no day or number stays as it is, so that the plan says what is wrong with it

    Raises
    ------
    FileProblem
        If it cannot be told whose order of day and month, or which sign before decimals, is meant.
    """
    out = [dict(row) for row in rows]
    dated = [(number, column) for column in days for number, row in enumerate(rows) if row.get(column)]
    cells = pa.array([rows[number][column] for number, column in dated], pa.string())
    lines = np.array([number + 2 for number, _ in dated], np.int64)
    found = order_of([(cells, lines)]) if dated else None
    if found is not None and found.question:
        column = next(c for n, c in dated if n + 2 == found.line) if found.line else dated[0][1]
        raise FileProblem(f"{name}: line {found.line}, {column}: {found.question} Write days as 2026-03-31")
    for number, column in dated:
        day = iso_of(rows[number][column].strip(), (found.order if found else "") or YEAR_FIRST)
        # A workbook's day has a time, which is midnight.
        out[number][column] = day[:10] if day else rows[number][column]
    for column in numbers:
        there = [(number, row[column].strip()) for number, row in enumerate(rows) if row.get(column, "").strip()]
        signs = signs_of(cell for _, cell in there)
        plain = all(_is_plain(cell) for _, cell in there)
        if signs.unsure and not plain:
            line = next(number + 2 for number, cell in there if cell == signs.unsure.strip())
            text = f"does the sign of {signs.unsure} stand before decimals, or between thousands?"
            raise FileProblem(f"{name}: line {line}, {column}: {text} Write it as 1234.50")
        for number, cell in there:
            read = cell if plain else number_of(cell, signs.decimal or ".", signs.thousands, True, "")
            out[number][column] = read or cell
    return out


def _is_plain(cell: str) -> bool:
    """Whether a cell is a number as we write them: that is never asked about, and keeps its digits."""
    whole, _, part = cell.removeprefix("-").partition(".")
    return (whole + part).isascii() and whole.isdigit() and (not part or part.isdigit())
