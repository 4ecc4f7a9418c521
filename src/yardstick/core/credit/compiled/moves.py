"""Steps of paths counted by machine code (R16).

Numba compiles it into a cache beside this file, at set-up or when it is first asked for. The cache goes by the file
that a function stands in and would not see a change of another, so nothing here is from another file.
"""

from __future__ import annotations

import numba
import numpy as np

C = numba.types.Array(numba.int64, 1, "C", readonly=True)
OUT = numba.types.Array(numba.int64, 1, "C")
N = numba.int64
U = np.uint64


@numba.njit([numba.void(C, C, C, C, N, N, N, N, OUT)], nogil=True, cache=True)
def count_moves(offsets, touch, state, goal, states, before, after, end, counts):
    """Steps of paths from state to state, and from their last one to `end`.

    `counts` (goals x (states + before) x (states + after),): so many numbers stand before those of the states where a
    step comes from and where it goes to; a path starts from 0.
    """
    for t in range(len(offsets) - 1):
        if offsets[t + 1] > offsets[t]:
            row = goal[t] * (states + before)
            at = row * (states + after)
            for e in range(offsets[t], offsets[t + 1]):
                s = state[U(touch[U(e)])]
                counts[U(at + after + s)] += 1
                at = (row + before + s) * (states + after)
            counts[U(at + end)] += 1
