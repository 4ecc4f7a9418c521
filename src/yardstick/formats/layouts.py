"""How a file that nobody has described is laid out: its encoding, delimiter, sheet, and the lines above its header."""

from __future__ import annotations

import codecs
import csv
import io
from collections import Counter
from collections.abc import Sequence
from pathlib import PurePath
from typing import BinaryIO

from .contents import content_of
from .csv_in import MOST_COLUMNS
from .encodings import Recoded, encoding_of, stated_delimiter
from .raw import Laid
from .workbooks import read_workbook, sheets_of
from .xlsx_in import MOST_BYTES

DELIMITERS = (",", ";", "\t", "|")
LOOKED_AT = 1 << 18
"""Bytes of a text that are looked at."""
LINES = 80
MOST_SHEETS = 6


def layout_of(file: str, stream: BinaryIO) -> tuple[Laid, list[str]]:
    """How a file is laid out, as far as its beginning tells.

    Returns
    -------
    tuple
        (layout, texts of the lines above the header)

    Raises
    ------
    FileProblem
        If it is a workbook that cannot be read.
    """
    stream.seek(0)
    suffix = PurePath(file).suffix.lower()
    if suffix in (".xlsx", ".xlsm"):
        return _of_workbook(file, stream.read(MOST_BYTES + 1))
    if suffix == ".parquet":
        return Laid(), []
    head = stream.read(LOOKED_AT)
    if suffix in (".jsonl", ".ndjson"):
        return Laid(_encoding(head)), []
    encoding = _encoding(head)
    stream.seek(0)
    text = _text(stream, encoding)
    lines = text.splitlines()[:LINES]
    stated = stated_delimiter(lines[0]) if lines else None
    if stated:
        lines = lines[1:]
    best = (0.0, stated or ",", 0)
    for delimiter in [stated] if stated else DELIMITERS:
        score, above = _header_at([_cells(line, delimiter) for line in lines])
        if score > best[0]:
            best = (score, delimiter, above)
    _, delimiter, above = best
    usual = delimiter in (",", ";", "\t") and not above
    return Laid(encoding, "" if stated or usual else delimiter, "", above), lines[:above]


def _encoding(head: bytes) -> str:
    """Empty for UTF-8 and for what says what it is; one that does not is judged by its bytes."""
    if encoding_of(head, ""):
        return ""
    if head[1::2].count(0) > len(head) // 6:
        return "utf-16-le"
    if head[::2].count(0) > len(head) // 6:
        return "utf-16-be"
    try:
        # The last character of what is looked at may be cut in two.
        codecs.getincrementaldecoder("utf-8")().decode(head, final=len(head) < LOOKED_AT)
    except UnicodeDecodeError:
        return "windows-1252"
    return ""


def _text(stream: BinaryIO, encoding: str) -> str:
    head = stream.read(LOOKED_AT)
    known = encoding_of(head, encoding)
    return (Recoded(stream, head, known).read(0) if known else head).decode("utf-8", "replace").removeprefix("\ufeff")


def _cells(line: str, delimiter: str) -> list[str]:
    try:
        return next(csv.reader(io.StringIO(line), delimiter=delimiter), [])
    except csv.Error:
        return line.split(delimiter)


def _header_at(rows: Sequence[Sequence[str]]) -> tuple[float, int]:
    """How much rows look like a table, and how many stand above its header."""
    widths = Counter(len(row) for row in rows if len(row) > 1)
    if not widths:
        return (0.5, 0) if rows else (0.0, 0)
    width, many = max(widths.items(), key=lambda item: (item[1] * min(item[0], 4), item[0]))
    for i, row in enumerate(rows):
        filled = [cell for cell in row if cell.strip()]
        if len(row) != width or len(filled) < max(2, 0.6 * width):
            continue
        below = [r for r in rows[i + 1 : i + 8] if len(r) == width]
        if not below and i + 1 < len(rows):
            continue
        if all(content_of([cell]).what in ("word", "nothing") for cell in filled) or i + 1 == len(rows):
            return many * min(width, 12) / max(1, len(rows)), i
    return many * min(width, 12) / max(1, len(rows)) / 2, 0


def _of_workbook(file: str, content: bytes) -> tuple[Laid, list[str]]:
    best: tuple[float, Laid, list[str]] = (-1.0, Laid(), [])
    names = sheets_of(file, content)
    for i, name in enumerate(names[:MOST_SHEETS]):
        rows = read_workbook(file, content, LINES, MOST_COLUMNS, sheet=name, above=LINES)
        width = max((j + 1 for row in rows for j, cell in enumerate(row) if cell.strip()), default=0)
        filled = [row[:width] for row in rows]
        while filled and not any(cell.strip() for cell in filled[-1]):
            filled.pop()
        # Cells of a sheet have no width of their own: a line of a title fills its first one.
        trimmed = [_trimmed(row) for row in filled]
        score, above = _header_at(trimmed)
        if score > best[0]:
            titles = [" ".join(cell for cell in row if cell.strip()) for row in filled[:above]]
            best = (score, Laid(sheet=name if i else "", skip_top=above), titles)
    return best[1], best[2]


def _trimmed(row: Sequence[str]) -> list[str]:
    width = max((i + 1 for i, cell in enumerate(row) if cell.strip()), default=0)
    return list(row[:width])
