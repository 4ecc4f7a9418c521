"""Modules of machine code: loaded when there is much to do, done without where they cannot be."""

from __future__ import annotations

import importlib
import sys
from functools import cache
from typing import Any


def machine_code(module: str, *, pays: bool) -> Any:
    """A module whose functions are compiled, or None where it is not worth loading or cannot be.

    Parameters
    ----------
    module : its full name
    pays : whether the work is so much that loading it is worth it: the compiler's package takes most of a second, and
        where set-up compiled nothing, as from a wheel, the first time takes many
    """
    return _loaded(module) if pays or module in sys.modules else None


FEWEST = 20_000
"""For fewer rows a call is not worth it."""


def at_hand(module: str, rows: int) -> Any:
    """A module whose functions are compiled, where something else has loaded it; None elsewhere and for few rows.

    For work that is worth a call but would not pay for loading.

    Parameters
    ----------
    module : its full name
    rows : how many the work is on
    """
    return machine_code(module, pays=False) if rows >= FEWEST else None


@cache
def _loaded(module: str) -> Any:
    try:
        return importlib.import_module(module)
    except Exception:
        # A package that is missing or of another kind, a cache that can be written nowhere: without machine code
        # everything is the same, and slower, and nothing may fail for want of it.
        return None
