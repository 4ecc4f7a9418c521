"""Credit: what every touch of every trail gets under every yardstick, and sums of it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping

import numpy as np

from ..base.columns import Flags, Ints, Text
from ..base.patience import go_on
from ..plan.crediting_phase import Crediting, Yardstick
from ..rules.registry import LINEAR, RULES, by_states
from ..rules.trail_context import TrailContext
from ..trails.goals import Conversions
from ..trails.trails import Trails
from .adding import Halves, Kept
from .shares import Shares
from .summing import summed
from .touch_columns import TouchColumns


class Credit(Mapping[str, Shares]):
    """The credit of every yardstick on the same trails, by name; shares are made when they are asked for.

    A board needs sums alone, and shares of very many touches are large.

    Attributes
    ----------
    asked : by name, each yardstick and what it is applied to
    value : (c,) int64, minor units of the conversion of each trail
    trails, touches : what credit is shared over
    keep : see `credit_of`
    """

    def __init__(
        self, asked: Mapping[str, TrailContext], value: Ints, trails: Trails, touches: TouchColumns, keep: bool = False
    ) -> None:
        self.asked, self.value, self.trails, self.touches = asked, value, trails, touches
        self._kept: Kept | None = {} if keep else None
        self._made: dict[str, Shares] = {}

    def __getitem__(self, name: str) -> Shares:
        if name not in self._made:
            self._made[name] = share_of(self.asked[name], self.value)
        return self._made[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self.asked)

    def __len__(self) -> int:
        return len(self.asked)

    def only(self, elements: Flags) -> Credit:
        """The credit of some trail elements alone."""
        return _Some(self, elements)

    @property
    def to_all(self) -> bool:
        """Whether there is a yardstick that gives something to every touch."""
        return any(RULES[asked.yardstick.rule].to_all for asked in self.asked.values())

    def summed_by_all(self, place: Ints, size: int) -> list[Halves]:
        """What each yardstick credits each place with; see `summing.summed`."""
        return summed(self.asked, self.__getitem__, self.value, place, size, self._kept)

    def summed_with_even(self, place: Ints, size: int) -> list[Halves]:
        """The same, and before all of them what `linear` credits, whether that is among them or not."""
        mine = next((name for name, asked in self.asked.items() if asked.yardstick.rule == LINEAR), None)
        if mine is not None:
            found = self.summed_by_all(place, size)
            return [found[list(self.asked).index(mine)], *found]
        asked = {_EVENLY: self._evenly, **self.asked}
        return summed(asked, lambda n: self.even() if n == _EVENLY else self[n], self.value, place, size, self._kept)

    def even(self) -> Shares:
        """The shares under `linear`, whether that is among the yardsticks or not."""
        mine = next((name for name, asked in self.asked.items() if asked.yardstick.rule == LINEAR), None)
        return share_of(self._evenly, self.value) if mine is None else self[mine]

    @property
    def _evenly(self) -> TrailContext:
        # Its days are nobody's: an even share asks for none.
        return context_of(Yardstick(LINEAR, LINEAR), self.trails, self.touches, lambda: self.trails.conversion)


_EVENLY = ""
"""No yardstick has no name."""


class _Some(Credit):
    """The credit of some trail elements."""

    def __init__(self, whole: Credit, elements: Flags) -> None:
        super().__init__(whole.asked, whole.value, whole.trails, whole.touches)
        self._whole, self._elements, self._kept = whole, elements, whole._kept

    def __getitem__(self, name: str) -> Shares:
        if name not in self._made:
            self._made[name] = self._whole[name].only(self._elements)
        return self._made[name]

    def even(self) -> Shares:
        """See `Credit.even`; of all elements."""
        return self._whole.even()


def credit_of(
    trails: Trails, conversions: Conversions, touches: TouchColumns, crediting: Crediting, keep: bool = False
) -> Credit:
    """The credit of every yardstick on the same trails (R14, R15, R17), without those that credit states (R16).

    Parameters
    ----------
    trails : what credit is shared over
    conversions : whose numbers the trails have
    touches : with all that yardsticks ask of them
    crediting : the yardsticks
    keep : what machine code works out is kept for the next time it is added up, by other places
    """
    days = conversions.day
    asked = {
        y.name: context_of(y, trails, touches, lambda: days[trails.conversion])
        for y in crediting.yardsticks
        if not by_states(y)
    }
    return Credit(asked, conversions.value[trails.conversion], trails, touches, keep)


def context_of(
    yardstick: Yardstick, trails: Trails, touches: TouchColumns, conversion_days: Callable[[], Ints]
) -> TrailContext:
    """What a yardstick may look at."""
    return TrailContext(
        yardstick,
        trails,
        touches.direct,
        at=touches.at,
        players=lambda by: players(touches, by),
        channels=lambda: channels_of(touches),
        days=lambda: touches.days,
        conversion_days=conversion_days,
    )


def share_of(asked: TrailContext, value: Ints) -> Shares:
    """The credit of one yardstick.

    Parameters
    ----------
    asked : the rule and what it is applied to
    value : (c,) int64, minor units per trail
    """
    go_on()
    shares = RULES[asked.yardstick.rule].shares
    if shares is None:
        raise TypeError(f"{asked.yardstick.rule} credits states, not touches")
    given = shares(asked)
    part, worth = given.share(np.full(len(value), WHOLE)), given.share(value)
    return Shares(len(asked.trails.touch), given.element, part, worth)


def channels_of(touches: TouchColumns) -> Text:
    """(n_touches,) text: the channel of each touch."""
    field = touches.fields["channel"]
    return Text(field.codes.astype(np.int32), field.keys)


def players(touches: TouchColumns, by: str) -> Ints:
    """(n,) int64: the state each touch stands for (R16): its campaign (untagged: one per channel), or its channel."""
    return touches.fields["channel"].codes if by == "channel" else touches.campaign_states


WHOLE = np.int64(2**60)
"""A whole conversion in parts (R17)."""
