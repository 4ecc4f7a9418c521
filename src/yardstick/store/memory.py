"""Memory that long work let go of, given back to the system."""

from __future__ import annotations

import ctypes
from contextlib import suppress

import pyarrow as pa


def give_back() -> None:
    """Give back what was let go of: allocators keep it for later, and a load of millions of rows lets go of a lot."""
    pa.default_memory_pool().release_unused()
    with suppress(OSError, AttributeError):
        # Only glibc has it; elsewhere memory comes back by itself or not at all.
        ctypes.CDLL(None).malloc_trim(0)
