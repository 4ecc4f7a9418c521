"""What a platform's invoice of a month is held against: the rows of its account, to the cent, and what became of them
(R18, R19). The account's own currency is what is compared, so that no rate stands between."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass, field, replace
from fractions import Fraction

import numpy as np

from ..base.columns import Flags, Ints, Text
from ..base.days import day_text
from ..base.money import RateTable
from ..base.tables import Table, empty_table
from ..base.words import fold
from ..costs.spend import Costs, completed, read_spend
from ..plan.plan import Costing, Money, Reading

NO_VISITS, OTHER_DAYS, UNKNOWN_ID, NO_TOUCH = (
    "days without visits",
    "its touches are of other days",
    "no touch carries its id or name",
    "no touch carries this campaign",
)
"""Why spend meets no touch, the first that holds."""


@dataclass
class InvoiceDay:
    """A day of the month: minor units, rows, and whether nothing came though other days of the month have rows."""

    day: str
    amount: int
    met: int
    rest: int
    credits: int
    rows: int
    missing: bool


@dataclass
class Unmet:
    """Spend that met no touch: why, of which campaign, on how many days, minor units."""

    reason: str
    campaign: str
    days: int
    amount: int


@dataclass
class Against:
    """What the rows of an account say of a month, in minor units of the account's currency.

    Attributes
    ----------
    rows : all that is counted = reported + rest + estimated + credits
    reported, rest, estimated, credits : stated by rows that count; what a level reports beyond the deepest; reckoned
        from clicks and a price; credit notes, negative
    met, unmet : rows = met + the amounts of `unmet`
    days : of the month in order
    other_currency : rows of the month in another currency, which are in none of these
    """

    rows: int = 0
    reported: int = 0
    rest: int = 0
    estimated: int = 0
    credits: int = 0
    met: int = 0
    unmet: list[Unmet] = field(default_factory=list)
    days: list[InvoiceDay] = field(default_factory=list)
    other_currency: int = 0


@dataclass(frozen=True)
class Met:
    """What arrived: numbers of the campaigns with a touch in the month, and ever (R19); days with visits."""

    month: Set[int]
    ever: Set[int]
    visit_days: Set[int]


@dataclass(frozen=True)
class AccountRows:
    """The rows of one account, counted in its own currency: the table with rests, costs, the number of each row's
    campaign, and the days of rows that are in another currency."""

    spend: Table
    costs: Costs
    campaign: Ints
    other_days: Ints

    def by_day(self) -> dict[int, int]:
        """Minor units by day, all days there are."""
        out: dict[int, int] = defaultdict(int)
        for day, amount in zip(self.spend.ints("day").tolist(), self.costs.cost.tolist(), strict=True):
            out[day] += amount
        return dict(out)


def rows_of_account(
    spend: Table,
    campaign: Ints,
    platform: str,
    account: str,
    currency: str,
    digits: int,
    home: str,
    reading: Reading,
    costing: Costing,
) -> AccountRows:
    """The rows of an account in its currency, each campaign's day counted once (R18).

    Parameters
    ----------
    spend : the table
    campaign : (n,) number of each row's campaign
    platform, account : whose; compared folded, an empty account is the platform's only one
    currency, digits : of the account
    home : the currency that an empty one stands for
    reading, costing : names and levels
    """
    all_of, accounts, _ = completed(spend, np.ones(len(spend), np.bool_), fold)
    is_account = accounts.test(lambda v: v == fold(account)) & all_of.test(lambda v: v == fold(platform))
    rows = np.flatnonzero(is_account)
    mine = spend.take(rows)
    code = mine.text("currency")
    filled = code.where(code.filled(), Text.of([home] * len(mine))) if len(mine) else code
    other: Flags = ~filled.test(lambda v: v == currency)
    table = replace(mine, columns={**mine.columns, "currency": filled})
    kept = table.take(np.flatnonzero(~other))
    none = RateTable(empty_table("rates"), currency)
    counted, costs = read_spend(kept, none, reading, Money(currency, digits), costing.platforms)
    number = {key: int(n) for key, n in zip(_of_campaign(kept), campaign[rows][~other].tolist(), strict=True)}
    numbers = np.array([number[key] for key in _of_campaign(counted)], np.int64)
    return AccountRows(counted, costs, numbers, mine.ints("day")[other])


def _of_campaign(spend: Table) -> list[tuple[int, str, str]]:
    """What tells the campaign of a row: a rest has it from the row it is named after."""
    ids, names = spend.text("campaign_id").strings(), spend.text("campaign").strings()
    return list(zip(spend.ints("day").tolist(), ids, names, strict=True))


def hold_against(account: AccountRows, first: int, last: int, met: Met) -> Against:
    """What the rows of a month say, and what of them met a touch.

    Parameters
    ----------
    account : its rows
    first, last : days of the month, since 1970
    met : what arrived
    """
    out = Against()
    other = account.other_days
    out.other_currency = int(((other >= first) & (other <= last)).sum())
    spend, costs = account.spend, account.costs
    days = spend.ints("day")
    inside = np.flatnonzero((days >= first) & (days <= last) & (costs.cost != 0))
    by_day = {day: InvoiceDay(day_text(day), 0, 0, 0, 0, 0, False) for day in range(first, last + 1)}
    unmet: dict[tuple[str, str], tuple[set[int], int]] = {}
    ids = spend.text("campaign_id")
    for row in inside.tolist():
        day, amount = int(days[row]), int(costs.cost[row])
        at = by_day[day]
        out.rows += amount
        at.amount += amount
        if costs.rest[row]:
            out.rest += amount
            at.rest += amount
        elif amount < 0:
            out.credits += amount
            at.credits += amount
        elif costs.estimated[row]:
            out.estimated += amount
        else:
            out.reported += amount
        campaign, number = costs.campaign[row], int(account.campaign[row])
        if number in met.month:
            out.met += amount
            at.met += amount
            continue
        reason = (
            NO_VISITS
            if day not in met.visit_days
            else OTHER_DAYS
            if number in met.ever
            else UNKNOWN_ID
            if ids[row].strip()
            else NO_TOUCH
        )
        some, total = unmet.get((reason, campaign), (set(), 0))
        unmet[reason, campaign] = (some | {day}, total + amount)
    for row in np.flatnonzero((days >= first) & (days <= last) & costs.counts).tolist():
        by_day[int(days[row])].rows += 1
    filled = [day for day in by_day if by_day[day].rows]
    for day, at in by_day.items():
        at.missing = bool(filled) and not at.rows and day <= int(days.max(initial=first))
    out.days = list(by_day.values())
    out.unmet = [Unmet(*key, len(some), total) for key, (some, total) in unmet.items()]
    out.unmet.sort(key=lambda u: (-abs(u.amount), u.reason, u.campaign))
    return out


def _usual(by_day: Mapping[int, int], day: int) -> int:
    """What a day usually costs: the mean of the same weekday of the four weeks before (R30)."""
    before = [by_day[day - 7 * week] for week in range(1, 5) if day - 7 * week in by_day]
    return sum(before) // len(before) if before else 0


def patterns(
    stated: int, against: Against, by_day: Mapping[int, int], first: int, last: int, others: Sequence[tuple[int, int]],
    rates: Mapping[str, Fraction], currency: str, zone: str,
) -> list[str]:  # fmt: skip
    """What a difference looks like, in sentences; nothing where it looks like nothing known.

    Parameters
    ----------
    stated, against : minor units of the invoice, and what the rows say
    by_day : minor units of the account by day
    first, last : days of the month
    others : (stated, rows) of the account's other months with an invoice
    rates : what one unit of other currencies was worth in the account's, or the account's in others, by "A in B"
    currency, zone : of the account, as set
    """
    rows = against.rows
    if stated == rows or not rows:
        return []
    out = []
    for part, words in ((against.credits, "credit notes"), (against.rest, "what finer rows do not itemise")):
        if part and stated == rows - part:
            out.append(f"It is the rows without {words}: the invoice may stand without them")
    gone = [day for day, at in zip(range(first, last + 1), against.days, strict=True) if at.missing]
    usual = sum(_usual(by_day, day) for day in gone)
    if gone and usual and stated > rows:
        share = Fraction(stated - rows, usual)
        fits = Fraction(2, 3) <= share <= Fraction(3, 2)
        days = ", ".join(day_text(day) for day in gone[:5])
        said = "about what is lacking" if fits else f"{float(1 / share):.2f} times what is lacking"
        out.append(f"No rows on {days}: going by the same weekdays before, {said}")
    for shift, word in ((1, "later"), (-1, "earlier")):
        moved = sum(by_day.get(day, 0) for day in range(first + shift, last + shift + 1))
        if moved == stated:
            out.append(
                f"It is the sum of the days from {day_text(first + shift)} to {day_text(last + shift)}: the account's "
                f"month begins a day {word}. Its days are set to {zone}: set the zone that the account has"
            )
    ratio = Fraction(stated, rows)
    for said, rate in rates.items():
        if rate and abs(ratio / rate - 1) < Fraction(1, 100) and abs(rate - 1) > Fraction(1, 100):
            out.append(
                f"It is {float(ratio):.4f} times the rows, about the rate of {said} that month ({float(rate):.4f}): "
                f"the amounts may not be {currency}. Set the currency that the account has"
            )
    if abs(ratio - 2) < Fraction(1, 1000) or abs(ratio - Fraction(1, 2)) < Fraction(1, 1000):
        out.append(
            "The rows are twice the invoice: the same days may be loaded by two sources"
            if ratio < 1
            else "The invoice is twice the rows: another account or another month may be on it"
        )
    percent = (ratio - 1) * 100
    whole = round(percent)
    if 0 < whole <= 30 and abs(percent - whole) < Fraction(1, 50):
        out.append(f"It is the rows and {whole} % more: a tax or a fee may be on it")
    alike = [Fraction(a, b) for a, b in others if b]
    far = abs(ratio - 1) > Fraction(1, 100)
    if alike and far and not out and all(abs(other / ratio - 1) < Fraction(1, 200) for other in alike):
        out.append(
            f"In {len(alike) + 1} months the invoice is {float(ratio):.4f} times the rows: a constant ratio is another "
            "currency, a tax or a fee"
        )
    return out
