"""What every touch of every trail gets under one yardstick."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..base.columns import Flags, Ints


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
