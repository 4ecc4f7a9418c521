"""All to the last touch (R14)."""

from __future__ import annotations

from ..allocation import OneTouch
from ..kernel import Kernel
from ..rule import Rule
from ..trail_context import TrailContext


def last_touch(asked: TrailContext) -> OneTouch:
    """All credit to the last touch (R14)."""
    trails = asked.trails
    return OneTouch(trails, trails.offsets[1:][trails.lengths > 0] - 1)


RULE = Rule("last", "Last touch", 2, last_touch, kernel=Kernel(column="LAST"))
