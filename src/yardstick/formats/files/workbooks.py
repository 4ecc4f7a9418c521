"""XLSX in, with limits that hold before anything is read: a workbook is a zip archive, and 1 MiB of it can unfold to
gigabytes, name entities that unfold further, or one cell a million rows down."""

from __future__ import annotations

import hashlib
import io
import re
import zlib
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import date, datetime
from typing import Any
from zipfile import BadZipFile, ZipFile

from ..cells.floats import digits_of
from .plain_workbooks import Plainness, rows_of
from .raw import FileProblem

MOST_PARTS = 500
MOST_UNFOLDED = 32 * 1024 * 1024
"""Bytes all parts of a workbook may have, unfolded."""
MOST_TEXTS, MOST_CELLS, MOST_STYLES, MOST_ELEMENTS = 400_000, 1_000_000, 100_000, 5_000_000
MOST_DEEP = 1_000
"""Texts, cells, styles and elements of a workbook, and how deep they may be nested: each is far more work to read than
to write."""
_WINDOW = 4_096
_DECLARES = re.compile(rb"<\x00?!\x00?(?:D\x00?O\x00?C\x00?T|E\x00?N\x00?T)", re.IGNORECASE)
_CELL, _TEXT = re.compile(rb"<(?:\w+:)?c[\s/>]"), re.compile(rb"<(?:\w+:)?si[\s/>]")
_STYLE = re.compile(
    rb"<(?:\w+:)?(?:xf|font|fill|border|dxf|numFmt|cellStyle|definedName|Relationship|Override|Default|sheet)[\s/>]"
)
_ENCODING = re.compile(rb"""^<\?xml[^>]{0,200}?encoding\s*=\s*["']([^"']{0,40})""", re.IGNORECASE)
_ENCODINGS = ("utf-8", "utf-16", "us-ascii", "ascii", "iso-8859-1", "windows-1252")
_MOST_KEPT = 4
_Key = tuple[bytes, str, int, int, int]
_Sheet = tuple[list[list[str]], dict[tuple[int, int], bool]]
_kept: ContextVar[dict[_Key, _Sheet] | None] = ContextVar("kept", default=None)


@contextmanager
def reading_once() -> Iterator[None]:
    """Read each sheet once, however often it is asked for, until this is left."""
    before = _kept.set({})
    try:
        yield
    finally:
        _kept.reset(before)


def read_workbook(
    name: str,
    content: bytes,
    most_rows: int,
    most_columns: int,
    *,
    sheet: str = "",
    above: int = 0,
    typed: dict[tuple[int, int], bool] | None = None,
) -> list[list[str]]:
    """The cells of a sheet of a workbook, as text.

    Parameters
    ----------
    name : of the file, for messages
    content : the file
    most_rows, most_columns : how much of the sheet is read
    sheet : its name; empty for the first
    above : lines above the header, which may be of any width
    typed : filled with the places (line from 1, column from 0) of cells that are numbers, days or times

    Raises
    ------
    FileProblem
        If it is no workbook, or unpacks to more than one may.
    """
    kept = _kept.get()
    key = (hashlib.sha256(content).digest(), sheet, above, most_rows, most_columns)
    if kept is not None and key in kept:
        lines, places = kept[key]
    else:
        try:
            plain = _check(name, content)
            lines, places = _read(name, content, most_rows, most_columns, sheet, above, plain)
        except FileProblem:
            raise
        except (BadZipFile, KeyError, ValueError, OSError, IndexError, SyntaxError, TypeError):
            raise FileProblem(f"{name}: not readable as XLSX: save it again") from None
        except (zlib.error, EOFError, NotImplementedError, RuntimeError, AttributeError, RecursionError):
            raise FileProblem(f"{name}: not readable as XLSX: save it again") from None
        if kept is not None:
            kept[key] = lines, places
            for old in list(kept)[:-_MOST_KEPT]:
                del kept[old]
    if typed is not None:
        typed.update(places)
    return [*lines]


def _read(name: str, content: bytes, most_rows: int, most_columns: int, sheet: str, above: int, plain: bool) -> _Sheet:
    """See `read_workbook`; the cells, and the places of those that are numbers, days or times."""
    whole = rows_of(content, sheet) if plain else None
    rows = iter(_one_by_one(name, content, sheet, most_rows, most_columns) if whole is None else whole[:most_rows])
    top: list[list[str]] = []
    for row in rows:
        top.append([_cell(value) for value in row[:most_columns]])
        if len(top) > above and any(cell.strip() for cell in top[-1]):
            break
    # No row below needs more cells than the header has: each would be filled up to as many as are allowed.
    width = max((i + 1 for line in top for i, cell in enumerate(line) if cell.strip()), default=1)
    if whole is None:
        rows = iter(_one_by_one(name, content, sheet, most_rows, width, len(top)) if len(top) < most_rows else ())
    below: list[list[str]] = []
    typed: dict[tuple[int, int], bool] = {}
    for number, row in enumerate(rows, len(top) + 1):
        below.append([_cell(value) for value in row[:width]])
        typed.update(((number, i), True) for i, value in enumerate(row[:width]) if _is_typed(value))
    return [*(line[:width] for line in top), *below], typed


def _one_by_one(
    name: str, content: bytes, sheet: str, most_rows: int, width: int, after: int = 0
) -> Iterator[Sequence[Any]]:
    """The rows of a sheet after some, read cell by cell."""
    # Loaded with the first workbook that needs it: most that are read are plain.
    from openpyxl import load_workbook
    from openpyxl.utils.exceptions import InvalidFileException

    try:
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=True)
    except InvalidFileException as problem:
        raise ValueError(str(problem)) from problem
    found = _sheet(name, book, sheet)
    return iter(found.iter_rows(min_row=after + 1, max_row=most_rows, max_col=width, values_only=True))


def sheets_of(name: str, content: bytes) -> list[str]:
    """The names of the sheets of a workbook.

    Raises
    ------
    FileProblem
        If it is none, or unpacks to more than one may.
    """
    from openpyxl import load_workbook

    try:
        _check(name, content)
        return [sheet.title for sheet in load_workbook(io.BytesIO(content), read_only=True).worksheets]
    except FileProblem:
        raise
    except Exception:
        raise FileProblem(f"{name}: not readable as XLSX: save it again") from None


def _sheet(name: str, book: Any, called: str) -> Any:
    if not called:
        return book.worksheets[0]
    for sheet in book.worksheets:
        if sheet.title.strip().lower() == called.strip().lower():
            return sheet
    there = ", ".join(sheet.title for sheet in book.worksheets)
    raise FileProblem(f"{name}: there is no sheet {called!r}; its sheets are {there[:200]}")


def _is_typed(value: object) -> bool:
    return isinstance(value, int | float | date) and not isinstance(value, bool)


def _check(name: str, content: bytes) -> bool:
    """Unfold every part once, piece by piece, and stop where it is too much: stated sizes may be lies. Whether nothing
    in them is unusual."""
    unfolded = 0
    counted = _Counted(name)
    with ZipFile(io.BytesIO(content)) as archive:
        parts = archive.infolist()
        if len(parts) > MOST_PARTS:
            raise FileProblem(f"{name}: {len(parts):,} parts in one workbook: save it again")
        for part in parts:
            with archive.open(part) as stream:
                counted.begin(part.filename)
                while piece := stream.read(1 << 20):
                    unfolded += len(piece)
                    if unfolded > MOST_UNFOLDED:
                        said = f"unpacks to more than {MOST_UNFOLDED >> 20} MiB"
                        raise FileProblem(f"{name}: {said}: split it, or save it as CSV")
                    counted.add(piece)
    return counted.plainness.plain


class _Counted:
    """What the parts of a workbook hold that is costly to read. A part is XML by what it holds, whatever its name."""

    def __init__(self, name: str) -> None:
        self._name, self._elements = name, 0
        self._kinds = {
            "cells": (_CELL, MOST_CELLS),
            "distinct texts": (_TEXT, MOST_TEXTS),
            "styles": (_STYLE, MOST_STYLES),
        }
        self._found = dict.fromkeys(self._kinds, 0)
        self.plainness = Plainness()
        self.begin("")

    def begin(self, part: str) -> None:
        self._part, self._tail, self._deep = part[:60], b"", 0
        self._is_xml: bool | None = None

    def add(self, piece: bytes) -> None:
        # Two bytes a character are read as one each, so that one way of counting does for both.
        piece = piece.replace(b"\0", b"")
        if self._is_xml is None:
            head = piece[:600].lstrip(b"\xef\xbb\xbf\xfe\xff \t\r\n")
            self._is_xml = head.startswith(b"<")
            said = _ENCODING.search(head)
            if said and said[1].decode("latin-1").strip().lower() not in _ENCODINGS:
                raise FileProblem(f"{self._name}: {self._part} is in an encoding no spreadsheet uses: save it again")
        if not self._is_xml:
            return
        seen = self._tail + piece
        if _DECLARES.search(seen):
            raise FileProblem(f"{self._name}: {self._part} declares entities, which no spreadsheet does: save it again")
        self.plainness.add(seen)
        before, self._tail = self._tail, seen[-64:]
        for what, (kind, most) in self._kinds.items():
            # A tag that two pieces share is counted with the second, one that stands in both only once.
            self._found[what] += len(kind.findall(seen)) - len(kind.findall(before))
            self._refuse_more(self._found[what], most, what)
        self._elements += piece.count(b"<")
        self._refuse_more(self._elements, MOST_ELEMENTS, "elements")
        for at in range(0, len(piece), _WINDOW):
            window = piece[at : at + _WINDOW]
            closing = window.count(b"</")
            opening = window.count(b"<") - closing - window.count(b"<?") - window.count(b"<!")
            self._deep = max(0, self._deep + opening - closing - window.count(b"/>"))
            if self._deep > MOST_DEEP:
                raise FileProblem(f"{self._name}: {self._part} is nested far too deeply: save it again")

    def _refuse_more(self, there: int, most: int, what: str) -> None:
        if there > most:
            raise FileProblem(f"{self._name}: more than {most:,} {what}: split it, or save it as CSV")


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, datetime):
        return value.date().isoformat() if value.time() == datetime.min.time() else value.isoformat()
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, bool):
        return "true" if value else "false"
    # Nothing is below 0 that is 0.
    return digits_of(value + 0.0) or "" if isinstance(value, float) else str(value)
