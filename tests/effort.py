"""How long the property tests look."""

from __future__ import annotations

from hypothesis import settings

USUAL = 30


def examples(count: int) -> settings:
    """So many examples in a usual run, and as many times more in a deep one as everywhere."""
    return settings(max_examples=count * settings().max_examples // USUAL)
