"""Refunds (R10): what was given back of each order, by its own cell and by rows of `refunds`."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

import numpy as np

from ..base.columns import Amounts, Ints, narrow
from ..base.notes import Finding, Rejected
from ..base.tables import Table
from .standing import rows_that_stand


@dataclass(frozen=True)
class Refunded:
    """What was given back of each order, and what was noticed.

    Attributes
    ----------
    amount : (n,) per row of conversions, in its currency, not negative
    """

    amount: Amounts
    rejected: tuple[Rejected, ...]
    findings: tuple[Finding, ...]


def refunded_of(sales: Table, refunds: Table, home: str, stands: Ints | None = None) -> Refunded:
    """What was given back of each order.

    Parameters
    ----------
    sales, refunds : tables; a refund is in its order's currency, another is rejected
    home : home currency, which an empty one is
    stands : rows of `sales` that stand, against which refunds are held (R20); None = all

    Notes
    -----
    An amount below 0 is read without its sign, with a finding. An order whose total is below 0 is worth nothing, which
    is a finding, too: nobody has said whether it is a refund (R10).
    """
    own = sales.amounts("refunded")
    findings = _negative(sales, own, "conversion_id", "refunded") + _worth_nothing(sales)
    if not len(refunds):
        return Refunded(_without_sign(own), (), tuple(findings))
    ids = sales.text("conversion_id").trimmed()
    code = {value: at for at, value in enumerate(ids.values)}
    rows = range(len(sales)) if stands is None else stands.tolist()
    currency = {int(ids.codes[row]): sales.text("currency")[row] or home for row in rows}
    names, said = refunds.text("conversion_id"), refunds.text("currency")
    order = np.array([code.get(value.strip(), -1) for value in names.values], np.int64)[names.codes]
    order = np.array([at if at in currency else -1 for at in order.tolist()], np.int64)
    other = np.array(
        [at >= 0 and (said[row] or currency[at]) != currency[at] for row, at in enumerate(order.tolist())], np.bool_
    )
    rejected = []
    for row in np.flatnonzero(other).tolist():
        reason = f"the order is in {currency[int(order[row])]}: state the refund in that currency"
        where = (refunds.file[row], int(refunds.line[row]))
        rejected.append(Rejected("refunds", *where, "currency", said[row], reason))
    standing = rows_that_stand(refunds, other)
    findings += standing.findings
    amount = refunds.amounts("amount")
    decimals = max(own.decimals, amount.decimals)
    sums = [0] * len(ids.values)
    units = amount.at(decimals)
    stands = standing.rows[~other[standing.rows]]
    for row in stands.tolist():
        if order[row] >= 0:
            sums[int(order[row])] += abs(int(units[row]))
        else:
            findings.append(_finding("refund_of_unknown_order", refunds, row, "refund_id", "conversion_id", names[row]))
    kept = refunds.take(stands)
    findings += _negative(kept, kept.amounts("amount"), "refund_id", "amount")
    given = [abs(int(u)) + sums[c] for u, c in zip(own.at(decimals).tolist(), ids.codes.tolist(), strict=True)]
    return Refunded(Amounts(narrow(given), decimals, np.ones(len(given), np.bool_)), tuple(rejected), tuple(findings))


def refunded_if_standing(sales: Table, refunds: Table, home: str) -> Amounts:
    """(n,) what would have been given back of each row of `sales` if it were the one that stands, in its currency.

    What a row is worth after refunds decides whether it needs a rate, and so whether it can stand (R20).
    """
    own = _without_sign(sales.amounts("refunded"))
    ids = sales.text("conversion_id").trimmed()
    code = {value: at for at, value in enumerate(ids.values)}
    names, said = refunds.text("conversion_id"), refunds.text("currency")
    order = np.array([code.get(value.strip(), -1) for value in names.values], np.int64)[names.codes]
    mine = sales.text("currency").map(lambda text: text or home)
    amount = refunds.amounts("amount")
    decimals = max(own.decimals, amount.decimals)
    units, given = amount.at(decimals), own.at(decimals).tolist()
    for number, currency in enumerate(mine.values):
        rows = np.flatnonzero(mine.codes == number).tolist()
        other = ~said.test({"", currency}.__contains__)
        standing = rows_that_stand(refunds, other).rows
        sums: dict[int, int] = {}
        for row in standing[~other[standing] & (order[standing] >= 0)].tolist():
            sums[int(order[row])] = sums.get(int(order[row]), 0) + abs(int(units[row]))
        for row in rows if sums else ():
            given[row] += sums.get(int(ids.codes[row]), 0)
    return Amounts(narrow(given), decimals, np.ones(len(given), np.bool_))


def _without_sign(amounts: Amounts) -> Amounts:
    return Amounts(abs(amounts.units), amounts.decimals, amounts.known) if len(amounts) else amounts


def _negative(table: Table, amounts: Amounts, name: str, column: str) -> list[Finding]:
    below = np.flatnonzero((amounts.units < 0).astype(np.bool_)) if len(amounts) else np.empty(0, np.int64)
    return [_finding("negative_refund", table, row, name, column, "") for row in below.tolist()]


def _worth_nothing(sales: Table) -> list[Finding]:
    total = sales.amounts("total")
    below = np.flatnonzero((total.units < 0).astype(np.bool_)) if len(total) else np.empty(0, np.int64)
    texts = [format(Decimal(int(total.units[row])).scaleb(-total.decimals), "f") for row in below.tolist()]
    return [
        _finding("negative_total", sales, row, "conversion_id", "total", text)
        for row, text in zip(below.tolist(), texts, strict=True)
    ]


def _finding(code: str, table: Table, row: int, name: str, column: str, value: str) -> Finding:
    where = (table.file[row], int(table.line[row]))
    return Finding(code, "warning", table.name, table.text(name)[row].strip(), column, value, None, "", *where)
