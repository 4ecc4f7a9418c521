"""Everything about the rows that no window, range or yardstick changes.

Reading rows and turning money into the home currency depends on the data and on a few settings only, so it is done once
and kept while an analyst changes the rest.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..base.columns import Ints
from ..base.money import FINE
from ..base.notes import Finding, Rejected
from ..base.schema import CLICK
from ..base.tables import Table, Tables
from ..costs.clicks import CLICK_PRICES, Clicks, Priced, price_clicks, unpriced
from ..costs.further_costs import with_further_costs
from ..costs.spend import Costs, original_cost, read_spend
from ..credit.touch_columns import TouchColumns
from ..plan.costing_phase import Costing, Money
from ..plan.counting_phase import Goal, Trailing
from ..plan.reading_phase import Reading
from ..reading.arrivals import Arrivals
from ..reading.captured import Captured
from ..reading.roles import RoleTable
from ..trails.buckets import KnownBy
from ..trails.deals import Contacts
from ..trails.goals import Conversions
from ..trails.lines import OrderLines
from .read_rows import Quarantine, ReadRows, read_rows
from .record_worth import refused_rows
from .unrated import Unrated, unrated_rows


@dataclass(frozen=True)
class PreparedData:
    """See the module's text.

    `read` is what was read before any cost, most of whose parts stand here too; `spend` are the spend rows with those
    of further costs; `spend_campaign` are the numbers of their campaigns in `touches.fields`; `spend_touch` (s,) the
    touch that a spend row stands with, -1 for none.
    """

    read: ReadRows
    spend: Table
    rejected: tuple[Rejected, ...]
    unrated: tuple[Unrated, ...]
    findings: tuple[Finding, ...]
    touches: TouchColumns
    costs: Costs
    spend_campaign: Ints
    spend_touch: Ints

    @property
    def tables(self) -> Tables:
        """See `ReadRows`."""
        return self.read.tables

    @property
    def quarantine(self) -> Quarantine:
        """See `ReadRows`."""
        return self.read.quarantine

    @property
    def arrivals(self) -> Arrivals:
        """See `ReadRows`."""
        return self.read.arrivals

    @property
    def roles(self) -> RoleTable:
        """See `ReadRows`."""
        return self.read.roles

    @property
    def captured(self) -> Captured:
        """See `ReadRows`."""
        return self.read.captured

    @property
    def conversions(self) -> Conversions:
        """See `ReadRows`."""
        return self.read.conversions

    @property
    def goals(self) -> tuple[Goal, ...]:
        """See `ReadRows`."""
        return self.read.goals

    @property
    def known_by(self) -> KnownBy:
        """See `ReadRows`."""
        return self.read.known_by

    @property
    def contacts(self) -> Contacts:
        """See `ReadRows`."""
        return self.read.contacts

    @property
    def lines(self) -> OrderLines:
        """See `ReadRows`."""
        return self.read.lines

    @property
    def quarantined_value(self) -> int:
        """See `ReadRows`."""
        return self.read.quarantined_value


def prepare_data(
    tables: Tables, reading: Reading, trailing: Trailing, costing: Costing, money: Money, read: ReadRows | None = None
) -> PreparedData:
    """Read every row once (R1-R10, R17-R20).

    Parameters
    ----------
    tables : the data
    reading, trailing, costing, money : the parts of the plan it depends on
    read : what `read_rows` gave for the same tables and plan, if it is at hand

    Raises
    ------
    SettingsError
        If a channel rule cannot be understood.
    """
    read = read or read_rows(tables, reading, trailing, money)
    home = money.home_currency
    spend, bad_costs = with_further_costs(tables.spend, tables.other_costs, costing, home)
    spend, costs = read_spend(spend, read.rates, reading, money, costing.platforms)
    priced = _priced(read, spend, costs, reading, costing, money)
    spend, costs = priced.spend, priced.costs
    of_spend = np.where(costs.rest, FINE, costs.refused)
    days = spend.ints("day")
    touches = read.touches.beside(spend, costs, reading, costing.platforms)
    return PreparedData(
        read=read,
        spend=spend,
        rejected=(
            *read.rejected_leads,
            *bad_costs,
            *read.rejected_sales,
            *priced.rejected,
            *refused_rows(spend, of_spend, days, home),
        ),
        unrated=(
            *read.unrated,
            *(Unrated("spend", CLICK_PRICES, "", *one) for one in priced.unrated),
            *unrated_rows(spend, original_cost(spend)[0], of_spend, days, home),
        ),
        findings=(*costs.findings, *priced.findings, *read.findings),
        touches=touches,
        costs=costs,
        spend_campaign=touches.fields.spend("campaign"),  # type: ignore[arg-type]
        spend_touch=priced.touch,
    )


def _priced(read: ReadRows, spend: Table, costs: Costs, reading: Reading, costing: Costing, money: Money) -> Priced:
    """The spend with rows for clicks at a price (R19)."""
    if not costing.click_prices:
        return unpriced(spend, costs)
    touches, visits = read.touches, read.tables.visits
    by_click = np.flatnonzero(touches.kind[: touches.count] == CLICK)
    clicks = Clicks(by_click, touches.visit[by_click], touches.days[by_click], touches.at[by_click])
    return price_clicks(clicks, spend, costs, read.arrivals, read.roles, visits, read.rates, costing, reading, money)
