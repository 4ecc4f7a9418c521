"""Months whose invoice is not what the rows say (R18, R30)."""

from __future__ import annotations

from calendar import monthrange
from collections.abc import Iterator
from datetime import date

import numpy as np

from ...base.columns import Amounts, Ints, Text
from ...base.day_numbers import day_number
from ...base.money import to_home
from ...costs.accounts import accounts_of
from ...report.account_invoices import AccountOf
from ..facts import Facts
from ..matter import AmountsOf, FoundMatter, MatterKind, RowsOf


def _find(facts: Facts) -> Iterator[FoundMatter]:
    tables = facts.prepared.tables
    if not len(tables.invoices):
        return
    accounts = accounts_of(tables.spend, tables.invoices)
    for number, (platform, account) in enumerate(accounts.names):
        shown = AccountOf(facts.result, accounts, number)
        of_account = np.flatnonzero(accounts.spend == number)
        days = tables.spend.ints("day")[of_account]
        for month in sorted(shown.invoices):
            billed = shown.billed(month)
            first, last = _span(month)
            if billed is None or (facts.today is not None and facts.today <= last):
                continue
            mine = of_account[(days >= first) & (days <= last)]
            rows = sum(amount for day, amount in shown.by_day.items() if first <= day <= last)
            if abs(billed - rows) <= len(mine):
                continue
            amount = _in_home(facts, shown, abs(billed - rows), last)
            part = RowsOf(tables.spend, mine, tables.spend.ints("day")[mine].astype(np.int64))
            yield FoundMatter((platform, account, month), (part,), AmountsOf(np.array([last]), amount), first)


def _span(month: str) -> tuple[int, int]:
    year, number = int(month[:4]), int(month[5:7])
    return day_number(date(year, number, 1)), day_number(date(year, number, monthrange(year, number)[1]))


def _in_home(facts: Facts, shown: AccountOf, units: int, day: int) -> Ints:
    """A difference in the home currency, at the rate of the month's last day; without a rate it is 0."""
    money = facts.plan.money
    amounts, days = Amounts.of([(units, shown.digits)]), np.array([day], np.int64)
    rates = facts.prepared.read.rates
    return to_home(amounts, Text.of([shown.currency]), days, rates, money.home_currency, money.minor_digits)[0]


KIND = MatterKind(
    name="invoice_differs",
    station="gather",
    mendings=("load", "credit note"),
    rule="an invoice and the rows of its month differ by more than a minor unit a row",
    find=_find,
)
