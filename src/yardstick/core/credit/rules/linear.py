"""The same part to every touch (R14)."""

from __future__ import annotations

from .allocation import Even, RuleInput


def linear(asked: RuleInput) -> Even:
    """1 / n to each of n touches (R14)."""
    return Even(asked.trails)
