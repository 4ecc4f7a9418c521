"""Much to the first and the last touch, the rest on the middle (R14)."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal

import numpy as np

from ...base.columns import Ints
from ..allocation import ByWeight
from ..kernel import Kernel
from ..parameters import whole
from ..rule import Rule, RuleParameter
from ..trail_context import TrailContext

POSITION = {"first": "0.4", "last": "0.4"}
"""Parameters where none are stated."""


def position(asked: TrailContext) -> ByWeight:
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


def _placed(asked: TrailContext) -> tuple[int, int, int, int]:
    first, last, one = whole(asked.yardstick.params, POSITION, "1")
    return first, one - first - last, last, 1


def _wrong(stated: Mapping[str, Decimal]) -> str:
    first, last = (stated.get(name, Decimal(usual)) for name, usual in POSITION.items())
    if first + last > 1:
        return f"first and last add up to {first + last}: together they can have 1 at most"
    if first + last == 0:
        return "first and last are both 0: a trail of two touches would have no share"
    return ""


RULE = Rule(
    "position",
    "Position",
    5,
    position,
    parameters=(
        RuleParameter("first", "share of the first touch", "0.4"),
        RuleParameter("last", "share of the last touch", "0.4"),
    ),
    wrong=_wrong,
    kernel=Kernel(placed=_placed),
)
