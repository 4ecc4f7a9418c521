"""Credit: what every touch of every trail gets under every yardstick, and sums of it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .columns import Floats, Ints
from .ground import Ground
from .money import apportion
from .settings import Settings
from .trails import Trails
from .yardsticks import divisors_of


@dataclass(frozen=True)
class Shares:
    """The credit of one yardstick.

    Attributes
    ----------
    divisors : (k,) int64, share of each trail element = 1 / divisor, 0 = nothing
    value : (k,) int64, minor units of the home currency, adding up to the value of each conversion
    """

    divisors: Ints
    value: Ints


def share_credit(trails: Trails, ground: Ground, settings: Settings) -> dict[str, Shares]:
    """The credit of every yardstick on the same trails (R14, R15, R17).

    Returns
    -------
    dict from yardstick name to Shares, in the order of the settings
    """
    touches = ground.touches
    value = ground.conversions.value[trails.conversion]
    out = {}
    for yardstick in settings.yardsticks:
        divisors = divisors_of(yardstick, trails, touches.direct, lambda by: players(ground, by))
        out[yardstick.name] = Shares(divisors, share_value(value, trails, divisors))
    return out


def share_value(value: Ints, trails: Trails, divisors: Ints) -> Ints:
    """(k,) int64 minor units per trail element, adding up to each conversion's value (R17)."""
    whole = divisors == 1
    if int(whole.sum()) == int((divisors > 0).sum()):
        return np.where(whole, np.repeat(value, trails.lengths), 0)
    totals = np.where(trails.lengths > 0, value, 0)
    return apportion(totals, trails.offsets, divisors)


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
    divisors : (k,) int64, 0 = nothing

    Returns
    -------
    (size,) float64

    Notes
    -----
    Elements are counted, an integer, per place and divisor; only then is the fraction formed, in the order of divisors.
    """
    use = divisors > 0
    place, divisors = place[use], divisors[use]
    out = np.zeros(size, np.float64)
    if not len(place):
        return out
    span = int(divisors.max()) + 1
    if span == 2:
        return np.bincount(place, minlength=size).astype(np.float64)
    key = place * span + divisors
    if size * span <= 4 * len(key) + 1_000_000:
        counts = np.bincount(key, minlength=size * span)
        keys = np.flatnonzero(counts)
        counts = counts[keys]
    else:
        keys, counts = np.unique(key, return_counts=True)
    places = keys // span
    starts = np.flatnonzero(np.concatenate([[True], places[1:] != places[:-1]]))
    out[places[starts]] = np.add.reduceat(counts / (keys % span), starts)
    return out


def exact_sums(place: Ints, amounts: Ints, size: int) -> Ints:
    """(size,) int64 sums of integers per place."""
    out = np.zeros(size, np.int64)
    np.add.at(out, place, amounts)
    return out
