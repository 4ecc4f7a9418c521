"""Results as typed tables, JSON Lines, Parquet and XLSX: the cells of CSV, numbers as numbers and money as decimals."""

from __future__ import annotations

import io
import json
import re
from collections.abc import Iterable, Sequence
from datetime import datetime
from decimal import Decimal, localcontext
from typing import Any

import pyarrow as pa
import pyarrow.parquet as pq

from .csv_out import table_text

SHARES = ("part", "whole")
"""Counts or amounts, by the row they stand in."""
COUNTS = ("touches", "impressions", "clicks", "line", "days", "rows")
CREDITS = ("leads", "good_leads", "conversions", "sales", "new_customers", "share", "credits")
"""Numbers, too: as decimals of ten places a notebook shows their 0 as 0E-10."""
CLAIMED = ("claimed_conversions",)
"""Of platforms, which state parts of conversions with any number of places."""
MONEY = ("value", "spend", "claimed_value", "profit")
RATIOS = (
    *("cost_per_lead", "cost_per_good_lead", "cost_per_conversion", "roas", "conversion_rate", "cost_per_click"),
    *("average_value", "bounce_rate", "value_per_touch", "cost_per_new_customer", "cost_per_sale", "good_rate"),
    *("break_even", "target", "lowest", "highest", "maturity", "point", "low", "high"),
)
WIDEST, WHOLE_DIGITS, MOST_PLACES = 38, 20, 50
AMOUNT_DECIMALS = 4
"""Of amounts in currencies of their own: no minor unit has more."""


def typed_table(header: Sequence[str], rows: Iterable[Sequence[str]], texts: Sequence[str], digits: int) -> Any:
    """An Arrow table of the cells of a result.

    Parameters
    ----------
    header, rows : as they go into CSV
    texts : columns that are text whatever their name
    digits : decimals of the home currency

    Returns
    -------
    pyarrow.Table; an empty cell of a number is null
    """
    columns = list(zip(*rows, strict=True)) or [()] * len(header)
    arrays = [_array(name, cells, name in texts, digits) for name, cells in zip(header, columns, strict=True)]
    return pa.table(arrays, names=list(header))


def _figure_of(column: str) -> str:
    """The figure a column holds: `value linear` is a value, `roas_low` a bound of ROAS, `leads_full` leads."""
    return re.sub(r"_(low|high|full)$", "", column.partition(" ")[0])


def _array(column: str, cells: Sequence[str], is_text: bool, digits: int) -> Any:
    name = _figure_of(column)
    if not is_text and name in COUNTS:
        return pa.array([int(c) if c else None for c in cells], pa.int64())
    if not is_text and name in (*RATIOS, *CREDITS):
        return pa.array([float(c) if c else None for c in cells], pa.float64())
    if not is_text and name == "touched_at":
        return pa.array([datetime.fromisoformat(c) for c in cells], pa.timestamp("us", "UTC"))
    decimals = {"amount": AMOUNT_DECIMALS, **dict.fromkeys((*CLAIMED, *SHARES), 0), **dict.fromkeys(MONEY, digits)}
    if not is_text and name in decimals:
        return decimal_column(cells, decimals[name])
    return pa.array(cells, pa.string())


def decimal_column(cells: Sequence[str], usual: int = 0) -> Any:
    """An Arrow array of decimals, empty cells null, with as many places as the longest of them has and at least the
    usual: platforms state parts of conversions with any number."""
    values = [Decimal(c) if c else None for c in cells]
    places = max((-int(v.as_tuple().exponent) for v in values if v is not None), default=0)
    places = min(max(places, usual), MOST_PLACES)
    kind = pa.decimal128(WIDEST, places) if places <= WIDEST - WHOLE_DIGITS else pa.decimal256(2 * WIDEST, places)
    with localcontext() as context:
        context.prec = 2 * WIDEST
        step = Decimal(1).scaleb(-places)
        return pa.array([None if v is None else v.quantize(step) for v in values], kind)


def result_bytes(
    header: Sequence[str], rows: Iterable[Sequence[str]], format: str, texts: Sequence[str], digits: int
) -> bytes:
    """A result in one of `FORMATS`; see `typed_table`. In JSON Lines decimals are strings, as CSV has them."""
    if format == "csv":
        return table_text(header, rows).encode()
    if format == "xlsx":
        # The command starts without it.
        from .xlsx_out import workbook_bytes

        figures = {*COUNTS, *CREDITS, *CLAIMED, *SHARES, *MONEY, *RATIOS, "amount"}
        numbers = {column for column in header if _figure_of(column) in figures and column not in texts}
        return workbook_bytes("the results", header, rows, numbers)
    kept = list(rows)
    table = typed_table(header, kept, texts, digits)
    if format == "parquet":
        out = io.BytesIO()
        pq.write_table(table, out)
        return out.getvalue()
    plain = [pa.types.is_integer(field.type) or pa.types.is_floating(field.type) for field in table.schema]
    columns = [
        column.to_pylist() if number else cells
        for column, number, cells in zip(table.columns, plain, zip(*kept, strict=True), strict=False)
    ]
    lines = [json.dumps(dict(zip(header, row, strict=True)), ensure_ascii=False) for row in zip(*columns, strict=True)]
    return "".join(f"{line}\n" for line in lines).encode()
