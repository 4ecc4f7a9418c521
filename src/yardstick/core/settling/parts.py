"""Rows of a matter, by what they are of: touches, spend, records."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..base.columns import Flags, Ints
from .facts import Facts
from .matter import RowsOf


def by_number(codes: Ints, which: Ints) -> Iterator[tuple[int, Ints]]:
    """The numbers that some things have, ascending, and which of them have each; sorted once, however many there are.

    Parameters
    ----------
    codes : (n,) int64, the number of each thing
    which : (k,) int64, the things looked at, ascending
    """
    order = which[np.argsort(codes[which], kind="stable")]
    numbers, first = np.unique(codes[order], return_index=True)
    ends = [*first.tolist(), len(order)][1:]
    for number, begin, end in zip(numbers.tolist(), first.tolist(), ends, strict=True):
        yield number, order[begin:end]


def touches_part(facts: Facts, which: Ints) -> tuple[RowsOf, ...]:
    """Touches with what they have in the range under the linear yardstick: a visit's, the first of each; a captured
    set's, its record.

    Parameters
    ----------
    which : (k,) int64, numbers of touches and captured sets
    """
    touches, tables = facts.prepared.touches, facts.prepared.tables
    leads, count = len(tables.leads), facts.touch_count
    visits, sets = which[which < count], which[which >= count]
    # Two sets a lead, then the codes of leads, then those of conversions.
    of_set = sets - count
    is_sale = of_set >= 3 * leads
    row = np.where(of_set < 2 * leads, of_set // 2, np.where(is_sale, of_set - 3 * leads, of_set - 2 * leads))
    groups = [
        (tables.visits, touches.visit[visits], visits),
        (tables.leads, row[~is_sale], sets[~is_sale]),
        (tables.conversions, row[is_sale], sets[is_sale]),
    ]
    values = facts.touch_values
    return tuple(
        RowsOf(table, rows, touches.days[some], None if values is None else values[some], is_cut=True)
        for table, rows, some in groups
        if len(rows) or table is tables.visits
    )


def spend_part(facts: Facts, rows: Ints, own: bool = True) -> RowsOf:
    """Rows of spend with what they count for.

    Parameters
    ----------
    rows : (k,) int64, of the spend with further costs
    own : whether they are what the matter is of
    """
    return RowsOf(facts.prepared.spend, rows, facts.spend_days[rows], spends=facts.costs[rows], own=own)


def records_part(facts: Facts, numbers: Ints, before: Ints | None = None) -> tuple[RowsOf, ...]:
    """Records with what they count for.

    Parameters
    ----------
    numbers : (k,) int64, of conversions
    before : (k,) int64, the record to be seen beside each
    """
    conversions = facts.prepared.conversions
    out = []
    for is_lead in (True, False):
        mine: Flags = conversions.is_lead_row[numbers] == is_lead
        some = numbers[mine]
        if len(some):
            beside = None if before is None else conversions.row[before[mine]]
            row, days, values = conversions.row[some], facts.record_days[some], facts.record_values[some]
            out.append(RowsOf(facts.table_of_records(is_lead), row, days, values, beside=beside))
    return tuple(out)
