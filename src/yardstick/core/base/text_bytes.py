"""The bytes of a large text column as Arrow holds them, for questions that NumPy answers in one look at all of them."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

_FIRST_PRINTED, _PRINTED = np.uint8(ord("!")), np.uint8(ord("~") - ord("!"))


def laid_out(array: Any) -> tuple[npt.NDArray[np.uint8], npt.NDArray[Any]]:
    """The bytes of an Arrow string array, and (n + 1,) where in them each cell begins and the last ends."""
    if not len(array):
        return np.empty(0, np.uint8), np.zeros(1, np.int32)
    _, where, content = array.buffers()
    kind = np.int64 if str(array.type).startswith("large") else np.int32
    offsets = np.frombuffer(where, kind)[array.offset : array.offset + len(array) + 1]
    return np.frombuffer(content or b"", np.uint8), offsets


def content_of(array: Any) -> npt.NDArray[np.uint8]:
    """The bytes of all cells of an Arrow string array, end to end."""
    content, offsets = laid_out(array)
    return content[offsets[0] : offsets[-1]]


def printed(content: npt.NDArray[np.uint8]) -> bool:
    """Whether all bytes are printed ASCII, no blank among them."""
    # Unsigned, so that all below the first are far above the last after it.
    return not len(content) or bool((content - _FIRST_PRINTED).max() <= _PRINTED)


def edges_printed(array: Any) -> bool:
    """Whether every filled cell of an Arrow string array begins and ends with a printed ASCII character: is trimmed."""
    content, offsets = laid_out(array)
    if printed(content[offsets[0] : offsets[-1]]):
        return True
    filled = np.flatnonzero(offsets[1:] > offsets[:-1])
    return printed(content[offsets[filled]]) and printed(content[offsets[filled + 1] - 1])
