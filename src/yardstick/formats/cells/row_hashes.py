"""Hashes of rows, from columns of text."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
import numpy.typing as npt
import pyarrow as pa
import pyarrow.compute as pc

from yardstick.core.base.text_bytes import content_of, laid_out

from .object_code import build, object_code

SEPARATOR = "\x1f"
MANY = 4_000_000
"""Bytes of a file whose rows take as long to hash one by one as loading what hashes them together."""
HUGE = 100_000_000
"""Bytes of a file for which it is worth to compile that first, where set-up did not, as from a wheel."""
FEWEST = 200
"""Fewer are not worth a call of machine code."""
COMPILED = ("yardstick.formats.cells.compiled.sha256", "yardstick.formats.cells.compiled.short_hashes")
_WORK = 208 * 32
"""Words of room that the machine code asks for."""
_kernels: dict[str, Callable[..., None]] = {}
Words = npt.NDArray[np.uint64]


def make_ready(size: int) -> None:
    """Load machine code for a file of so many bytes, if it is worth it; what has loaded it once uses it for all."""
    if not _kernels and size >= MANY:
        for module in COMPILED:
            _kernels.update(object_code(module) or (build(module) if size >= HUGE else None) or {})


def set_up() -> None:
    """Compile for this processor, once and for all."""
    for module in COMPILED:
        build(module)


def is_ready() -> bool:
    """Whether rows are hashed by machine code, which holds no other thread."""
    return "hash_rows" in _kernels


def all_differ(texts: Any) -> bool:
    """Whether the cells of an Arrow string array are known to differ; where machine code is not at hand none are."""
    if len(texts) < FEWEST or "hash_short" not in _kernels:
        return False
    content, offsets = laid_out(texts)
    found = np.empty(len(texts), np.uint64)
    _kernels["hash_short"](content.ctypes.data, offsets.ctypes.data, len(texts), found.ctypes.data)
    found.sort()
    return not bool((found[1:] == found[:-1]).any())


def hash_of(columns: Sequence[Any], name: str, size: int) -> Words:
    """(n, size / 8) uint64: a hash of each row's cells.

    Parameters
    ----------
    columns : Arrow string arrays, at least one, and plain texts that stand in every row
    name : sha256 or blake2b
    size : bytes of a hash
    """
    joined = _joined(columns)
    if len(columns) > 1 and _separators(joined) != (len(columns) - 1) * len(joined):
        # A separator inside a cell must not move the border between two cells.
        joined = _joined([_escaped(column) for column in columns])
    if name == "sha256":
        return _sha256(joined)
    blake = hashlib.blake2b
    content = b"".join([blake(row, digest_size=size).digest() for row in joined.cast(pa.binary()).to_pylist()])
    return np.frombuffer(content, np.uint64).reshape(len(joined), size // 8)


def _sha256(joined: Any) -> Words:
    if not is_ready() or len(joined) < FEWEST:
        sha = hashlib.sha256
        rows = joined.cast(pa.binary()).to_pylist()
        return np.frombuffer(b"".join([sha(row).digest() for row in rows]), np.uint64).reshape(len(rows), 4)
    content, offsets = laid_out(joined)
    order = np.argsort((np.diff(offsets) + 8) >> 6, kind="stable")
    out, work = np.empty((len(joined), 4), np.uint64), np.empty(_WORK, np.uint32)
    where = (array.ctypes.data for array in (content, offsets, order))
    _kernels["hash_rows"](*where, len(joined), out.ctypes.data, work.ctypes.data)
    return out


def _joined(columns: Sequence[Any]) -> Any:
    # Neighbours that are the same in every row are one.
    together: list[Any] = []
    for column in columns:
        if isinstance(column, str) and together and isinstance(together[-1], str):
            together[-1] += SEPARATOR + column
        else:
            together.append(column)
    joined = pc.binary_join_element_wise(*together, SEPARATOR) if len(together) > 1 else together[0]
    return joined.combine_chunks() if isinstance(joined, pa.ChunkedArray) else joined


def _escaped(column: Any) -> Any:
    twice = SEPARATOR * 2 + "|"
    if isinstance(column, str):
        return column.replace(SEPARATOR, twice)
    return pc.replace_substring(column, SEPARATOR, twice)


def _separators(joined: Any) -> int:
    """How many separators an Arrow string array holds."""
    return int(np.count_nonzero(content_of(joined) == ord(SEPARATOR)))
