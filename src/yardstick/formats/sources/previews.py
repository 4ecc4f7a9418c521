"""The first rows of a file, as they came and as they will stand."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import BinaryIO

from yardstick.core.plan.gathering_phase import Source

from ..files.headers import AS_WRITTEN
from ..files.raw import USUAL, FileProblem, Header, RawBatch, TableFile, shown
from ..files.readers import open_table
from ..rows.columns import Typer
from .mapping import MappedFile, laid_of

ROWS = 10


@dataclass
class PreviewRow:
    """One row: its line, its cells as they came, as they will stand, or why it is rejected and in which column."""

    line: int
    came: list[str]
    stands: list[str]
    column: str
    reason: str


@dataclass
class Preview:
    """The first rows of a file.

    Attributes
    ----------
    names : of the columns, as they came
    columns, extra : as they will stand, ours and those kept besides; empty where the file cannot be read yet
    rows : the first ones
    """

    names: list[str]
    columns: list[str]
    extra: list[str]
    rows: list[PreviewRow]


class _Few:
    """A file of a few rows that were read already."""

    def __init__(self, plain: TableFile, rows: RawBatch) -> None:
        self.header: Header = plain.header
        self.header_lines = plain.header_lines
        self._rows = rows

    def batches(self) -> Iterator[RawBatch]:
        yield self._rows


def preview_of(file: str, stream: BinaryIO, source: Source | None, zone: str) -> Preview:
    """The first rows of a file.

    Parameters
    ----------
    file : its name
    stream : its bytes
    source : by which it is read; None for its own names
    zone : time zone of times without an offset

    Raises
    ------
    FileProblem
        If it is no table at all.
    """
    stream.seek(0)
    plain = open_table(file, stream, AS_WRITTEN, laid_of(source) if source else USUAL)
    first = next(iter(plain.batches()), None)
    if first is None:
        return Preview(list(plain.header.extra), [], [], [])
    few = RawBatch(
        {key: cells.slice(0, ROWS) for key, cells in first.columns.items()},
        first.lines[:ROWS],
        typed={key: cells.slice(0, ROWS) for key, cells in first.typed.items()},
    )
    names = list(plain.header.extra)
    came = [[shown(cell) for cell in row] for row in zip(*(c.to_pylist() for c in few.columns.values()), strict=True)]
    rows = [PreviewRow(int(line), cells, [], "", "") for line, cells in zip(few.lines, came, strict=True)]
    if source is None:
        return Preview(names, names, [], [replace(row, stands=row.came) for row in rows])
    try:
        mapped = MappedFile(_Few(plain, few), source)
        typed = Typer(mapped.header, source.time_zone or zone).read(next(iter(mapped.batches())))
    except FileProblem:
        return Preview(names, [], [], rows)
    cells = zip(*(array.to_pylist() for array in typed.raw.values()), strict=True)
    stands = dict(zip(typed.lines.tolist(), cells, strict=True))
    why = {r.line: r for r in typed.rejected}
    for row in rows:
        row.stands = [shown(cell) for cell in stands.get(row.line, ())]
        if row.line in why:
            row.column, row.reason = why[row.line].column, why[row.line].reason
        elif not row.stands:
            row.reason = "not a row: it is a sum"
    return Preview(names, list(mapped.header.columns), list(mapped.header.extra), rows)
