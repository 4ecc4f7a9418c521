"""Figures (R23): ratios of sums; a zero denominator gives no figure."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction

import numpy as np

from ..base.money import round_half_even
from ..trails.goals import decimal_units


@dataclass(frozen=True)
class Sums:
    """What one row of a report adds up to, exact. Money in minor units of the home currency; None where it has no
    meaning."""

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


@dataclass(frozen=True)
class Figures:
    """Ratios of one row, in units of the home currency; None = no figure. Profit in minor units."""

    cost_per_lead: Fraction | None
    cost_per_good_lead: Fraction | None
    cost_per_conversion: Fraction | None
    roas: Fraction | None
    profit: int | None


def ratio(numerator: Fraction | int, denominator: Fraction | int) -> Fraction | None:
    """A ratio, exact, or no figure where the denominator is zero."""
    return Fraction(numerator) / denominator if denominator else None


def figures(sums: Sums, margin: Decimal, minor_digits: int) -> Figures:
    """Cost per lead, per good lead, per conversion, ROAS and profit of one row (R23).

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
    cost = Fraction(sums.spend, 10**minor_digits)
    return Figures(
        ratio(cost, sums.leads),
        ratio(cost, sums.good_leads),
        ratio(cost, sums.conversions),
        ratio(sums.value, sums.spend),
        profit(sums.value, sums.spend, margin),
    )


def profit(value: int, spend: int, margin: Decimal) -> int:
    """Value x margin - spend in minor units, half-even."""
    units, decimals = decimal_units(margin)
    return int(round_half_even(np.array([value * units], dtype=object), decimals, 0)[0]) - spend


def break_even_roas(margin: Decimal) -> float:
    """1 / margin: the ROAS at which value x margin pays the spend."""
    return float(1 / margin)
