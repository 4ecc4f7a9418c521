"""SHA-256 of many short texts as machine code, thirty-two side by side (FIPS 180-4).

The usual library hashes one text a call, and of a row of a hundred bytes the call is most of it. Here a step is done
for many texts before the next one, which the compiler makes into vector instructions. Importing this module takes most
of a second, so only `row_hashes` does, and only for many rows.
"""

from __future__ import annotations

import numba
import numpy as np

LANES = 32
BLOCK, WORDS, ROUNDS = 64, 16, 64
U, AT = np.uint32, np.uint64
A, E = ROUNDS * LANES, (2 * ROUNDS + 4) * LANES
"""Where the working variables begin behind the schedule: a of one round is b of the next, then c, then d."""
SIZE = (3 * ROUNDS + 8) * LANES


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


def sha256(content: np.ndarray, offsets: np.ndarray, out: np.ndarray) -> None:
    """The hash of each text.

    Parameters
    ----------
    content : uint8, all texts end to end
    offsets : (n + 1,) int32, where each begins
    out : (n, 8) uint32, takes the words of each hash, in the order of their bytes
    """
    blocks = (np.diff(offsets) + 8) // BLOCK + 1
    begins = np.zeros(len(offsets), np.int64)
    np.cumsum(blocks, out=begins[1:])
    padded = np.zeros(int(begins[-1]) * BLOCK, np.uint8)
    _pad(content, offsets, begins, padded)
    words = padded.view(">u4").astype(np.uint32)
    # Texts of one length side by side: no lane waits for a long one.
    _hash(words, begins, np.argsort(blocks, kind="stable"), out)
    out.byteswap(inplace=True)


@numba.njit(
    [
        numba.void(
            numba.types.Array(numba.uint8, 1, "C", readonly=True),
            numba.types.Array(numba.int32, 1, "C", readonly=True),
            numba.int64[::1],
            numba.uint8[::1],
        )
    ],
    nogil=True,
    cache=True,
)
def _pad(content, offsets, begins, padded):
    """Texts into whole blocks, behind each a bit and its length. Of indices with a sign every byte would be asked
    whether it counts from the end."""
    for row in range(len(offsets) - 1):
        start, length = AT(offsets[row]), AT(offsets[row + 1] - offsets[row])
        to, end = AT(begins[row] * BLOCK), AT(begins[row + 1] * BLOCK)
        for i in range(length):
            padded[to + i] = content[start + i]
        padded[to + length] = 0x80
        for i in range(AT(8)):
            padded[end - AT(1) - i] = (length << AT(3)) >> (AT(8) * i)


@numba.njit(inline="always")
def _turned(x, n):
    return (x >> U(n)) | (x << U(32 - n))


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
            one = m[e + i - 4 * LANES] + (_turned(x, 6) ^ _turned(x, 11) ^ _turned(x, 25)) + k + m[w + i]
            one += (x & f) ^ (~x & g)
            m[e + i] = m[a + i - 4 * LANES] + one
            m[a + i] = one + (_turned(y, 2) ^ _turned(y, 13) ^ _turned(y, 22)) + ((y & b) ^ (y & c) ^ (b & c))


@numba.njit(
    [numba.void(numba.uint32[::1], numba.int64[::1], numba.int64[::1], numba.uint32[:, ::1])], nogil=True, cache=True
)
def _hash(words, begins, order, out):
    """Block after block of as many texts as there are lanes; one that has ended takes part and changes nothing."""
    n = len(order)
    m, state = np.zeros(SIZE, np.uint32), np.zeros(8 * LANES, np.uint32)
    start, blocks = np.zeros(LANES, np.int64), np.zeros(LANES, np.int64)
    for first in range(0, n, LANES):
        count, most = min(LANES, n - first), 0
        for lane in range(count):
            row = order[first + lane]
            start[lane], blocks[lane] = begins[row], begins[row + 1] - begins[row]
            most = max(most, blocks[lane])
        for i in range(8 * LANES):
            state[i] = START[i // LANES]
        for block in range(most):
            for lane in range(count):
                at = AT((start[lane] + min(block, blocks[lane] - 1)) * WORDS)
                for i in range(WORDS):
                    m[i * LANES + lane] = words[at + AT(i)]
            for i in range(4):
                for lane in range(LANES):
                    m[A + (3 - i) * LANES + lane] = state[i * LANES + lane]
                    m[E + (3 - i) * LANES + lane] = state[(i + 4) * LANES + lane]
            _schedule(m)
            _rounds(m)
            for i in range(4):
                for lane in range(LANES):
                    on = U(block < blocks[lane])
                    state[i * LANES + lane] += on * m[A + (ROUNDS + 3 - i) * LANES + lane]
                    state[(i + 4) * LANES + lane] += on * m[E + (ROUNDS + 3 - i) * LANES + lane]
        for lane in range(count):
            for i in range(8):
                out[order[first + lane], i] = state[i * LANES + lane]
