"""What machine code is told of each yardstick, and the stretches of trails that it works on."""

from __future__ import annotations

import threading
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np

from ..base.columns import Codes, Ints
from ..trails.trails import Trails
from .rules.allocation import RuleInput
from .rules.custom import custom_parameters
from .rules.decay import half_life_of, settled
from .rules.parameters import whole
from .rules.position import POSITION

STRETCH = 2**16
"""Touches of a stretch: so many that calling costs little, so few that the nearest memory holds their shares."""

LONGEST_HALF_LIFE = 2**52
"""In microseconds, 142 years: of a longer one the weights are worked out as shares are."""


@dataclass(frozen=True)
class Stretch:
    """Some trails one after another.

    Attributes
    ----------
    offsets : (n + 1,) int64, where their touches stand among those of all trails
    value : (n,) int64, minor units
    """

    offsets: Ints
    value: Ints

    @property
    def elements(self) -> slice:
        """Their elements among those of all trails."""
        return slice(int(self.offsets[0]), int(self.offsets[-1]))


def stretches_of(trails: Trails, value: Ints) -> list[Stretch]:
    """All trails, some at a time."""
    offsets, value = whole_numbers(trails.offsets), whole_numbers(value)
    steps = np.arange(STRETCH, int(offsets[-1]), STRETCH)
    cuts = np.unique(np.concatenate([[0], np.searchsorted(offsets, steps), [len(value)]]))
    return [Stretch(offsets[a : b + 1], value[a:b]) for a, b in pairwise(cuts.tolist())]


def whole_numbers(column: Ints) -> Ints:
    """As compiled functions take them."""
    return np.ascontiguousarray(column, np.int64)


def codes(column: Codes | Ints) -> Codes:
    """As compiled functions take numbers of places, players and channels."""
    return np.ascontiguousarray(column, np.int32)


Fill = Callable[[Stretch, Ints, Ints], bool]
"""Works out parts and minor units of the touches of a stretch; False where they are too large for it."""


def filling(compiled: Any, asked: RuleInput) -> Fill | None:
    """How shares are worked out; None where `placed_by` tells of the yardstick, and for rules that are not here."""
    make = _SHARE_KERNELS.get(asked.yardstick.rule)
    return make(compiled, asked) if make else None


def _fair_share(compiled: Any, asked: RuleInput) -> Fill:
    touch, player = whole_numbers(asked.trails.touch), codes(asked.players(asked.yardstick.by))
    players = int(player.max(initial=0)) + 1

    def fill(some: Stretch, part: Ints, worth: Ints) -> bool:
        return bool(compiled.among_players(some.offsets, some.value, touch, player, players, part, worth))

    return fill


class _Room(threading.local):
    """Two columns of each thread's own, for one stretch after another."""

    def __init__(self) -> None:
        self._columns = np.empty((2, 0), np.int64)

    def of(self, elements: int) -> Ints:
        """(2, elements) int64, whatever stood there."""
        if self._columns.shape[1] < elements:
            self._columns = np.empty((2, elements), np.int64)
        return self._columns[:, :elements]


def _decay(compiled: Any, asked: RuleInput) -> Fill:
    touch, at, half_life = whole_numbers(asked.trails.touch), whole_numbers(asked.at), half_life_of(asked)
    room = _Room()
    if half_life >= LONGEST_HALF_LIFE:
        return lambda some, part, worth: False

    def fill(some: Stretch, part: Ints, worth: Ints) -> bool:
        weight, unsure = room.of(len(part))
        many = compiled.decay_weights(some.offsets, touch, at, int(half_life), weight, unsure)
        if many:
            which = unsure[:many]
            element = which + some.offsets[0]
            newest = touch[some.offsets[np.searchsorted(some.offsets, element, side="right")] - 1]
            weight[which] = settled(at[newest] - at[touch[element]], half_life)
        return bool(compiled.by_weight(some.offsets, some.value, weight, part, worth))

    return fill


def _custom(compiled: Any, asked: RuleInput) -> Fill | None:
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


_SHARE_KERNELS: Mapping[str, Callable[[Any, RuleInput], Fill | None]] = {
    "fair_share": _fair_share,
    "decay": _decay,
    "custom": _custom,
}


def placed_by(asked: RuleInput) -> tuple[int, int, int, int] | None:
    """Weights of the first touch, each between and the last, and 1 where the first and the last weigh so much against
    all between them together; None of yardsticks that go by anything else."""
    if asked.yardstick.rule == "position":
        first, last, one = whole(asked.yardstick.params, POSITION, "1")
        return first, one - first - last, last, 1
    if asked.yardstick.rule == "custom" and not asked.yardstick.channels:
        first, middle, last = custom_parameters(asked)[0]
        return first, middle, last, 0
    return None
