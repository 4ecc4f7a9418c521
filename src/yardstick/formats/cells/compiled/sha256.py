"""SHA-256 of many short texts as machine code, thirty-two side by side (FIPS 180-4).

The usual library hashes one text a call, and of a row of a hundred bytes the call is most of it. Here a step is done
for many texts before the next one, which the compiler makes into vector instructions. Set-up alone imports this module;
what it compiled is loaded by `formats.cells.object_code`.
"""

from __future__ import annotations

import numba
import numpy as np
from numba import types

LANES = 32
BLOCK, WORDS, ROUNDS = 64, 16, 64
U, AT = np.uint32, np.int64
A, E = ROUNDS * LANES, (2 * ROUNDS + 4) * LANES
"""Where the working variables begin behind the schedule: a of one round is b of the next, then c, then d."""
STATE = (3 * ROUNDS + 8) * LANES
"""Where the hashes so far begin, behind the working variables."""
BYTE, POINT = types.CPointer(types.uint8), types.CPointer(types.int32)
WORD, ROW = types.CPointer(types.uint32), types.CPointer(types.int64)


def _fractions(root: int, count: int) -> list[int]:
    """The first 32 bits of the fractions of a root of the first primes (FIPS 180-4, 4.2.2 and 5.3.3)."""
    primes = [n for n in range(2, 400) if all(n % d for d in range(2, n))][:count]
    found = []
    for prime in primes:
        wanted, low, high = prime << 32 * root, 0, prime << 32
        while high - low > 1:
            middle = (low + high) // 2
            low, high = (middle, high) if middle**root <= wanted else (low, middle)
        found.append(low & 0xFFFFFFFF)
    return found


START = np.array(_fractions(2, 8), np.uint32)
CONSTANTS = np.array(_fractions(3, ROUNDS), np.uint32)


@numba.njit(inline="always")
def _turned(x, n):
    # Of two numbers of 32 bits numba makes one of 64; half as many of those go into a vector.
    return U(U(x >> U(n)) | U(x << U(32 - n)))


@numba.njit(inline="always")
def _in_order_of_bytes(x):
    return (x >> U(24)) | ((x >> U(8)) & U(0xFF00)) | ((x << U(8)) & U(0xFF0000)) | (x << U(24))


@numba.njit(inline="always")
def _blocks(offsets, row):
    return (AT(offsets[row + 1]) - AT(offsets[row]) + 8) // BLOCK + 1


@numba.njit(inline="always")
def _word(content, start, length, at):
    """Four bytes of a text, behind it a bit and nothing."""
    if at + 4 <= length:
        here = start + at
        high = (U(content[here]) << U(24)) | (U(content[here + 1]) << U(16))
        return high | (U(content[here + 2]) << U(8)) | U(content[here + 3])
    word = U(0)
    if at > length:
        return word
    for k in range(at, at + 4):
        byte = U(0)
        if k < length:
            byte = U(content[start + k])
        elif k == length:
            byte = U(0x80)
        word = (word << U(8)) | byte
    return word


@numba.njit(inline="always")
def _schedule(m):
    for t in range(WORDS, ROUNDS):
        w = t * LANES
        for i in range(w, w + LANES):
            x, y = m[i - 15 * LANES], m[i - 2 * LANES]
            small = _turned(x, 7) ^ _turned(x, 18) ^ (x >> U(3))
            m[i] = m[i - 16 * LANES] + small + m[i - 7 * LANES] + (_turned(y, 17) ^ _turned(y, 19) ^ (y >> U(10)))


@numba.njit(inline="always")
def _rounds(m):
    for t in range(ROUNDS):
        a, e, w, k = A + (t + 4) * LANES, E + (t + 4) * LANES, t * LANES, CONSTANTS[t]
        for i in range(LANES):
            x, f, g = m[e + i - LANES], m[e + i - 2 * LANES], m[e + i - 3 * LANES]
            y, b, c = m[a + i - LANES], m[a + i - 2 * LANES], m[a + i - 3 * LANES]
            one = U(m[e + i - 4 * LANES] + k + m[w + i])
            one = U(one + U(_turned(x, 6) ^ _turned(x, 11) ^ _turned(x, 25)) + U(U(x & f) ^ U(~x & g)))
            two = U(U(_turned(y, 2) ^ _turned(y, 13) ^ _turned(y, 22)) + U(U(y & b) ^ U(y & c) ^ U(b & c)))
            m[e + i] = U(m[a + i - 4 * LANES] + one)
            m[a + i] = U(one + two)


# content: all texts end to end; offsets: where each begins, and the last ends; order: the n texts, those of one length
# side by side, so that no lane waits for a long one; out: 8 words a text; m: `WORK` words of room.
@numba.cfunc(types.void(BYTE, POINT, ROW, types.int64, WORD, WORD), error_model="numpy")
def _hash_rows(content, offsets, order, n, out, m):
    """Block after block of as many texts as there are lanes; one that has ended takes part and changes nothing."""
    for first in range(0, n, LANES):
        count, most = n - first, 0
        if count > LANES:
            count = LANES
        for lane in range(count):
            blocks = _blocks(offsets, order[first + lane])
            if blocks > most:
                most = blocks
        for i in range(8 * LANES):
            m[STATE + i] = START[i // LANES]
        for block in range(most):
            for lane in range(count):
                row = order[first + lane]
                start = AT(offsets[row])
                length = AT(offsets[row + 1]) - start
                for i in range(WORDS):
                    m[i * LANES + lane] = _word(content, start, length, block * BLOCK + i * 4)
                if block == _blocks(offsets, row) - 1:
                    m[14 * LANES + lane] = U(length >> 29)
                    m[15 * LANES + lane] = U(length << 3)
            for i in range(4):
                for lane in range(LANES):
                    m[A + (3 - i) * LANES + lane] = m[STATE + i * LANES + lane]
                    m[E + (3 - i) * LANES + lane] = m[STATE + (i + 4) * LANES + lane]
            _schedule(m)
            _rounds(m)
            for lane in range(count):
                if block < _blocks(offsets, order[first + lane]):
                    for i in range(4):
                        m[STATE + i * LANES + lane] += m[A + (ROUNDS + 3 - i) * LANES + lane]
                        m[STATE + (i + 4) * LANES + lane] += m[E + (ROUNDS + 3 - i) * LANES + lane]
        for lane in range(count):
            for i in range(8):
                out[order[first + lane] * 8 + i] = _in_order_of_bytes(m[STATE + i * LANES + lane])


KERNELS = {"hash_rows": _hash_rows}
