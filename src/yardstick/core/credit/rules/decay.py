"""The nearer to the conversion, the more (R14)."""

from __future__ import annotations

from decimal import Decimal, localcontext

import numpy as np

from ...base.columns import Flags, Ints
from ...base.days import DAY_US
from .given import Asked, ByWeight

HALF_LIFE_DAYS = Decimal(7)
WEIGHT_BITS = 40
_UNSURE = 2.0**-9
"""Binary arithmetic is off by less than 2^-10 of a unit here; what lies nearer to a half is worked out in decimals."""


def decay(asked: Asked) -> ByWeight:
    """Weight 2^(-age / half-life), as a whole number of 2^-40 parts of that of the newest touch (R14)."""
    trails, ages = asked.trails, asked.ages()
    half_life = dict(asked.yardstick.params).get("half_life_days", HALF_LIFE_DAYS) * DAY_US
    filled = trails.lengths > 0
    newest = np.zeros(len(trails.lengths), np.int64)
    newest[filled] = ages[trails.offsets[1:][filled] - 1]
    return ByWeight(trails, weights(ages - np.repeat(newest, trails.lengths), half_life))


def weights(older: Ints, half_life: Decimal) -> Ints:
    """(n,) int64: round(2^40 x 2^(-older / half-life)), half-even, the same on every machine.

    Parameters
    ----------
    older : (n,) int64, microseconds before the newest touch, not negative
    half_life : in microseconds
    """
    exact = np.exp2(WEIGHT_BITS - older / float(half_life))
    out = np.rint(exact).astype(np.int64)
    unsure: Flags = np.abs(exact - np.floor(exact) - 0.5) < _UNSURE
    unsure |= (np.abs(exact - np.rint(exact)) < _UNSURE) & (out == 0)
    if unsure.any():
        distinct, which = np.unique(older[unsure], return_inverse=True)
        out[unsure] = np.array([_exactly(int(age), half_life) for age in distinct.tolist()], np.int64)[which]
    return out


def _exactly(age: int, half_life: Decimal) -> int:
    with localcontext() as context:
        context.prec = 50
        return int((Decimal(2) ** (WEIGHT_BITS - age / half_life)).to_integral_value("ROUND_HALF_EVEN"))
