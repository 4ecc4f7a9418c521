"""The credit of yardsticks added up by place: over shares, or for many touches by machine code."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

import numpy as np

from ..base.columns import Codes, Ints
from ..base.machine_code import FEWEST, machine_code
from ..rules.trail_context import TrailContext
from .adding import Halves, Kept, added_up
from .shares import Shares

COMPILED_FROM = 1_000_000
"""Fewer touches of trails are added up before the compiler's package is even loaded."""
COMPILED = "yardstick.core.credit.compiled"
NARROW = 2**50
"""A value of this size or more, which nobody has, is added up from the shares,"""
MOST = 2**61
"""and so are values that add up to more."""


def kernels(elements: int) -> Any:
    """The compiled rules, or None: for few touches, and where they cannot be compiled or kept."""
    return machine_code(COMPILED, pays=elements >= COMPILED_FROM) if elements >= FEWEST else None


def summed(
    asked: Mapping[str, TrailContext],
    shares: Callable[[str], Shares],
    value: Ints,
    place: Codes | Ints,
    size: int,
    kept: Kept | None = None,
) -> list[Halves]:
    """What each of some yardsticks on the same trails credits each place with.

    Parameters
    ----------
    asked : by name, the rules and what they are applied to
    shares : gives the same credit by touch
    value : (n_trails,) int64, minor units
    place : (n_elements,), where each touch of a trail is added up, -1 = nowhere
    size : places
    kept : shares that were worked out before, and where they are put for the next time; None = for this time alone
    """
    found: Mapping[str, Halves] = {}
    compiled = kernels(len(place)) if asked and len(value) else None
    if compiled is not None and _fits(value):
        found = added_up(compiled, asked, value, place, size, kept)
    return [found[name] if name in found else shares(name).summed(place, size) for name in asked]


def _fits(value: Ints) -> bool:
    """Whether machine code can hold the sums; one mistyped order among many must not make it all slow."""
    largest = int(value.max(initial=0))
    return largest < NARROW and (largest * len(value) < MOST or float(value.sum(dtype=np.float64)) < MOST / 2)
