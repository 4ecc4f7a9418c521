"""How long the property tests look, and how much of what is large a usual run does."""

from __future__ import annotations

import os
from typing import TypeVar

from hypothesis import settings

T = TypeVar("T")
USUAL, DEEP = 15, 300
"""Examples of a property in a usual run, and in `make nightly`."""
_WRITTEN_FOR = 30


def examples(count: int) -> settings:
    """So many examples where a property has `_WRITTEN_FOR` as usual; more or fewer in proportion."""
    return settings(max_examples=max(3, count * settings().max_examples // _WRITTEN_FOR))


def much(usual: T, deep: T) -> T:
    """How much of something large: so much in a usual run, all of it in `make nightly`."""
    return deep if os.environ.get("HYPOTHESIS_PROFILE") == "deep" else usual
