"""Weights of one's own by place and by channel (R14)."""

from __future__ import annotations

import numpy as np

from ...base.columns import Codes, Ints
from ...base.words import fold
from .allocation import ByWeight, RuleInput
from .parameters import whole

_WIDEST = 2**62


def custom(asked: RuleInput) -> ByWeight:
    """A weight for the first, middle or last touch times one for its channel; where all are 0, all the same (R14).

    A trail of one touch uses `first`.
    """
    trails = asked.trails
    (first, middle, last), of_channel, channel = custom_parameters(asked)
    lengths = trails.lengths
    filled = lengths > 0
    weight: Ints = np.full(len(trails.touch), middle)
    weight[trails.offsets[1:][filled] - 1] = last
    weight[trails.offsets[:-1][filled]] = first
    if channel is not None:
        weight = weight * of_channel[channel][trails.touch]
    sums = np.add.reduceat(weight, trails.offsets[:-1][filled]) if filled.any() else np.empty(0, np.int64)
    nothing = np.zeros(len(lengths), np.bool_)
    nothing[filled] = sums == 0
    weight[np.repeat(nothing, lengths)] = 1
    return ByWeight(trails, weight)


def custom_parameters(asked: RuleInput) -> tuple[list[int], Ints, Codes | None]:
    """Weights of the first, the middle and the last touch; weights of channels by number, Python's integers where a
    trail's sum could pass 64 bits; and (n_touches,) the number of each touch's channel, None if all weigh the same."""
    places = whole(asked.yardstick.params, {"first": "1", "middle": "1", "last": "1"})
    if not asked.yardstick.channels:
        return places, np.ones(1, np.int64), None
    stated = {fold(name): value for name, value in asked.yardstick.channels}
    values = whole(tuple(stated.items()), dict.fromkeys(stated, "1"), "1")
    of, usual = dict(zip(stated, values, strict=False)), values[-1]
    channels = asked.channels()
    table = [of.get(fold(name), usual) for name in channels.values]
    # No trail is longer than all together, and where that would do, no length is looked at.
    largest = max(table, default=1) * 10**7 * len(asked.trails.touch)
    if largest >= _WIDEST:
        largest = max(table, default=1) * 10**7 * int(asked.trails.lengths.max(initial=1))
    return places, np.array(table, np.int64 if largest < _WIDEST else object), channels.codes
