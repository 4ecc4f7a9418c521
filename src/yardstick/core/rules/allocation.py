"""What a rule gives: who shares in each conversion, and how whole units of it are shared."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Protocol

import numpy as np

from ..base.columns import Ints
from .apportioning import Kinds, apportion, apportion_by_weight, apportion_evenly

if TYPE_CHECKING:
    from ..trails.trails import Trails


class Allocation(Protocol):
    """Shares of the touches of every trail, adding up to 1 in each that is filled."""

    @property
    def element(self) -> Ints:
        """(m,) int64, numbers of the trail elements that may get anything, ascending."""

    def share(self, totals: Ints) -> Ints:
        """(m,) int64: whole units shared by largest remainder, ties to the earlier touch (R17).

        Parameters
        ----------
        totals : (n_trails,) int64, units of each trail, not negative
        """


@dataclass(frozen=True)
class OneTouch:
    """One touch of each filled trail takes all."""

    trails: Trails
    element: Ints

    def share(self, totals: Ints) -> Ints:
        """See `Allocation`."""
        return totals[self.trails.lengths > 0]


@dataclass(frozen=True)
class Even:
    """The same share to every touch of a trail."""

    trails: Trails

    @property
    def element(self) -> Ints:
        """See `Allocation`."""
        return np.arange(len(self.trails.touch))

    def share(self, totals: Ints) -> Ints:
        """See `Allocation`."""
        return apportion_evenly(totals, self.trails.offsets)


@dataclass(frozen=True)
class ByKind:
    """Unit fractions: the share of a touch is 1 / the divisor of its kind."""

    trails: Trails
    kinds: Kinds
    divisor: Ints

    @property
    def element(self) -> Ints:
        """See `Allocation`."""
        return np.arange(len(self.trails.touch))

    def share(self, totals: Ints) -> Ints:
        """See `Allocation`."""
        return apportion(totals, self.kinds, self.divisor)


@dataclass(frozen=True)
class ByWeight:
    """Shares in proportion to whole numbers, of which at least one in each filled trail is above 0.

    Attributes
    ----------
    weight : (n_elements,) int64, or object where sums go beyond 64 bits
    """

    trails: Trails
    weight: Ints

    @property
    def element(self) -> Ints:
        """See `Allocation`."""
        return np.flatnonzero(self.weight > 0)

    def share(self, totals: Ints) -> Ints:
        """See `Allocation`."""
        return apportion_by_weight(totals, self.weight, self.trails.offsets)[self.weight > 0]
