"""Credit: what every touch of every trail gets under every yardstick, and sums of it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..base.columns import Flags, Ints, Text
from ..plan.plan import Crediting
from ..plan.records import Yardstick
from ..trails.trails import Trails
from .rules.given import Asked
from .rules.registry import RULES
from .touch_columns import TouchColumns


@dataclass(frozen=True)
class Shares:
    """The credit of one yardstick: the trail elements that get anything, and what.

    Attributes
    ----------
    size : trail elements in all
    element : (m,) int64, numbers of trail elements, ascending
    part : (m,) int64, share of each in parts of 2^-60, adding up to 2^60 per filled trail (R17)
    worth : (m,) int64, minor units of the home currency, adding up to the value of each conversion with a trail
    """

    size: int
    element: Ints
    part: Ints
    worth: Ints

    def only(self, elements: Flags) -> Shares:
        """The credit of some trail elements alone."""
        mine = elements[self.element]
        return Shares(self.size, self.element[mine], self.part[mine], self.worth[mine])

    @cached_property
    def parts(self) -> Ints:
        """(size,) int64 over all trail elements, 0 = nothing."""
        out = np.zeros(self.size, np.int64)
        out[self.element] = self.part
        return out

    @cached_property
    def value(self) -> Ints:
        """(size,) int64 over all trail elements."""
        out = np.zeros(self.size, np.int64)
        out[self.element] = self.worth
        return out


def share_credit(
    trails: Trails, value: Ints, at: Ints, touches: TouchColumns, crediting: Crediting
) -> dict[str, Shares]:
    """The credit of every yardstick on the same trails (R14, R15, R17).

    Parameters
    ----------
    trails : what credit is shared over
    value, at : (c,) int64, minor units and instant of the conversion of each trail
    touches : with all that yardsticks ask of them
    crediting : the yardsticks

    Returns
    -------
    dict from yardstick name to Shares, in the order of the settings; without those that credit states (R16)
    """

    def asked(yardstick: Yardstick) -> Asked:
        return Asked(
            yardstick,
            trails,
            touches.direct,
            players=lambda by: players(touches, by),
            ages=lambda: np.repeat(at, trails.lengths) - touches.at[trails.touch],
            channels=lambda: channels_of(touches),
        )

    return {y.name: share_of(asked(y), value) for y in crediting.yardsticks if y.rule in RULES}


def share_of(asked: Asked, value: Ints) -> Shares:
    """The credit of one yardstick.

    Parameters
    ----------
    asked : the rule and what it is applied to
    value : (c,) int64, minor units per trail
    """
    given = RULES[asked.yardstick.rule](asked)
    part, worth = given.share(np.full(len(value), WHOLE)), given.share(value)
    return Shares(len(asked.trails.touch), given.element, part, worth)


def channels_of(touches: TouchColumns) -> Text:
    """(n_touches,) text: the channel of each touch."""
    field = touches.fields["channel"]
    return Text(field.codes.astype(np.int32), field.keys)


def players(touches: TouchColumns, by: str) -> Ints:
    """(n,) int64: the state each touch stands for (R16): its campaign (untagged: one per channel), or its channel."""
    channel = touches.fields["channel"].codes
    if by == "channel":
        return channel
    campaign = touches.fields["campaign"]
    return np.where(campaign.codes > 0, campaign.codes, len(campaign.keys) + channel)


WHOLE = np.int64(2**60)
"""A whole conversion in parts (R17)."""
