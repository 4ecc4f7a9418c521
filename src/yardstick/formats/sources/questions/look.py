"""What is looked at of a file before it is read: its columns, the first cells of each, and its last rows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from decimal import Decimal, InvalidOperation
from functools import cached_property
from typing import Any, BinaryIO

from yardstick.core.base.schema import SCHEMA, Kind
from yardstick.core.base.words import fold

from ...cells.contents import Content, content_of
from ...cells.numbers_in import number_of
from ...files.headers import AS_WRITTEN
from ...files.raw import USUAL, FileLayout, TableFile
from ...files.readers import open_table
from ..sum_rows import SumRow

LOOKED_AT = 3_000
"""Rows whose cells are looked at; for the order of days and for sums, all rows."""
DATES = (Kind.DAY, Kind.INSTANT, Kind.MONTH)
NUMBERS = (Kind.AMOUNT, Kind.COST, Kind.PRICE, Kind.RATE, Kind.COUNT)
MONEY = (Kind.AMOUNT, Kind.COST, Kind.PRICE)


@dataclass
class Look:
    """What was seen of a file.

    Attributes
    ----------
    file : its name
    names : of its columns, as written
    cells : the first of each column
    lines : the line of each of these rows
    tail : the last rows
    odd : the last lines that could not be split
    above : texts of the lines above the header
    laid : how it is laid out
    whole : whether all rows were looked at
    sums : rows that are the sum of others: see `sum_rows`; these and what follows as the whole file was read
    came, before : currencies of its rows, and of those that stood of its source before
    known : whether its source is remembered
    bad_days : days that could not be read
    first_day, last_day, stood, today : days since 1970: of its first and last row, of the last row that stood, and now
    below, worth_below, line_below : rows with an amount below 0, what they are worth, and the first line with one
    usual : what a row of its source cost before, 0 where none did
    strange : why it looks as if it came from elsewhere; empty where it does not
    """

    file: str
    names: tuple[str, ...]
    cells: list[list[str]]
    lines: list[int]
    tail: list[list[str]] = field(default_factory=list)
    odd: list[str] = field(default_factory=list)
    above: list[str] = field(default_factory=list)
    laid: FileLayout = USUAL
    whole: bool = True
    sums: list[SumRow] = field(default_factory=list)
    came: frozenset[str] = frozenset()
    before: frozenset[str] = frozenset()
    known: bool = False
    bad_days: list[str] = field(default_factory=list)
    first_day: int | None = None
    last_day: int | None = None
    stood: int | None = None
    today: int | None = None
    below: int = 0
    worth_below: Decimal = Decimal(0)
    line_below: int = 0
    usual: Decimal = Decimal(0)
    strange: str = ""

    @cached_property
    def contents(self) -> list[Content]:
        """What the cells of each column are."""
        return [content_of(cells[:500]) for cells in self.cells]

    def place(self, name: str) -> int:
        """The place of a column; -1 where there is none of that name."""
        return next((i for i, written in enumerate(self.names) if fold(written) == fold(name)), -1)

    def filled(self, at: int) -> list[str]:
        """The cells of a column that are not empty."""
        return [cell for cell in (c.strip() for c in self.cells[at]) if cell]

    def numbers(self, at: int, record: dict[str, Any]) -> list[Decimal | None]:
        """The cells of a column as numbers, as a record reads them; None where one is none."""
        decimal, thousands = record.get("decimal", "."), record.get("thousands", "")
        thousands = " " if thousands == "space" else thousands
        known: dict[str, Decimal | None] = {}
        for cell in set(self.cells[at]):
            text = cell.strip()
            found = number_of(text, decimal, thousands, True, "*") if 0 < len(text) < 60 else None
            try:
                known[cell] = None if found is None else Decimal(found)
            except InvalidOperation:
                known[cell] = None
        return [known[cell] for cell in self.cells[at]]

    def total(self, at: int, record: dict[str, Any]) -> Decimal:
        """The sum of a column, without rows that are the sum of others."""
        gone = {one.line for one in self.sums if one.out}
        rows = zip(self.lines, self.numbers(at, record), strict=True)
        return sum((number for line, number in rows if number is not None and line not in gone), Decimal(0))

    def says(self, at: int, record: dict[str, Any]) -> str:
        """A column's sum in words."""
        where = "" if self.whole else f" in its first {len(self.lines):,} rows"
        return f"{self.total(at, record):,f}{where}"


def look_at(file: str, stream: BinaryIO, laid: FileLayout, above: Sequence[str] = (), through: bool = False) -> Look:
    """Look at a file.

    Parameters
    ----------
    file : its name
    stream : its bytes
    laid : how it is laid out
    above : texts of the lines above the header
    through : whether it is read to its end, for its last rows
    """
    stream.seek(0)
    plain: TableFile = open_table(file, stream, AS_WRITTEN, laid)
    names = plain.header.extra
    out = Look(file, names, [[] for _ in names], [], above=list(above), laid=laid)
    for raw in plain.batches():
        more = LOOKED_AT - len(out.lines)
        out.whole = out.whole and len(raw) <= more
        if more > 0:
            for i, cells in enumerate(out.cells):
                cells += raw.columns[f"extra {i}"].slice(0, more).to_pylist()
            out.lines += raw.lines[:more].tolist()
        elif not through:
            break
        out.odd = [*out.odd, *(r.value for r in raw.rejected)][-5:]
        if len(raw):
            end = [raw.columns[f"extra {i}"].slice(max(0, len(raw) - 3)).to_pylist() for i in range(len(names))]
            out.tail = [list(row) for row in zip(*end, strict=True)]
    return out


def columns_of(look: Look, record: dict[str, Any]) -> dict[str, int]:
    """Which column of a file each column of the table is read from, as a record says and as names say themselves."""
    table = str(record["table"])
    own = {c.called: c.name for c in SCHEMA[table]}
    out: dict[str, int] = {}
    given: dict[str, Any] = dict(record.get("columns", {}))
    for name, written in given.items():
        at = look.place(str(written)) if written else -1
        if at >= 0:
            out[own.get(name, str(name))] = at
    for i, written in enumerate(look.names):
        column = own.get(fold(written).replace(" ", "_"), "")
        if column and column not in out and column not in given and i not in out.values():
            out[column] = i
    return out


def kinds_of(table: str) -> dict[str, Kind]:
    """Column of a table -> what it holds."""
    return {c.name: c.kind for c in SCHEMA[table]}


def called(table: str, column: str) -> str:
    """What files call a column of a table."""
    return next((c.called for c in SCHEMA[table] if c.name == column), column)
