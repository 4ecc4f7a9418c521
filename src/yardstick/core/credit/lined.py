"""Trails whose touches are parted by the lines of their orders, for breakdowns by product."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags, Ints
from ..rules.apportioning import apportion_by_weight
from ..trails.lines import OrderLines
from ..trails.trails import Trails
from .adding import Halves
from .credit import Credit
from .shares import Shares

_NARROW = 2**61


@dataclass(frozen=True)
class LinedTrails(Trails):
    """Trails in which a touch stands once for each line of the order, line by line.

    Attributes
    ----------
    whole : (k,) int64, the element of the trails as they are that each element is a part of, ascending
    line : (k,) int64, the line each element is of, -1 where the conversion has no lines
    """

    whole: Ints
    line: Ints


def lay_lines(trails: Trails, lines: OrderLines) -> LinedTrails:
    """Part the touches of trails by line.

    Parameters
    ----------
    trails : as they are
    lines : of every conversion
    """
    count = lines.count[trails.conversion]
    each = np.maximum(count, 1)
    owner = trails.owner()
    whole = np.repeat(np.arange(len(owner)), each[owner])
    begins = np.cumsum(each[owner]) - each[owner]
    within = np.arange(len(whole)) - begins[whole]
    of_trail = owner[whole]
    line = np.where(count[of_trail] > 0, lines.offsets[trails.conversion][of_trail] + within, -1)
    offsets = np.concatenate([[0], np.cumsum(trails.lengths * each)]).astype(np.int64)
    return LinedTrails(trails.conversion, offsets, trails.touch[whole], whole, line)


class LinedCredit(Credit):
    """The credit of trails parted by line: what a touch has is shared by the totals of the lines, by largest remainder,
    ties to the earlier line (R17)."""

    def __init__(self, credit: Credit, trails: LinedTrails, lines: OrderLines) -> None:
        super().__init__(credit.asked, credit.value, credit.trails, credit.touches)
        self._credit, self._laid = credit, trails
        weight = np.ones(len(trails.line), lines.weight.dtype)
        there = trails.line >= 0
        weight[there] = lines.weight[trails.line[there]]
        if weight.dtype != object and float(weight.astype(np.float64).sum()) >= _NARROW:
            weight = weight.astype(object)
        self._weight = weight
        self._offsets = np.searchsorted(trails.whole, np.arange(len(credit.trails.touch) + 1))

    def __getitem__(self, name: str) -> Shares:
        if name not in self._made:
            self._made[name] = self._parted(self._credit[name])
        return self._made[name]

    def _parted(self, share: Shares) -> Shares:
        gets: Flags = np.zeros(share.size, np.bool_)
        gets[share.element] = True
        part, worth = (apportion_by_weight(units, self._weight, self._offsets) for units in (share.parts, share.value))
        element = np.flatnonzero(gets[self._laid.whole])
        return Shares(len(part), element, part[element], worth[element])

    def summed_by_all(self, place: Ints, size: int) -> list[Halves]:
        """See `Credit.summed_by_all`."""
        return [self[name].summed(place, size) for name in self]

    def summed_with_even(self, place: Ints, size: int) -> list[Halves]:
        """See `Credit.summed_with_even`."""
        return [self.even().summed(place, size), *self.summed_by_all(place, size)]

    def even(self) -> Shares:
        """See `Credit.even`."""
        return self._parted(self._credit.even())
