"""Finding records by what somebody knows of them: an id, an order number, an address, a phone, a code, a name."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags, Ints
from ..base.day_numbers import instant_text
from ..base.identifiers import phone_id
from ..base.masking import masked_email, masked_name, masked_phone
from ..base.schema import ROW_ID
from ..base.tables import Table
from ..base.words import fold
from ..plan.reading_phase import Reading
from .read_rows import ReadRows

TOKEN = "test token"
"""By what a visit of a test session is found, beside the columns of tables."""
LEAST = 2
"""Characters of a text that is looked for."""
MOST_FOUND = 20


@dataclass(frozen=True)
class FoundRecord:
    """A record that was found.

    Attributes
    ----------
    table, id : which it is; of visits the row leads to its person
    at : instant as ISO 8601 text in UTC
    what : goal of a record; empty for a visit
    field : the column it was found by
    shown : what stands there, masked where it is of a person
    """

    table: str
    id: str
    at: str
    what: str
    field: str
    shown: str


def find_records(read: ReadRows, reading: Reading, text: str) -> tuple[list[FoundRecord], int]:
    """Records by a text, and how many there are.

    Parameters
    ----------
    read : rows as read
    reading : what they were read by
    text : folded. An id, order number, code, visitor id or click mark is found by its beginning, an e-mail address by
        its beginning or whole, a phone by its digits from either end, a name by any part of it, a visit of a test
        session by the token in its address

    Returns
    -------
    The first `MOST_FOUND`, equal ones before others, those by their own id before others, leads and conversions before
    visits, the latest first; and the number of all
    """
    wanted = fold(text)
    if len(wanted) < LEAST:
        return [], 0
    none = np.empty(0, np.int64)
    best: list[tuple[bool, bool, bool, int, str, int, str]] = []
    number = 0
    for name in ("leads", "conversions", "visits"):
        table = getattr(read.tables, name)
        by_column = {c: f for c, f in _found_by(table, wanted) if f.any()}
        tokens = _of_test(read, reading, wanted) if name == "visits" else none
        if len(tokens):
            by_column[TOKEN] = np.isin(np.arange(len(table)), tokens)
        if not by_column:
            continue
        some = np.flatnonzero(np.logical_or.reduce(list(by_column.values())))
        number += len(some)
        own = ROW_ID[name]
        told = [table.text(c).test_folded(wanted, "is") for c in by_column if c != TOKEN]
        equal = np.logical_or.reduce([*told, by_column[TOKEN]] if TOKEN in by_column else told)[some]
        of_own = by_column[own][some] if own in by_column else np.zeros(len(some), np.bool_)
        at = table.ints("occurred_at")[some]
        # Of very many no more are looked at one by one than can be shown.
        first = np.lexsort((-at, ~of_own, ~equal))[:MOST_FOUND]
        for place in first.tolist():
            row = int(some[place])
            columns = [c for c in by_column if by_column[c][row]]
            exact = [c for c in columns if c == TOKEN or fold(table.text(c)[row]) == wanted]
            column = (exact or columns)[0]
            best.append((not exact, column != own, name == "visits", -int(at[place]), name, row, column))
    return [_found(read, name, row, column) for *_, name, row, column in sorted(best)[:MOST_FOUND]], number


def find_recent(read: ReadRows, since: int, until: int) -> tuple[list[FoundRecord], int]:
    """What came between two instants, as when somebody has just tried out a form or a till.

    Parameters
    ----------
    read : rows as read
    since, until : microseconds since 1970 in UTC, both included

    Returns
    -------
    The latest `MOST_FOUND`, and the number of all
    """
    found: list[tuple[int, str, int]] = []
    number = 0
    for name in ("leads", "conversions", "visits"):
        at = getattr(read.tables, name).ints("occurred_at")
        rows = np.flatnonzero((at >= since) & (at <= until))
        number += len(rows)
        latest = rows[np.argsort(-at[rows], kind="stable")][:MOST_FOUND]
        found += [(-int(at[row]), name, row) for row in latest.tolist()]
    return [_found(read, name, row, ROW_ID[name]) for _, name, row in sorted(found)[:MOST_FOUND]], number


def _of_test(read: ReadRows, reading: Reading, wanted: str) -> Ints:
    """Rows of visits whose address has the parameter of test sessions with this value: they are quarantined (R9)."""
    tests = np.flatnonzero(read.quarantine.visits)
    of_test = read.arrivals.url[tests]
    name = fold(reading.test_parameter)
    same = [
        url
        for url in np.unique(of_test).tolist()
        if any(key == name and fold(value) == wanted for key, value in read.arrivals.readings[url].stated)
    ]
    return tests[np.isin(of_test, same)]


_MASKED: dict[str, Callable[[str], str]] = {"email": masked_email, "phone": masked_phone, "name": masked_name}


def _found_by(table: Table, wanted: str) -> Iterator[tuple[str, Flags]]:
    """The columns of a table that are looked at, and the rows found by each."""
    for column in dict.fromkeys((ROW_ID[table.name], "lead_id", "code", "visitor_id", "click_id", "email")):
        if column in table.columns:
            yield column, table.text(column).test_folded(wanted, "begins")
    digits = phone_id(wanted)
    if "phone" in table.columns and len(digits) > LEAST:
        end = digits.removeprefix("+")
        rings = table.text("phone").map(phone_id)
        yield "phone", rings.test(lambda number: number.startswith(digits) or number.endswith(end))
    if "name" in table.columns:
        yield "name", table.text("name").test_folded(wanted, "contains")


def _found(read: ReadRows, name: str, row: int, field: str) -> FoundRecord:
    table = getattr(read.tables, name)
    at = instant_text(int(table.ints("occurred_at")[row]))
    number = row + (len(read.tables.leads) if name == "conversions" else 0)
    what = "" if name == "visits" else read.conversions.goal[number]
    id = table.text(ROW_ID[name])[row].strip()
    shown = id if field == TOKEN else _MASKED.get(field, str.strip)(table.text(field)[row])
    return FoundRecord(name, id, at, what, field, shown)
