"""Tables for a terminal: columns as wide as their widest cell, numbers to the right."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

_NUMBER = re.compile(r"[-+]?[0-9][0-9.,]*|-|")


def in_columns(rows: Sequence[Sequence[str]]) -> Iterator[str]:
    """Rows as lines of text, the first of them a header.

    Examples
    --------
    >>> print("\\n".join(in_columns([["name", "cost"], ["boats", "9.00"]])))
    name   cost
    boats  9.00
    """
    widths = [max(map(len, column)) for column in zip(*rows, strict=True)]
    right = [all(_NUMBER.fullmatch(cell) for cell in column[1:]) for column in zip(*rows, strict=True)]
    for row in rows:
        cells = [c.rjust(w) if r else c.ljust(w) for c, w, r in zip(row, widths, right, strict=True)]
        yield "  ".join(cells).rstrip()
