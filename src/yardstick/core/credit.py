"""Credit: what every touch of every trail gets under every yardstick, and sums of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from .apportioning import apportion, apportion_evenly
from .columns import Flags, Floats, Ints
from .ground import Ground
from .settings import Settings, Yardstick
from .trails import Trails
from .yardsticks import parts_of


@dataclass(frozen=True)
class Shares:
    """The credit of one yardstick: the trail elements that get anything, and what.

    Attributes
    ----------
    size : trail elements in all
    element : (m,) int64, numbers of trail elements, ascending
    divisor : (m,) int64, share of each = 1 / divisor
    worth : (m,) int64, minor units of the home currency, adding up to the value of each conversion with a trail
    """

    size: int
    element: Ints
    divisor: Ints
    worth: Ints

    @cached_property
    def divisors(self) -> Ints:
        """(size,) int64 over all trail elements, 0 = nothing."""
        out = np.zeros(self.size, np.int64)
        out[self.element] = self.divisor
        return out

    @cached_property
    def value(self) -> Ints:
        """(size,) int64 over all trail elements."""
        out = np.zeros(self.size, np.int64)
        out[self.element] = self.worth
        return out


def share_credit(trails: Trails, ground: Ground, settings: Settings) -> dict[str, Shares]:
    """The credit of every yardstick on the same trails (R14, R15, R17).

    Returns
    -------
    dict from yardstick name to Shares, in the order of the settings
    """
    value = ground.conversions.value[trails.conversion]
    direct = ground.touches.direct
    return {y.name: share_of(y, trails, value, direct, lambda by: players(ground, by)) for y in settings.yardsticks}


def share_of(
    yardstick: Yardstick, trails: Trails, value: Ints, direct: Flags, players_by: Callable[[str], Ints]
) -> Shares:
    """The credit of one yardstick.

    Parameters
    ----------
    yardstick, trails : the rule and what it is applied to
    value : (c,) int64, minor units per trail
    direct : (n_touches,) bool
    players_by : gives (n_touches,) int64, the players of fair_share
    """
    parts = parts_of(yardstick, trails, direct, players_by)
    if parts.kinds is not None and parts.kind_divisor is not None:
        worth = apportion(value, parts.kinds, parts.kind_divisor)
    elif parts.even:
        worth = apportion_evenly(value, trails.offsets)
    else:
        # One touch takes all: nothing is left over to share.
        worth = value[trails.lengths > 0]
    return Shares(len(trails.touch), parts.element, parts.divisor, worth)


def players(ground: Ground, by: str) -> Ints:
    """(n,) int64: the state each touch stands for (R16): its campaign (untagged: one per channel), or its channel."""
    channel = ground.touches.fields["channel"].codes
    if by == "channel":
        return channel
    campaign = ground.touches.fields["campaign"]
    return np.where(campaign.codes > 0, campaign.codes, len(campaign.keys) + channel)


def unit_sums(place: Ints, divisors: Ints, size: int) -> Floats:
    """Sums of 1 / divisor per place, the same whatever the order of rows.

    Parameters
    ----------
    place : (k,) int64, 0 <= place < size
    divisors : (k,) int64, above 0

    Returns
    -------
    (size,) float64

    Notes
    -----
    Elements are counted, an integer, per place and divisor; only then is the fraction formed, in the order of divisors.
    """
    if not len(place):
        return np.zeros(size, np.float64)
    if int(divisors.max()) == 1:
        return np.bincount(place, minlength=size).astype(np.float64)
    span = int(divisors.max()) + 1
    if size * span <= max(SMALL_TABLE, len(place)):
        distinct, column = np.maximum(np.arange(span), 1), divisors
    else:
        distinct = np.flatnonzero(np.bincount(divisors))
        number = np.zeros(span, np.int64)
        number[distinct] = np.arange(len(distinct))
        column = number[divisors]
    width = len(distinct)
    key = place * width
    key += column
    if size * width <= 4 * len(key) + SMALL_TABLE:
        table = np.bincount(key, minlength=size * width).reshape(size, width)
        return np.asarray((table / distinct).sum(axis=1))
    keys, counts = np.unique(key, return_counts=True)
    places = keys // width
    starts = np.flatnonzero(np.concatenate([[True], places[1:] != places[:-1]]))
    out = np.zeros(size, np.float64)
    out[places[starts]] = np.add.reduceat(counts / distinct[keys % width], starts)
    return out


SMALL_TABLE = 1_000_000
"""Cells of a table of places x divisors that are always worth it."""


def exact_sums(place: Ints, amounts: Ints, size: int) -> Ints:
    """(size,) int64 sums of integers per place."""
    out = np.zeros(size, np.int64)
    np.add.at(out, place, amounts)
    return out
