"""What a rule may ask about the trails it shares over."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from ..base.columns import Flags, Ints, Text

if TYPE_CHECKING:
    from ..plan.crediting_phase import Yardstick
    from ..trails.trails import Trails


@dataclass(frozen=True)
class TrailContext:
    """What a rule may look at; what not every rule needs is made only when it is asked for, and a rule says that it
    needs it (`rule.Need`).

    Attributes
    ----------
    yardstick : its parameters
    trails : what is shared over
    direct : (n_touches,) bool
    at : (n_touches,) int64, microseconds since 1970 in UTC
    players : gives (n_touches,) int64, the player each touch stands for by "campaign" or "channel" (R16)
    channels : gives (n_touches,) text, the channel of each touch
    days : gives (n_touches,) int64, the day of each touch in the workspace's zone, days since 1970
    conversion_days : gives (n_trails,) int64, the day of each trail's conversion in the workspace's zone
    """

    yardstick: Yardstick
    trails: Trails
    direct: Flags
    at: Ints
    players: Callable[[str], Ints]
    channels: Callable[[], Text]
    days: Callable[[], Ints]
    conversion_days: Callable[[], Ints]
