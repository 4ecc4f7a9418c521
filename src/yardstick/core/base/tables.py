"""The tables that go in, as columns."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import numpy.typing as npt

from .columns import NO_DAY, NO_INSTANT, Amounts, Codes, Flags, Ints, Text
from .schema import SCHEMA, Kind


@dataclass(frozen=True)
class Table:
    """One table as columns, each row with the file and line it came from.

    Attributes
    ----------
    name : key of `SCHEMA`
    columns : one array or column object per name in the schema
    file : (n,) text, name of the file each row came from
    line : (n,) int32, line in that file, the header being line 1
    load : (n,) int64, the number of the load each row came with; None where rows were never loaded
    """

    name: str
    columns: Mapping[str, Any]
    file: Text
    line: Codes
    load: Ints | None = None

    def __len__(self) -> int:
        return len(self.line)

    def text(self, name: str) -> Text:
        """A text column."""
        column = self.columns[name]
        assert isinstance(column, Text)
        return column

    def ints(self, name: str) -> Ints:
        """(n,) int64: instants in microseconds, days since 1970-01-01, counts, or codes of a closed list."""
        return np.asarray(self.columns[name]).astype(np.int64, copy=False)

    def flags(self, name: str) -> Flags:
        """(n,) bool."""
        return np.asarray(self.columns[name], dtype=np.bool_)

    def amounts(self, name: str) -> Amounts:
        """A column of exact decimals."""
        column = self.columns[name]
        assert isinstance(column, Amounts)
        return column

    def take(self, rows: npt.NDArray[Any]) -> Table:
        """The rows named by an index or mask array, in that order."""
        columns = {k: (c.take(rows) if isinstance(c, Text | Amounts) else c[rows]) for k, c in self.columns.items()}
        load = None if self.load is None else self.load[rows]
        return Table(self.name, columns, self.file.take(rows), self.line[rows], load)

    def joined(self, other: Table) -> Table:
        """This table's rows, then those of another of the same name."""
        columns: dict[str, Any] = {}
        for name, column in self.columns.items():
            more = other.columns[name]
            if isinstance(column, Text):
                columns[name] = Text.join([column, more])
            elif isinstance(column, Amounts):
                columns[name] = column.joined(more)
            else:
                columns[name] = np.concatenate([column, more])
        line = np.concatenate([self.line, other.line])
        load = None if self.load is None or other.load is None else np.concatenate([self.load, other.load])
        return Table(self.name, columns, Text.join([self.file, other.file]), line, load)


def blank_column(kind: Kind, length: int) -> Any:
    """A column of empty cells of one kind."""
    if kind in (Kind.TEXT, Kind.ADDRESS, Kind.CURRENCY):
        return Text.blank(length)
    if kind in (Kind.AMOUNT, Kind.COST, Kind.PRICE, Kind.RATE):
        return Amounts.unknown(length)
    if kind is Kind.INSTANT:
        return np.full(length, NO_INSTANT, np.int64)
    if kind in (Kind.DAY, Kind.MONTH):
        return np.full(length, NO_DAY, np.int32)
    if kind is Kind.COUNT:
        return np.full(length, -1, np.int64)
    return np.zeros(length, np.bool_ if kind is Kind.FLAG else np.int8)


def empty_table(name: str) -> Table:
    """A table without rows."""
    columns = {c.name: blank_column(c.kind, 0) for c in SCHEMA[name]}
    return Table(name, columns, Text.blank(0), np.empty(0, np.int32))


@dataclass(frozen=True)
class Tables:
    """Everything that goes into one weighing. Tables that are absent are empty.

    `data` names the rows, `origin` where each of them came from (R27).
    """

    visits: Table = field(default_factory=lambda: empty_table("visits"))
    leads: Table = field(default_factory=lambda: empty_table("leads"))
    conversions: Table = field(default_factory=lambda: empty_table("conversions"))
    spend: Table = field(default_factory=lambda: empty_table("spend"))
    other_costs: Table = field(default_factory=lambda: empty_table("other_costs"))
    refunds: Table = field(default_factory=lambda: empty_table("refunds"))
    statuses: Table = field(default_factory=lambda: empty_table("statuses"))
    deal_contacts: Table = field(default_factory=lambda: empty_table("deal_contacts"))
    order_lines: Table = field(default_factory=lambda: empty_table("order_lines"))
    rates: Table = field(default_factory=lambda: empty_table("rates"))
    invoices: Table = field(default_factory=lambda: empty_table("invoices"))
    ads: Table = field(default_factory=lambda: empty_table("ads"))
    data: str = ""
    origin: str = ""

    def named(self) -> dict[str, Table]:
        """The tables by name, in the order of `SCHEMA`."""
        return {name: getattr(self, name) for name in SCHEMA}
