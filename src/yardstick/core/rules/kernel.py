"""How machine code makes the sums of a rule, and the stretches of trails that it works on."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from ..base.columns import Codes, Ints
from .trail_context import TrailContext


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


def whole_numbers(column: Ints) -> Ints:
    """As compiled functions take them."""
    return np.ascontiguousarray(column, np.int64)


def codes(column: Codes | Ints) -> Codes:
    """As compiled functions take numbers of places, players and channels."""
    return np.ascontiguousarray(column, np.int32)


Fill = Callable[[Stretch, Ints, Ints], bool]
"""Works out parts and minor units of the touches of a stretch; False where they are too large for it."""


class Kernels(Protocol):
    """The compiled functions that rules call, see `credit.compiled.kernels`; each is False where numbers are too large.

    `offsets` (n + 1,) and `value` (n,) are of a `Stretch`; `part` and `worth` (n_elements,) int64 are filled.
    """

    def among_players(
        self, offsets: Ints, value: Ints, touch: Ints, player: Codes, players: int, part: Ints, worth: Ints
    ) -> bool:
        """Equally among the players of a trail, then among the touches of each."""

    def by_weight(self, offsets: Ints, value: Ints, weight: Ints, part: Ints, worth: Ints) -> bool:
        """In proportion to whole numbers: `weight` (n_elements,) int64."""

    def by_position_and_channel(
        self,
        offsets: Ints,
        value: Ints,
        touch: Ints,
        channel: Codes,
        group: Ints,
        weight: Ints,
        part: Ints,
        worth: Ints,
    ) -> bool:
        """In proportion to a number by place in the trail and channel: `group` (channels x 3,) into `weight`."""

    def decay_weights(self, offsets: Ints, touch: Ints, at: Ints, half_life: int, weight: Ints, unsure: Ints) -> int:
        """Fills `weight` (n_elements,), and `unsure` with the elements that need more digits; says how many."""


def _none(_: TrailContext) -> None:
    return None


def _no_fill(_: Kernels, __: TrailContext) -> None:
    return None


@dataclass(frozen=True)
class Kernel:
    """How machine code makes a rule's sums; with some parameters it may not know how.

    Attributes
    ----------
    column : name of the column of `credit.compiled.passes` that holds its sums, of a rule that looks at the place of a
        touch in its trail alone; empty of others
    placed : gives weights of the first touch, each between and the last, and 1 where the first and the last weigh so
        much against all between them together; None where something else counts, too
    fill : makes what works out the shares of a stretch of trails
    """

    column: str = ""
    placed: Callable[[TrailContext], tuple[int, int, int, int] | None] = _none
    fill: Callable[[Kernels, TrailContext], Fill | None] = _no_fill
