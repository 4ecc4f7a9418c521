"""Plain proportions with their interval (R24): how sure a share of counted things is."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

Z_90 = 1.6448536269514722
"""The normal distribution's 95th percentile: 90 % lie between its negative and it."""


@dataclass(frozen=True)
class Proportion:
    """So many of so many, with the bounds of their share; None where there are none."""

    hits: int
    of: int
    low: float | None
    high: float | None


def proportion(hits: int, of: int, z: float = Z_90) -> Proportion:
    """A proportion with Wilson's interval.

    Parameters
    ----------
    hits, of : counts, hits at most of
    z : of the interval, 1.645 for 90 %

    Returns
    -------
    Proportion, bounds between 0 and 1

    References
    ----------
    E. B. Wilson, "Probable inference, the law of succession, and statistical inference", 1927.
    """
    if not of:
        return Proportion(hits, of, None, None)
    share, spread = hits / of, z * z / of
    middle = share + spread / 2
    half = z * sqrt(share * (1 - share) / of + spread / of / 4)
    low, high = (middle - half) / (1 + spread), (middle + half) / (1 + spread)
    # Where none or all are hits, one bound is exact.
    return Proportion(hits, of, 0.0 if not hits else max(0.0, low), 1.0 if hits == of else min(1.0, high))
