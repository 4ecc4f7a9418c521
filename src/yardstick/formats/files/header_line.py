"""Where the header of a table stands among lines that nobody has described, and whether there is one."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from ..cells.contents import content_of

LINES = 80
"""Lines that are looked at."""


def is_row(cells: Sequence[str]) -> bool:
    """Whether a first line names no columns but is a row: it has a day or an address, an e-mail, or amounts."""
    whats = [content_of([cell.strip()]).what for cell in cells if cell.strip()]
    return len(whats) > 1 and ("mail" in whats or whats.count("date") > 0 or whats.count("number") > 1)


def header_at(rows: Sequence[Sequence[str]]) -> tuple[float, int]:
    """How much rows look like a table, and how many stand above its header."""
    widths = Counter(len(row) for row in rows if len(row) > 1)
    if not widths:
        return (0.5, 0) if rows else (0.0, 0)
    width, many = max(widths.items(), key=lambda item: (item[1] * min(item[0], 4), item[0]))
    for i, row in enumerate(rows):
        filled = [cell for cell in row if cell.strip()]
        if len(row) != width or len(filled) < max(2, 0.6 * width):
            continue
        below = [r for r in rows[i + 1 : i + 8] if len(r) == width]
        if not below and i + 1 < len(rows):
            continue
        alone = i + 1 == len(rows) and not any(len(r) == width for r in rows[:i])
        if all(content_of([cell]).what in ("word", "nothing") for cell in filled) or alone:
            return many * min(width, 12) / max(1, len(rows)), i
    return many * min(width, 12) / max(1, len(rows)) / 2, 0
