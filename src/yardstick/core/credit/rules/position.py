"""Much to the first and the last touch, the rest on the middle (R14)."""

from __future__ import annotations

import numpy as np

from ...base.columns import Ints
from .allocation import ByWeight, RuleInput
from .parameters import whole

POSITION = {"first": "0.4", "last": "0.4"}
"""Parameters where none are stated."""


def position(asked: RuleInput) -> ByWeight:
    """`first` and `last` as stated, the rest equally on the touches between them (R14).

    Of two touches each has its parameter's part of both; one touch has all.
    """
    trails = asked.trails
    first, last, one = whole(asked.yardstick.params, POSITION, "1")
    lengths = trails.lengths
    between = np.maximum(lengths - 2, 0)
    weight: Ints = np.repeat(np.full(len(lengths), one - first - last), lengths)
    filled = lengths > 0
    scale = np.maximum(between, 1)[filled]
    weight[trails.offsets[1:][filled] - 1] = last * scale
    weight[trails.offsets[:-1][filled]] = first * scale
    weight[trails.offsets[:-1][lengths == 1]] = 1
    return ByWeight(trails, weight)
