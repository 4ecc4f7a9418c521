"""Hashes of rows, from columns of text."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from typing import Any

import numpy as np
import numpy.typing as npt
import pyarrow as pa
import pyarrow.compute as pc

SEPARATOR = "\x1f"
Words = npt.NDArray[np.uint64]


def hash_of(columns: Sequence[Any], name: str, size: int) -> Words:
    """(n, size / 8) uint64: a hash of each row's cells."""
    joined = _joined(columns)
    if len(columns) > 1 and _separators(joined) != (len(columns) - 1) * len(joined):
        # A separator inside a cell must not move the border between two cells.
        joined = _joined([pc.replace_substring(c, SEPARATOR, SEPARATOR * 2 + "|") for c in columns])
    rows = joined.cast(pa.binary()).to_pylist()
    if name == "sha256":
        sha = hashlib.sha256
        content = b"".join([sha(row).digest() for row in rows])
    else:
        blake = hashlib.blake2b
        content = b"".join([blake(row, digest_size=size).digest() for row in rows])
    return np.frombuffer(content, np.uint64).reshape(len(rows), size // 8)


def _joined(columns: Sequence[Any]) -> Any:
    joined = pc.binary_join_element_wise(*columns, SEPARATOR) if len(columns) > 1 else columns[0]
    return joined.combine_chunks() if isinstance(joined, pa.ChunkedArray) else joined


def _separators(joined: Any) -> int:
    """How many separators an Arrow string array holds."""
    if not len(joined):
        return 0
    offsets = np.frombuffer(joined.buffers()[1], np.int32)[joined.offset : joined.offset + len(joined) + 1]
    content = np.frombuffer(joined.buffers()[2] or b"", np.uint8)[offsets[0] : offsets[-1]]
    return int(np.count_nonzero(content == ord(SEPARATOR)))
