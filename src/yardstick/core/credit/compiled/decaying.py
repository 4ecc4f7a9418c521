"""The weights of `decay` as machine code, to the last unit as `rules.decay` has them (R14).

Numba compiles it into a cache beside this file, at set-up or when it is first asked for. The cache goes by the file
that a function stands in and would not see a change of another, so nothing here is from another file.
"""

from __future__ import annotations

from fractions import Fraction
from math import factorial

import numba
import numpy as np

STRETCH = 256
"""So many elements are worked on at a time: few, since those among which one is unsure are gone through once more."""
LN_2, SQRT_2 = 0.6931471805599453, 1.4142135623730951
UNSURE = 5.0 * 2.0**-53
"""Of a weight, and half of it for each half-life that it is old: by less it is off."""
SERIES = tuple(1.0 / factorial(k) for k in range(13))
UNSURE_STILL = 2.0**-45
"""The same of a weight that is worked out in two numbers each."""
FACTORIALS = tuple(1.0 / factorial(k) for k in range(21))
RESTS = tuple(float(Fraction(1, factorial(k)) - Fraction(1.0 / factorial(k))) for k in range(21))
REST_OF_LN_2, REST_OF_SQRT_2 = 2.3190468138462996e-17, -9.667293313452913e-17
SPLIT = 2.0**27 + 1.0
C = numba.types.Array(numba.int64, 1, "C", readonly=True)
OUT = numba.types.Array(numba.int64, 1, "C")
N = numba.int64
U = np.uint64


@numba.njit
def _sum(a, b):
    """a + b and what the sum leaves out (Knuth, The Art of Computer Programming 2, 4.2.2)."""
    s = a + b
    t = s - a
    return s, (a - (s - t)) + (b - t)


@numba.njit
def _product(a, b):
    """a x b and what the product leaves out (Dekker 1971, A Floating-Point Technique for Extending the Precision)."""
    c, d, p = SPLIT * a, SPLIT * b, a * b
    high, upper = c - (c - a), d - (d - b)
    low, lower = a - high, b - upper
    return p, ((high * upper - p) + high * lower + low * upper) + low * lower


@numba.njit
def _of_two_numbers(older, half_life):
    """The weight of one touch, worked out in sums of two binary fractions each; -1 if that too is too near to a half.

    Each step is off by less than 2^-100 of it, the series is cut below 2^-90: of a weight of up to 2^40 a half is told
    from all that is 2^-45 away. Compiled on its own, since no product and sum here may be made one.
    """
    halvings = (older + half_life - 1) // half_life
    above, whole = float(2 * (halvings * half_life - older) - half_life), 2.0 * float(half_life)
    z = above / whole
    p, e = _product(z, whole)
    z, of_z = _sum(z, ((above - p) - e) / whole)
    t, of_t = _product(z, LN_2)
    t, of_t = _sum(t, of_t + z * REST_OF_LN_2 + of_z * LN_2)
    y, of_y = FACTORIALS[-1], 0.0
    for k in range(len(FACTORIALS) - 2, -1, -1):
        p, e = _product(y, t)
        p, e = _sum(p, e + y * of_t + of_y * t)
        y, of_y = _sum(FACTORIALS[k], p)
        y, of_y = _sum(y, of_y + e + RESTS[k])
    p, e = _product(y, SQRT_2)
    p, e = _sum(p, e + y * REST_OF_SQRT_2 + of_y * SQRT_2)
    power = 2.0 ** (40 - halvings)
    exact = p * power
    below = np.floor(exact)
    over = (exact - below - 0.5) + e * power
    return np.int64(-1) if abs(over) < UNSURE_STILL else np.int64(below) + np.int64(over > 0.0)


@numba.njit(inline="always")
def _older(offsets, touch, at, older):
    """How much older each touch is than the newest of its trail. Touch by touch from the last one, since what the end
    of each trail costs is that a processor guesses it wrong."""
    opens = np.zeros(len(older) + 1, np.bool_)
    for t in range(1, len(offsets)):
        opens[U(offsets[t] - offsets[0])] = True
    newest = np.int64(0)
    for e in range(len(older) - 1, -1, -1):
        this = at[U(touch[U(e + offsets[0])])]
        newest = this if opens[U(e + 1)] else newest
        older[U(e)] = newest - this


@numba.njit([numba.int64(C, C, C, N, OUT, OUT)], nogil=True, cache=True, fastmath={"contract"})
def decay_weights(offsets, touch, at, half_life, weight, unsure):
    """Weights 2^(40 - older / half-life), and the elements whose weight lies too near to a half to be told here; the
    half-life, in microseconds, is below 2^52.

    A power of 2 is that of its whole part times a polynomial of the rest, the exponential series to a term below 2^-56.
    In parts of 2^-53 of the weight Horner's scheme is off by 2.0 at most, its argument by 1.0, the product with the
    root of 2 by 1.5, no more where a product and a sum are rounded once; the exponent x, rounded twice, by 2 x ln 2
    = 1.4 x. All together stays below `UNSURE`.
    """
    _older(offsets, touch, at, weight)
    many, rate, older = 0, 1.0 / float(half_life), np.zeros(STRETCH, np.int64)
    bits = np.zeros(STRETCH, np.int64)
    power, rest, limit = bits.view(np.float64), np.zeros(STRETCH), np.zeros(STRETCH)
    for begin in range(0, len(weight), STRETCH):
        n = min(STRETCH, len(weight) - begin)
        some = weight[begin : begin + n]
        for i in range(n):
            older[i] = some[i]
            x = float(some[i]) * rate
            up = np.ceil(x)
            z = (up - x - 0.5) * LN_2
            y = SERIES[12]
            for k in range(11, -1, -1):
                y = SERIES[k] + z * y
            rest[i] = SQRT_2 * y
            limit[i] = UNSURE * (1.0 + 0.5 * x)
            bits[i] = (np.int64(max(-up, -900.0)) + 40 + 1023) << 52
        near = np.int64(0)
        for i in range(n):
            exact = power[i] * rest[i]
            below = np.int64(exact)
            over = exact - float(below)
            some[i] = below + np.int64(over > 0.5)
            rest[i] = abs(over - 0.5) - exact * limit[i]
            near += np.int64(rest[i] < 0.0)
        if near:
            for i in range(n):
                if rest[i] < 0.0:
                    some[i] = _of_two_numbers(older[i], half_life)
                    unsure[many] = begin + i
                    many += np.int64(some[i] < 0)
    return many
