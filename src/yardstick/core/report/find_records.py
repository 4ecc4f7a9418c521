"""Finding records by what somebody knows of them: an id, an order number, an address, a phone, a code, a name."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags
from ..base.day_numbers import instant_text
from ..base.identifiers import phone_id
from ..base.masking import masked_email, masked_name, masked_phone
from ..base.schema import ROW_ID
from ..base.tables import Table
from ..base.words import fold
from .read_rows import ReadRows

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


def find_records(read: ReadRows, text: str) -> tuple[list[FoundRecord], int]:
    """Records by a text, and how many there are.

    Parameters
    ----------
    read : rows as read
    text : folded. An id, order number, code, visitor id or click mark is found by its beginning, an e-mail address by
        its beginning or whole, a phone by its digits from either end, a name by any part of it

    Returns
    -------
    The first `MOST_FOUND`, equal ones before others, those by their own id before others, leads and conversions before
    visits, the latest first; and the number of all
    """
    wanted = fold(text)
    if len(wanted) < LEAST:
        return [], 0
    best: list[tuple[bool, bool, bool, int, str, int, str]] = []
    number = 0
    for name in ("leads", "conversions", "visits"):
        table = getattr(read.tables, name)
        by_column = {c: f for c, f in _found_by(table, wanted) if f.any()}
        if not by_column:
            continue
        some = np.flatnonzero(np.logical_or.reduce(list(by_column.values())))
        number += len(some)
        own = ROW_ID[name]
        equal = np.logical_or.reduce([table.text(c).test_folded(wanted, "is") for c in by_column])[some]
        of_own = by_column[own][some] if own in by_column else np.zeros(len(some), np.bool_)
        at = table.ints("occurred_at")[some]
        # Of very many no more are looked at one by one than can be shown.
        first = np.lexsort((-at, ~of_own, ~equal))[:MOST_FOUND]
        for place in first.tolist():
            row = int(some[place])
            columns = [c for c in by_column if by_column[c][row]]
            exact = [c for c in columns if fold(table.text(c)[row]) == wanted]
            column = (exact or columns)[0]
            best.append((not exact, column != own, name == "visits", -int(at[place]), name, row, column))
    return [_found(read, name, row, column) for *_, name, row, column in sorted(best)[:MOST_FOUND]], number


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
    shown = _MASKED.get(field, str.strip)(table.text(field)[row])
    return FoundRecord(name, table.text(ROW_ID[name])[row].strip(), at, what, field, shown)
