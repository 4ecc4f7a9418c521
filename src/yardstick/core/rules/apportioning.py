"""Whole minor units shared among the touches of each trail by largest remainder (R17), exactly.

The method is Hamilton's, as in published apportionment examples. Shares are 1 / divisor with whole divisors, remainders
are compared as whole numbers; ties go to the earlier touch.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from ..base.columns import Ints


def apportion_evenly(totals: Ints, offsets: Ints) -> Ints:
    """Share whole minor units equally among the touches of each trail (R17).

    Every touch has the same share, so all remainders of a trail are equal and the earlier touches win.

    Parameters
    ----------
    totals : (n_trails,) int64, minor units to share, not negative
    offsets : (n_trails + 1,) int64, where each trail begins

    Returns
    -------
    (n_touches,) int64 that add up to `totals` in every filled trail
    """
    lengths = np.diff(offsets)
    each, left = np.divmod(totals, np.maximum(lengths, 1))
    # Counting down from the left-over at the start of a trail, the touches above 0 get one unit more.
    place = np.arange(offsets[-1])
    return np.repeat(each, lengths) + (place < np.repeat(offsets[:-1] + left, lengths))


def largest_remainder(total: int, weights: Sequence[int]) -> list[int]:
    """One amount shared in proportion to whole weights, ties to the earlier (R17); nothing where all weights are 0.

    Examples
    --------
    >>> largest_remainder(5, [1, 1, 1])
    [2, 2, 1]
    """
    whole = sum(weights)
    if not whole:
        return [0] * len(weights)
    quotas = [divmod(total * weight, whole) for weight in weights]
    out = [units for units, _ in quotas]
    order = sorted(range(len(weights)), key=lambda i: (-quotas[i][1], i))
    for i in order[: total - sum(out)]:
        out[i] += 1
    return out


def apportion_by_weight(totals: Ints, weight: Ints, offsets: Ints) -> Ints:
    """Share whole units among the touches of each trail in proportion to whole weights, by largest remainder (R17).

    Parameters
    ----------
    totals : (n_trails,) int64, units to share, not negative
    weight : (n_touches,) int64, or object where a trail's weights add up to 2^62 or more; not negative, and not all 0
        in a filled trail
    offsets : (n_trails + 1,) int64, where each trail begins

    Returns
    -------
    (n_touches,) int64 that add up to `totals` in every filled trail

    Notes
    -----
    Of one trail all remainders have one denominator, the sum of its weights, so they are compared as they are.
    """
    lengths = np.diff(offsets)
    filled = np.flatnonzero(lengths > 0)
    if not len(filled):
        return np.zeros(0, np.int64)
    sums = np.add.reduceat(weight, offsets[:-1][filled])
    counts = lengths[filled]
    each, rest = _parts_of(np.repeat(totals[filled], counts), weight, np.repeat(sums, counts))
    left = totals[filled] - np.add.reduceat(each, offsets[:-1][filled])
    short = np.flatnonzero(np.repeat(left > 0, counts))
    if len(short):
        trail = np.repeat(np.arange(len(filled)), counts)[short]
        order = np.lexsort((-rest[short], trail)) if rest.dtype != object else _by_remainder(rest[short], trail)
        begins = np.searchsorted(trail, trail, side="left")
        place = np.arange(len(short)) - begins
        winners = short[order][place < left[trail]]
        each[winners] += 1
    return each


def _parts_of(totals: Ints, weight: Ints, sums: Ints) -> tuple[Ints, Ints]:
    """totals x weight // sums and the remainders, exactly, though the product may go beyond 64 bits."""
    if weight.dtype == object:
        product = totals.astype(object) * weight
        return (product // sums).astype(np.int64), product % sums
    # Long division: as many bits of the total at a time as leave room beside the largest sum.
    step = max(1, 62 - int(sums.max()).bit_length())
    bits = int(totals.max()).bit_length()
    each, rest = np.zeros(len(totals), np.int64), np.zeros(len(totals), np.int64)
    while bits > 0:
        taken = min(step, bits)
        bits -= taken
        some = (totals >> bits) & ((1 << taken) - 1)
        here = (rest << taken) + some * weight
        more, rest = np.divmod(here, sums)
        each = (each << taken) + more
    return each, rest


def _by_remainder(rest: Ints, trail: Ints) -> Ints:
    """As `lexsort` by trail and falling remainder, for whole numbers beyond 64 bits."""
    rank = {value: -i for i, value in enumerate(sorted(set(rest.tolist())))}
    return np.lexsort((np.array([rank[value] for value in rest.tolist()], np.int64), trail))


@dataclass(frozen=True)
class Kinds:
    """The touches of each trail by kind: those of one kind have the same share.

    There are far fewer kinds than touches, so that all arithmetic but a lookup per touch is done on kinds.

    Attributes
    ----------
    offsets : (n_trails + 1,) int64, where each trail begins
    cell : (n_touches,) int64, the cell of each touch's kind; the cells of a trail lie within its own span of touches
    used : (m,) int64, cells that are kinds, ascending
    trail, number, count : (m,) int64, each kind's trail, its number inside it, and how many touches are of it
    """

    offsets: Ints
    cell: Ints
    used: Ints
    trail: Ints
    number: Ints
    count: Ints

    @staticmethod
    def of(offsets: Ints, number: Ints) -> Kinds:
        """Touches by a number each.

        Parameters
        ----------
        offsets : (n_trails + 1,) int64
        number : (n_touches,) int64, 0 <= number < touches of the trail
        """
        lengths = np.diff(offsets)
        cell = np.repeat(offsets[:-1], lengths)
        cell += number
        counts = np.bincount(cell, minlength=len(cell))
        used = np.flatnonzero(counts > 0)
        trail = np.repeat(np.arange(len(lengths)), lengths)[used]
        return Kinds(offsets, cell, used, trail, used - offsets[trail], counts[used])

    def spread(self, values: Ints) -> Ints:
        """(n_touches,) int64: to each touch what its kind has."""
        of_cell = np.zeros(len(self.cell), np.int64)
        of_cell[self.used] = values
        return of_cell[self.cell]


def apportion(totals: Ints, kinds: Kinds, divisor: Ints) -> Ints:
    """Share whole minor units among the touches of each trail by largest remainder (R17).

    Parameters
    ----------
    totals : (n_trails,) int64, minor units to share, not negative
    kinds : the touches by share
    divisor : (m,) int64, the share of each touch of a kind is 1 / divisor; shares add up to 1 in every filled trail

    Returns
    -------
    (n_touches,) int64 that add up to `totals` in every filled trail

    Notes
    -----
    All touches of a kind have one remainder. Kinds with equal remainders are one group of equals; groups win from the
    largest remainder down while units are left, and of the last group that wins the earlier touches do.
    """
    if not len(kinds.used):
        return np.zeros(0, np.int64)
    each, rest = np.divmod(totals[kinds.trail], divisor)
    key = _fraction_keys(kinds.trail, rest, divisor)
    order = _order(kinds.trail, key)
    trail, key, count = kinds.trail[order], key[order], kinds.count[order]
    fresh_trail = _changes(trail)
    # What is left in each trail after the whole parts, and how many touches stand before each group of equals.
    starts = np.flatnonzero(fresh_trail)
    given = np.add.reduceat(each[order] * count, starts)
    left = np.repeat(totals[trail[starts]] - given, np.diff(np.append(starts, len(order))))
    groups = np.flatnonzero(fresh_trail | _changes(key))
    sizes = np.diff(np.append(groups, len(order)))
    members = np.add.reduceat(count, groups)
    before = np.cumsum(members) - members
    before -= np.maximum.accumulate(np.where(fresh_trail[groups], before, 0))
    won = np.clip(left[groups] - before, 0, members)
    whole = np.repeat(won == members, sizes)
    unit = np.empty(len(order), np.int64)
    unit[order] = whole
    shares = kinds.spread(each + unit)
    some = (won > 0) & (won < members)
    if some.any():
        places = np.zeros(len(order), np.int64)
        places[order] = np.repeat(np.where(some, won, 0), sizes)
        _to_the_earlier(shares, kinds, places)
    return shares


def _to_the_earlier(shares: Ints, kinds: Kinds, places: Ints) -> None:
    """One unit more to the first touches of each trail whose kinds have places (m,) for only some of them."""
    few = kinds.spread(places)
    among = few > 0
    # How many of them came so far, over all trails; at most one group of equals of a trail has too few places.
    came = np.zeros(len(few) + 1, np.int64)
    np.cumsum(among, out=came[1:])
    few += np.repeat(came[kinds.offsets[:-1]], np.diff(kinds.offsets))
    among &= came[1:] <= few
    shares += among


def _order(trail: Ints, key: Ints) -> Ints:
    """Kinds trail by trail, the smallest key first; the order of equals does not matter."""
    low, high = int(key.min()), int(key.max())
    width = (high - low).bit_length()
    if int(trail[-1]).bit_length() + width > 63:
        return np.lexsort((key, trail))
    return np.argsort((trail << width) + (key - low))


def _changes(values: Ints) -> np.ndarray:
    """(n,) bool: where a value is another than the one before it, the first among them."""
    out = np.ones(len(values), np.bool_)
    np.not_equal(values[1:], values[:-1], out=out[1:])
    return out


WIDEST_DIVISOR = 2**20
FRACTION_BITS = 40


def _fraction_keys(trail: Ints, remainders: Ints, divisors: Ints) -> Ints:
    """Whole numbers in the order of the fractions remainder / divisor inside each trail, the largest first; equal for
    equal fractions.

    Notes
    -----
    Two different fractions with divisors up to 2**b are at least 2**-2b apart, so the integers
    floor(remainder x 2**2b / divisor) order them exactly, and equal fractions give equal integers. Trails with a
    divisor beyond 2**20 (one very long trail among many) are compared as fractions, and they alone.
    """
    wide = divisors > WIDEST_DIVISOR
    if not wide.any():
        bits = min(FRACTION_BITS, 2 * int(divisors.max()).bit_length())
        return -((remainders << bits) // divisors)
    wide = np.isin(trail, trail[wide])
    keys = np.zeros(len(trail), np.int64)
    keys[~wide] = -((remainders[~wide] << FRACTION_BITS) // divisors[~wide])
    fractions = [-Fraction(r, d) for r, d in zip(remainders[wide].tolist(), divisors[wide].tolist(), strict=True)]
    rank = {fraction: i for i, fraction in enumerate(sorted(set(fractions)))}
    keys[wide] = [rank[fraction] for fraction in fractions]
    return keys
