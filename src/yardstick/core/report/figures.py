"""Figures (R23): ratios of sums; a zero denominator gives no figure."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction

from ..base.money import half_even
from ..trails.goals import decimal_units


@dataclass(frozen=True)
class Sums:
    """What one row of a report adds up to, exact. Money in minor units of the home currency; None where it has no
    meaning.

    `sales_value` is the part of `value` that sales brought, `new_customers` are credited first sales of persons,
    `open_leads` leads of which it is not known yet whether they are good, `click_touches` touches that are clicks,
    `bounces` those of one visit; `ad_cost` is spend without other costs.
    """

    touches: int | None = None
    leads: Fraction = Fraction(0)
    good_leads: Fraction = Fraction(0)
    conversions: Fraction = Fraction(0)
    value: int = 0
    spend: int | None = None
    impressions: int | None = None
    clicks: int | None = None
    claimed_conversions: Decimal | None = None
    claimed_value: int | None = None
    sales_value: int = 0
    new_customers: Fraction = Fraction(0)
    open_leads: Fraction = Fraction(0)
    click_touches: int | None = None
    bounces: int | None = None
    ad_cost: int | None = None


@dataclass(frozen=True)
class Figures:
    """Ratios of one row, in units of the home currency; None = no figure. Profit in minor units."""

    cost_per_lead: Fraction | None
    cost_per_good_lead: Fraction | None
    cost_per_conversion: Fraction | None
    roas: Fraction | None
    profit: int | None
    conversion_rate: Fraction | None = None
    cost_per_click: Fraction | None = None
    average_value: Fraction | None = None
    bounce_rate: Fraction | None = None
    value_per_touch: Fraction | None = None
    cost_per_new_customer: Fraction | None = None
    good_rate: Fraction | None = None


NOTHING = Sums()
"""What a place is credited with that got nothing, as most places of a fine breakdown are under most yardsticks."""
_ZERO = Fraction(0)


def ratio(numerator: Fraction | int, denominator: Fraction | int) -> Fraction | None:
    """A ratio, exact, or no figure where the denominator is zero."""
    if not denominator:
        return None
    return Fraction(numerator) / denominator if numerator else _ZERO


def figures(sums: Sums, margin: Decimal, minor_digits: int) -> Figures:
    """The ratios of one row (R23).

    Parameters
    ----------
    sums : what the row adds up to; without spend there are no figures
    margin : part of the value that is margin
    minor_digits : decimals of the home currency

    Returns
    -------
    Figures

    Examples
    --------
    >>> figures(Sums(leads=Fraction(35), spend=42000, value=0), Decimal(1), 2).cost_per_lead
    Fraction(12, 1)
    """
    if sums.spend is None:
        return Figures(None, None, None, None, None)
    unit = 10**minor_digits
    cost = Fraction(sums.spend, unit)
    return Figures(
        ratio(cost, sums.leads),
        ratio(cost, sums.good_leads),
        ratio(cost, sums.conversions),
        ratio(sums.value, sums.spend),
        profit(sums.value, sums.spend, margin),
        conversion_rate=ratio(sums.conversions, sums.touches or 0),
        cost_per_click=ratio(Fraction(sums.ad_cost or 0, unit), sums.clicks or 0),
        average_value=ratio(Fraction(sums.sales_value, unit), sums.conversions),
        bounce_rate=ratio(sums.bounces or 0, sums.click_touches or 0),
        value_per_touch=ratio(Fraction(sums.value, unit), sums.touches or 0),
        cost_per_new_customer=ratio(cost, sums.new_customers),
        good_rate=ratio(sums.good_leads, sums.leads - sums.open_leads),
    )


def profit(value: int, spend: int, margin: Decimal) -> int:
    """Value x margin - spend in minor units, half-even."""
    units, decimals = decimal_units(margin)
    return half_even(value * units, 10**decimals) - spend


def break_even_roas(margin: Decimal) -> float:
    """1 / margin: the ROAS at which value x margin pays the spend."""
    return float(1 / margin)
