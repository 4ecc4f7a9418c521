"""In which order the days of a file are written, by all of its cells as far as they are needed to decide."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date
from typing import Any

import numpy as np
import pyarrow.compute as pc

from yardstick.core.plan.gathering_phase import DAY_FIRST, MONTH_FIRST, YEAR_FIRST

from ..cells.dates_in import iso_of
from ..files.raw import Lines

ORDERS = (YEAR_FIRST, DAY_FIRST, MONTH_FIRST)
ENOUGH = 1_000
"""Distinct days after which an order that no cell has gone against is not looked into further."""
_TIME = r"[\s,T]+\d{1,2}[:.h]\d{2}.*$"
"""The time beside a day does not tell its order, and makes nearly all cells distinct."""


@dataclass(frozen=True)
class Order:
    """What cells say of their order.

    Attributes
    ----------
    order : the one to read them in; empty for the usual one
    decides : the line that rules the other one out; 0 where none does
    question : what has to be said; empty where the cells decide
    line : the line that it is asked because of
    """

    order: str = ""
    decides: int = 0
    question: str = ""
    line: int = 0


@dataclass
class _Tally:
    """What was seen of days: per order the first line that cannot be read in it, and the span of those that can."""

    fails: dict[str, int] = field(default_factory=dict)
    spans: dict[str, tuple[str, str]] = field(default_factory=dict)
    days: int = 0
    short: bool = False
    example: tuple[str, int] = ("", 0)

    def add(self, cell: str, line: int) -> None:
        """Look at a distinct day."""
        if not any(c.isdigit() for c in cell):
            return
        readings = {order: iso_of(cell, order) for order in ORDERS}
        if not any(readings.values()):
            return
        self.days += 1
        digits = "".join(c if c.isdigit() else " " for c in cell)
        self.short = self.short or not any(len(part) >= 4 for part in digits.split())
        both = readings[DAY_FIRST], readings[MONTH_FIRST]
        if not self.example[1] and both[0] != both[1] and all(both):
            self.example = (cell, line)
        for order, reading in readings.items():
            if reading is None:
                self.fails.setdefault(order, line)
            else:
                low, high = self.spans.get(order, (reading, reading))
                self.spans[order] = (min(low, reading), max(high, reading))

    def is_settled(self) -> bool:
        """Whether further cells need not be looked at: what goes against the order then is named row by row."""
        left = [order for order in ORDERS if order not in self.fails]
        return self.days >= ENOUGH and (YEAR_FIRST in left or len(left) < 2) and not self.short


def order_of(columns: Iterable[tuple[Any, Lines]]) -> Order:
    """The order in which days are written.

    Parameters
    ----------
    columns : Arrow strings and the line of each row, piece by piece
    """
    tally = _Tally()
    for cells, lines in columns:
        days = pc.replace_substring_regex(pc.utf8_trim_whitespace(cells), _TIME, "")
        coded = days.dictionary_encode()
        codes, first = np.unique(coded.indices.to_numpy(zero_copy_only=False), return_index=True)
        for code, row in sorted(zip(codes.tolist(), first.tolist(), strict=True), key=lambda pair: pair[1]):
            tally.add(coded.dictionary[code].as_py(), int(lines[row]))
        if tally.is_settled():
            break
    return _said(tally)


def _said(tally: _Tally) -> Order:
    fails = dict(tally.fails)
    whole = [order for order in ORDERS if order not in fails]
    if tally.short and len(whole) > 1 and YEAR_FIRST in whole:
        # With years of two digits 03.01.26 may be of 2003: rows of an export lie together, not decades apart.
        lengths = {order: _days_between(*tally.spans[order]) for order in whole}
        others = [order for order in whole if order != YEAR_FIRST]
        whole = [YEAR_FIRST] if lengths[YEAR_FIRST] < min(lengths[order] for order in others) else others
    if YEAR_FIRST in whole or not tally.days:
        return Order()
    cell, line = tally.example
    if len(whole) == 1:
        other = MONTH_FIRST if whole[0] == DAY_FIRST else DAY_FIRST
        return Order(whole[0], decides=fails.get(other, 0))
    if whole and line:
        days = [iso_of(cell, order) for order in whole]
        text = f"Line {line} says {cell}: is that {' or '.join(day or '' for day in days)}?"
        return Order(DAY_FIRST, question=f"{text} No line has a day above 12 to decide.", line=line)
    if whole:
        return Order()
    # No order reads them all: the one that goes on longer is taken, and the rest is named row by row.
    order = DAY_FIRST if fails[DAY_FIRST] > fails[MONTH_FIRST] else MONTH_FIRST
    line = fails[order]
    text = f"The order of days changes: line {line} can only be read the other way. Which is right for this file?"
    return Order(order, question=text, line=line)


def _days_between(low: str, high: str) -> int:
    return (date.fromisoformat(high[:10]) - date.fromisoformat(low[:10])).days
