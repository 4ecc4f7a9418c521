"""Sources: where rows come from, and how their files are to be read."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from ..base.schema import SCHEMA

DATE_ORDERS = ("year month day", "day month year", "month day year", "unix seconds", "unix milliseconds")
"""How days and times are written; in the first three with any separators, in 12 or 24 hours."""
YEAR_FIRST, DAY_FIRST, MONTH_FIRST, SECONDS, MILLISECONDS = DATE_ORDERS
LEFT_OUT, KEPT = "leave out", "keep"
"""What becomes of rows that are no rows of their own."""
WEEK, MONTH = "week", "month"
REFUNDS = "refunds"
TAG_COLUMNS = tuple(f"utm_{name}" for name in ("source", "medium", "campaign", "term", "content", "id"))
"""What columns of visits may be besides those of the table: tags that are put into the address."""


@dataclass(frozen=True)
class Split:
    """A column of the file that holds several: its parts go into columns of the table, an empty name into none."""

    column: str
    by: str
    into: tuple[str, ...]


@dataclass(frozen=True)
class Join:
    """Columns of the file that make one of the table together."""

    into: str
    columns: tuple[str, ...]
    by: str = " "


@dataclass(frozen=True)
class Replacement:
    """A whole cell of a column of the table that stands for another."""

    column: str
    old: str
    new: str


@dataclass(frozen=True)
class Source:
    """Where rows come from.

    Attributes
    ----------
    name : what it is called; spend of one source replaces itself by whole days (R18)
    table : what its rows are
    kind, account, dialect : what it is, whose account, how its links write slots
    time_zone : of its days, and of times without an offset; empty for the workspace's
    currency : of its amounts, where rows say none
    click_mark : parameter that carries its click mark
    starts, ends : days between which it is expected to bring something
    expected_days : how many days late its newest day may be
    encoding, delimiter, sheet, skip_top : how its files are laid out
    headed : whether its files name their columns; without names these are *Column 1*, *Column 2*...
    total : rows whose first cell begins so are none
    sums : rows that are the sum of others: `LEFT_OUT`, `KEPT`, or empty where only those are left out that are so for
        sure
    date : one of `DATE_ORDERS`
    decimal, thousands : signs in numbers
    nothing : words for an empty cell
    currency_signs : whether amounts carry signs, which are dropped; codes beside them are read
    signs : (sign, currency) of signs that say a currency
    micros : whether costs are millionths
    period : `WEEK` or `MONTH` where a row of spend is one of that length, spread by day
    negative : what rows of conversions with an amount below 0 are: `REFUNDS`, `LEFT_OUT`, or empty for rows as others
    url_host : put before addresses that are a path
    columns : (column of the table, column of the file)
    constant : (column of the table, text) where a cell is empty or the file has no such column
    id : columns that tell a row, where it has no id
    split, join, replace : see there
    answers : (question, answer) of what was asked of its files and said
    """

    name: str
    table: str
    kind: str = ""
    account: str = ""
    time_zone: str = ""
    currency: str = ""
    dialect: str = ""
    click_mark: str = ""
    starts: date | None = None
    ends: date | None = None
    expected_days: int = 2
    encoding: str = ""
    delimiter: str = ""
    sheet: str = ""
    skip_top: int = 0
    headed: bool = True
    total: str = ""
    sums: str = ""
    date: str = YEAR_FIRST
    decimal: str = "."
    thousands: str = ""
    nothing: tuple[str, ...] = ()
    currency_signs: bool = False
    signs: tuple[tuple[str, str], ...] = ()
    micros: bool = False
    period: str = ""
    negative: str = ""
    url_host: str = ""
    columns: tuple[tuple[str, str], ...] = ()
    constant: tuple[tuple[str, str], ...] = ()
    id: tuple[str, ...] = ()
    split: tuple[Split, ...] = ()
    join: tuple[Join, ...] = ()
    replace: tuple[Replacement, ...] = ()
    answers: tuple[tuple[str, str], ...] = ()

    @property
    def asks_for(self) -> tuple[str, ...]:
        """The columns of a file that it names, each once, in order."""
        names = [written for _, written in self.columns if written]
        names += [s.column for s in self.split]
        names += [name for j in self.join for name in j.columns]
        ours = {c.called for c in SCHEMA.get(self.table, ())} | {c.name for c in SCHEMA.get(self.table, ())}
        names += [name for name in self.id if name not in ours]
        return tuple(dict.fromkeys(names))


@dataclass(frozen=True)
class KeptList:
    """A list of records under a name: what is asked, as it stands in the list's address."""

    name: str
    asked: str = ""


@dataclass(frozen=True)
class SaidOfMatter:
    """What was said of a matter (R30).

    Attributes
    ----------
    kind, object, first_day : its key; the parts of an object stand with ` / ` between them
    accepted_reason, accepted_until, accepted_rows : why it may stay, until which day, and how many rows it had; empty
        and None = it is open. It opens again after the day, or where its rows have doubled
    whose, note : who sees to it, and what else is to be known
    """

    kind: str
    object: str
    first_day: date | None = None
    accepted_reason: str = ""
    accepted_until: date | None = None
    accepted_rows: int | None = None
    whose: str = ""
    note: str = ""


@dataclass(frozen=True)
class Gathering:
    """Where rows come from, and lists of them: those that are kept, what people must have agreed to so that a list
    names them (R37; empty: it names everybody), and what was said of matters. No figure depends on it: a row was read
    when it was kept."""

    sources: tuple[Source, ...] = ()
    record_lists: tuple[KeptList, ...] = ()
    list_purpose: str = ""
    said_of_matters: tuple[SaidOfMatter, ...] = ()
