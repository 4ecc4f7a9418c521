"""How a file that nobody has described is laid out: its encoding, delimiter, sheet, and the lines above its header."""

from __future__ import annotations

import codecs
import csv
import io
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import PurePath
from typing import BinaryIO

from ..cells.contents import content_of
from ..files.csv_in import MOST_COLUMNS
from ..files.encoding_guess import Candidate, candidates, first_changes, is_close
from ..files.encodings import Recoded, encoding_of, stated_delimiter
from ..files.raw import FileLayout
from ..files.workbooks import read_workbook, sheets_of
from ..files.xlsx_in import MOST_BYTES

DELIMITERS = (",", ";", "\t", "|")
LOOKED_AT = 1 << 18
"""Bytes of a text that are looked at."""
LINES = 80
MOST_SHEETS = 6


@dataclass
class Layout:
    """How a file is laid out, as far as its beginning tells.

    Attributes
    ----------
    laid : see `FileLayout`
    above : texts of the lines above the header
    encodings : others that it may be in, the one taken first; empty where one alone can be it
    hints : under each the first words that read otherwise
    """

    laid: FileLayout
    above: list[str] = field(default_factory=list)
    encodings: list[str] = field(default_factory=list)
    hints: list[str] = field(default_factory=list)


def layout_of(file: str, stream: BinaryIO, encoding: str = "") -> Layout:
    """How a file is laid out, as far as its beginning tells.

    Parameters
    ----------
    file : its name
    stream : its bytes
    encoding : the one it is in, if somebody said so

    Raises
    ------
    FileProblem
        If it is a workbook that cannot be read.
    """
    stream.seek(0)
    suffix = PurePath(file).suffix.lower()
    if suffix in (".xlsx", ".xlsm"):
        return Layout(*_of_workbook(file, stream.read(MOST_BYTES + 1)))
    if suffix == ".parquet":
        return Layout(FileLayout())
    head = stream.read(LOOKED_AT)
    found: list[Candidate] = []
    if not encoding:
        encoding, found = _encoding(head)
    close = [c for c in found[1:] if is_close(found[0], c)]
    others = [found[0].name, *(c.name for c in close)] if close else []
    hints = first_changes(found[0], close) if close else []
    if suffix in (".jsonl", ".ndjson"):
        return Layout(FileLayout(encoding), [], others, hints)
    stream.seek(0)
    text = _text(stream, encoding)
    lines = text.splitlines()[:LINES]
    stated = stated_delimiter(lines[0]) if lines else None
    if stated:
        lines = lines[1:]
    best = (0.0, stated or ",", 0)
    split = {d: [_cells(line, d) for line in lines] for d in ([stated] if stated else DELIMITERS)}
    for delimiter, rows in split.items():
        score, above = _header_at(rows)
        if score > best[0]:
            best = (score, delimiter, above)
    _, delimiter, above = best
    usual = delimiter in (",", ";", "\t") and not above
    headed = not _is_row(split[delimiter][above]) if len(split[delimiter]) > above else True
    laid = FileLayout(encoding, "" if stated or (usual and headed) else delimiter, "", above, headed)
    return Layout(laid, lines[:above], others, hints)


def _is_row(cells: Sequence[str]) -> bool:
    """Whether a first line names no columns but is a row: it has a day or an address, an e-mail, or amounts."""
    whats = [content_of([cell.strip()]).what for cell in cells if cell.strip()]
    return len(whats) > 1 and ("mail" in whats or whats.count("date") > 0 or whats.count("number") > 1)


def _encoding(head: bytes) -> tuple[str, list[Candidate]]:
    """Empty for UTF-8 and for what says what it is; of another, those its bytes may be, the likeliest first."""
    if encoding_of(head, ""):
        return "", []
    if len(head) >= 8 and head[1::4].count(0) + head[2::4].count(0) > len(head) // 3:
        return "utf-32-le" if head[3::4].count(0) > head[::4].count(0) else "utf-32-be", []
    if head[1::2].count(0) > len(head) // 6:
        return "utf-16-le", []
    if head[::2].count(0) > len(head) // 6:
        return "utf-16-be", []
    try:
        # The last character of what is looked at may be cut in two.
        codecs.getincrementaldecoder("utf-8")().decode(head, final=len(head) < LOOKED_AT)
    except UnicodeDecodeError:
        found = candidates(head)
        return (found[0].name if found else "windows-1252"), found
    return "", []


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
        alone = i + 1 == len(rows) and not any(len(r) == width for r in rows[:i])
        if all(content_of([cell]).what in ("word", "nothing") for cell in filled) or alone:
            return many * min(width, 12) / max(1, len(rows)), i
    return many * min(width, 12) / max(1, len(rows)) / 2, 0


def _of_workbook(file: str, content: bytes) -> tuple[FileLayout, list[str]]:
    best: tuple[float, FileLayout, list[str]] = (-1.0, FileLayout(), [])
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
            headed = not _is_row(trimmed[above]) if len(trimmed) > above else True
            best = (score, FileLayout(sheet=name if i else "", skip_top=above, headed=headed), titles)
    return best[1], best[2]


def _trimmed(row: Sequence[str]) -> list[str]:
    width = max((i + 1 for i, cell in enumerate(row) if cell.strip()), default=0)
    return list(row[:width])
