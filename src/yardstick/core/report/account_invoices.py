"""An account's rows beside its invoices, in the currency of the account (R18, R30)."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction

import numpy as np

from ..base.day_numbers import day_text
from ..base.tables import Table, Tables
from ..costs.accounts import Accounts
from ..costs.further_costs import currency_digits
from .invoices import rows_of_account
from .weigh import Result


def month_of(day: int) -> str:
    """The month of a day, as `2026-03`."""
    return day_text(day)[:7]


@dataclass(frozen=True)
class Billed:
    """What an invoice says."""

    amount: Fraction
    currency: str


class AccountOf:
    """One account: its currency, its rows by day, and its invoices by month, in minor units.

    Parameters
    ----------
    result : of any question about the workspace
    accounts : whose rows are
    number : of the account; -1 for one that has nothing
    """

    def __init__(self, result: Result, accounts: Accounts, number: int) -> None:
        plan, tables = result.plan, result.prepared.tables
        home = plan.money.home_currency
        mine = np.flatnonzero(accounts.spend == number)
        spend = tables.spend.take(mine)
        billed = np.flatnonzero(accounts.invoices == number).tolist()
        self.currency = currency_of(spend, tables, billed) or home
        self.digits = currency_digits(self.currency)
        campaign = result.prepared.spend_campaign[: len(tables.spend)][mine]
        self.rows = rows_of_account(spend, campaign, self.currency, self.digits, home, plan.reading, plan.costing)
        self.by_day = self.rows.by_day()
        amount, months = tables.invoices.amounts("amount"), tables.invoices.ints("month")
        self.invoices: dict[str, Billed] = {}
        for row in billed:
            exact = Fraction(int(amount.units[row]), 10**amount.decimals)
            currency = tables.invoices.text("currency")[row] or home
            self.invoices[month_of(int(months[row]))] = Billed(exact, currency)

    def decimal(self, units: int) -> str:
        """Minor units as a decimal."""
        return f"{Decimal(units).scaleb(-self.digits):f}"

    def billed(self, month: str) -> int | None:
        """What an invoice in the account's currency says, in minor units."""
        one = self.invoices.get(month)
        return None if one is None or one.currency != self.currency else round(one.amount * 10**self.digits)

    def foreign(self, month: str) -> Billed | None:
        """An invoice in another currency than the account's rows."""
        one = self.invoices.get(month)
        return None if one is None or one.currency == self.currency else one


def currency_of(spend: Table, tables: Tables, billed: list[int]) -> str:
    """The currency that most rows of an account have, else that of its latest invoice."""
    codes = spend.text("currency").codes
    if len(codes):
        return spend.text("currency").values[int(np.bincount(codes).argmax())]
    return tables.invoices.text("currency")[billed[-1]] if billed else ""
