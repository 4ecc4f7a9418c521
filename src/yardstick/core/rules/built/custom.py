"""Weights of one's own by place and by channel (R14)."""

from __future__ import annotations

import numpy as np

from ...base.columns import Codes, Ints
from ...base.words import fold
from ..allocation import ByWeight
from ..kernel import Fill, Kernel, Kernels, Stretch, codes, whole_numbers
from ..parameters import whole
from ..rule import Need, ParameterKind, Rule, RuleParameter
from ..trail_context import TrailContext

_WIDEST = 2**62


def custom(asked: TrailContext) -> ByWeight:
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


def custom_parameters(asked: TrailContext) -> tuple[list[int], Ints, Codes | None]:
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


def _placed(asked: TrailContext) -> tuple[int, int, int, int] | None:
    if asked.yardstick.channels:
        return None
    first, middle, last = custom_parameters(asked)[0]
    return first, middle, last, 0


def _fill(compiled: Kernels, asked: TrailContext) -> Fill | None:
    (first, middle, last), of_channel, channel = custom_parameters(asked)
    if channel is None:
        return None
    if of_channel.dtype == object:
        return lambda some, part, worth: False
    weights, group = np.unique(np.outer(of_channel, [first, middle, last]).reshape(-1), return_inverse=True)
    touch, group, channel = (
        whole_numbers(asked.trails.touch),
        whole_numbers(group.reshape(-1)),
        codes(channel),
    )

    def fill(some: Stretch, part: Ints, worth: Ints) -> bool:
        of = some.offsets, some.value, touch, channel, group, weights, part, worth
        return bool(compiled.by_position_and_channel(*of))

    return fill


RULE = Rule(
    "custom",
    "Custom weights",
    7,
    custom,
    needs=frozenset({Need.CHANNELS}),
    parameters=(
        RuleParameter("first", "weight of the first touch", "0.4"),
        RuleParameter("middle", "weight of each touch between", "0.5"),
        RuleParameter("last", "weight of the last touch", "0.4"),
        RuleParameter(
            "channel",
            "weight of touches of a channel, 1 where none is named",
            "Email 0.5",
            ParameterKind.BY_CHANNEL,
        ),
    ),
    kernel=Kernel(placed=_placed, fill=_fill),
)
