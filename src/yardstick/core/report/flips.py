"""How near a verdict is to another (R34): in how many redraws of the people it pays, and what would flip it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any

import numpy as np
import numpy.typing as npt

from .certainty import PARTS_BITS, Interval

MOST_TIMES = 100
"""Above so many times the conversions there are, no number of them is said to be needed."""
NONE = "none"


@dataclass(frozen=True)
class Flips:
    """What a verdict depends on.

    Attributes
    ----------
    pays, loses : in how many of the redraws every yardstick with intervals is on break-even or above, or below it; None
        where that is not said
    under : the yardstick on the other side of break-even nearest to it; empty where there is none
    up_to_click : the cost per click up to which it pays, in units of the home currency; None where it cannot be told
    needed : about how many conversions would settle it; `NONE` for no number of them, empty where that is not asked
    worth : by yardstick of the panel what it is worth against the spend, in minor units
    """

    pays: int | None = None
    loses: int | None = None
    under: str = ""
    up_to_click: Fraction | None = None
    needed: str = ""
    worth: Mapping[str, Fraction] = field(default_factory=dict)

    def under_from(self, chosen: str, spend: int) -> str:
        """The yardstick that flips it, as seen from the one that is chosen on the screen; one that is not of the panel
        has no side, and `under` holds.

        Parameters
        ----------
        chosen : name of the yardstick
        spend : minor units
        """
        return flipping_yardstick(self.worth, spend, chosen) if chosen in self.worth else self.under


def redraws_on_each_side(earned: Sequence[npt.NDArray[Any]], times: Fraction, spend: int) -> tuple[int, int]:
    """In how many redraws all yardsticks pay, and in how many all lose.

    Parameters
    ----------
    earned : by yardstick (400,) whole numbers: minor units, or parts of 2^-20 of leads
    times : what a unit of it is worth in minor units of spend
    spend : minor units
    """
    if not earned:
        return 0, 0
    pays = np.ones(len(earned[0]), np.bool_)
    loses = np.ones(len(earned[0]), np.bool_)
    for amounts in earned:
        above = amounts.astype(object) * times.numerator >= spend * times.denominator
        pays &= above.astype(np.bool_)
        loses &= ~above.astype(np.bool_)
    return int(pays.sum()), int(loses.sum())


LEAD_PARTS = Fraction(1, 2**PARTS_BITS)


def flipping_yardstick(earned: Mapping[str, Fraction], spend: int, chosen: str) -> str:
    """The yardstick whose point lies on the other side of break-even than the chosen one's and nearest to it, if any.

    Parameters
    ----------
    earned : by yardstick what it is worth against the spend, in minor units; the order settles ties
    spend : minor units
    chosen : the yardstick that is chosen

    Examples
    --------
    >>> from fractions import Fraction as F
    >>> flipping_yardstick({"first": F(90), "linear": F(120), "last": F(150)}, 100, "first")
    'linear'
    """
    side = earned[chosen] >= spend
    others = [name for name, worth in earned.items() if (worth >= spend) != side]
    return min(others, key=lambda name: abs(earned[name] - spend), default="")


def cost_of_a_click(lowest: Fraction, other_costs: int, clicks: int, digits: int) -> Fraction | None:
    """The cost per click up to which a row pays under its lowest yardstick, in units of the home currency.

    Examples
    --------
    >>> cost_of_a_click(Fraction(15_000), 3_000, 400, 2)
    Fraction(3, 10)
    """
    if clicks <= 0:
        return None
    left = (lowest - other_costs) / clicks / 10**digits
    return None if left < 0 else left


def conversions_needed(
    points: Sequence[tuple[Fraction | None, Interval | None]], break_even: Fraction, now: Fraction
) -> str:
    """About how many conversions would settle an unsure verdict: the largest, over the yardsticks, of
    n = now x (h / |point - break-even|)^2, rounded up; h is half the interval.

    Parameters
    ----------
    points : by yardstick its figure and interval; without an interval it does not count
    break_even : of the figure
    now : credited conversions under linear
    """
    most = 0
    for point, bound in points:
        if bound is None:
            continue
        if point is None or bound.low is None or bound.high is None or point == break_even:
            return NONE
        exact = now * ((bound.high - bound.low) / 2 / (point - break_even)) ** 2
        if exact > MOST_TIMES * now:
            return NONE
        most = max(most, -(-exact.numerator // exact.denominator))
    return str(most)
