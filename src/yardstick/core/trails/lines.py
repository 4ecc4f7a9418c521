"""Lines of orders: which products an order is of, and in which proportion."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..base.columns import Ints, Text
from ..base.notes import Finding
from ..base.tables import Table
from ..base.words import collapse

_NARROW = 2**61
"""Totals that come to more are added up in Python's whole numbers (R29)."""


@dataclass(frozen=True)
class OrderLines:
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


def lines_of(lines: Table, sales: Table, leads: int) -> OrderLines:
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
        return OrderLines(none, Text.blank(0), np.empty(0, np.int64))
    ids = {value: row for row, value in enumerate(sales.text("conversion_id").trimmed().strings())}
    named, numbers = lines.text("conversion_id").trimmed(), lines.text("line_number").trimmed()
    order = np.array([ids.get(value, -1) for value in named.values], np.int64)[named.codes]
    # "2" stands before "10".
    ranked = sorted(range(len(numbers.values)), key=lambda i: (len(numbers.values[i]), numbers.values[i]))
    rank = np.empty(len(ranked), np.int64)
    rank[ranked] = np.arange(len(ranked))
    there = np.flatnonzero(order >= 0)
    by_number = there[np.lexsort((there, rank[numbers.codes[there]], order[there]))]
    place = np.stack([order[by_number], rank[numbers.codes[by_number]]])
    # Of rows with one number the later one holds.
    holds = np.append((place[:, 1:] != place[:, :-1]).any(axis=0), np.ones(min(1, len(by_number)), np.bool_))
    mine = by_number[holds]
    # One an order: lines of years may stand beside the orders of a month.
    unknown = np.flatnonzero(order < 0)
    first = unknown[np.unique(named.codes[unknown], return_index=True)[1]]
    findings = [_finding("lines_of_unknown_order", lines, row, "") for row in np.sort(first).tolist()]
    findings += [_finding("replaced_row", lines, row, "line") for row in np.sort(by_number[~holds]).tolist()]
    counts = np.bincount(leads + order[mine], minlength=len(none) - 1)
    offsets = np.concatenate([[0], np.cumsum(counts)]).astype(np.int64)
    own, said = sales.amounts("total"), lines.amounts("total")
    decimals = max(own.decimals, said.decimals)
    weight, total = said.at(decimals)[mine].copy(), own.at(decimals)
    if float(np.abs(weight.astype(np.float64)).sum()) >= _NARROW:
        weight = weight.astype(object)
    filled = np.flatnonzero(counts)
    if len(filled):
        begins = offsets[filled]
        sums, least = np.add.reduceat(weight, begins), np.minimum.reduceat(weight, begins)
        sale = filled - leads
        differs = own.known[sale] & np.asarray(total[sale] != sums, np.bool_)
        findings += [_finding("lines_differ_from_order", lines, row, "total") for row in mine[begins[differs]].tolist()]
        none_or_less = (least < 0) | (np.maximum.reduceat(weight, begins) == 0)
        alike = np.repeat(np.asarray(none_or_less, np.bool_), counts[filled])
        weight[alike] = 1
    return OrderLines(offsets, lines.text("product").map(collapse).take(mine), weight, tuple(findings))


def _finding(code: str, lines: Table, row: int, column: str) -> Finding:
    name = lines.text("conversion_id")[row].strip()
    return Finding(code, "warning", "order_lines", name, column, "", None, "", lines.file[row], int(lines.line[row]))
