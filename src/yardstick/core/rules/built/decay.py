"""The nearer to the conversion, the more (R14)."""

from __future__ import annotations

import threading
from collections.abc import Mapping
from decimal import Decimal, localcontext

import numpy as np

from ...base.columns import Flags, Ints
from ...base.day_numbers import DAY_US
from ..allocation import ByWeight
from ..kernel import Fill, Kernel, Kernels, Stretch, whole_numbers
from ..rule import Need, Rule, RuleParameter
from ..trail_context import TrailContext

HALF_LIFE_DAYS = Decimal(7)
WEIGHT_BITS = 40
UNSURE = 2.0**-9
"""Binary arithmetic is off by less than half of this here, with a library whose powers of 2 are off by 4 units in the
last place at most; what lies nearer to a half is worked out with more digits."""
_UNSURE_STILL = 2.0**-19
"""The same with the 64 bits that some machines have."""


def decay(asked: TrailContext) -> ByWeight:
    """Weight 2^(-age / half-life), as a whole number of 2^-40 parts of that of the newest touch (R14)."""
    trails = asked.trails
    at = asked.at[trails.touch]
    filled = trails.lengths > 0
    newest = np.zeros(len(trails.lengths), np.int64)
    newest[filled] = at[trails.offsets[1:][filled] - 1]
    return ByWeight(trails, weights(np.repeat(newest, trails.lengths) - at, half_life_of(asked)))


def half_life_of(asked: TrailContext) -> Decimal:
    """The yardstick's half-life in microseconds, a whole number."""
    return dict(asked.yardstick.params).get("half_life_days", HALF_LIFE_DAYS) * DAY_US


def weights(older: Ints, half_life: Decimal) -> Ints:
    """(n,) int64: round(2^40 x 2^(-older / half-life)), half-even, the same on every machine.

    Parameters
    ----------
    older : (n,) int64, microseconds before the newest touch, not negative
    half_life : in microseconds
    """
    # 2^40 is multiplied with afterwards, which is exact: a difference of 40 would have fewer digits after the point.
    exact = 2.0**WEIGHT_BITS * np.exp2(-older / float(half_life))
    out = np.rint(exact).astype(np.int64)
    unsure: Flags = np.abs(exact - np.floor(exact) - 0.5) < UNSURE
    if unsure.any():
        out[unsure] = settled(older[unsure], half_life)
    return out


def settled(older: Ints, half_life: Decimal) -> Ints:
    """As `weights`, for those that lie near to a half."""
    if np.finfo(np.longdouble).nmant < 63:
        return _exactly(older, half_life)
    life = np.longdouble(int(half_life))
    exact = np.longdouble(2**WEIGHT_BITS) * np.exp2(-older.astype(np.longdouble) / life)
    out: Ints = np.rint(exact).astype(np.int64)
    unsure: Flags = np.abs(exact - np.floor(exact) - np.longdouble(0.5)) < _UNSURE_STILL
    out[unsure] = _exactly(older[unsure], half_life)
    return out


def _exactly(older: Ints, half_life: Decimal) -> Ints:
    distinct, which = np.unique(older, return_inverse=True)
    with localcontext() as context:
        context.prec = 50
        powers = [Decimal(2) ** (WEIGHT_BITS - age / half_life) for age in distinct.tolist()]
    return np.array([int(power.to_integral_value("ROUND_HALF_EVEN")) for power in powers], np.int64)[which]


LONGEST_HALF_LIFE = 2**52
"""In microseconds, 142 years: of a longer one the weights are worked out as shares are."""


class _Room(threading.local):
    """Two columns of each thread's own, for one stretch after another."""

    def __init__(self) -> None:
        self._columns = np.empty((2, 0), np.int64)

    def of(self, elements: int) -> Ints:
        """(2, elements) int64, whatever stood there."""
        if self._columns.shape[1] < elements:
            self._columns = np.empty((2, elements), np.int64)
        return self._columns[:, :elements]


def _fill(compiled: Kernels, asked: TrailContext) -> Fill:
    touch, at, half_life = whole_numbers(asked.trails.touch), whole_numbers(asked.at), half_life_of(asked)
    room = _Room()
    if half_life >= LONGEST_HALF_LIFE:
        return lambda some, part, worth: False

    def fill(some: Stretch, part: Ints, worth: Ints) -> bool:
        weight, unsure = room.of(len(part))
        many = compiled.decay_weights(some.offsets, touch, at, int(half_life), weight, unsure)
        if many:
            which = unsure[:many]
            element = which + some.offsets[0]
            newest = touch[some.offsets[np.searchsorted(some.offsets, element, side="right")] - 1]
            weight[which] = settled(at[newest] - at[touch[element]], half_life)
        return bool(compiled.by_weight(some.offsets, some.value, weight, part, worth))

    return fill


def _wrong(stated: Mapping[str, Decimal]) -> str:
    if stated.get("half_life_days") == 0:
        return "half_life_days must be above 0: it is the age at which a touch weighs half"
    return ""


RULE = Rule(
    "decay",
    "Decay",
    6,
    decay,
    needs=frozenset({Need.TIMES}),
    parameters=(RuleParameter("half_life_days", "a touch so many days before the newest weighs half", "7"),),
    wrong=_wrong,
    kernel=Kernel(fill=_fill),
)
