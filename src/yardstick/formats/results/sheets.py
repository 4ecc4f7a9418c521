"""Tables of the app, out and, where they are lists of its own, in again, in every open format."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Collection, Iterable, Sequence
from typing import Literal

import pyarrow as pa
import pyarrow.parquet as pq

from ..files.csv_in import restore
from ..files.encodings import is_utf16, stated_delimiter
from ..files.raw import FileProblem
from ..files.workbooks import read_workbook
from ..plan.list_files import jsonl_lines, parquet_lines
from .csv_out import table_text
from .typed_results import decimal_column
from .xlsx_out import workbook_bytes

KINDS = {
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "parquet": "application/vnd.apache.parquet",
    "jsonl": "application/jsonl; charset=utf-8",
}
"""Endings that can be written, and what browsers call them."""
Kind = Literal["csv", "xlsx", "parquet", "jsonl"]
MOST_BYTES, MOST_ROWS, MOST_COLUMNS = 20_000_000, 20_000, 200


def write_table(
    kind: str, columns: Sequence[str], rows: Iterable[Sequence[str]], numbers: Collection[str] = ()
) -> bytes:
    """A table as a file.

    Parameters
    ----------
    kind : key of `KINDS`
    columns : header
    rows : text per column; nothing in a workbook is a formula
    numbers : columns whose cells are decimal numbers or empty: numbers in a workbook, decimals in Parquet
    """
    if kind == "csv":
        return table_text(columns, rows).encode()
    if kind == "xlsx":
        return workbook_bytes("the table", columns, rows, numbers)
    if kind == "jsonl":
        lines = (json.dumps(dict(zip(columns, row, strict=True)), ensure_ascii=False) for row in rows)
        return "".join(f"{line}\n" for line in lines).encode()
    cells = list(zip(*rows, strict=True)) or [()] * len(columns)
    arrays = [
        decimal_column(column) if name in numbers else pa.array(column, pa.string())
        for name, column in zip(columns, cells, strict=True)
    ]
    out = io.BytesIO()
    pq.write_table(pa.table(arrays, names=list(columns)), out)
    return out.getvalue()


def read_table(name: str, content: bytes) -> tuple[list[str], list[dict[str, str]]]:
    """Header and rows of a CSV, XLSX, Parquet or JSON Lines file, as text; rows that are all empty are left out.

    Raises
    ------
    FileProblem
        If it is neither, broken, or too large; says which.
    """
    if len(content) > MOST_BYTES:
        raise FileProblem(f"{name}: larger than 20 MB: split it")
    if name.lower().endswith(".parquet"):
        lines = parquet_lines(name, content, MOST_ROWS, MOST_COLUMNS)
    elif name.lower().endswith((".jsonl", ".ndjson")):
        lines = jsonl_lines(name, content)
    elif name.lower().endswith((".xlsx", ".xlsm")):
        # One row more than is allowed is enough to say that there are too many.
        lines = read_workbook(name, content, MOST_ROWS + 2, MOST_COLUMNS)
    else:
        lines = _text(name, content)
    lines = [line for line in lines if any(cell.strip() for cell in line)]
    if not lines:
        raise FileProblem(f"{name}: line 1: the file is empty")
    header = [cell.strip().lower().replace(" ", "_") for cell in lines[0]]
    twice = sorted({h for h in header if h and header.count(h) > 1})
    if twice:
        raise FileProblem(f"{name}: line 1: the column {twice[0]} appears twice: rename one")
    if len(lines) > MOST_ROWS + 1:
        raise FileProblem(f"{name}: more than {MOST_ROWS} rows: split it")
    rows = [{h: restore(cell).strip() for h, cell in zip(header, line, strict=False) if h} for line in lines[1:]]
    return [h for h in header if h], rows


def _text(name: str, content: bytes) -> list[list[str]]:
    try:
        text = content.decode("utf-16" if is_utf16(content) else "utf-8-sig")
    except UnicodeDecodeError:
        raise FileProblem(f"{name}: not UTF-8: save the file as UTF-8") from None
    first, _, rest = text.partition("\n")
    stated = stated_delimiter(first)
    if stated:
        first, text = rest.partition("\n")[0], rest
    delimiter = stated or max(",;\t", key=first.count)
    if first.count(delimiter) >= MOST_COLUMNS:
        raise FileProblem(f"{name}: line 1: more than {MOST_COLUMNS} columns: remove what is not needed")
    try:
        return list(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter))
    except csv.Error as problem:
        raise FileProblem(f"{name}: not readable as CSV: {problem}") from None
