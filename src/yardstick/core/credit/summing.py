"""The credit of a yardstick added up by place: over shares, or for many touches in one pass of machine code."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

import numpy as np
import numpy.typing as npt

from ..base.columns import Flags, Ints
from ..base.machine_code import machine_code
from ..base.tally import LIMB
from ..trails.trails import Trails
from .rules.custom import custom_parameters
from .rules.decay import UNSURE, half_life_of, settled
from .rules.given import Asked
from .rules.parameters import whole
from .rules.position import POSITION
from .shares import Shares

COMPILED_FROM = 1_000_000
"""Fewer touches of trails are added up before the compiler's package is even loaded."""
FEWEST = 20_000
"""Fewer are not worth the call once it is."""
_KERNELS = "yardstick.core.credit.compiled.kernels"
FIRST, LAST, LAST_MARKED = range(3)
_Sums = npt.NDArray[np.uint64]
_Add = Callable[[Any, Asked, Ints, Ints, _Sums], bool]


def kernels(elements: int) -> Any:
    """The compiled rules, or None: for few touches, and where they cannot be compiled or kept."""
    return machine_code(_KERNELS, pays=elements >= COMPILED_FROM) if elements >= FEWEST else None


def summed(asked: Asked, shares: Callable[[], Shares], value: Ints, place: Ints, size: int) -> tuple[Ints, Ints]:
    """What one yardstick credits each place with.

    Parameters
    ----------
    asked : the rule and what it is applied to
    shares : gives the same credit by touch
    value : (n_trails,) int64, minor units
    place : (n_elements,) int64, where each touch of a trail is added up, -1 = nowhere
    size : places

    Returns
    -------
    high, low : (2, size) int64: parts of 2^-60, then minor units, each as high x 2^30 + low
    """
    compiled = kernels(len(place))
    if compiled is not None:
        sums = np.zeros(size * 4, np.uint64)
        if _COMPILED[asked.yardstick.rule](compiled, asked, _whole(value), _whole(place), sums):
            halves = [_halves(sums[k::4], sums[k + 1 :: 4]) for k in (0, 2)]
            return np.stack([high for high, _ in halves]), np.stack([low for _, low in halves])
    return shares().summed(place, size)


def _halves(sums: npt.NDArray[np.uint64], passed: npt.NDArray[np.uint64]) -> tuple[Ints, Ints]:
    """Sums modulo 2^64 and how often they passed it, as `Tally` holds them."""
    high = (sums >> np.uint64(LIMB)) + (passed << np.uint64(64 - LIMB))
    return high.astype(np.int64), (sums & np.uint64(2**LIMB - 1)).astype(np.int64)


def _whole(column: Ints) -> Ints:
    return np.ascontiguousarray(column, np.int64)


def _trails(trails: Trails) -> tuple[Ints, Ints]:
    return _whole(trails.offsets), _whole(trails.touch)


def _one(which: int) -> _Add:
    def add(compiled: Any, asked: Asked, value: Ints, place: Ints, sums: _Sums) -> bool:
        offsets, touch = _trails(asked.trails)
        direct: Flags = np.ascontiguousarray(asked.direct)
        compiled.one_touch(offsets, place, value, touch, direct, which, sums)
        return True

    return add


def _linear(compiled: Any, asked: Asked, value: Ints, place: Ints, sums: _Sums) -> bool:
    compiled.evenly(_whole(asked.trails.offsets), place, value, sums)
    return True


def _position(compiled: Any, asked: Asked, value: Ints, place: Ints, sums: _Sums) -> bool:
    first, last, one = whole(asked.yardstick.params, POSITION, "1")
    compiled.by_position(_whole(asked.trails.offsets), place, value, first, one - first - last, last, True, sums)
    return True


def _fair_share(compiled: Any, asked: Asked, value: Ints, place: Ints, sums: _Sums) -> bool:
    offsets, touch = _trails(asked.trails)
    player = _whole(asked.players(asked.yardstick.by))
    players = int(player.max(initial=0)) + 1
    return bool(compiled.among_players(offsets, place, value, touch, player, players, sums))


def _custom(compiled: Any, asked: Asked, value: Ints, place: Ints, sums: _Sums) -> bool:
    (first, middle, last), of_channel, channel = custom_parameters(asked)
    offsets, touch = _trails(asked.trails)
    if channel is None:
        compiled.by_position(offsets, place, value, first, middle, last, False, sums)
        return True
    if of_channel.dtype == object:
        return False
    weights, group = np.unique(np.outer(of_channel, [first, middle, last]).reshape(-1), return_inverse=True)
    asked_of = offsets, place, value, touch, _whole(channel), _whole(group.reshape(-1)), weights
    return bool(compiled.by_position_and_channel(*asked_of, sums))


def _decay(compiled: Any, asked: Asked, value: Ints, place: Ints, sums: _Sums) -> bool:
    offsets, touch = _trails(asked.trails)
    half_life = half_life_of(asked)
    weight, unsure = np.empty(len(place), np.int64), np.empty(len(place), np.int64)
    at = _whole(asked.at)
    many = compiled.decay_weights(offsets, touch, at, float(half_life), UNSURE, weight, unsure)
    if many:
        which = unsure[:many]
        newest = touch[offsets[np.searchsorted(offsets, which, side="right")] - 1]
        weight[which] = settled(at[newest] - at[touch[which]], half_life)
    return bool(compiled.by_weight(offsets, place, value, weight, sums))


_COMPILED: Mapping[str, _Add] = {
    "first": _one(FIRST),
    "last": _one(LAST),
    "last_marked": _one(LAST_MARKED),
    "linear": _linear,
    "position": _position,
    "decay": _decay,
    "custom": _custom,
    "fair_share": _fair_share,
}
