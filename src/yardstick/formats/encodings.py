"""Text in other encodings as UTF-8, piece by piece."""

from __future__ import annotations

import codecs
import io
import re
from typing import BinaryIO

_STATED = re.compile(r"sep=([,;|\t])", re.IGNORECASE)


def is_utf16(head: bytes) -> bool:
    """Whether a file begins with the mark of UTF-16."""
    return head.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE))


def stated_delimiter(line: str) -> str | None:
    """What a first line of its own says stands between cells, as some spreadsheets write it; None if it is none."""
    stated = _STATED.fullmatch(line.strip("\r\n"))
    return stated[1] if stated else None


class Recoded(io.RawIOBase):
    """UTF-16 with a byte order mark being read as UTF-8. What is no text there is none here either.

    Parameters
    ----------
    stream : the bytes, read up to `head`
    head : what was read of it
    """

    def __init__(self, stream: BinaryIO, head: bytes) -> None:
        self._stream, self._head = stream, head
        # Half a pair of surrogates stays one, so that its row is rejected and not changed.
        self._decoder = codecs.getincrementaldecoder("utf-16")("surrogatepass")
        self._ended = False

    def read(self, size: int = -1) -> bytes:
        """Some bytes of UTF-8, none only at the end; they may be more or fewer than asked for."""
        while not self._ended:
            given, self._head = self._head or self._stream.read(size), b""
            self._ended = not given
            try:
                text = self._decoder.decode(given, final=self._ended)
            except UnicodeDecodeError:
                # Half a unit at the end.
                text = "\udcff"
            if text:
                return text.encode("utf-8", "surrogatepass")
        return b""

    def tell(self) -> int:
        """How far the file has been read."""
        return self._stream.tell()
