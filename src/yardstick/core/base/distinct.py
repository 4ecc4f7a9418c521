"""Distinct columns of a matrix of codes."""

from __future__ import annotations

import numpy as np

from .columns import Ints

_ROOM = 2**62


def distinct_columns(codes: Ints) -> tuple[Ints, Ints]:
    """The distinct columns of a matrix, in lexicographic order, and which of them each column is.

    Parameters
    ----------
    codes : (rows, n) integers

    Returns
    -------
    distinct : (rows, m)
    which : (n,) int64

    Notes
    -----
    Where the ranges of the rows multiply to less than 2^62, each column is one number, which sorts many times faster.
    """
    if not codes.shape[1]:
        return codes, np.empty(0, np.int64)
    low = codes.min(axis=1)
    spans = [int(h) - int(w) + 1 for h, w in zip(codes.max(axis=1), low, strict=True)]
    room = 1
    for span in spans:
        room *= span
    if room >= _ROOM:
        distinct, which = np.unique(codes, axis=1, return_inverse=True)
        return distinct, which.reshape(-1).astype(np.int64)
    packed = np.zeros(codes.shape[1], np.int64)
    for row, least, span in zip(codes, low, spans, strict=True):
        packed = packed * span + (row.astype(np.int64) - int(least))
    if room <= 4 * len(packed) + 1_000_000:
        # Few enough to have a place each: no sorting.
        number = np.full(room, -1, np.int64)
        number[packed] = 0
        there = np.flatnonzero(number == 0)
        number[there] = np.arange(len(there))
        which = number[packed]
        first = np.empty(len(there), np.int64)
        first[which[::-1]] = np.arange(len(packed) - 1, -1, -1)
        return codes[:, first], which
    _, first, which = np.unique(packed, return_index=True, return_inverse=True)
    return codes[:, first], which.reshape(-1).astype(np.int64)
