"""Finding records by what somebody knows of them: an id, an order number, an address, a phone, a code, a name."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from ..base.columns import Text
from ..base.day_numbers import instant_text
from ..base.identifiers import phone_id
from ..base.masking import masked_email, masked_name, masked_phone
from ..base.schema import ROW_ID
from ..base.words import fold
from .read_rows import ReadRows

LEAST = 2
"""Characters of a text that is looked for."""
MOST_FOUND = 20
Shown = Callable[[str], str]


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
    found: dict[tuple[str, int], tuple[bool, str, str]] = {}
    for name in ("leads", "conversions", "visits"):
        table = getattr(read.tables, name)
        for column, needle, holds, shown in _fields(name, wanted):
            if column not in table.columns:
                continue
            values = table.text(column)
            for row in np.flatnonzero(values.test_containing(needle, holds)).tolist():
                exact = fold(values[row]) == wanted
                before = found.get((name, row))
                if before is None or (exact and not before[0]):
                    found[name, row] = (exact, column, shown(values[row]))

    def rank(key: tuple[str, int]) -> tuple[bool, bool, bool, int]:
        name, row = key
        exact, column, _ = found[key]
        return (
            not exact,
            column != ROW_ID[name],
            name == "visits",
            -int(getattr(read.tables, name).ints("occurred_at")[row]),
        )

    first = sorted(found, key=rank)[:MOST_FOUND]
    return [_found(read, name, row, *found[name, row][1:]) for name, row in first], len(found)


def _fields(table: str, wanted: str) -> Iterator[tuple[str, str, Callable[[str], bool], Shown]]:
    """The columns of a table that are looked at, what is surely in those found, how, and how they are shown."""

    def begins(value: str) -> bool:
        return fold(value).startswith(wanted)

    digits = phone_id(wanted)

    def rings(value: str) -> bool:
        number = phone_id(value)
        return len(digits) > LEAST and (number.startswith(digits) or number.endswith(digits.removeprefix("+")))

    for column in dict.fromkeys((ROW_ID[table], "lead_id", "code", "visitor_id", "click_id")):
        yield column, wanted, begins, str.strip
    yield "email", wanted, begins, masked_email
    yield "phone", "", rings, masked_phone
    yield "name", wanted, lambda value: wanted in fold(value), masked_name


def _found(read: ReadRows, name: str, row: int, field: str, shown: str) -> FoundRecord:
    table = getattr(read.tables, name)
    ids: Text = table.text(ROW_ID[name])
    number = row + (len(read.tables.leads) if name == "conversions" else 0)
    what = "" if name == "visits" else read.conversions.goal[number]
    return FoundRecord(name, ids[row].strip(), instant_text(int(table.ints("occurred_at")[row])), what, field, shown)
