"""Small files that are whole or not there: flushed before they are named, checked by their sum when they are read."""

from __future__ import annotations

import hashlib
import os
import zlib
from pathlib import Path
from typing import Any


def write_whole(path: Path, content: bytes) -> None:
    """Put a file in place in one step, with a sum of its content in its first line.

    Raises
    ------
    OSError
        If it cannot be written; what stood there before still stands.
    """
    part = path.with_name(f"{path.name}.{os.getpid()}.part")
    try:
        with part.open("wb") as file:
            file.write(hashlib.sha256(content).hexdigest().encode() + b"\n" + content)
            file.flush()
            os.fsync(file.fileno())
        os.replace(part, path)
    except OSError:
        part.unlink(missing_ok=True)
        raise
    flush_folder(path.parent)


def read_whole(path: Path) -> bytes | None:
    """The content of such a file; None where it is missing, cut short or altered."""
    try:
        said, _, content = path.read_bytes().partition(b"\n")
    except OSError:
        return None
    return content if said == hashlib.sha256(content).hexdigest().encode() else None


def flush_folder(folder: Path) -> None:
    """Make sure that names given in a folder outlive a crash."""
    number = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(number)
    finally:
        os.close(number)


class SummedFile:
    """A file being written, with the sum of its content."""

    def __init__(self, path: Path) -> None:
        self._file = path.open("wb")
        self.crc = self.size = 0
        self.closed = False

    def write(self, data: Any) -> int:
        view = memoryview(data)
        self.crc = zlib.crc32(view, self.crc)
        self.size += view.nbytes
        self._file.write(view)
        return view.nbytes

    def flush(self) -> None:
        self._file.flush()

    def tell(self) -> int:
        return self.size

    def finish(self) -> None:
        self._file.flush()
        os.fsync(self._file.fileno())
        self.close()

    def close(self) -> None:
        self.closed = True
        self._file.close()


def crc_of(path: Path) -> int:
    """The sum of a file's content, as `SummedFile` has it."""
    crc = 0
    with path.open("rb") as file:
        while block := file.read(1 << 22):
            crc = zlib.crc32(block, crc)
    return crc
