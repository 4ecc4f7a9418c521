"""What every touch of every trail gets under one yardstick."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..base.columns import Codes, Flags, Ints
from ..base.tally import sums_of


@dataclass(frozen=True)
class Shares:
    """The credit of one yardstick: the trail elements that get anything, and what.

    Attributes
    ----------
    size : trail elements in all
    element : (m,) int64, numbers of trail elements, ascending
    part : (m,) int64, share of each in parts of 2^-60, adding up to 2^60 per filled trail (R17)
    worth : (m,) int64, minor units of the home currency, adding up to the value of each conversion with a trail
    """

    size: int
    element: Ints
    part: Ints
    worth: Ints

    def only(self, elements: Flags) -> Shares:
        """The credit of some trail elements alone."""
        mine = elements[self.element]
        return Shares(self.size, self.element[mine], self.part[mine], self.worth[mine])

    def summed(self, place: Codes | Ints, size: int) -> tuple[Ints, Ints]:
        """The same by place; see `summing.summed`."""
        at = place[self.element]
        there: Flags | slice = slice(None) if (at >= 0).all() else at >= 0
        halves = [sums_of(at[there], amounts[there], size) for amounts in (self.part, self.worth)]
        return np.stack([high for high, _ in halves]), np.stack([low for _, low in halves])

    @cached_property
    def parts(self) -> Ints:
        """(size,) int64 over all trail elements, 0 = nothing."""
        out = np.zeros(self.size, np.int64)
        out[self.element] = self.part
        return out

    @cached_property
    def value(self) -> Ints:
        """(size,) int64 over all trail elements."""
        out = np.zeros(self.size, np.int64)
        out[self.element] = self.worth
        return out
