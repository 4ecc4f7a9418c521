"""What a platform's invoice of a month is held against: the rows of its account, to the cent, and what became of them
(R18, R19). The account's own currency is what is compared, so that no rate stands between."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass, field, replace
from fractions import Fraction

import numpy as np

from ..base.columns import Flags, Ints, Text, sums_by
from ..base.day_numbers import day_text
from ..base.money import RateTable
from ..base.tables import Table, empty_table
from ..costs.missing_days import MissingDay, missing_days
from ..costs.spend import Costs, read_spend
from ..plan.costing_phase import Costing, Money
from ..plan.reading_phase import Reading

NO_VISITS, OTHER_DAYS, UNKNOWN_ID, NO_TOUCH = (
    "days without visits",
    "its touches are of other days",
    "no touch carries its id or name",
    "no touch carries this campaign",
)
"""Why spend meets no touch, the first that holds."""


@dataclass
class InvoiceDay:
    """A day of the month: minor units, rows, whether it is missing (R21), and what it then usually costs."""

    day: str
    amount: int
    met: int
    rest: int
    credits: int
    rows: int
    missing: bool
    usual: int = 0


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
        days, which = np.unique(self.spend.ints("day"), return_inverse=True)
        sums = sums_by(which, self.costs.cost, len(days))
        return {day: int(total) for day, total in zip(days.tolist(), sums, strict=True)}

    def missing(self, until: int | None) -> list[MissingDay]:
        """Days without rows (R21), up to the last one with a visit; rows in another currency are rows."""
        return missing_days(self.by_day(), until, set(self.other_days.tolist()))


def rows_of_account(
    mine: Table, campaign: Ints, currency: str, digits: int, home: str, reading: Reading, costing: Costing
) -> AccountRows:
    """The rows of an account in its currency, each campaign's day counted once (R18).

    Parameters
    ----------
    mine : its rows of spend
    campaign : (n,) number of each row's campaign
    currency, digits : of the account
    home : the currency that an empty one stands for
    reading, costing : names and levels
    """
    code = mine.text("currency")
    filled = code.where(code.filled(), Text.of([home] * len(mine))) if len(mine) else code
    other: Flags = ~filled.test(lambda v: v == currency)
    table = replace(mine, columns={**mine.columns, "currency": filled})
    kept = table.take(np.flatnonzero(~other))
    none = RateTable(empty_table("rates"), currency)
    counted, costs = read_spend(kept, none, reading, Money(currency, digits), costing.platforms)
    # Rests come after the rows, each with the campaign of a row of its day.
    numbers = campaign[~other]
    if len(counted) > len(kept):
        number = dict(zip(_of_campaign(kept), numbers.tolist(), strict=True))
        rests = [number[key] for key in _of_campaign(counted.take(np.arange(len(kept), len(counted))))]
        numbers = np.concatenate([numbers, np.array(rests, np.int64)])
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
    for gone in account.missing(max(met.visit_days, default=None)):
        if gone.day in by_day:
            by_day[gone.day].missing, by_day[gone.day].usual = True, gone.usual
    out.days = list(by_day.values())
    out.unmet = [Unmet(*key, len(some), total) for key, (some, total) in unmet.items()]
    out.unmet.sort(key=lambda u: (-abs(u.amount), u.reason, u.campaign))
    return out


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
    gone = [at for at in against.days if at.missing]
    usual = sum(at.usual for at in gone)
    if gone and usual and stated > rows:
        share = Fraction(stated - rows, usual)
        fits = Fraction(2, 3) <= share <= Fraction(3, 2)
        days = ", ".join(at.day for at in gone[:5])
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
