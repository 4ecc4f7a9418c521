"""What a process of our own leaves out that others would load into it."""

from __future__ import annotations

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
