"""All to the last touch that is not direct (R14)."""

from __future__ import annotations

import numpy as np

from ..allocation import OneTouch
from ..kernel import Kernel
from ..rule import Rule
from ..trail_context import TrailContext


def last_marked_touch(asked: TrailContext) -> OneTouch:
    """All credit to the last touch that is not Direct, or to the last if all are (R14)."""
    trails, direct = asked.trails, asked.direct
    filled = trails.lengths > 0
    start, last = trails.offsets[:-1][filled], trails.offsets[1:][filled] - 1
    found = last.copy()
    open_trails = np.flatnonzero(direct[trails.touch[last]])
    # Most trails end with a marked touch or have one soon: step back together, while that is worth it.
    for _ in range(STEPS_BACK):
        if not len(open_trails):
            return OneTouch(trails, found)
        found[open_trails] -= 1
        gone = found[open_trails] < start[open_trails]
        found[open_trails[gone]] = last[open_trails[gone]]
        open_trails = open_trails[~gone]
        open_trails = open_trails[direct[trails.touch[found[open_trails]]]]
    marked = np.flatnonzero(~direct[trails.touch])
    before = np.searchsorted(marked, found[open_trails], side="right") - 1
    candidate = marked[np.maximum(before, 0)] if len(marked) else np.full(len(open_trails), -1)
    there = (before >= 0) & (candidate >= start[open_trails])
    found[open_trails] = np.where(there, candidate, last[open_trails])
    return OneTouch(trails, found)


STEPS_BACK = 8
"""Steps back from the end of all trails at once; after that the last marked touch of the rest is searched for."""

RULE = Rule(
    "last_marked",
    "Last marked (last that is not direct)",
    3,
    last_marked_touch,
    kernel=Kernel(column="MARKED"),
)
