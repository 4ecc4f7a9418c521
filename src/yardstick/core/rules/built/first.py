"""All to the first touch (R14)."""

from __future__ import annotations

from ..allocation import OneTouch
from ..kernel import Kernel
from ..rule import Rule
from ..trail_context import TrailContext


def first_touch(asked: TrailContext) -> OneTouch:
    """All credit to the first touch (R14)."""
    trails = asked.trails
    return OneTouch(trails, trails.offsets[:-1][trails.lengths > 0])


RULE = Rule("first", "First touch", 1, first_touch, kernel=Kernel(column="FIRST"))
