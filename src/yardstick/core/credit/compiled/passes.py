"""Passes over trails as machine code: rules that look at a touch's place in its trail alone, and adding up (R14, R17).

Numba compiles it into a cache beside this file, at set-up or when it is first asked for. The cache goes by the file
that a function stands in and would not see a change of another, so nothing here is from another file.

Sums are whole numbers by place, one row a place; row 0 is for elements that are added up nowhere. Parts of 2^-60 are
added up in two halves, so that what they add up to has room.
"""

from __future__ import annotations

import numba
import numpy as np

WHOLE = 2**60
HALF = 30
LOWER = 2**HALF - 1
NARROW = 2**52
"""A product that is smaller is divided in one step; weights of a trail add up to less."""
KEPT = 2048
"""Shares of whole conversions are worked out once for each length of trail below this."""
COLUMNS = 16
SOLE, FIRST, LAST, MARKED = 0, 2, 4, 6
"""Columns of trails with one touch, whose touch has all under every rule, and of rules that give all to one touch: how
many, and minor units."""
EVEN, PLACED = 8, 11
"""Columns of shares: halves of parts, and minor units."""
WANTS_MARKED, WANTS_PLACED = 1, 2
C = numba.types.Array(numba.int64, 1, "C", readonly=True)
F = numba.types.Array(numba.boolean, 1, "C", readonly=True)
CODES = numba.types.Array(numba.int32, 1, "C", readonly=True)
OUT = numba.types.Array(numba.int64, 1, "C")
N = numba.int64
U = np.uint64


@numba.njit(inline="always")
def _row(place, element):
    return U(np.int64(place[U(element)]) + 1) * U(COLUMNS)


@numba.njit(inline="always")
def _over(total, whole, inverse):
    """total // whole and the remainder, for total < 2^52; `inverse` is 1 / whole."""
    q = np.int64(float(total) * inverse)
    r = total - q * whole
    off = np.int64(r >= whole) - np.int64(r < 0)
    return q + off, r - off * whole


@numba.njit(inline="always")
def _divided(total, weight, whole, inverse):
    """total x weight // whole and the remainder, for weight <= whole < 2^52."""
    q = np.int64(float(total) * (float(weight) * inverse))
    r = total * weight - q * whole
    more = np.int64(float(r) * inverse)
    q += more
    r -= more * whole
    off = np.int64(r >= whole) - np.int64(r < 0)
    return q + off, r - off * whole


@numba.njit(inline="always")
def _of_three(left, between, first, middle, last):
    """What is left, by remainders: to the first, to so many of those between, to the last; ties to the earlier."""
    one = min(max(left - (np.int64(middle > first) * between + np.int64(last > first)), 0), 1)
    some = min(max(left - (np.int64(first >= middle) + np.int64(last > middle)), 0), between)
    return one, some, left - one - some


@numba.njit(inline="always")
def _last_marked(begin, end, touch, direct):
    e = end - 1
    while e >= begin and direct[U(touch[U(e)])]:
        e -= 1
    return e if e >= begin else end - 1


@numba.njit(inline="always")
def _by_place(total, n, first, middle, last, whole):
    """What the first touch gets, each between, the last; and how many of those between get one more."""
    inverse = 1.0 / float(whole)
    if float(total) * float(whole) < NARROW:
        a, r = _over(total * first, whole, inverse)
        b, s = _over(total * middle, whole, inverse)
        c, u = _over(total * last, whole, inverse)
    else:
        a, r = _divided(total, first, whole, inverse)
        b, s = _divided(total, middle, whole, inverse)
        c, u = _divided(total, last, whole, inverse)
    one, some, other = _of_three(total - a - b * (n - 2) - c, n - 2, r, s, u)
    return a + one, b, c + other, some


@numba.njit(inline="always")
def _put_place(sums, row, part, worth, usual_part, usual_worth):
    """What one touch has beyond those between."""
    sums[row + U(PLACED)] += (part >> HALF) - (usual_part >> HALF)
    sums[row + U(PLACED + 1)] += (part & LOWER) - (usual_part & LOWER)
    sums[row + U(PLACED + 2)] += worth - usual_worth


@numba.njit(inline="always")
def _put(sums, row, column, part, worth):
    sums[row + U(column)] += part >> HALF
    sums[row + U(column + 1)] += part & LOWER
    sums[row + U(column + 2)] += worth


@numba.njit(inline="always")
def _put_two(sums, first, last, value, of_first, of_last, wanted):
    """Shares of two touches: the first has its own rounded to the nearest unit, a half up, since a tie is the earlier
    one's; the last the rest."""
    later = value >> 1
    _put(sums, first, EVEN, WHOLE >> 1, value - later)
    _put(sums, last, EVEN, WHOLE >> 1, later)
    if wanted & WANTS_PLACED:
        part, worth, whole = np.int64(WHOLE >> 1), value - later, of_first + of_last
        if whole > 0:
            inverse = 1.0 / float(whole)
            part, r = _divided(WHOLE, of_first, whole, inverse)
            part += np.int64(2 * r >= whole)
            worth, r = _divided(value, of_first, whole, inverse)
            worth += np.int64(2 * r >= whole)
        _put(sums, first, PLACED, part, worth)
        _put(sums, last, PLACED, WHOLE - part, value - worth)


@numba.njit(inline="always")
def _put_three(sums, first, middle, last, value, of_first, of_middle, of_last, wanted):
    """Shares of three touches: the one between is alone there."""
    third, more = value // 3, value % 3
    _put(sums, first, EVEN, WHOLE // 3 + WHOLE % 3, third + np.int64(more > 0))
    _put(sums, middle, EVEN, WHOLE // 3, third + np.int64(more > 1))
    _put(sums, last, EVEN, WHOLE // 3, third)
    if wanted & WANTS_PLACED:
        whole = of_first + of_middle + of_last
        if whole > 0:
            a, b, c, one = _by_place(WHOLE, 3, of_first, of_middle, of_last, whole)
            d, e, f, other = _by_place(value, 3, of_first, of_middle, of_last, whole)
        else:
            a, b, c, one = WHOLE // 3 + WHOLE % 3, WHOLE // 3, WHOLE // 3, 0
            d, e, f, other = third + np.int64(more > 0), third, third, np.int64(more > 1)
        _put(sums, first, PLACED, a, d)
        _put(sums, middle, PLACED, b + one, e + other)
        _put(sums, last, PLACED, c, f)


@numba.njit(inline="always")
def _one_more(sums, place, begin, some, column):
    for i in range(some):
        sums[_row(place, begin + i) + U(column)] += 1


@numba.njit([numba.boolean(C, CODES, C, C, F, C, N, OUT)], nogil=True, cache=True)
def by_place_in_trail(offsets, place, value, touch, direct, weights, wanted, sums):
    """The first touch, the last, the last that is not direct, all evenly, and by position, in one pass.

    Parameters
    ----------
    offsets : (n_trails + 1,), which need not begin at 0
    place : (n_elements,), -1 = added up nowhere
    value : (n_trails,), minor units
    touch, direct : (n_elements,), (n_touches,)
    weights : (4,), by position: of the first touch, of each between, of the last, and whether the first and the last
        weigh so much against all between them together; where all weights are 0, the same to every touch
    wanted : bits `WANTS_MARKED`, `WANTS_PLACED`
    sums : ((places + 1) x COLUMNS,)

    Returns
    -------
    False, with `sums` half done, where weights of a trail add up to too much.
    """
    of_first, of_middle, of_last, scaled = weights[0], weights[1], weights[2], weights[3]
    known = np.zeros(6 * KEPT, np.int64)
    for t in range(len(offsets) - 1):
        begin, end, v = offsets[t], offsets[t + 1], value[t]
        n = end - begin
        if n == 0:
            continue
        first, last = _row(place, begin), _row(place, end - 1)
        if n == 1:
            sums[first + U(SOLE)] += 1
            sums[first + U(SOLE + 1)] += v
            continue
        sums[first + U(FIRST)] += 1
        sums[first + U(FIRST + 1)] += v
        sums[last + U(LAST)] += 1
        sums[last + U(LAST + 1)] += v
        if wanted & WANTS_MARKED:
            marked = _row(place, _last_marked(begin, end, touch, direct))
            sums[marked + U(MARKED)] += 1
            sums[marked + U(MARKED + 1)] += v
        if n == 2:
            _put_two(sums, first, last, v, of_first, of_last, wanted)
            continue
        if n == 3:
            middle = _row(place, begin + 1)
            _put_three(sums, first, middle, last, v, of_first, of_middle, of_last, wanted)
            continue
        at = 6 * min(n, KEPT - 1)
        if known[at] != n:
            known[at] = n
            known[at + 1] = WHOLE // n
            if wanted & WANTS_PLACED:
                scale = n - 2 if scaled else 1
                whole = (of_first + of_last) * scale + of_middle * (n - 2)
                if whole >= NARROW:
                    return False
                if whole > 0:
                    parts = _by_place(WHOLE, n, of_first * scale, of_middle, of_last * scale, whole)
                    known[at + 2], known[at + 3], known[at + 4], known[at + 5] = parts
        part = known[at + 1]
        more_parts = WHOLE - part * n
        worth, more_worth = _over(v, n, 1.0 / float(n))
        high, low = part >> HALF, part & LOWER
        usual, usual_worth = np.int64(0), np.int64(0)
        if wanted & WANTS_PLACED:
            scale = n - 2 if scaled else 1
            whole = (of_first + of_last) * scale + of_middle * (n - 2)
            if whole == 0:
                usual, usual_worth = part, worth
                _one_more(sums, place, begin, more_parts, PLACED + 1)
                _one_more(sums, place, begin, more_worth, PLACED + 2)
            else:
                usual = known[at + 3]
                a, usual_worth, c, some = _by_place(v, n, of_first * scale, of_middle, of_last * scale, whole)
                _put_place(sums, first, known[at + 2], a, usual, usual_worth)
                _put_place(sums, last, known[at + 4], c, usual, usual_worth)
                _one_more(sums, place, begin + 1, known[at + 5], PLACED + 1)
                _one_more(sums, place, begin + 1, some, PLACED + 2)
        usual_high, usual_low = usual >> HALF, usual & LOWER
        for i in range(n):
            row = _row(place, begin + i)
            sums[row + U(EVEN)] += high
            sums[row + U(EVEN + 1)] += low
            sums[row + U(EVEN + 2)] += worth
            sums[row + U(PLACED)] += usual_high
            sums[row + U(PLACED + 1)] += usual_low
            sums[row + U(PLACED + 2)] += usual_worth
        _one_more(sums, place, begin, more_parts, EVEN + 1)
        _one_more(sums, place, begin, more_worth, EVEN + 2)
    return True


@numba.njit([numba.void(CODES, C, C, OUT)], nogil=True, cache=True)
def add_up(place, part, worth, sums):
    """Shares by place, into four numbers a place: halves of parts, minor units, and nothing."""
    for e in range(len(place)):
        row = U(np.int64(place[U(e)]) + 1) * U(4)
        sums[row] += part[U(e)] >> HALF
        sums[row + U(1)] += part[U(e)] & LOWER
        sums[row + U(2)] += worth[U(e)]
