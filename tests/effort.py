"""How long the property tests look."""

from __future__ import annotations

from hypothesis import settings

USUAL, DEEP = 18, 300
"""Examples of a property in a usual run, and in `make nightly`."""
_WRITTEN_FOR = 30


def examples(count: int) -> settings:
    """So many examples where a property has `_WRITTEN_FOR` as usual; more or fewer in proportion."""
    return settings(max_examples=max(3, count * settings().max_examples // _WRITTEN_FOR))
