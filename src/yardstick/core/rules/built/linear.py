"""The same part to every touch (R14)."""

from __future__ import annotations

from ..allocation import Even
from ..kernel import Kernel
from ..rule import Rule
from ..trail_context import TrailContext


def linear(asked: TrailContext) -> Even:
    """1 / n to each of n touches (R14)."""
    return Even(asked.trails)


RULE = Rule("linear", "Linear", 4, linear, to_all=True, kernel=Kernel(column="EVEN"))
