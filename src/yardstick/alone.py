"""What a process of our own leaves out that others would load into it."""

from __future__ import annotations

import contextlib
import ctypes
import gc
import os
import sys
from collections.abc import Sequence


class _NoPandas:
    """A finder that finds none. (None among the loaded modules would do for Python, but Arrow looks there, too.)"""

    @staticmethod
    def find_spec(name: str, path: Sequence[str] | None = None, target: object = None) -> None:
        if name.partition(".")[0] == "pandas":
            raise ImportError(name)


def leave_pandas_out() -> None:
    """Keep pandas out of this process.

    Arrow loads it with its first array wherever it finds it, at the cost of half a second and a hundred megabytes, to
    be ready for data frames. No process of ours ever sees one; those who call the library from a notebook do.
    """
    sys.meta_path.insert(0, _NoPandas)


_M_TRIM_THRESHOLD, _M_MMAP_THRESHOLD, _M_ARENA_MAX = -1, -3, -8
"""Of the GNU C library's `mallopt`."""
MEGABYTE = 1 << 20


def use_system_memory() -> None:
    """Have Arrow take memory where NumPy does, from one pool for all threads, unless the environment says otherwise.

    Arrow's own allocator takes pages of two megabytes and keeps what it was given back; the system's gives each thread
    a pool of its own and hands large pieces back at once, to take them again. A million visits from CSV take two
    seconds of the system's time and 350 MB more with the first, and a fifth more of both with the second.
    """
    if "ARROW_DEFAULT_MEMORY_POOL" in os.environ:
        return
    os.environ["ARROW_DEFAULT_MEMORY_POOL"] = "system"
    if arrow := sys.modules.get("pyarrow"):
        arrow.set_memory_pool(arrow.system_memory_pool())
    with contextlib.suppress(OSError, AttributeError):
        # Another C library has no such function, and needs none.
        mallopt = ctypes.CDLL(None).mallopt
        for what, value in (
            (_M_ARENA_MAX, 1),
            (_M_TRIM_THRESHOLD, 256 * MEGABYTE),
            (_M_MMAP_THRESHOLD, 32 * MEGABYTE),
        ):
            mallopt(what, value)


def collect_rarely() -> None:
    """Have Python look for rings of dead objects rarely, and never among those there are now.

    A board of five hundred campaigns makes a hundred thousand objects that stay, and none of them is in a ring: by
    Python's usual measure every one of its answers looked through all objects of the process, for four fifths of its
    time. What is in no ring goes at once as ever.
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 50)
