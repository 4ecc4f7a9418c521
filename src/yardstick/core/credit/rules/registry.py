"""Every rule that is built, by the word it has in the settings."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from .allocation import Allocation, RuleInput
from .custom import custom
from .decay import decay
from .fair_share import fair_share
from .linear import linear
from .one_touch import first_touch, last_marked_touch, last_touch
from .position import position

RULES: Mapping[str, Callable[[RuleInput], Allocation]] = {
    "first": first_touch,
    "last": last_touch,
    "last_marked": last_marked_touch,
    "linear": linear,
    "position": position,
    "decay": decay,
    "custom": custom,
    "fair_share": fair_share,
}
LINEAR = "linear"
TO_ALL = frozenset({LINEAR, "fair_share"})
"""Rules under which every touch of a trail gets something."""
