"""What each account of a platform costs by day, in the home currency (R18, R21)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..base.columns import Ints, sums_by
from ..base.tables import empty_table
from ..costs.accounts import accounts_of
from ..costs.clicks import CLICK_PRICES
from ..costs.further_costs import OTHER_COSTS
from .prepared_data import PreparedData


@dataclass(frozen=True)
class AccountDays:
    """An account of a platform: its rows of spend with further costs, and minor units by day number, of every day that
    has rows."""

    platform: str
    account: str
    rows: Ints
    by_day: dict[int, int]


def account_days(prepared: PreparedData) -> list[AccountDays]:
    """Every account that has rows of spend; other costs and prices per click are of no platform."""
    platform = prepared.spend.text("platform")
    own = np.flatnonzero(~platform.test(lambda v: v in (CLICK_PRICES, OTHER_COSTS)))
    spend = prepared.spend.take(own)
    accounts = accounts_of(spend, empty_table("invoices"))
    days, cost = spend.ints("day"), prepared.costs.cost[own]
    out = []
    for number, names in enumerate(accounts.names):
        mine = np.flatnonzero(accounts.spend == number)
        there, which = np.unique(days[mine], return_inverse=True)
        sums = sums_by(which, cost[mine], len(there))
        out.append(AccountDays(*names, own[mine], dict(zip(there.tolist(), map(int, sums), strict=True))))
    return out
