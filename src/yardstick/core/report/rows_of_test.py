"""All that one test made: rows that carry the same identifiers, though test records join nobody (R6, R9)."""

from __future__ import annotations

import numpy as np

from ..base.columns import Flags, Text
from ..trails.people import KINDS
from .person_rows import TABLES, PersonRows
from .read_rows import ReadRows

MOST_ROWS = 500


def also_of_test(read: ReadRows, rows: PersonRows) -> tuple[PersonRows, int]:
    """Further rows that carry an identifier of a person's rows, where one side or the other is a test record.

    Parameters
    ----------
    read : rows as read
    rows : of a person; a test record is a person of its own

    Returns
    -------
    The rows in the order of time, `MOST_ROWS` at most, without their identifiers, and how many more were found: what is
    found with a test stands with all of its person's rows, and these with the tests that carry theirs. Beyond
    `MOST_ROWS` nothing further is looked for
    """
    persons = read.known.people.person
    mine = [np.zeros(len(of), np.bool_) for of in persons]
    for number, flags in enumerate(mine):
        flags[rows.row[rows.group == number]] = True
    begun = [flags.copy() for flags in mine]
    while sum(int(flags.sum()) for flags in mine) - len(rows) <= MOST_ROWS:
        found = [a & ~b for a, b in zip(_carry_the_same(read, mine), mine, strict=True)]
        whole = np.unique(np.concatenate([of[flags] for of, flags in zip(persons, found, strict=True)]))
        if not len(whole):
            break
        mine = [a | np.isin(of, whole) for a, of in zip(mine, persons, strict=True)]
    more = [np.flatnonzero(flags & ~before) for flags, before in zip(mine, begun, strict=True)]
    group = np.repeat(np.arange(len(TABLES)), [len(one) for one in more])
    row = np.concatenate(more)
    instants = (getattr(read.tables, name).ints("occurred_at")[one] for name, one in zip(TABLES, more, strict=True))
    order = np.lexsort((row, group, np.concatenate(list(instants))))[:MOST_ROWS]
    nothing = np.full((len(order), len(KINDS)), -1, np.int64)
    return PersonRows(group[order], row[order], (), nothing, np.empty(0, np.bool_)), len(row) - len(order)


def _carry_the_same(read: ReadRows, mine: list[Flags]) -> list[Flags]:
    """Rows that carry an identifier of the given ones, where either is a test record."""
    out = [np.zeros(len(flags), np.bool_) for flags in mine]
    tests = [np.flatnonzero(~identified.joins) for identified in read.identified]
    for kind, called in enumerate(KINDS):
        shared = {value for name, value, _ in read.known.people.shared if name == called}
        of_tests, of_others = (_values(read, kind, mine, test) - shared for test in (True, False))
        for group, identified in enumerate(read.identified):
            if kind not in identified.columns:
                continue
            # What a test carries is looked for everywhere, what others carry on tests alone: these are few.
            column = identified.columns[kind]
            if of_tests:
                out[group] |= _with(column, of_tests)
            if of_others and len(tests[group]):
                held = column.codes[tests[group]]
                same = [code for code in np.unique(held).tolist() if column.values[code] in of_others]
                out[group][tests[group]] |= np.isin(held, same)
    return out


def _with(column: Text, values: set[str]) -> Flags:
    return np.isin(column.codes, [code for code in column.codes_of(sorted(values)) if code >= 0])


def _values(read: ReadRows, kind: int, mine: list[Flags], test: bool) -> set[str]:
    """The identifiers of a kind on some rows, on those that are test records or on the others."""
    found: set[str] = set()
    for identified, flags in zip(read.identified, mine, strict=True):
        if kind in identified.columns:
            column = identified.columns[kind]
            here = flags & (~identified.joins if test else identified.joins)
            found.update(column.values[code] for code in np.unique(column.codes[here]).tolist())
    return found - {""}
