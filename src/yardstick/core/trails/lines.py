"""Lines of orders: which products an order is of, and in which proportion."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..base.columns import Ints, Text, narrow
from ..base.notes import Finding
from ..base.tables import Table
from ..base.words import collapse


@dataclass(frozen=True)
class Lines:
    """The lines of every conversion, end to end.

    Attributes
    ----------
    offsets : (c + 1,) int64; the lines of conversion i are offsets[i] to offsets[i + 1], often none
    product : (m,) text, of each line
    weight : (m,) int64 or object, what the credit of an order is shared by among its lines; one is above 0 in each
    findings : lines of orders that are not there, orders whose lines come to something else
    """

    offsets: Ints
    product: Text
    weight: Ints
    findings: tuple[Finding, ...] = ()

    @cached_property
    def count(self) -> Ints:
        """(c,) int64, lines of each conversion."""
        return np.diff(self.offsets)


def lines_of(lines: Table, sales: Table, leads: int) -> Lines:
    """The lines of orders, in the order of their numbers.

    Parameters
    ----------
    lines : rows of `order_lines`
    sales : rows of `conversions`, one per id
    leads : rows of leads, which stand before them among the conversions and have no lines

    Notes
    -----
    The order's own total holds, so lines say only how it is shared: by their totals, equally if these are all 0 or one
    is negative.
    """
    none = np.zeros(leads + len(sales) + 1, np.int64)
    if not len(lines):
        return Lines(none, Text.blank(0), np.empty(0, np.int64))
    ids = {value.strip(): row for row, value in enumerate(sales.text("conversion_id").strings())}
    named = [name.strip() for name in lines.text("conversion_id").strings()]
    order = np.array([ids.get(name, -1) for name in named], np.int64)
    findings = [
        _finding("lines_of_unknown_order", lines, row, named[row], "") for row in np.flatnonzero(order < 0).tolist()
    ]
    numbers = [number.strip() for number in lines.text("line_number").strings()]
    # Of rows with one number the later one holds; "2" stands before "10".
    last = {(int(order[row]), numbers[row]): row for row in np.flatnonzero(order >= 0).tolist()}
    rows = sorted(last.values(), key=lambda row: (order[row], len(numbers[row]), numbers[row]))
    mine = np.array(rows, np.int64)
    passed = sorted(set(np.flatnonzero(order >= 0).tolist()) - set(rows))
    findings += [_finding("replaced_row", lines, row, named[row], "line") for row in passed]
    counts = np.bincount(leads + order[mine], minlength=len(none) - 1)
    offsets = np.concatenate([[0], np.cumsum(counts)]).astype(np.int64)
    own, said = sales.amounts("total"), lines.amounts("total")
    decimals = max(own.decimals, said.decimals)
    units = said.at(decimals)[mine]
    weight: list[int] = []
    for sale in np.unique(order[mine]).tolist():
        begin, end = offsets[leads + sale], offsets[leads + sale + 1]
        totals = [int(unit) for unit in units[begin:end]]
        if own.known[sale] and int(own.at(decimals)[sale]) != sum(totals):
            findings.append(_finding("lines_differ_from_order", lines, int(mine[begin]), named[mine[begin]], "total"))
        weight += [1] * len(totals) if min(totals) < 0 or not any(totals) else totals
    return Lines(offsets, lines.text("product").map(collapse).take(mine), narrow(weight), tuple(findings))


def _finding(code: str, lines: Table, row: int, name: str, column: str) -> Finding:
    return Finding(code, "warning", "order_lines", name, column, "", None, "", lines.file[row], int(lines.line[row]))
