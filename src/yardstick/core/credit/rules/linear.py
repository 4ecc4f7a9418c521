"""The same part to every touch (R14)."""

from __future__ import annotations

from .given import Asked, Even


def linear(asked: Asked) -> Even:
    """1 / n to each of n touches (R14)."""
    return Even(asked.trails)
