"""Workbooks that hold nothing unusual, read by a reader that is several times as quick.

It holds a sheet as a block from its first cell to its furthest, and reads every number as a binary float. What that
would change is told by the parts of the workbook while they are unfolded (`workbooks`), and such a workbook is read
cell by cell: far cells, whole numbers of more than 15 digits, errors, texts in runs, times of a day without a day,
lengths of time, formats of numbers that may be either.
"""

from __future__ import annotations

import io
import re
from datetime import date, datetime
from typing import Any

MOST_PLACES = 5_500_000
"""Places of a sheet from its first to its furthest cell, filled or not: 200,000 rows of columns A to Z."""
_FAR_ROW = re.compile(rb'<c r="[A-Z]{1,3}([0-9]{5,7})"')
_FAR_COLUMN = re.compile(rb'<c r="([A-Z]{2,3})[0-9]')
_NO_PLACE = re.compile(rb'<c(?! r="[A-Z]{1,3}[0-9]{1,7}")[\s/>].{40}', re.DOTALL)
"""A cell that does not begin with its place, as spreadsheets write it; what a piece cuts off is in the next one."""
_NEAR_ROW, _NEAR_COLUMN = 9_999, 26
_UNUSUAL = (
    # A cell that is an error or a day as text; runs of text and how they are read; days counted from 1904; prefixes.
    *(b't="e"', b't="d"', b"t='", b"<r>", b"<r ", b"<rPh", b'date1904="1"', b'date1904="true"'),
    *(b":v>", b":c>", b":c "),
)
_ODD = re.compile(rb"<v>[-+]?[0-9]{16}"), re.compile(rb"_x[0-9A-Fa-f]{4}_")
"""Whole numbers of many digits; characters that are written as escapes."""
_TIMES = re.compile(rb'numFmtId="(?:1[89]|2[01]|4[567])"')
"""Formats of hours, minutes and seconds without a day."""
_FORMAT = re.compile(rb'formatCode="([^"]*)"')
_OF_DAYS = re.compile(r"(?i)(?=.*[yd])[ymdhs\-/:.,; \\@]+")
_OF_NUMBERS = re.compile(r"(?i)[^ymdhs\[]*")
FIRST_DAY = datetime(1901, 1, 1)


class Plainness:
    """Whether what is unfolded of a workbook holds nothing unusual."""

    def __init__(self) -> None:
        self._row, self._column = _NEAR_ROW, _NEAR_COLUMN
        self._odd = False

    def add(self, seen: bytes) -> None:
        """Look at a piece of a part, with the end of the piece before."""
        if self._odd:
            return
        self._odd = any(text in seen for text in _UNUSUAL) or any(odd.search(seen) for odd in (*_ODD, _NO_PLACE))
        if b"numFmt" in seen:
            codes = (found.decode("utf-8", "replace") for found in _FORMAT.findall(seen))
            usual = all(_OF_DAYS.fullmatch(code) or _OF_NUMBERS.fullmatch(code) for code in codes)
            self._odd = self._odd or not usual or bool(_TIMES.search(seen))
        self._row = max(self._row, *map(int, _FAR_ROW.findall(seen)), 0)
        for letters in set(_FAR_COLUMN.findall(seen)):
            column = 0
            for letter in letters:
                column = column * 26 + letter - 64
            self._column = max(self._column, column)

    @property
    def plain(self) -> bool:
        """Whether it does."""
        return not self._odd and self._column * self._row <= MOST_PLACES


def rows_of(content: bytes, sheet: str) -> list[list[Any]] | None:
    """The values of a sheet of a plain workbook, from the first row and column on; None where it cannot be read so.

    Parameters
    ----------
    content : the file
    sheet : its name as somebody wrote it; empty for the first
    """
    from python_calamine import CalamineWorkbook, SheetTypeEnum

    try:
        book = CalamineWorkbook.from_filelike(io.BytesIO(content))
        names = [one.name for one in book.sheets_metadata if one.typ == SheetTypeEnum.WorkSheet]
        wanted = [name for name in names if not sheet or name.strip().lower() == sheet.strip().lower()]
        rows: list[list[Any]] = book.get_sheet_by_name(wanted[0]).to_python(skip_empty_area=False)
    except Exception:
        return None
    except BaseException as problem:
        # What goes wrong inside the reader's own code comes as no ordinary error.
        if type(problem).__name__ == "PanicException":
            return None
        raise
    # An empty sheet has one empty cell, read either way.
    return (rows or [[""]]) if all(_is_usual(value) for row in rows for value in row) else None


def _is_usual(value: object) -> bool:
    if isinstance(value, datetime):
        return value >= FIRST_DAY
    return isinstance(value, str | float | bool | date | int)
