"""Hashes of rows, from columns of text."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from typing import Any

import numpy as np
import numpy.typing as npt
import pyarrow as pa
import pyarrow.compute as pc

from yardstick.core.base.machine_code import machine_code

SEPARATOR = "\x1f"
LARGE = 100_000_000
"""Bytes of a file whose rows, a million or so, take as long to hash one by one as the compiler's package to load."""
FEWEST = 200
"""Fewer are not worth a call of machine code."""
_COMPILED = "yardstick.formats.compiled.sha256"
Words = npt.NDArray[np.uint64]


def make_ready(size: int) -> None:
    """Load machine code for a file of so many bytes, if it is worth it; what has loaded it once uses it for all."""
    if size >= LARGE:
        machine_code(_COMPILED, pays=True)


def hash_of(columns: Sequence[Any], name: str, size: int) -> Words:
    """(n, size / 8) uint64: a hash of each row's cells."""
    joined = _joined(columns)
    if len(columns) > 1 and _separators(joined) != (len(columns) - 1) * len(joined):
        # A separator inside a cell must not move the border between two cells.
        joined = _joined([pc.replace_substring(c, SEPARATOR, SEPARATOR * 2 + "|") for c in columns])
    if name == "sha256":
        return _sha256(joined)
    blake = hashlib.blake2b
    content = b"".join([blake(row, digest_size=size).digest() for row in joined.cast(pa.binary()).to_pylist()])
    return np.frombuffer(content, np.uint64).reshape(len(joined), size // 8)


def _sha256(joined: Any) -> Words:
    compiled = machine_code(_COMPILED, pays=False) if len(joined) >= FEWEST else None
    if compiled is None:
        sha = hashlib.sha256
        rows = joined.cast(pa.binary()).to_pylist()
        return np.frombuffer(b"".join([sha(row).digest() for row in rows]), np.uint64).reshape(len(rows), 4)
    content, offsets = _laid_out(joined)
    out = np.empty((len(joined), 8), np.uint32)
    compiled.sha256(content, offsets, out)
    return out.view(np.uint64)


def _joined(columns: Sequence[Any]) -> Any:
    joined = pc.binary_join_element_wise(*columns, SEPARATOR) if len(columns) > 1 else columns[0]
    return joined.combine_chunks() if isinstance(joined, pa.ChunkedArray) else joined


def _separators(joined: Any) -> int:
    """How many separators an Arrow string array holds."""
    if not len(joined):
        return 0
    content, offsets = _laid_out(joined)
    return int(np.count_nonzero(content[offsets[0] : offsets[-1]] == ord(SEPARATOR)))


def _laid_out(joined: Any) -> tuple[npt.NDArray[np.uint8], npt.NDArray[np.int32]]:
    """The bytes of an Arrow string array, and where in them each row begins and the last ends."""
    _, where, content = joined.buffers()
    offsets = np.frombuffer(where, np.int32)[joined.offset : joined.offset + len(joined) + 1]
    return np.frombuffer(content or b"", np.uint8), offsets
