"""The invoice of an account and month beside what its rows say, and what became of them."""

from __future__ import annotations

import csv
import io
from calendar import monthrange
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from fractions import Fraction

import numpy as np

from yardstick.core.base.day_numbers import day_number
from yardstick.core.base.days import local_days
from yardstick.core.base.errors import SettingsError
from yardstick.core.base.tables import Tables
from yardstick.core.base.words import fold
from yardstick.core.costs.accounts import accounts_of
from yardstick.core.costs.further_costs import OTHER_COSTS
from yardstick.core.report.account_invoices import AccountOf, Billed, month_of
from yardstick.core.report.invoices import (
    Against,
    InvoiceDay,
    Met,
    hold_against,
    patterns,
)
from yardstick.core.report.unrated import WithoutRate, without_rate
from yardstick.core.report.weigh import Result
from yardstick.formats.cells.cells import BadCell, amount_cell, currency_cell, minor_digits, month_cell

from ..weigh.weigh_board import BoardQuestion, NothingYet, Weighing
from ..workspace.desk import Desk
from .keep_files import keep_now

TYPED = "typed invoice"


@dataclass(frozen=True)
class AccountMonth:
    """A month of an account: what its rows and its invoice say, decimals in its currency; empty where there is none."""

    platform: str
    account: str
    month: str
    currency: str
    rows: str
    invoice: str
    difference: str


@dataclass
class UnmetSpend:
    """Spend that met no touch: why, of which campaign, on how many days."""

    reason: str
    campaign: str
    days: int
    amount: str


@dataclass
class DayOfInvoice:
    """A day of the month: decimals, and whether it is missing though others have rows."""

    day: str
    amount: str
    met: str
    rest: str
    credits: str
    rows: int
    missing: bool


@dataclass
class Invoice:
    """An account's month. Amounts are decimals in its currency, `other_costs` in the home currency.

    Attributes
    ----------
    invoice, difference : as billed, and that less what the rows say; empty without an invoice
    rows : reported + rest + estimated + credits = met + not met
    reported, rest, estimated, credits, met : see `core.report.invoices.Against`
    unmet : what met no touch, and why
    days : of the month
    missing : how many of them have no rows
    other_costs : what the plan and files say of costs that no platform bills, in the month
    patterns : what the difference looks like
    other_currency : rows in another currency
    without_rate : what of its rows is in no figure because no exchange rate holds for its day
    """

    platform: str
    account: str
    month: str
    currency: str
    zone: str
    invoice: str
    difference: str
    rows: str
    reported: str
    rest: str
    estimated: str
    credits: str
    met: str
    other_costs: str
    home_currency: str
    missing: int
    other_currency: int
    unmet: list[UnmetSpend] = field(default_factory=list)
    days: list[DayOfInvoice] = field(default_factory=list)
    patterns: list[str] = field(default_factory=list)
    without_rate: list[WithoutRate] = field(default_factory=list)


def account_months(weighing: Weighing) -> list[AccountMonth]:
    """Every month of every account that has rows or an invoice, the latest first."""
    try:
        result, _ = weighing.result(BoardQuestion())
    except NothingYet:
        return []
    tables = result.prepared.tables
    accounts = accounts_of(tables.spend, tables.invoices)
    out = []
    for number, names in enumerate(accounts.names):
        shown = AccountOf(result, accounts, number)
        rows: dict[str, int] = dict.fromkeys(shown.invoices, 0)
        for day, amount in shown.by_day.items():
            rows[month_of(day)] = rows.get(month_of(day), 0) + amount
        for month, total in rows.items():
            billed = shown.billed(month)
            difference = "" if billed is None else shown.decimal(billed - total)
            cells = shown.decimal(total), "" if billed is None else shown.decimal(billed), difference
            out.append(AccountMonth(*names, month, shown.currency, *cells))
    return sorted(out, key=lambda m: (m.month, m.platform, m.account), reverse=True)


def read_invoice(weighing: Weighing, platform: str, account: str, month: str) -> Invoice:
    """An account's month; see `Invoice`.

    Raises
    ------
    SettingsError
        If the month is none.
    NothingYet
        If nothing was loaded yet.
    """
    first, last = _days(month)
    everything, _ = weighing.result(BoardQuestion())
    plan, tables = everything.plan, everything.prepared.tables
    accounts = accounts_of(tables.spend, tables.invoices)
    number = accounts.number(platform, account)
    shown = AccountOf(everything, accounts, number)
    begins, ends = day_number(first), day_number(last)
    of_month, _ = weighing.result(BoardQuestion(report_from=first, report_to=last))
    met = Met(
        set(of_month.met_campaigns().tolist()),
        set(everything.met_campaigns().tolist()),
        set(np.unique(local_days(tables.visits.ints("occurred_at"), plan.reading.time_zone)).tolist()),
    )
    against = hold_against(shown.rows, begins, ends, met)
    billed, foreign = shown.billed(month), shown.foreign(month)
    zone = next((p.time_zone for p in plan.costing.platforms if fold(p.name) == fold(platform)), "")
    zone = zone or plan.reading.time_zone
    names = accounts.names[number] if number >= 0 else (platform, account)
    out = _shown(names, shown, against, month, billed, zone)
    out.home_currency = plan.money.home_currency
    key = (fold(names[0]), fold(names[1]))
    of_account = [row for row in everything.prepared.unrated if (fold(row.platform), fold(row.account)) == key]
    out.without_rate = without_rate(of_account, begins, ends)
    out.other_costs = f"{Decimal(_further(of_month)).scaleb(-plan.money.minor_digits):f}"
    rates = _rates(tables, shown.currency, begins, ends)
    if foreign is not None:
        out.patterns = [_in_other_currency(shown, against.rows, foreign, rates)]
    if billed is not None:
        months = [m for m in shown.invoices if m != month and shown.billed(m) is not None]
        others = [
            (shown.billed(other) or 0, sum(a for day, a in shown.by_day.items() if month_of(day) == other))
            for other in months
        ]
        out.patterns = patterns(billed, against, shown.by_day, begins, ends, others, rates, shown.currency, zone)
    return out


def _in_other_currency(shown: AccountOf, rows: int, billed: Billed, rates: dict[str, Fraction]) -> str:
    """What an invoice in another currency than the rows means."""
    digits = minor_digits(billed.currency)
    said = f"The invoice says {float(billed.amount):.{digits}f} {billed.currency}, the rows are {shown.currency}"
    mine = Fraction(rows, 10**shown.digits)
    if mine and abs(billed.amount / mine - 1) < Fraction(1, 10_000):
        return f"{said}, and the amounts are the same: one of the two currencies is set wrongly"
    rate = rates.get(f"{shown.currency} in {billed.currency}")
    if mine and rate and abs(billed.amount / (mine * rate) - 1) < Fraction(1, 50):
        return f"{said}: at {float(rate):.4f}, the rate of the month, they agree within 2 %"
    return f"{said}: they cannot be compared to the cent"


def type_invoice(desk: Desk, platform: str, account: str, month: str, amount: str, currency: str) -> None:
    """Keep what an invoice says, as a row of its own that can be undone like every load.

    Raises
    ------
    SettingsError
        If the month, amount or currency cannot be read, or the platform is missing.
    """
    try:
        _days(month)
        month_cell(month)
        code = currency_cell(currency.strip())
        if amount_cell(amount.strip()) is None:
            raise SettingsError("amount: write what the invoice says, as 1234.56")
    except BadCell as problem:
        raise SettingsError(f"invoice: {problem}") from None
    if not platform.strip():
        raise SettingsError("platform: say whose invoice it is")
    text = io.StringIO()
    rows = csv.writer(text)
    rows.writerow(["platform", "account", "month", "amount", "currency"])
    rows.writerow([platform, account, month, amount.strip(), code])
    keep_now(desk, [(f"{TYPED} {platform} {month}.csv", text.getvalue().encode())])


def _shown(
    names: tuple[str, str], account: AccountOf, against: Against, month: str, billed: int | None, zone: str
) -> Invoice:
    decimal = account.decimal

    def day_of(day: InvoiceDay) -> DayOfInvoice:
        amounts = (decimal(day.amount), decimal(day.met), decimal(day.rest), decimal(day.credits))
        return DayOfInvoice(day.day, *amounts, day.rows, day.missing)

    return Invoice(
        platform=names[0],
        account=names[1],
        month=month,
        currency=account.currency,
        zone=zone,
        invoice="" if billed is None else decimal(billed),
        difference="" if billed is None else decimal(billed - against.rows),
        rows=decimal(against.rows),
        reported=decimal(against.reported),
        rest=decimal(against.rest),
        estimated=decimal(against.estimated),
        credits=decimal(against.credits),
        met=decimal(against.met),
        other_costs="",
        home_currency="",
        missing=sum(day.missing for day in against.days),
        other_currency=against.other_currency,
        unmet=[UnmetSpend(u.reason, u.campaign, u.days, decimal(u.amount)) for u in against.unmet],
        days=[day_of(day) for day in against.days],
    )


def _further(result: Result) -> int:
    """What other costs come to in the range, minor units of the home currency."""
    other = result.prepared.spend.text("platform").test(lambda v: v == OTHER_COSTS)
    return int(result.prepared.costs.cost[result.spend_rows & other].sum())


def _rates(tables: Tables, currency: str, first: int, last: int) -> dict[str, Fraction]:
    """Rates of the month from and into a currency, the mean of its days."""
    table = tables.rates
    days = table.ints("day")
    rate = table.amounts("rate")
    found: dict[str, list[Fraction]] = {}
    for row in np.flatnonzero((days >= first) & (days <= last)).tolist():
        base, quote = table.text("base")[row], table.text("quote")[row]
        value = Fraction(int(rate.units[row]), 10**rate.decimals)
        for said, worth in ((f"{base} in {quote}", value), (f"{quote} in {base}", 1 / value)):
            if currency in (base, quote):
                found.setdefault(said, []).append(worth)
    return {said: sum(values, Fraction(0)) / len(values) for said, values in found.items()}


def _days(month: str) -> tuple[date, date]:
    try:
        first = date.fromisoformat(f"{month}-01")
    except ValueError:
        raise SettingsError(f"month: {month[:20]!r} is not a month: write it as 2026-05") from None
    return first, first.replace(day=monthrange(first.year, first.month)[1])
