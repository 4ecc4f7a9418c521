"""What a file comes to, gathered while it is read: its money, its days, the cells that could not be read."""

from __future__ import annotations

from collections import Counter
from decimal import Decimal, localcontext
from typing import Any

import numpy as np
import numpy.typing as npt
import pyarrow as pa
import pyarrow.compute as pc

from yardstick.core.base.columns import NO_DAY, NO_INSTANT
from yardstick.core.base.schema import SCHEMA, Kind
from yardstick.core.base.words import fold
from yardstick.core.costs.levels import LEVELS

from .columns import TypedBatch
from .keyed import Keys
from .worth import MONEY

MOST_CELLS = 2_000
"""Distinct cells that could not be read which are remembered."""
_EXACT = pa.decimal256(76, 40)
"""Room for what a cell may hold."""
DAY_US = 86_400_000_000
Account = tuple[str, str, int, str]


class Gist:
    """Gathers what a file comes to.

    Parameters
    ----------
    table : of its rows

    Attributes
    ----------
    money : currency, empty for the home currency -> sum of the column that says what rows are worth
    first, last : days since 1970 of the earliest and latest row, in UTC where rows are instants; None without any
    bad : (column, cell, reason) -> how many rows were rejected for it
    days : of spend, (group, day, currency, cost) a row
    accounts : of spend, see `accounts_of`
    by_day : (currency, day since 1970) -> sum, of rows that state a currency
    below, worth_below, line_below : rows that are worth less than 0, their sum, and the first line with one
    campaigns : of spend, names folded, the first of them
    """

    def __init__(self, table: str) -> None:
        self._table = table
        self._dated = next((c for c in SCHEMA[table] if c.kind in (Kind.DAY, Kind.INSTANT, Kind.MONTH)), None)
        self.money: dict[str, Decimal] = {}
        self.first: int | None = None
        self.last: int | None = None
        self.bad: Counter[tuple[str, str, str]] = Counter()
        self.bad_lines: dict[tuple[str, str, str], int] = {}
        self.days: list[tuple[npt.NDArray[np.uint64], Any, Any, Any]] = []
        self.accounts: set[Account] = set()
        self.by_day: dict[tuple[str, int], Decimal] = {}
        self.below = 0
        self.worth_below = Decimal(0)
        self.line_below = 0
        self.campaigns: set[str] = set()

    def add(self, batch: TypedBatch, keys: Keys) -> None:
        """Take in a batch."""
        for row in batch.rejected:
            key = (row.column, row.value, row.reason)
            if key in self.bad or len(self.bad) < MOST_CELLS:
                self.bad[key] += 1
                self.bad_lines.setdefault(key, row.line)
        if not len(batch):
            return
        if self._dated is not None:
            self._span(batch.columns[self._dated.name], self._dated.kind)
        if self._table in MONEY:
            cost = worth(self._table, batch.columns)
            currency = batch.columns.get("currency", pa.repeat(pa.scalar("", pa.string()), len(batch)))
            add_sums(self.money, sums_by(currency, cost))
            self._add_days(batch, currency, cost)
            self._add_below(batch, cost)
            if self._table == "spend":
                self.days.append((keys.group, batch.columns["day"], currency, cost))
                self.accounts |= accounts_of(batch.columns)
                if len(self.campaigns) < MOST_CELLS:
                    self.campaigns |= {fold(name) for name in pc.unique(batch.columns["campaign"]).to_pylist()}

    def _add_days(self, batch: TypedBatch, currency: Any, cost: Any) -> None:
        """Sums by currency and day, of rows that state one."""
        stated = pc.not_equal(currency, "")
        if self._dated is None or self._dated.kind is Kind.MONTH or not pc.any(stated).as_py():
            return
        days = batch.columns[self._dated.name]
        if self._dated.kind is Kind.INSTANT:
            days = pa.array(np.floor_divide(days.to_numpy(zero_copy_only=False), DAY_US))
        table = pa.table({"code": currency, "day": days, "cost": cost}).filter(stated)
        summed = table.group_by(["code", "day"]).aggregate([("cost", "sum")])
        rows = zip(*(summed[n].to_pylist() for n in ("code", "day", "cost_sum")), strict=True)
        with localcontext(prec=76):
            for code, day, total in rows:
                key = (code, int(day))
                self.by_day[key] = self.by_day.get(key, Decimal(0)) + (total or Decimal(0))

    def _add_below(self, batch: TypedBatch, cost: Any) -> None:
        negative = pc.less(cost, pa.scalar(Decimal(0), _EXACT))
        if not pc.any(negative).as_py():
            return
        some = cost.filter(negative)
        if not self.below:
            self.line_below = int(batch.lines[np.flatnonzero(negative.to_numpy(zero_copy_only=False))[0]])
        self.below += len(some)
        with localcontext(prec=76):
            self.worth_below += pc.sum(some).as_py() or Decimal(0)

    def _span(self, column: Any, kind: Kind) -> None:
        blank = NO_INSTANT if kind is Kind.INSTANT else NO_DAY
        known = column.filter(pc.not_equal(column, blank))
        if not len(known):
            return
        low, high = pc.min(known).as_py(), pc.max(known).as_py()
        if kind is Kind.INSTANT:
            low, high = low // DAY_US, high // DAY_US
        self.first = low if self.first is None else min(self.first, low)
        self.last = high if self.last is None else max(self.last, high)


def worth(table: str, columns: Any) -> Any:
    """What each row is worth, as Arrow decimals: as stated, of spend else clicks times their price."""
    stated = _decimals(columns[MONEY[table]])
    if table != "spend":
        return stated
    clicks, price = columns["clicks"], columns["click_price"]
    estimated = pc.and_(pc.equal(columns["cost"], ""), pc.not_equal(price, ""))
    if not pc.any(estimated).as_py():
        return stated
    counted = [max(0, n) for n in clicks.to_pylist()]
    with localcontext(prec=76):
        made = [Decimal(n) * Decimal(p or 0) for n, p in zip(counted, price.to_pylist(), strict=True)]
    return pc.if_else(estimated, pa.array(made, _EXACT), stated)


def _decimals(text: Any) -> Any:
    some = pc.if_else(pc.equal(text, ""), pa.scalar("0"), text)
    return pc.cast(some, _EXACT)


def add_sums(to: dict[str, Decimal], more: dict[str, Decimal]) -> None:
    """Add sums by name to others; exact."""
    with localcontext(prec=76):
        for name, total in more.items():
            to[name] = to.get(name, Decimal(0)) + total


def sums_by(names: Any, amounts: Any) -> dict[str, Decimal]:
    """Sums of Arrow decimals by name."""
    summed = pa.table({"name": names, "amount": amounts}).group_by("name").aggregate([("amount", "sum")])
    found = zip(summed["name"].to_pylist(), summed["amount_sum"].to_pylist(), strict=True)
    return {name: total or Decimal(0) for name, total in found}


def accounts_of(columns: Any) -> set[Account]:
    """(platform, account, day, level) of rows of spend, names folded; the level says which finer columns are filled."""
    names = ("platform", "account", "day")
    filled = [pc.not_equal(columns[level], "") for level in LEVELS]
    table = pa.table([*(columns[n] for n in names), *filled], names=[*names, *LEVELS])
    distinct = table.group_by([*names, *LEVELS]).aggregate([])
    rows = zip(*(distinct[n].to_pylist() for n in (*names, *LEVELS)), strict=True)
    return {(fold(r[0]), fold(r[1]), r[2], "".join("x" if level else "." for level in r[3:])) for r in rows}
