"""What `touches.order_by_person` and `trails.lay_trails` do, as machine code: one pass where numpy takes many.

Numba compiles it into a cache beside this file, at set-up or when it is first asked for. The cache goes by the file
that a function stands in and would not see a change of another, so nothing here is from another file.
"""

from __future__ import annotations

import numba
import numpy as np

C = numba.types.Array(numba.int64, 1, "C", readonly=True)
OUT = numba.types.Array(numba.int64, 1, "C")
KEYS = numba.types.Array(numba.uint64, 1, "C")
N = numba.int64
U = np.uint64


@numba.njit([numba.void(C, C, N, N, N, N, KEYS)], nogil=True, cache=True)
def packed(person, at, low, coarse, time_bits, row_bits, key):
    """Person, time since `low` without its `coarse` lowest bits, and row, one behind the other in 64 bits."""
    for i in range(len(key)):
        time = U(at[i] - low) >> U(coarse)
        key[i] = (U(person[i]) << U(time_bits + row_bits)) | (time << U(row_bits)) | U(i)


@numba.njit([numba.boolean(KEYS, N)], nogil=True, cache=True)
def unpacked(key, row_bits):
    """Turns sorted keys into their rows; False, and leaves them, if some differ in their rows alone."""
    row, alike = (U(1) << U(row_bits)) - U(1), False
    for i in range(1, len(key)):
        alike |= (key[i] ^ key[i - 1]) <= row
    if alike:
        return False
    for i in range(len(key)):
        key[i] &= row
    return True


@numba.njit([numba.void(C, OUT)], nogil=True, cache=True)
def counted(number, counts):
    """How often each number comes."""
    for i in range(len(number)):
        counts[U(number[i])] += 1


@numba.njit(inline="always")
def _at_or_after(at, low, high, wanted):
    while low < high:
        middle = (low + high) >> 1
        if at[U(middle)] < wanted:
            low = middle + 1
        else:
            high = middle
    return low


@numba.njit([numba.void(C, C, C, C, C, OUT, OUT)], nogil=True, cache=True)
def within_windows(begins, at, person, until, window, start, stop):
    """Of each conversion the first touch of its person within the window and the first one after `until`."""
    beyond = len(begins) - 2
    for i in range(len(person)):
        whose = U(min(person[i], beyond))
        end = begins[whose + U(1)]
        start[i] = _at_or_after(at, begins[whose], end, until[i] - window[i])
        stop[i] = _at_or_after(at, start[i], end, until[i] + 1)


@numba.njit([numba.void(C, C, OUT)], nogil=True, cache=True)
def ranges_of(start, offsets, numbers):
    """Numbers from each start, as many as the offsets leave room for, end to end."""
    for i in range(len(start)):
        for e in range(offsets[i], offsets[i + 1]):
            numbers[U(e)] = start[i] + e - offsets[i]
