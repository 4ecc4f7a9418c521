"""Workbooks out: one sheet, text as text (nothing in it is run), numbers as numbers where a cell holds them whole."""

from __future__ import annotations

import io
from collections.abc import Collection, Iterable, Sequence
from datetime import datetime
from decimal import Decimal, InvalidOperation
from typing import Any

from xlsxwriter import Workbook

from ..files.raw import FileProblem

MOST_ROWS = 1_048_576
"""Lines of a sheet, its header among them (ECMA-376)."""
MOST_DIGITS = 15
"""A cell's number is binary with as many sure digits; what has more stays text."""
LONGEST = 32_767
"""Characters of a cell (ECMA-376)."""
_MADE = datetime(2020, 1, 1)
"""Written as the day of making, so that the same rows are the same bytes."""


def workbook_bytes(
    name: str, columns: Sequence[str], rows: Iterable[Sequence[str]], numbers: Collection[str] = ()
) -> bytes:
    """A table as a workbook.

    Parameters
    ----------
    name : for messages
    columns : header
    rows : text per column
    numbers : columns whose cells are decimal numbers

    Returns
    -------
    bytes; the same for the same rows

    Raises
    ------
    FileProblem
        If a sheet does not hold so many rows.
    """
    out = io.BytesIO()
    options = {"in_memory": True, "constant_memory": True, "strings_to_formulas": False, "strings_to_urls": False}
    with Workbook(out, options) as book:
        book.set_properties({"created": _MADE})
        sheet = book.add_worksheet()
        formats: dict[int, Any] = {}
        for at, text in enumerate(columns):
            sheet.write_string(0, at, _plain(text))
        numeric = [column in numbers for column in columns]
        for line, row in enumerate(rows, 1):
            if line >= MOST_ROWS:
                raise FileProblem(f"{name}: a sheet holds {MOST_ROWS - 1:,} rows: take Parquet or CSV")
            for at, text in enumerate(row):
                number = _number(text) if numeric[at] else None
                if number is not None:
                    places = -int(number.as_tuple().exponent)
                    if places not in formats:
                        formats[places] = book.add_format({"num_format": "0." + "0" * places if places else "0"})
                    sheet.write_number(line, at, float(number), formats[places])
                elif text:
                    sheet.write_string(line, at, _plain(text))
    return out.getvalue()


def _number(text: str) -> Decimal | None:
    """A number that a cell holds whole."""
    try:
        number = Decimal(text)
    except InvalidOperation:
        return None
    return number if number.is_finite() and len(number.as_tuple().digits) <= MOST_DIGITS else None


def _plain(text: str) -> str:
    """Text as it can stand in a cell: no control characters, and no more than it holds."""
    if not text.isprintable():
        text = "".join(c for c in text if c >= " " or c in "\t\n")
    return text[:LONGEST]
