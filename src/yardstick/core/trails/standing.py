"""Which of several rows with one id stands (R20): the last that is not rejected."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags, Ints, Text
from ..base.notes import Finding
from ..base.schema import ROW_ID
from ..base.tables import Table


@dataclass(frozen=True)
class Standing:
    """The rows of a table that stand, and what was passed over.

    Attributes
    ----------
    rows : (m,) int64, ascending
    findings : one for every row that another row with its id took the place of
    """

    rows: Ints
    findings: tuple[Finding, ...]


def rows_that_stand(table: Table, rejected: Flags) -> Standing:
    """The rows of a table that count, one per id.

    Parameters
    ----------
    table : visits, leads or conversions, in the order in which rows were given (load, file, line)
    rejected : (n,) bool, rows that cannot be accepted

    Notes
    -----
    A rejected row never takes a good one away: the good one stands, whichever came last.
    """
    ids = table.text(ROW_ID[table.name]).trimmed().codes.astype(np.int64)
    good = np.flatnonzero(~rejected)
    if not len(ids) or (len(good) == len(ids) == int(ids.max()) + 1):
        return Standing(good, ())
    last = np.full(int(ids.max()) + 1, -1, np.int64)
    last[ids[good]] = good  # of several the last assignment holds, and rows are ascending
    stands = last[ids] == np.arange(len(ids))
    over = np.flatnonzero((last[ids] >= 0) & ~stands)
    notes = tuple(_passed_over(table, row, bool(rejected[row]), int(last[ids[row]])) for row in over.tolist())
    return Standing(np.flatnonzero(stands), notes)


def _passed_over(table: Table, row: int, rejected: bool, instead: int) -> Finding:
    """Code `replaced_row` where a later row holds, `passed_over` where the row itself could not be accepted."""
    name = ROW_ID[table.name]
    return Finding(
        "passed_over" if rejected else "replaced_row",
        "warning",
        table.name,
        table.text(name)[row].strip(),
        name,
        _where(table.file, instead, int(table.line[instead])),
        None,
        "",
        table.file[row],
        int(table.line[row]),
    )


def _where(file: Text, row: int, line: int) -> str:
    return f"{file[row]} line {line} stands"
